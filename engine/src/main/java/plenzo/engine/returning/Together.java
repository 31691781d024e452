package plenzo.engine.returning;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.digest.Digest;
import plenzo.core.digest.Fingerprint;
import plenzo.core.json.Json;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.plan.Plan;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.SiteRecord;
import plenzo.core.version.SemVer;
import plenzo.engine.Tools;
import plenzo.engine.people.Rights;
import plenzo.engine.returning.Rollbacks.Option;
import plenzo.engine.returning.Rollbacks.Wish;

/**
 * Going back at every site of a stage to which a version came, as one act; sites that never got it
 * stay as they are (decision D14). Each site keeps a plan, a backup and a run of its own.
 */
public final class Together {
  private final Tools tools;
  private final Rollbacks rollbacks;

  public Together(Tools tools, Rollbacks rollbacks) {
    this.tools = tools;
    this.rollbacks = rollbacks;
  }

  /**
   * Where somebody wants to go back.
   *
   * @param leaving the version that is left; null for the newest that came to the stage
   */
  public record Where(String application, String stage, @Nullable SemVer leaving, Wish wish) {}

  /**
   * One site of the stage.
   *
   * @param present what is recorded there; null when the application never was
   * @param leaves whether the version that is left came there, also when it came half
   * @param ways empty where nothing is left
   */
  public record AtSite(SiteKey site, @Nullable SemVer present, boolean leaves, List<Option> ways) {}

  /**
   * One way for all sites that leave the version.
   *
   * @param why why it cannot be used, with the first site that closes it; empty when it can
   * @param lost rows and values of all sites, −1 when it cannot be known
   * @param covered whether approvals of before cover it at every site
   * @param fingerprint over the plans of all sites; null where one has none
   */
  public record OneWay(
      Plan.Way way, String why, long lost, boolean covered, @Nullable Fingerprint fingerprint) {
    public boolean possible() {
      return why.isEmpty();
    }
  }

  /**
   * A stage and its ways back.
   *
   * @param leaving the version that is left; null when no site of the stage has one
   */
  public record AtStage(@Nullable SemVer leaving, List<AtSite> sites, List<OneWay> ways) {}

  /** The ways back of all sites that a version came to, side by side. */
  public AtStage ways(Person by, Where where) {
    return ways(by, where, rollbacks::ways);
  }

  /** The same, without looking again at sites that were looked at lately. */
  public AtStage known(Person by, Where where) {
    return ways(by, where, rollbacks::known);
  }

  /** How the ways back of one site are found. */
  private interface OfSite {
    List<Option> ways(Person by, String application, SiteKey site, Wish wish);
  }

  private AtStage ways(Person by, Where where, OfSite of) {
    String application = where.application();
    Rights.require(by, Right.LOOK, where.stage(), application);
    List<SiteRecord> records = records(where);
    SemVer left = where.leaving() != null ? where.leaving() : newest(records);
    List<AtSite> sites = new ArrayList<>();
    for (SiteRecord r : records) {
      boolean leaves = left != null && came(r).contains(left);
      sites.add(
          new AtSite(
              r.site(),
              r.present(),
              leaves,
              leaves ? of.ways(by, application, r.site(), where.wish()) : List.of()));
    }
    return new AtStage(left, sites, together(application, sites));
  }

  private List<SiteRecord> records(Where where) {
    return tools
        .keeper()
        .read(
            kept ->
                kept
                    .stages()
                    .find(where.stage())
                    .orElseThrow(() -> Problem.notFound("stage", where.stage()))
                    .sites()
                    .stream()
                    .map(s -> new SiteKey(where.stage(), s.key()))
                    .map(
                        site ->
                            kept.sites()
                                .find(where.application() + "@" + site)
                                .orElse(SiteRecord.none(where.application(), site)))
                    .toList());
  }

  /** What is at a site, and what came there half. */
  private List<SemVer> came(SiteRecord r) {
    List<SemVer> out = new ArrayList<>();
    if (r.present() != null) {
      out.add(r.present());
    }
    Optional<Run> half = tools.keeper().read(kept -> kept.halfWritten(r));
    half.ifPresent(run -> out.add(new SemVer(run.version())));
    return out;
  }

  private @Nullable SemVer newest(List<SiteRecord> records) {
    return records.stream()
        .flatMap(r -> came(r).stream())
        .max(Comparator.naturalOrder())
        .orElse(null);
  }

  private static List<OneWay> together(String application, List<AtSite> sites) {
    List<AtSite> leaving = sites.stream().filter(AtSite::leaves).toList();
    Set<Plan.Way> all = new LinkedHashSet<>();
    leaving.forEach(s -> s.ways().forEach(o -> all.add(o.way())));
    List<OneWay> out = new ArrayList<>();
    for (Plan.Way way : all) {
      String why = "";
      long lost = 0;
      boolean covered = true;
      List<Json> plans = new ArrayList<>();
      for (AtSite s : leaving) {
        Option o = s.ways().stream().filter(x -> x.way() == way).findFirst().orElse(null);
        if (o == null || !o.possible()) {
          why =
              why.isEmpty()
                  ? s.site() + ": " + (o == null ? "there is no such way there." : o.why())
                  : why;
          continue;
        }
        lost = lost < 0 || o.lost() < 0 ? -1 : lost + o.lost();
        covered &= o.covered();
        plans.add(Json.object("site", s.site().toString(), "plan", o.fingerprint()));
      }
      out.add(
          new OneWay(
              way,
              why,
              lost,
              covered,
              why.isEmpty()
                  ? new Fingerprint(
                      Digest.of(
                          Json.object("application", application, "way", way.code(), "plans", plans)
                              .canonical()))
                  : null));
    }
    out.sort(
        Comparator.comparing((OneWay w) -> !w.possible())
            .thenComparing(w -> w.lost() < 0)
            .thenComparing(OneWay::lost));
    return out;
  }

  /**
   * What came of one site.
   *
   * @param problem why nothing was opened or started there; empty when it was
   */
  public record Opened(SiteKey site, @Nullable Promotion promotion, String problem) {}

  /**
   * Opens a rollback at every site that leaves the version. One that cannot be opened does not keep
   * the others from being opened: it is said of it.
   *
   * @param expect fingerprint over all their plans that was looked at
   * @throws Problem when the way is closed somewhere, or would do something else by now; then
   *     nothing is opened
   */
  public List<Opened> start(Person by, Where where, Plan.Way way, String reason, String expect) {
    String application = where.application();
    String stage = where.stage();
    Rights.require(by, Right.GO_BACK, stage, application);
    if (reason.isBlank()) {
      throw Problem.invalid("REASON", "Going back needs a reason.", "/reason");
    }
    AtStage now = ways(by, where); // all go or none: what moved anywhere is found beforehand
    OneWay one = now.ways().stream().filter(w -> w.way() == way).findFirst().orElse(null);
    Fingerprint plans = one == null ? null : one.fingerprint();
    if (one == null || plans == null) {
      throw Problem.stopped(
          "NO_WAY_BACK",
          one == null
              ? "No site of " + stage + " has that way back."
              : "That way is closed at " + one.why(),
          "plenzo rollback ways " + application + "@" + stage + " --every-site");
    }
    if (!plans.matches(expect)) {
      throw Problem.changed(
          "FINGERPRINT",
          "Going back would now do something else than what you saw: "
              + plans.shown()
              + ", not "
              + Fingerprint.given(expect)
              + ".",
          "Look again: plenzo rollback ways " + application + "@" + stage + " --every-site");
    }
    List<Opened> out = new ArrayList<>();
    for (AtSite s : now.sites()) {
      if (s.leaves()) {
        Option o = s.ways().stream().filter(x -> x.way() == way).findFirst().orElseThrow();
        try {
          Promotion p =
              rollbacks.start(
                  by,
                  application,
                  s.site(),
                  way,
                  where.wish(),
                  reason,
                  String.valueOf(o.fingerprint()));
          out.add(new Opened(s.site(), p, ""));
        } catch (Problem e) {
          out.add(new Opened(s.site(), null, String.valueOf(e.getMessage())));
        }
      }
    }
    return out;
  }
}
