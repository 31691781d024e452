package plenzo.engine.waves;

import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;
import plenzo.core.digest.Fingerprint;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.keeping.Kept;
import plenzo.core.keeping.Slice;
import plenzo.core.may.May;
import plenzo.core.may.WavesMay;
import plenzo.core.may.WavesMay.Deed;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.person.Sight;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.promotion.Waves;
import plenzo.core.promotion.Waves.Came;
import plenzo.core.promotion.Waves.Part;
import plenzo.core.promotion.Waves.State;
import plenzo.core.promotion.Waves.Wave;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.SiteRecord;
import plenzo.core.version.SemVer;
import plenzo.core.version.VersionHead;
import plenzo.core.words.Words;
import plenzo.engine.Tools;
import plenzo.engine.promoting.Promotions;
import plenzo.engine.running.Runs;

/**
 * Takes one version to several sites of a stage: every site has a promotion and a run of its own,
 * with its way back, verdict and condition; what is approved and started is all of them, under one
 * fingerprint. A site whose plan moved asks for its yes again, and the others' stand.
 */
public final class InWaves {
  private final Tools tools;
  private final Promotions promotions;
  private final Runs runs;

  public InWaves(Tools tools, Promotions promotions, Runs runs) {
    this.tools = tools;
    this.promotions = promotions;
    this.runs = runs;
  }

  /**
   * How it stands now.
   *
   * @param parts promotions in the order of the sites
   * @param came what each has come to
   * @param fingerprint over all their plans; null while one has none
   * @param closed what still stands in the way of starting, each with its promotion
   * @param there how many sites have the version by now, of {@code parts}
   * @param owed sites that were left for later and still do not have it
   */
  public record Standing(
      Waves waves,
      List<Promotion> parts,
      List<Came> came,
      @Nullable Fingerprint fingerprint,
      List<String> closed,
      long there,
      List<SiteKey> owed) {}

  /** What is asked for. */
  public record Asked(
      String application,
      SemVer version,
      String stage,
      @Nullable String path,
      List<List<SiteKey>> waves,
      Waves.Rules rules,
      String notes) {}

  /** Those that the person may see, newest first. */
  public Slice<Waves> list(Person by, Kept.Filter part) {
    Sight sight = Sight.of(by, Right.LOOK);
    return tools.keeper().read(kept -> kept.waves().slice(part, sight));
  }

  public Waves get(Person by, long number) {
    return find(number)
        .filter(w -> by.may(Right.LOOK, w.stage(), w.application()))
        .orElseThrow(() -> Problem.notFound("waves", "W-" + number));
  }

  private Optional<Waves> find(long number) {
    return tools.keeper().read(kept -> kept.waves().find(String.valueOf(number)));
  }

  /** Opens a promotion for every site; all are compared in the background. */
  public Standing prepare(Person by, Asked asked) {
    List<List<SiteKey>> waves = sites(asked);
    Set<SiteKey> seen = new HashSet<>();
    VersionHead version = null;
    for (List<SiteKey> wave : waves) {
      for (SiteKey site : wave) {
        if (!seen.add(site)) {
          throw Problem.invalid("TWICE", site + " is in two waves.", "/waves");
        }
        version =
            promotions.promotable(by, asked.application(), asked.version(), site, asked.path());
        requireOther(asked, site);
      }
    }
    if (seen.size() < 2) {
      throw Problem.invalid(
          "ONE_SITE", "Waves are for two sites or more; one alone is a promotion.", "/waves");
    }
    VersionHead head = Objects.requireNonNull(version);
    long number =
        tools
            .keeper()
            .write(
                kept -> {
                  long next = kept.next("waves");
                  List<Wave> opened = new ArrayList<>();
                  for (List<SiteKey> wave : waves) {
                    List<Part> parts = new ArrayList<>();
                    for (SiteKey site : wave) {
                      parts.add(
                          new Part(
                              site,
                              promotions
                                  .open(
                                      kept,
                                      by,
                                      head,
                                      site,
                                      asked.path(),
                                      asked.notes(),
                                      "W-" + next)
                                  .number()));
                    }
                    opened.add(new Wave(parts));
                  }
                  Waves made =
                      new Waves(
                          next,
                          asked.application(),
                          asked.version(),
                          asked.stage(),
                          opened,
                          asked.rules(),
                          State.OPEN,
                          by.login(),
                          tools.now(),
                          0,
                          null,
                          List.of(),
                          null,
                          "",
                          0);
                  kept.waves().insert(made);
                  kept.note(
                      event(
                          by.login(),
                          "waves prepared",
                          made,
                          Words.count(seen.size(), "site")
                              + " in "
                              + Words.count(waves.size(), "wave")),
                      tools.now());
                  return next;
                });
    Standing s = standing(get(by, number));
    s.parts().forEach(p -> promotions.compareSoon(p.number()));
    return s;
  }

  /** As asked; where nothing was, each site of the stage is a wave of its own. */
  private List<List<SiteKey>> sites(Asked asked) {
    List<SiteKey> all =
        tools
            .keeper()
            .read(kept -> kept.stages().find(asked.stage()))
            .orElseThrow(() -> Problem.notFound("stage", asked.stage()))
            .sites()
            .stream()
            .map(s -> new SiteKey(asked.stage(), s.key()))
            .toList();
    List<List<SiteKey>> waves =
        asked.waves().isEmpty() ? all.stream().map(List::of).toList() : asked.waves();
    for (List<SiteKey> wave : waves) {
      for (SiteKey site : wave) {
        if (!all.contains(site)) {
          throw Problem.invalid(
              "NO_SUCH_SITE",
              site + " is no site of " + asked.stage() + "; there are " + all + ".",
              "/waves");
        }
      }
      if (wave.isEmpty()) {
        throw Problem.invalid("EMPTY", "A wave has one site or more.", "/waves");
      }
    }
    if (waves.stream().mapToInt(List::size).sum() > Waves.MOST) {
      throw Problem.invalid("TOO_MANY", "At most " + Waves.MOST + " sites.", "/waves");
    }
    return waves;
  }

  private void requireOther(Asked asked, SiteKey site) {
    tools
        .keeper()
        .read(kept -> kept.sites().find(asked.application() + "@" + site))
        .map(SiteRecord::present)
        .filter(asked.version()::equals)
        .ifPresent(
            v -> {
              throw Problem.stopped(
                  "ALL_THERE",
                  site + " has " + v + " already: leave it out of the waves.",
                  "plenzo standing");
            });
  }

  private static Event event(String actor, String what, Waves w, String text) {
    return new Event(
        actor,
        what,
        w.application(),
        w.stage(),
        null,
        w.version().text(),
        null,
        null,
        w.shown() + (text.isEmpty() ? "" : ": " + text));
  }

  public Standing standing(Person by, long number) {
    return standing(get(by, number));
  }

  public Standing standing(Waves w) {
    List<Promotion> parts = new ArrayList<>();
    List<Came> came = new ArrayList<>();
    List<@Nullable Fingerprint> plans = new ArrayList<>();
    List<String> closed = new ArrayList<>();
    List<SiteKey> owed = new ArrayList<>();
    long there = 0;
    for (Part part : w.parts()) {
      Promotion p = promotion(part);
      parts.add(p);
      boolean has = has(w, part.site());
      came.add(came(w, p, has));
      there += has ? 1 : 0;
      if (w.leaves(part.site())) {
        if (!has) {
          owed.add(part.site());
        }
        continue;
      }
      plans.add(
          p.plan() == null || p.state() == PromotionState.PREPARING
              ? null
              : p.plan().fingerprint());
      if (p.state() == PromotionState.READY) {
        closed.add(part.site() + " (" + p.shown() + "): " + promotions.gates(p).words());
      } else if (p.state() != PromotionState.AGREED && p.state() != PromotionState.DONE) {
        closed.add(part.site() + " (" + p.shown() + ") is " + p.state().code());
      }
    }
    return new Standing(w, parts, came, w.fingerprint(plans), closed, there, owed);
  }

  private Promotion promotion(Part part) {
    return tools
        .keeper()
        .read(kept -> kept.promotions().find(String.valueOf(part.promotion())))
        .orElseThrow();
  }

  private @Nullable SemVer present(Waves w, SiteKey site) {
    return tools
        .keeper()
        .read(kept -> kept.sites().find(w.application() + "@" + site))
        .map(SiteRecord::present)
        .orElse(null);
  }

  private boolean has(Waves w, SiteKey site) {
    return w.version().equals(present(w, site));
  }

  /**
   * What a part has come to: what was gone back from did not come, whatever its run says.
   *
   * @param has whether its site has the version now
   */
  private Came came(Waves w, Promotion p, boolean has) {
    Run last =
        tools.keeper().read(kept -> kept.runs().of(p.number())).stream().findFirst().orElse(null);
    if (last == null) {
      return p.state().open() || w.state().ended() ? Came.NOT_YET : Came.FAILED;
    }
    if (!last.state().ended() && !(last.state() == RunState.PAUSED && last.recorded())) {
      return Came.NOT_YET;
    }
    if (last.course().endsHere() && undecided(w, last)) {
      return Came.NOT_YET;
    }
    boolean applied = last.state().applied() || last.recorded();
    return applied && !last.course().endsHere() && has ? Came.THERE : Came.FAILED;
  }

  /** Whether what a run left with users out is still to be gone back from, or let in. */
  private boolean undecided(Waves w, Run last) {
    boolean closed =
        tools
            .keeper()
            .read(kept -> kept.sites().find(w.application() + "@" + last.site()))
            .filter(r -> last.shown().equals(r.closedBy()))
            .isPresent();
    return closed
        || tools
            .keeper()
            .read(
                kept ->
                    kept.runs()
                        .list(
                            Kept.Filter.at(w.application(), last.site()).in(RunState.openCodes())))
            .stream()
            .anyMatch(r -> r.number() > last.number());
  }

  /** What the person may do with it. */
  public WavesMay may(Person by, Standing s) {
    return new WavesMay(
        s.waves(),
        s.parts().stream().map(promotions::duties).toList(),
        s.fingerprint() != null,
        s.closed(),
        by,
        tools.everybody());
  }

  private Standing able(Person by, long number, Deed deed) {
    Standing s = standing(by, number);
    May may = may(by, s).may(deed);
    May.Why why = may.why();
    if (why == null) {
      return s;
    }
    String look = "plenzo wave show " + s.waves().shown();
    throw switch (why) {
      case RIGHT, OWN -> may.refused();
      case SAID_ALREADY -> Problem.stopped("APPROVED_ALREADY", may.words(), look);
      case GATES -> Problem.stopped("GATE_CLOSED", may.words(), look);
      default -> Problem.stopped("NOT_OPEN", may.words(), look);
    };
  }

  private void expect(Standing s, String fingerprint) {
    Fingerprint now = s.fingerprint();
    if (now == null || !now.matches(fingerprint)) {
      throw Problem.changed(
          "FINGERPRINT",
          now == null
              ? s.waves().shown() + " is still being compared."
              : "The plans of "
                  + s.waves().shown()
                  + " are now "
                  + now.shown()
                  + ", not "
                  + Fingerprint.given(fingerprint)
                  + ".",
          "Read what changed: plenzo wave show " + s.waves().shown());
    }
  }

  /** Says yes or no to exactly these plans, for every site that asks for it still. */
  public Standing approve(Person by, long number, boolean yes, String fingerprint, String comment) {
    Standing s = able(by, number, Deed.APPROVE);
    expect(s, fingerprint);
    if (!yes && comment.isBlank()) {
      throw Problem.invalid("REASON", "A no needs a reason.", "/comment");
    }
    for (Promotion p : s.parts()) {
      if (p.state().stands() && !(yes && p.agreedBy(by.login()))) {
        promotions.approveMember(
            by, p.number(), yes, p.requirePlan().fingerprint().digest().hex(), comment);
      }
    }
    return standing(by, number);
  }

  /** Begins the first wave. */
  public Standing start(Person by, long number, String fingerprint) {
    Standing s = able(by, number, Deed.START);
    expect(s, fingerprint);
    change(
        number,
        State.OPEN,
        w -> w.to(State.RUNNING, by.login(), ""),
        event(by.login(), "waves started", s.waves(), "plans " + fingerprintOf(s)));
    goOn();
    return standing(by, number);
  }

  private static String fingerprintOf(Standing s) {
    return Objects.requireNonNull(s.fingerprint()).shown();
  }

  /** Begins the next wave, where one is waited for. */
  public Standing goOn(Person by, long number) {
    Standing s = able(by, number, Deed.GO_ON);
    change(
        number,
        State.WAITING,
        w -> w.next(by.login()),
        event(by.login(), "next wave begun", s.waves(), ""));
    goOn();
    return standing(by, number);
  }

  /** Leaves a site for later: it is owed until it has the version. */
  public Standing leave(Person by, long number, SiteKey site, String reason) {
    Standing s = able(by, number, Deed.LEAVE);
    if (reason.isBlank()) {
      throw Problem.invalid("REASON", "A site is left for later with a reason.", "/reason");
    }
    Part part =
        s.waves().parts().stream()
            .filter(p -> p.site().equals(site))
            .findFirst()
            .orElseThrow(() -> Problem.notFound("site of " + s.waves().shown(), site.toString()));
    Promotion p = promotion(part);
    if (p.state() == PromotionState.RUNNING || p.state() == PromotionState.DONE) {
      throw Problem.stopped(
          "BEGUN_ALREADY",
          site + " is " + p.state().code() + " already (" + p.shown() + ").",
          "plenzo promotion show " + p.shown());
    }
    tools
        .keeper()
        .write(
            kept -> {
              Waves now = kept.waves().find(String.valueOf(number)).orElseThrow();
              if (now.state().ended() || now.leaves(site)) {
                throw Problem.changedMeanwhile(now.shown());
              }
              kept.waves()
                  .replace(now.leaving(new Waves.Left(site, by.login(), tools.now(), reason)));
              return kept.note(
                  event(by.login(), "site left for later", now, site + ", " + reason), tools.now());
            });
    promotions.withdrawMember(by.login(), p, "Left for later: " + reason);
    goOn();
    return standing(by, number);
  }

  /** Closes it for good, with every promotion. */
  public Standing withdraw(Person by, long number, String reason) {
    Standing s = able(by, number, Deed.WITHDRAW);
    if (reason.isBlank()) {
      throw Problem.invalid("REASON", "Withdrawing needs a reason.", "/reason");
    }
    change(
        number,
        State.OPEN,
        w -> w.to(State.WITHDRAWN, null, reason),
        event(by.login(), "waves withdrawn", s.waves(), reason));
    s.parts().forEach(p -> promotions.withdrawMember(by.login(), p, reason));
    return standing(by, number);
  }

  private void change(long number, State from, UnaryOperator<Waves> change, Event event) {
    tools
        .keeper()
        .write(
            kept -> {
              Waves now = kept.waves().find(String.valueOf(number)).orElseThrow();
              if (now.state() != from) {
                throw Problem.changedMeanwhile(now.shown());
              }
              kept.waves().replace(change.apply(now));
              return kept.note(event, tools.now());
            });
  }

  /** Brings what runs on; called when a run has ended, and every few seconds. */
  public synchronized void goOn() {
    for (State state : List.of(State.RUNNING, State.WAITING)) {
      for (Waves w :
          tools.keeper().read(kept -> kept.waves().list(Kept.Filter.state(state.code())))) {
        try {
          bring(w);
        } catch (Problem e) {
          // somebody changed it meanwhile, or it cannot go on now: it is looked at again
          System.getLogger(InWaves.class.getName())
              .log(System.Logger.Level.INFO, w.shown() + " waits: " + e.getMessage());
        }
      }
    }
  }

  private void bring(Waves w) {
    if (w.state() == State.WAITING) {
      Instant until = w.goesOnAt();
      if (until != null && !tools.now().isBefore(until)) {
        change(
            w.number(),
            State.WAITING,
            x -> x.next(String.valueOf(x.startedBy())),
            event("plenzo", "next wave begun", w, "after its pause"));
        bring(find(w.number()).orElseThrow());
      }
      return;
    }
    List<String> refused = new ArrayList<>();
    List<Came> came = new ArrayList<>();
    for (Part part : w.underWay()) {
      Promotion p = promotion(part);
      Came is = came(w, p, has(w, part.site()));
      boolean begun = p.state() == PromotionState.RUNNING || p.state() == PromotionState.DONE;
      if (is == Came.NOT_YET && !begun) {
        String why = begin(w, p);
        if (!why.isEmpty()) {
          refused.add(part.site() + ": " + why);
          is = Came.FAILED;
        }
      }
      came.add(is);
    }
    follow(w, came, refused);
  }

  /** Starts one on the word of who started or went on last; returns why it could not. */
  private String begin(Waves w, Promotion p) {
    if (p.state() == PromotionState.PREPARING) {
      return ""; // it is compared again, and begins then
    }
    if (p.state() != PromotionState.AGREED && !promotions.gates(p).passed()) {
      return p.shown() + " " + promotions.gates(p).words();
    }
    try {
      Person by =
          tools
              .keeper()
              .read(kept -> kept.people().find(Objects.requireNonNull(w.startedBy())))
              .orElseThrow(() -> Problem.notFound("person", String.valueOf(w.startedBy())));
      runs.startMember(by, p.number(), p.requirePlan().fingerprint().digest().hex());
      return "";
    } catch (Problem e) {
      return String.valueOf(e.getMessage());
    }
  }

  private void follow(Waves w, List<Came> came, List<String> refused) {
    Standing s = standing(w);
    long failedBefore = 0;
    List<String> failed = new ArrayList<>(refused);
    int n = 0;
    for (int wave = 0; wave < w.waves().size() && wave <= w.at(); wave++) {
      for (Part part : w.waves().get(wave).parts()) {
        boolean bad = s.came().get(n++) == Came.FAILED && !w.leaves(part.site());
        failedBefore += bad && wave < w.at() ? 1 : 0;
        if (bad && refused.stream().noneMatch(r -> r.startsWith(part.site() + ":"))) {
          failed.add(part.site() + ": " + why(w, part));
        }
      }
    }
    String count =
        s.there()
            + " of "
            + Words.count(s.parts().size(), "site")
            + (s.there() == 1 ? " has " : " have ")
            + w.version();
    String with = failed.isEmpty() ? "" : ". " + String.join("; ", failed);
    switch (w.follows(came, failedBefore)) {
      case WAIT -> {}
      case STOP -> {
        String sentence = count + with + ". Nothing more is begun.";
        change(
            w.number(),
            State.RUNNING,
            x -> x.to(State.STOPPED, x.startedBy(), sentence),
            event("plenzo", "waves stopped", w, sentence));
        // so that each site can be promoted to by itself again
        s.parts().forEach(p -> promotions.withdrawMember("plenzo", p, w.shown() + " stopped"));
      }
      case DONE -> {
        String sentence = count + with + ".";
        change(
            w.number(),
            State.RUNNING,
            x -> x.to(State.DONE, x.startedBy(), sentence),
            event("plenzo", "waves done", w, sentence));
      }
      case NEXT_WAVE -> next(w);
    }
  }

  private void next(Waves w) {
    boolean word = w.rules().between() == Waves.Between.WORD;
    if (word || w.rules().minutes() > 0) {
      Instant until = word ? null : tools.now().plus(w.rules().pause());
      change(
          w.number(),
          State.RUNNING,
          x -> x.waiting(until),
          event(
              "plenzo",
              "wave done",
              w,
              word ? "waits for a person's word" : "goes on at " + until));
      return;
    }
    change(
        w.number(),
        State.RUNNING,
        x -> x.next(String.valueOf(x.startedBy())),
        event("plenzo", "next wave begun", w, ""));
    bring(find(w.number()).orElseThrow());
  }

  /** Why a site has not what was to come: what its run found, how it ended, or that none began. */
  private String why(Waves w, Part part) {
    Run last =
        tools.keeper().read(kept -> kept.runs().of(part.promotion())).stream()
            .findFirst()
            .orElse(null);
    if (last == null) {
      return "it was not begun";
    }
    String found = String.join(". ", last.course().looks());
    if (!last.recorded() || found.isEmpty()) {
      String ended = last.sentence() == null ? "" : ": " + last.sentence().replaceAll("\\.$", "");
      return last.shown() + " " + last.state().code() + ended;
    }
    SemVer there = present(w, part.site());
    return last.shown()
        + " brought it, and then "
        + found
        + (w.version().equals(there) ? "" : "; there is " + (there == null ? "none" : there));
  }
}
