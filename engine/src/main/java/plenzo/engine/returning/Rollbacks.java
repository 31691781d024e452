package plenzo.engine.returning;

import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import java.util.function.BiConsumer;
import java.util.function.BiFunction;
import java.util.function.Consumer;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.Counts;
import plenzo.core.comparison.Decision;
import plenzo.core.component.Kind;
import plenzo.core.digest.Digest;
import plenzo.core.digest.Fingerprint;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.impact.Finding;
import plenzo.core.keeping.Kept;
import plenzo.core.may.May;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.plan.Plan;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.SiteRecord;
import plenzo.core.target.TargetFailed;
import plenzo.core.version.SemVer;
import plenzo.core.way.Obstacle;
import plenzo.engine.Tools;
import plenzo.engine.backup.BackupFile;
import plenzo.engine.backup.BackupIncoming;
import plenzo.engine.comparing.Losses;
import plenzo.engine.people.Rights;
import plenzo.engine.promoting.CaseWork;
import plenzo.engine.promoting.Promotions;
import plenzo.engine.underway.Work;

/** The ways back from what is at a site, side by side, and starting one (decisions D11 to D14). */
public final class Rollbacks {
  private final Tools tools;
  private final CaseWork work;
  private final Promotions promotions;
  private final Lately lately;

  public Rollbacks(Tools tools, CaseWork work, Promotions promotions) {
    this.tools = tools;
    this.work = work;
    this.promotions = promotions;
    this.lately = new Lately(tools.files(), work.comparer().files());
  }

  /**
   * One way back.
   *
   * @param why why it cannot be used; empty when it can
   * @param unreachable whether that is because the site did not answer
   * @param writes what is written to, in the order of the switches
   * @param lost rows that people wrote and that would go, −1 when it cannot be known
   * @param covered whether the approvals of the last run cover it
   * @param obstacles what the version being left brought and something else uses, with the choices
   *     that remove it
   * @param gives what the host would be given
   * @param touched what is written, component by component
   */
  public record Option(
      Plan.Way way,
      boolean possible,
      String why,
      boolean unreachable,
      @Nullable SemVer version,
      @Nullable Long run,
      Counts counts,
      List<Kind.Holder> writes,
      long lost,
      String lossSentence,
      List<Losses.Item> losses,
      boolean covered,
      String coveredBy,
      @Nullable String fingerprint,
      List<String> findings,
      List<Obstacle> obstacles,
      List<Promotion.Gives> gives,
      List<Promotion.ComponentResult> touched) {}

  /** Whether the person may go back there. */
  public May may(Person by, String application, SiteKey site) {
    return May.byRight(by, Right.GO_BACK, site.stage(), application, tools.everybody());
  }

  /**
   * Where somebody wants to go back to, and what they chose about what is in the way.
   *
   * @param version null for the last good one
   * @param choices by the place of an obstacle or of one of its rows; each way takes those that it
   *     knows
   */
  public record Wish(@Nullable SemVer version, Map<String, Decision> choices) {
    public static final Wish NONE = new Wish(null, Map.of());

    public Wish {
      choices = Map.copyOf(choices);
    }
  }

  /**
   * The ways side by side: those that can be used first, of them the one that loses least.
   *
   * @throws Problem when a choice is about nothing that a way back could touch
   */
  public List<Option> ways(Person by, String application, SiteKey site, Wish wish) {
    Rights.require(by, Right.LOOK, site.stage(), application);
    return told(
        by, application, site, () -> worked(by, application, site, wish, (at, now) -> null));
  }

  /** The same, without looking at the site again where it was looked at lately. */
  public List<Option> known(Person by, String application, SiteKey site, Wish wish) {
    Rights.require(by, Right.LOOK, site.stage(), application);
    return told(by, application, site, () -> worked(by, application, site, wish, lately::option));
  }

  /**
   * Rows and values that a way loses, as whoever names its plan saw it; −1 when it cannot be known.
   *
   * @param expect fingerprint of the plan that was looked at; when the way was not looked at lately
   *     it is worked out, and kept for the start
   */
  public long loses(
      Person by, String application, SiteKey site, Plan.Way way, Wish wish, String expect) {
    Rights.require(by, Right.LOOK, site.stage(), application);
    Rights.require(by, Right.GO_BACK, site.stage(), application);
    SiteRecord record = work.record(application, site);
    Lately.Asked asked = new Lately.Asked(by.login(), application, site, way, wish);
    Option seen = lately.option(asked, record);
    if (seen == null || !shows(seen, expect)) {
      seen = told(by, application, site, () -> one(by, asked, record, (at, now) -> null));
    }
    return seen.possible() ? seen.lost() : 0; // what cannot be used is refused by the start
  }

  private static boolean shows(Option o, String expect) {
    return o.fingerprint() != null && new Fingerprint(new Digest(o.fingerprint())).matches(expect);
  }

  /** Listed while it goes on: it reads every table that the way back touches. */
  private <T> T told(Person by, String application, SiteKey site, Supplier<T> does) {
    return tools
        .underway()
        .during(
            Work.Act.GO_BACK,
            by.login(),
            "rollback/" + application + "@" + site,
            application,
            does);
  }

  private List<Option> worked(
      Person by,
      String application,
      SiteKey site,
      Wish wish,
      BiFunction<Lately.Asked, SiteRecord, @Nullable Option> kept) {
    SiteRecord record = work.record(application, site);
    List<Option> out = new ArrayList<>();
    for (Plan.Way way : Plan.Way.values()) {
      if (way != Plan.Way.EARLIER_VALUES || valuesLast(record)) {
        out.add(one(by, new Lately.Asked(by.login(), application, site, way, wish), record, kept));
      }
    }
    boolean again = gaveBack(record);
    out.sort(
        Comparator.comparing((Option o) -> !o.possible())
            .thenComparing(o -> o.lost() < 0)
            .thenComparing(Option::lost)
            // what somebody went back from is nobody's first wish
            .thenComparing(o -> again && o.way() == Plan.Way.EARLIER_VALUES));
    return out;
  }

  /** One way, worked out and kept for whoever starts it next. */
  private Option one(
      Person by,
      Lately.Asked asked,
      SiteRecord record,
      BiFunction<Lately.Asked, SiteRecord, @Nullable Option> kept) {
    Case made = make(by, asked.application(), asked.site(), asked.way(), asked.wish(), record);
    if (made.promotion == null) {
      return impossible(asked.way(), made.why, /* unreachable= */ false);
    }
    Option known = kept.apply(asked, record);
    if (known != null) {
      return known;
    }
    Worked worked = worked(made, asked.way());
    if (worked.out != null) {
      lately.keep(asked, record, worked.out, worked.option);
    }
    return worked.option;
  }

  /** A way with what was worked out of it; null where that could not be. */
  private record Worked(Option option, CaseWork.@Nullable Outcome out) {}

  private Worked worked(Case made, Plan.Way way) {
    if (made.promotion == null) {
      return new Worked(impossible(way, made.why, /* unreachable= */ false), null);
    }
    try {
      CaseWork.Outcome out = promotions.tried(made.promotion, work.work(made.promotion));
      return new Worked(option(made.promotion, out), out);
    } catch (TargetFailed | Problem | UncheckedIOException e) {
      boolean unreachable = e instanceof TargetFailed f && f.notReachable();
      return new Worked(impossible(way, String.valueOf(e.getMessage()), unreachable), null);
    }
  }

  /** Whether the last that came to a site were values alone. */
  private static boolean valuesLast(SiteRecord record) {
    List<Long> gave = record.gave();
    Long placed = record.lastPlacement().map(SiteRecord.Placement::run).orElse(null);
    return !gave.isEmpty()
        && !record.halfWritten()
        && gave.get(gave.size() - 1) > (placed == null ? 0 : placed);
  }

  /** Whether the last run that gave a host values was itself a way back. */
  private boolean gaveBack(SiteRecord record) {
    return valuesLast(record)
        && tools
            .keeper()
            .read(
                kept ->
                    kept.runs()
                        .find(String.valueOf(record.gave().get(record.gave().size() - 1)))
                        .flatMap(run -> kept.promotions().find(String.valueOf(run.promotion()))))
            .filter(Promotion::rollback)
            .isPresent();
  }

  /** Giving the values again that a host had before. */
  private Case values(Person by, String application, SiteKey site, SiteRecord record) {
    SemVer present = Objects.requireNonNull(record.present());
    if (!valuesLast(record)) {
      return new Case(null, "No values came to " + site + " since " + present + " did.");
    }
    long last = record.gave().get(record.gave().size() - 1);
    if (!work.bindings().knowsBefore(record)) {
      return new Case(
          null,
          "It is not kept what the host of "
              + site
              + " was given before R-"
              + last
              + ": set the earlier value again, and give it by a plan of its own.");
    }
    Goal goal = new Goal(present, Plan.Way.EARLIER_VALUES, last, Map.of());
    return new Case(goingBack(0, by, application, site, goal, ""), "");
  }

  private static Option impossible(Plan.Way way, String why, boolean unreachable) {
    return new Option(
        way,
        false,
        why,
        unreachable,
        null,
        null,
        Counts.NONE,
        List.of(),
        -1,
        "",
        List.of(),
        false,
        "",
        null,
        List.of(),
        List.of(),
        List.of(),
        List.of());
  }

  /** A run whose version is not recorded there yet: from where would one go back? */
  private @Nullable Run underWay(String application, SiteKey site) {
    return tools.keeper().read(kept -> kept.underWay(application, site)).stream()
        .filter(r -> !r.recorded())
        .findFirst()
        .orElse(null);
  }

  /** A rollback that could be made, or why not. */
  private record Case(@Nullable Promotion promotion, String why) {}

  private Option option(Promotion p, CaseWork.Outcome out) {
    Counts counts = Promotion.counts(out.compared().components(), out.compared().sameFiles());
    List<String> blockers =
        out.findings().stream()
            .filter(f -> f.severity() == Finding.Severity.BLOCKER)
            .map(Finding::sentence)
            .toList();
    List<String> all = new ArrayList<>();
    if (p.valuesOnly() && gaveBack(work.record(p.application(), p.site()))) {
      all.add("note: R-" + p.backupOf() + " went back itself: this gives again what it took back.");
    }
    out.findings()
        .forEach(
            f ->
                all.add(
                    f.severity().name().toLowerCase(java.util.Locale.ROOT) + ": " + f.sentence()));
    String cover = out.coveredBy();
    return new Option(
        Objects.requireNonNull(p.way()),
        blockers.isEmpty(),
        String.join(" ", blockers),
        /* unreachable= */ false,
        p.version(),
        p.backupOf(),
        counts,
        out.delta().touched(),
        out.loss().rows(),
        out.loss().sentence(),
        out.loss().items(),
        cover != null,
        cover == null ? "" : cover,
        out.plan().fingerprint().digest().hex(),
        all,
        out.obstacles(),
        out.gift().shown(),
        out.compared().components().stream().filter(c -> c.counts().written() > 0).toList());
  }

  private Case make(
      Person by, String application, SiteKey site, Plan.Way way, Wish wish, SiteRecord record) {
    if (record.present() == null) {
      return new Case(null, application + " was never here.");
    }
    Run under = underWay(application, site);
    if (under != null) {
      return new Case(
          null,
          under.shown()
              + " is "
              + under.state().code()
              + " there"
              + (under.state() == RunState.PAUSED && under.between()
                  ? ", past its switch: end it first, by plenzo run end " + under.shown() + "."
                  : ": let it end or abort it first."));
    }
    if (way == Plan.Way.EARLIER_VALUES) {
      return values(by, application, site, record);
    }
    Run last = tools.keeper().read(kept -> kept.lastRun(record)).orElse(null);
    boolean half = tools.keeper().read(kept -> kept.halfWritten(record)).isPresent();
    SemVer to;
    if (way == Plan.Way.BACKUP) {
      if (last == null || last.backup() == null || last.before() == null) {
        return new Case(
            null, "No run here took a backup: " + record.present() + " was adopted or matched.");
      }
      List<String> keyless = withoutKey(last.backup());
      if (!keyless.isEmpty()) {
        return new Case(
            null,
            "Rows of " + String.join(", ", keyless) + " have no key by which they are told apart.");
      }
      to = new SemVer(last.before());
    } else {
      SemVer good =
          wish.version() != null
              ? wish.version()
              : half ? record.present() : record.lastGood().orElse(null);
      if (good == null) {
        return new Case(null, "There is no earlier good version here.");
      }
      to = good;
    }
    List<SemVer> sides = new ArrayList<>(List.of(record.present(), to));
    if (half) {
      sides.add(new SemVer(Objects.requireNonNull(last).version()));
    }
    known(application, wish, sides);
    Long backupOf = way == Plan.Way.BACKUP ? Objects.requireNonNull(last).number() : null;
    Goal goal = new Goal(to, way, backupOf, wish.choices());
    return new Case(goingBack(0, by, application, site, goal, ""), "");
  }

  /**
   * @throws Problem when a choice is about a component that no side has
   */
  private void known(String application, Wish wish, List<SemVer> sides) {
    for (String at : wish.choices().keySet()) {
      String component = at.contains("#") ? at.substring(0, at.indexOf('#')) : at;
      boolean known =
          sides.stream()
              .anyMatch(
                  v ->
                      tools
                          .keeper()
                          .read(kept -> kept.versions().get(application, v))
                          .entries()
                          .stream()
                          .anyMatch(e -> e.key().toString().equals(component)));
      if (!known) {
        throw Problem.invalid(
            "UNKNOWN_COMPONENT", "There is nothing to choose about \"" + at + "\".", "/choices");
      }
    }
  }

  /**
   * Where a rollback goes.
   *
   * @param backupOf number of the run whose backup is put back, null for an earlier version
   */
  private record Goal(
      SemVer to, Plan.Way way, @Nullable Long backupOf, Map<String, Decision> choices) {}

  /**
   * The case file of a rollback before it is compared.
   *
   * @param number 0 for one that is only worked out
   */
  private Promotion goingBack(
      long number, Person by, String application, SiteKey site, Goal goal, String reason) {
    return Promotion.opened(
            number,
            Promotion.Goal.back(application, goal.to(), site, goal.way(), goal.backupOf()),
            new Promotion.Prepared(by.login(), tools.now(), reason))
        .change()
        .decisions(goal.choices())
        .done();
  }

  private List<String> withoutKey(Run.Backup backup) {
    try {
      return new BackupIncoming(new BackupFile(tools.files(), backup.file()), backup).withoutKey();
    } catch (UncheckedIOException e) {
      return List.of(); // that the backup is gone is said when it is read
    }
  }

  /**
   * Opens the rollback as a plan of its own. When the approvals of the last run cover it, it is
   * agreed at once; else it waits for approval like any other. What was worked out lately is opened
   * without looking at the site again: its run looks again before it writes anything.
   */
  public Promotion start(
      Person by,
      String application,
      SiteKey site,
      Plan.Way way,
      Wish wish,
      String reason,
      String expect) {
    Rights.require(by, Right.GO_BACK, site.stage(), application);
    if (reason.isBlank()) {
      throw Problem.invalid("REASON", "Going back needs a reason.", "/reason");
    }
    return told(
        by, application, site, () -> started(by, application, site, way, wish, reason, expect));
  }

  private Promotion started(
      Person by,
      String application,
      SiteKey site,
      Plan.Way way,
      Wish wish,
      String reason,
      String expect) {
    SiteRecord record = work.record(application, site);
    Case made = make(by, application, site, way, wish, record);
    if (made.promotion == null) {
      throw Problem.stopped(
          "NO_WAY_BACK", made.why, "plenzo rollback ways " + application + "@" + site);
    }
    Promotion draft = made.promotion;
    CaseWork.Outcome out =
        lately.take(new Lately.Asked(by.login(), application, site, way, wish), record, expect);
    if (out == null) {
      out = promotions.tried(draft, work.work(draft));
    }
    if (!out.plan().fingerprint().matches(expect)) {
      work.comparer().files().remove(out.compared().id());
      throw Problem.changed(
          "FINGERPRINT",
          "Going back would now do something else than what you saw: "
              + out.plan().fingerprint().shown()
              + ", not "
              + Fingerprint.given(expect)
              + ".",
          "Look again: plenzo rollback ways " + application + "@" + site);
    }
    Goal goal = new Goal(draft.version(), way, draft.backupOf(), draft.decisions());
    return promotions.compared(
        opened(by, application, site, goal, reason, chosen(wish), (kept, number) -> {}).number(),
        out);
  }

  /**
   * Opens the way back of a run that loses nothing that the approvals of its plan do not cover,
   * where nobody asked for it (decision D13).
   *
   * @param with what is written in the transaction that opens it, given its number
   * @throws Problem when there is none, with the reason of each way
   */
  public Promotion byItself(Run from, String why, BiConsumer<Kept, Long> with) {
    String application = from.application();
    SiteKey site = from.site();
    Person nobody = Person.invited("plenzo", "Plenzo", "", false);
    SiteRecord record = work.record(application, site);
    List<String> closed = new ArrayList<>();
    Promotion best = null;
    CaseWork.Outcome outcome = null;
    long least = Long.MAX_VALUE;
    for (Plan.Way way : List.of(Plan.Way.EARLIER_VERSION, Plan.Way.BACKUP)) {
      Case made = make(nobody, application, site, way, Wish.NONE, record);
      Worked worked = worked(made, way);
      CaseWork.Outcome out = worked.out;
      Option o = worked.option;
      if (o.unreachable()) {
        drop(outcome);
        throw new TargetFailed(
            site + " cannot be asked",
            /* notReachable= */ true,
            new IllegalStateException(o.why()));
      }
      boolean usable = o.possible() && o.covered() && o.lost() >= 0 && out != null;
      if (usable && o.lost() < least) {
        drop(outcome);
        best = made.promotion;
        outcome = out;
        least = o.lost();
      } else {
        drop(out);
      }
      if (!usable) {
        closed.add(way.code() + ": " + (o.possible() ? "no yes covers it" : o.why()));
      }
    }
    if (best == null || outcome == null) {
      throw Problem.stopped(
          "NO_WAY_BACK",
          String.join("; ", closed),
          "plenzo rollback ways " + application + "@" + site);
    }
    Goal goal =
        new Goal(
            best.version(), Objects.requireNonNull(best.way()), best.backupOf(), best.decisions());
    return promotions.compared(
        opened(nobody, application, site, goal, "By itself: " + why, "", with).number(), outcome);
  }

  private void drop(CaseWork.@Nullable Outcome out) {
    if (out != null) {
      work.comparer().files().remove(out.compared().id());
    }
  }

  private Promotion opened(
      Person by,
      String application,
      SiteKey site,
      Goal goal,
      String reason,
      String chosen,
      BiConsumer<Kept, Long> with) {
    return tools
        .keeper()
        .write(
            kept -> {
              long number = kept.next("promotion");
              Promotion stored = goingBack(number, by, application, site, goal, reason);
              kept.promotions().insert(stored);
              kept.note(
                  new Event(
                      by.login(),
                      "rollback prepared",
                      application,
                      site.stage(),
                      site.site(),
                      goal.to().text(),
                      number,
                      null,
                      "By " + goal.way().code() + ": " + reason + chosen),
                  tools.now());
              with.accept(kept, number);
              return stored;
            });
  }

  /** What was chosen, for the history: "; records/fares.band#in-use: keep". */
  private static String chosen(Wish wish) {
    return new TreeMap<>(wish.choices())
        .entrySet().stream()
            .map(e -> "; " + e.getKey() + ": " + e.getValue().code())
            .collect(Collectors.joining());
  }

  /**
   * Every value that a way back would lose, as CSV lines (table, key, column, value), to be saved
   * to a file first.
   */
  public void lost(
      Person by, String application, SiteKey site, Plan.Way way, Wish wish, Consumer<String> line) {
    Rights.require(by, Right.SEE_VALUES, site.stage(), application);
    Case made = make(by, application, site, way, wish, work.record(application, site));
    if (made.promotion == null) {
      throw Problem.stopped("NO_WAY_BACK", made.why);
    }
    work.lost(made.promotion, line);
  }
}
