package plenzo.engine.releasing;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import plenzo.core.digest.Fingerprint;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.keeping.Kept;
import plenzo.core.keeping.Slice;
import plenzo.core.may.ReleaseMay;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.person.Sight;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.promotion.Release;
import plenzo.core.promotion.Release.Case;
import plenzo.core.promotion.Release.Member;
import plenzo.core.promotion.Release.State;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.SiteRecord;
import plenzo.core.version.Need;
import plenzo.core.version.VersionHead;
import plenzo.engine.Tools;
import plenzo.engine.people.Rights;
import plenzo.engine.promoting.Promotions;
import plenzo.engine.running.Runs;

/**
 * Collects versions into releases and takes them to sites: each member has a promotion of its own,
 * with its comparison, findings, plan and gates; what is approved and started is all of them, under
 * one fingerprint. They run one after the other, what another needs first; one that does not come
 * through stops those after it.
 */
public final class Releases {
  private final Tools tools;
  private final Promotions promotions;
  private final Runs runs;

  public Releases(Tools tools, Promotions promotions, Runs runs) {
    this.tools = tools;
    this.promotions = promotions;
    this.runs = runs;
  }

  /**
   * A release at a site as it stands now.
   *
   * @param members promotions in the order in which they run
   * @param fingerprint over all their plans; null while one has none
   * @param closed what still stands in the way of starting, each with its promotion
   */
  public record Standing(
      Release release,
      Case at,
      List<Promotion> members,
      @Nullable Fingerprint fingerprint,
      List<String> closed) {}

  /** Those of which the person may see every member, newest first. */
  public Slice<Release> list(Person by, Kept.Filter part) {
    return Slice.filled(
        part,
        p -> tools.keeper().read(kept -> kept.releases().slice(p, Sight.EVERYWHERE)),
        r -> visible(by, r));
  }

  private static boolean visible(Person by, Release r) {
    return r.members().stream().allMatch(m -> by.may(Right.LOOK, Person.ANY, m.application()));
  }

  public Release get(Person by, String key) {
    return tools
        .keeper()
        .read(kept -> kept.releases().find(key))
        .filter(r -> visible(by, r))
        .orElseThrow(() -> Problem.notFound("release", key));
  }

  /** Collects versions under a key, or changes what is collected as long as nobody took it up. */
  public Release save(
      Person by, String key, String title, List<Member> members, @Nullable Integer seen) {
    for (Member m : members) {
      Rights.require(by, Right.AUTHOR, Person.ANY, m.application());
      version(m);
    }
    return tools
        .keeper()
        .write(
            kept -> {
              Release old = kept.releases().find(key).orElse(null);
              Problem.requireSeen(seen, old == null ? 0 : old.revision(), key);
              if (old != null && old.cases().stream().anyMatch(c -> c.state() != State.WITHDRAWN)) {
                throw Problem.stopped(
                    "TAKEN_UP",
                    "The release " + key + " was taken to a stage and stays as it is.",
                    "Collect another one");
              }
              Release next = made(by, key, title, members, old);
              if (old == null) {
                kept.releases().insert(next);
              } else if (!kept.releases().update(next)) {
                throw changed(key);
              }
              kept.note(
                  event(
                      by,
                      old == null ? "release collected" : "release changed",
                      null,
                      key
                          + ": "
                          + String.join(
                              ", ", next.members().stream().map(Member::toString).toList())),
                  tools.now());
              return kept.releases().find(key).orElseThrow();
            });
  }

  private Release made(
      Person by, String key, String title, List<Member> members, @Nullable Release old) {
    try {
      return old == null
          ? new Release(key, title, members, List.of(), by.login(), tools.now(), 0)
          : old.with(title, members);
    } catch (IllegalArgumentException e) {
      throw Problem.invalid("RELEASE", e.getMessage() + ".", "/members");
    }
  }

  private static Problem changed(String key) {
    return Problem.changedMeanwhile("the release " + key);
  }

  private static Event event(Person by, String what, @Nullable SiteKey site, String text) {
    return new Event(
        by.login(),
        what,
        null,
        site == null ? null : site.stage(),
        site == null ? null : site.site(),
        null,
        null,
        null,
        text);
  }

  private VersionHead version(Member m) {
    return tools
        .keeper()
        .read(kept -> kept.versions().head(m.toString()))
        .orElseThrow(() -> Problem.notFound("version", m.toString()));
  }

  /**
   * Opens a promotion for every member that the site does not have yet, in the order of needs.
   *
   * @param path key of the path by which all go, null for the first of each that goes there
   */
  public Standing prepare(
      Person by, String key, SiteKey site, @Nullable String path, String notes) {
    Release release = get(by, key);
    if (release.members().isEmpty()) {
      throw Problem.stopped("EMPTY", "The release " + key + " holds no version yet.");
    }
    Map<String, List<String>> needs = new HashMap<>();
    for (Member m : release.members()) {
      needs.put(m.application(), version(m).needs().stream().map(Need::application).toList());
    }
    List<Member> ordered;
    try {
      ordered = release.ordered(needs);
    } catch (IllegalArgumentException e) {
      throw Problem.stopped("NEED_ONE_ANOTHER", e.getMessage() + ".", "Promote them by themselves");
    }
    List<VersionHead> open = new ArrayList<>();
    List<Member> skipped = new ArrayList<>();
    for (Member m : ordered) {
      VersionHead version = promotions.promotable(by, m.application(), m.number(), site, path);
      boolean there =
          tools
              .keeper()
              .read(kept -> kept.sites().find(m.application() + "@" + site))
              .map(SiteRecord::present)
              .filter(m.number()::equals)
              .isPresent();
      if (there) {
        skipped.add(m);
      } else {
        open.add(version);
      }
    }
    if (open.isEmpty()) {
      throw Problem.stopped("ALL_THERE", site + " has every member of " + key + " already.");
    }
    tools
        .keeper()
        .write(
            kept -> {
              Release now = kept.releases().find(key).orElseThrow();
              now.at(site)
                  .filter(c -> !c.state().ended())
                  .ifPresent(
                      c -> {
                        throw Problem.stopped(
                            "OPEN_ALREADY",
                            "The release " + key + " is open at " + site + " already.",
                            "plenzo release show " + key);
                      });
              List<Long> numbers = new ArrayList<>();
              for (VersionHead v : open) {
                numbers.add(promotions.open(kept, by, v, site, path, notes, key).number());
              }
              Case next =
                  new Case(site, numbers, skipped, State.OPEN, by.login(), tools.now(), null, "");
              if (!kept.releases().update(now.with(next, /* anew= */ true))) {
                throw changed(key);
              }
              kept.note(
                  event(
                      by,
                      "release prepared",
                      site,
                      key
                          + ", "
                          + numbers.size()
                          + " to run"
                          + (skipped.isEmpty() ? "" : ", " + skipped.size() + " there already")),
                  tools.now());
              return null;
            });
    Standing s = standing(by, key, site);
    s.members().forEach(p -> promotions.compareSoon(p.number()));
    return s;
  }

  /** How the release stands at a site. */
  public Standing standing(Person by, String key, SiteKey site) {
    Release release = get(by, key);
    Case at =
        release
            .at(site)
            .orElseThrow(() -> Problem.notFound("release " + key + " at", site.toString()));
    return standing(release, at);
  }

  /** How the release stands wherever it was taken and the person may look, newest site last. */
  public List<Standing> standings(Person by, Release release) {
    List<SiteKey> sites =
        release.cases().stream()
            .map(Case::site)
            .distinct()
            .filter(
                s ->
                    release.members().stream()
                        .allMatch(m -> by.may(Right.LOOK, s.stage(), m.application())))
            .toList();
    return sites.stream().map(s -> standing(release, release.at(s).orElseThrow())).toList();
  }

  /** What the person may do with it there. */
  public ReleaseMay may(Person by, Standing s) {
    return new ReleaseMay(
        s.at(),
        s.members().stream().map(promotions::duties).toList(),
        s.fingerprint() != null,
        s.closed(),
        by,
        tools.everybody());
  }

  private Standing standing(Release release, Case at) {
    List<Promotion> members = members(at);
    List<@Nullable Fingerprint> plans = new ArrayList<>();
    List<String> closed = new ArrayList<>();
    for (Promotion p : members) {
      plans.add(
          p.plan() == null || p.state() == PromotionState.PREPARING
              ? null
              : p.plan().fingerprint());
      if (p.state() == PromotionState.READY) {
        closed.add(p.shown() + ": " + promotions.gates(p).words());
      } else if (p.state() != PromotionState.AGREED && p.state() != PromotionState.DONE) {
        closed.add(p.shown() + " is " + p.state().code());
      }
    }
    return new Standing(
        release, at, members, Release.fingerprint(release.key(), at, plans), closed);
  }

  private List<Promotion> members(Case at) {
    return tools
        .keeper()
        .read(
            kept ->
                at.promotions().stream()
                    .map(n -> kept.promotions().find(String.valueOf(n)).orElseThrow())
                    .toList());
  }

  private void expect(Standing s, String fingerprint) {
    Fingerprint now = s.fingerprint();
    if (now == null || !now.matches(fingerprint)) {
      throw Problem.changed(
          "FINGERPRINT",
          now == null
              ? "The release " + s.release().key() + " is still being compared."
              : "The plans of the release are now "
                  + now.shown()
                  + ", not "
                  + Fingerprint.given(fingerprint)
                  + ".",
          "Read what changed: plenzo release show " + s.release().key());
    }
  }

  private Standing open(Person by, String key, SiteKey site) {
    Standing s = standing(by, key, site);
    if (s.at().state() != State.OPEN) {
      throw Problem.stopped(
          "NOT_OPEN",
          "The release " + key + " is " + s.at().state().code() + " at " + site + ".",
          "plenzo release show " + key);
    }
    return s;
  }

  /**
   * Says yes or no to exactly these plans, for every member that the person may approve and has not
   * approved yet.
   */
  public Standing approve(
      Person by, String key, SiteKey site, boolean yes, String fingerprint, String comment) {
    Standing s = open(by, key, site);
    boolean some =
        s.members().stream().anyMatch(p -> by.may(Right.APPROVE, site.stage(), p.application()));
    if (!some) {
      Rights.require(by, Right.APPROVE, site.stage(), s.members().get(0).application());
    }
    expect(s, fingerprint);
    if (!yes && comment.isBlank()) {
      throw Problem.invalid("REASON", "A no needs a reason.", "/comment");
    }
    if (yes && s.at().preparedBy().equals(by.login())) {
      throw new Problem(
          Problem.Reason.NOT_ALLOWED,
          "OWN_PROMOTION",
          "You prepared the release " + key + ", so somebody else approves it.",
          List.of(),
          null);
    }
    List<Promotion> mine =
        s.members().stream()
            .filter(p -> p.state().open() && p.state() != PromotionState.RUNNING)
            .filter(p -> by.may(Right.APPROVE, site.stage(), p.application()))
            .toList();
    List<Promotion> todo = mine.stream().filter(p -> !yes || !p.agreedBy(by.login())).toList();
    if (todo.isEmpty()) {
      throw Problem.stopped(
          "APPROVED_ALREADY",
          "You approved every member that you may approve already.",
          "plenzo release show " + key);
    }
    for (Promotion p : todo) {
      promotions.approveMember(
          by, p.number(), yes, p.requirePlan().fingerprint().digest().hex(), comment);
    }
    return standing(by, key, site);
  }

  /**
   * Starts the first member; the others follow by themselves, each when the one before is there.
   */
  public Standing start(Person by, String key, SiteKey site, String fingerprint) {
    Standing s = open(by, key, site);
    for (Promotion p : s.members()) {
      Rights.require(by, Right.RUN, site.stage(), p.application());
    }
    expect(s, fingerprint);
    if (!s.closed().isEmpty()) {
      throw Problem.stopped(
          "GATE_CLOSED",
          "The release " + key + " may not run: " + String.join("; ", s.closed()) + ".",
          "plenzo release show " + key);
    }
    move(
        key,
        site,
        State.OPEN,
        State.RUNNING,
        by.login(),
        "",
        event(by, "release started", site, key));
    goOn();
    return standing(by, key, site);
  }

  private void move(
      String key,
      SiteKey site,
      State from,
      State to,
      @Nullable String startedBy,
      String sentence,
      Event event) {
    tools
        .keeper()
        .write(
            kept -> {
              Release now = kept.releases().find(key).orElseThrow();
              Case at = now.at(site).orElseThrow();
              if (at.state() != from
                  || !kept.releases()
                      .update(now.with(at.with(to, startedBy, sentence), /* anew= */ false))) {
                throw changed(key);
              }
              return kept.note(event, tools.now());
            });
  }

  /** Closes it at a site for good, with every member that has not run. */
  public Standing withdraw(Person by, String key, SiteKey site, String reason) {
    Standing s = open(by, key, site);
    for (Promotion p : s.members()) {
      Rights.require(by, Right.PREPARE, site.stage(), p.application());
    }
    if (reason.isBlank()) {
      throw Problem.invalid("REASON", "Withdrawing needs a reason.", "/reason");
    }
    move(
        key,
        site,
        State.OPEN,
        State.WITHDRAWN,
        null,
        reason,
        event(by, "release withdrawn", site, key + ": " + reason));
    for (Promotion p : s.members()) {
      if (p.state().leadsTo(PromotionState.WITHDRAWN)) {
        promotions.withdraw(by, p.number(), reason);
      }
    }
    return standing(by, key, site);
  }

  /** Brings every running release on; called when a run has ended, and every few seconds. */
  public synchronized void goOn() {
    for (Release r : tools.keeper().read(kept -> kept.releases().all())) {
      for (Case at : r.cases()) {
        if (at.state() == State.RUNNING) {
          next(r, at);
        }
      }
    }
  }

  private void next(Release r, Case at) {
    List<Promotion> members = members(at);
    for (Promotion p : members) {
      if (p.state() == PromotionState.DONE) {
        continue;
      }
      // a run that ended and did not apply is never begun again by itself
      String why = failure(p);
      if (why.isEmpty()
          && (p.state() == PromotionState.RUNNING || p.state() == PromotionState.PREPARING)) {
        return;
      }
      if (why.isEmpty()) {
        why = p.state() == PromotionState.AGREED ? begin(at, p) : "it is " + p.state().code();
      }
      if (!why.isEmpty()) {
        stop(r, at, members, p, why);
      }
      return;
    }
    move(
        r.key(),
        at.site(),
        State.RUNNING,
        State.DONE,
        at.startedBy(),
        "Every member is there",
        new Event(
            "plenzo",
            "release done",
            null,
            at.site().stage(),
            at.site().site(),
            null,
            null,
            null,
            r.key() + ": " + members.size() + " ran"));
  }

  /** What became of a member's run that ended without being applied; empty while there is none. */
  private String failure(Promotion p) {
    return tools.keeper().read(kept -> kept.runs().of(p.number())).stream()
        .filter(r -> r.state().ended() && !r.state().applied())
        .map(
            r ->
                r.shown()
                    + " "
                    + r.state().code()
                    + (r.sentence() == null ? "" : " (" + r.sentence() + ")"))
        .findFirst()
        .orElse("");
  }

  /** Starts a member on the word of who started the release; returns why it could not. */
  private String begin(Case at, Promotion p) {
    try {
      Person by =
          tools
              .keeper()
              .read(kept -> kept.people().find(Objects.requireNonNull(at.startedBy())))
              .orElseThrow(() -> Problem.notFound("person", String.valueOf(at.startedBy())));
      runs.startMember(by, p.number(), p.requirePlan().fingerprint().digest().hex());
      return "";
    } catch (Problem e) {
      return String.valueOf(e.getMessage());
    }
  }

  private void stop(Release r, Case at, List<Promotion> members, Promotion failed, String why) {
    List<String> there =
        members.stream()
            .filter(p -> p.state() == PromotionState.DONE)
            .map(p -> p.application() + "@" + p.version())
            .toList();
    long left =
        members.stream()
            .filter(p -> p.number() != failed.number() && p.state() != PromotionState.DONE)
            .count();
    String sentence =
        failed.application()
            + "@"
            + failed.version()
            + " ("
            + failed.shown()
            + ") did not come through: "
            + why
            + ". "
            + (there.isEmpty()
                ? "No member is there yet"
                : String.join(", ", there) + (there.size() == 1 ? " is there" : " are there"))
            + (left == 0 ? "" : ", " + left + " not begun")
            + ".";
    move(
        r.key(),
        at.site(),
        State.RUNNING,
        State.STOPPED,
        at.startedBy(),
        sentence,
        new Event(
            "plenzo",
            "release stopped",
            failed.application(),
            at.site().stage(),
            at.site().site(),
            failed.version().text(),
            failed.number(),
            null,
            r.key() + ": " + sentence));
  }
}
