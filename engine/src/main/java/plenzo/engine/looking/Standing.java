package plenzo.engine.looking;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.gate.Blockers;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.source.SourceRecord;
import plenzo.core.stage.Activity;
import plenzo.core.stage.Application;
import plenzo.core.stage.Condition;
import plenzo.core.stage.Path;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.SiteRecord;
import plenzo.core.stage.Stage;
import plenzo.core.version.Ancestry;
import plenzo.core.version.SemVer;
import plenzo.core.version.VersionHead;
import plenzo.engine.Tools;
import plenzo.engine.people.Rights;
import plenzo.engine.promoting.Promotions;
import plenzo.engine.sealing.SourceWatch;

/** Where every version is, whether it is intact, and what is under way or waits. */
public final class Standing {
  private final Tools tools;
  private final Promotions promotions;
  private final SourceWatch sources;

  public Standing(Tools tools, Promotions promotions, SourceWatch sources) {
    this.sources = sources;
    this.tools = tools;
    this.promotions = promotions;
  }

  /**
   * One application at one site.
   *
   * @param activity what is under way, or null
   * @param closedBy the run or person that let only operators in and has not let everybody in again
   * @param owes versions whose fixes the present one does not have
   * @param behind how many versions newer than the present one there are
   */
  public record Cell(
      SiteKey site,
      boolean production,
      @Nullable SemVer version,
      Condition condition,
      String note,
      @Nullable Activity activity,
      String activityText,
      @Nullable String link,
      @Nullable Instant since,
      @Nullable Instant lookedAt,
      boolean judged,
      @Nullable String closedBy,
      List<String> owes,
      int behind) {}

  /**
   * One application: its newest version, what its source has that is in no version, and a cell for
   * each site of its path.
   */
  public record Line(
      Application application,
      @Nullable SemVer newest,
      String source,
      SourceRecord seen,
      String warning,
      List<Cell> cells) {}

  public List<Line> lines(Person by) {
    List<Line> out = new ArrayList<>();
    for (Application a : tools.keeper().read(kept -> kept.applications().all())) {
      if (by.may(Right.LOOK, Person.ANY, a.key())) {
        out.add(line(by, a));
      }
    }
    out.sort(Comparator.comparing(Standing::worst).thenComparing(l -> l.application().key()));
    return out;
  }

  private static int worst(Line line) {
    return line.cells().stream()
        .mapToInt(c -> (c.production() ? 0 : 10) + c.condition().ordinal())
        .min()
        .orElse(100);
  }

  private Line line(Person by, Application a) {
    List<VersionHead> versions = tools.keeper().read(kept -> kept.versions().list(a.key()));
    Path path = tools.keeper().read(kept -> kept.paths().find(a.path())).orElseThrow();
    List<Promotion> open =
        tools
            .keeper()
            .read(kept -> kept.promotions().list(Kept.Filter.application(a.key())))
            .stream()
            .filter(p -> p.state().open())
            .toList();
    List<Cell> cells = new ArrayList<>();
    for (String key : path.legs()) {
      Stage stage = tools.keeper().read(kept -> kept.stages().find(key)).orElseThrow();
      if (by.may(Right.LOOK, key, a.key())) {
        for (Stage.Site site : stage.sites()) {
          cells.add(cell(by, a, stage, new SiteKey(key, site.key()), versions, open));
        }
      }
    }
    SourceRecord seen = sources.seen(a.key());
    return new Line(
        a,
        versions.stream().map(VersionHead::number).max(Comparator.naturalOrder()).orElse(null),
        a.repository() == null ? path.source() : "repository",
        seen,
        sources.warning(a, seen, versions),
        cells);
  }

  private Cell cell(
      Person by,
      Application a,
      Stage stage,
      SiteKey site,
      List<VersionHead> versions,
      List<Promotion> open) {
    SiteRecord r =
        tools
            .keeper()
            .read(kept -> kept.sites().find(a.key() + "@" + site))
            .orElse(SiteRecord.none(a.key(), site));
    Promotion pressing = null;
    Activity activity = null;
    for (Promotion p : open) {
      Activity is = p.site().equals(site) ? activity(by, p) : null;
      if (is != null && (activity == null || is.compareTo(activity) < 0)) {
        activity = is;
        pressing = p;
      }
    }
    String text =
        pressing == null ? "" : pressing.version() + " " + Objects.requireNonNull(activity).code();
    String link = pressing == null ? null : pressing.shown();
    if (r.failed() != null && activity != Activity.RUNNING) {
      activity = Activity.FAILED;
      text = r.failed() + " failed";
      link = r.failed();
    }
    SemVer present = r.present();
    int behind =
        present == null
            ? 0
            : (int)
                versions.stream()
                    .filter(v -> !v.withdrawn() && v.number().compareTo(present) > 0)
                    .count();
    return new Cell(
        site,
        stage.production(),
        present,
        r.condition(),
        note(r),
        activity,
        text,
        link,
        r.lastPlacement().map(SiteRecord.Placement::at).orElse(null),
        r.look().at(),
        r.verdict(present).isPresent(),
        r.closedBy(),
        present == null ? List.of() : owes(present, a, site, versions),
        behind);
  }

  private static String note(SiteRecord r) {
    return switch (r.condition()) {
      case JUDGED_BAD -> r.verdict(r.present()).map(SiteRecord.Verdict::reason).orElse("");
      case DRIFTED ->
          r.older() > 0
              ? "changed by R-" + r.older() + ", which the records do not know"
              : r.drift()
                  + (r.drift() == 1 ? " part differs" : " parts differ")
                  + ", for example "
                  + r.look().examples().stream().findFirst().orElse("");
      case ROLLED_BACK -> "from " + r.rolledBackFrom();
      case NOT_REACHABLE -> "last seen " + r.look().at();
      default -> "";
    };
  }

  /**
   * Versions at later stages whose line the present version does not descend from: hotfixes it
   * owes.
   */
  private List<String> owes(
      SemVer present, Application a, SiteKey site, List<VersionHead> versions) {
    Ancestry ancestry = new Ancestry(versions);
    List<String> out = new ArrayList<>();
    for (SiteRecord other :
        tools.keeper().read(kept -> kept.sites().list(Kept.Filter.application(a.key())))) {
      SemVer there = other.present();
      if (there != null
          && !other.site().equals(site)
          && there.compareTo(present) < 0
          && !ancestry.descends(present, there)) {
        out.add(there.text());
      }
    }
    return out;
  }

  private @Nullable Activity activity(Person by, Promotion p) {
    return switch (p.state()) {
      case RUNNING -> Activity.RUNNING;
      case FAILED -> Activity.FAILED;
      case READY, AGREED ->
          promotions.may(by, p).waitsForYou()
              ? Activity.WAITING_FOR_YOU
              : Activity.WAITING_FOR_OTHERS;
      default -> null;
    };
  }

  /** One thing that waits for the person. */
  public record Waiting(
      String what,
      String link,
      SiteKey site,
      String application,
      SemVer version,
      String sentence,
      Instant since) {}

  public List<Waiting> waiting(Person by) {
    List<Waiting> out = new ArrayList<>();
    Set<String> releases = new HashSet<>();
    for (Promotion p : tools.keeper().read(kept -> kept.promotions().all())) {
      if (!by.may(Right.LOOK, p.site().stage(), p.application())) {
        continue;
      }
      if (activity(by, p) == Activity.WAITING_FOR_YOU) {
        if (p.release() != null && !releases.add(p.release() + "@" + p.site())) {
          continue; // a release is approved and started as one
        }
        String what =
            p.state() == PromotionState.AGREED
                ? "start"
                : promotions.gates(p).has(Blockers.class) ? "put right" : "approve";
        out.add(
            new Waiting(
                what,
                p.release() == null ? p.shown() : "release " + p.release(),
                p.site(),
                p.application(),
                p.version(),
                promotions.gates(p).words(),
                p.preparedAt()));
      }
    }
    for (SiteRecord r : tools.keeper().read(kept -> kept.sites().all())) {
      SemVer present = r.present();
      SiteRecord.Placement last = r.lastPlacement().orElse(null);
      if (present != null
          && last != null
          && last.how().equals("run")
          && r.verdict(present).isEmpty()
          && by.may(Right.JUDGE, r.site().stage(), r.application())) {
        out.add(
            new Waiting(
                "judge",
                "R-" + last.run(),
                r.site(),
                r.application(),
                present,
                "Good or bad is not said yet",
                last.at()));
      }
    }
    out.sort(Comparator.comparing(Waiting::since));
    return out;
  }

  /** What was where at a past time: the last placement before it at each site. */
  public record Past(String application, SiteKey site, String version, String how, Instant since) {}

  public List<Past> at(Person by, Instant when) {
    List<Past> out = new ArrayList<>();
    for (SiteRecord r : tools.keeper().read(kept -> kept.sites().all())) {
      if (by.may(Right.LOOK, r.site().stage(), r.application())) {
        Optional<SiteRecord.Placement> last =
            r.placements().stream().filter(p -> !p.at().isAfter(when)).reduce((a, b) -> b);
        last.ifPresent(
            p -> out.add(new Past(r.application(), r.site(), p.version().text(), p.how(), p.at())));
      }
    }
    out.sort(Comparator.comparing(Past::application).thenComparing(Past::site));
    return out;
  }

  public SiteRecord record(Person by, String application, SiteKey site) {
    Rights.require(by, Right.LOOK, site.stage(), application);
    return tools
        .keeper()
        .read(kept -> kept.sites().find(application + "@" + site))
        .orElse(SiteRecord.none(application, site));
  }
}
