package plenzo.engine.looking;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import org.jspecify.annotations.Nullable;
import plenzo.core.gate.GateReport;
import plenzo.core.keeping.Kept;
import plenzo.core.keeping.Memo;
import plenzo.core.may.Duties;
import plenzo.core.person.Person;
import plenzo.core.person.Sight;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.source.SourceRecord;
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
import plenzo.engine.promoting.Promotions;

/**
 * What there is of every application, for whoever may see it. It is worked out anew only for an
 * application of which something was written: an event costs the same with ten cases and with fifty
 * thousand, and a reader costs nothing that another one has not asked before.
 */
final class Overview {
  private final Tools tools;
  private final Promotions promotions;

  private final Memo<List<Application>> applications = new Memo<>();
  private final Memo<Rows> everything = new Memo<>();
  private final Map<String, Memo<App>> apps = new ConcurrentHashMap<>();
  private final Map<String, Memo<List<Open>>> open = new ConcurrentHashMap<>();

  Overview(Tools tools, Promotions promotions) {
    this.tools = tools;
    this.promotions = promotions;
  }

  /**
   * One application.
   *
   * @param newest of the versions that may be promoted, null when there is none
   * @param highest of all versions, null when there is none
   * @param paused runs that wait for a person
   */
  record App(
      Application application,
      @Nullable VersionHead newest,
      @Nullable SemVer highest,
      String source,
      SourceRecord seen,
      List<Place> places,
      List<Paused> paused) {}

  /**
   * A run that waits for a person.
   *
   * @param rollback whether it goes back
   */
  record Paused(Run run, boolean rollback) {}

  /**
   * What is recorded of it at one site.
   *
   * @param broughtBy number of the run that brought what is there, 0 when none did
   */
  record Place(
      SiteKey site,
      boolean production,
      @Nullable SemVer version,
      Condition condition,
      String note,
      @Nullable String failed,
      @Nullable Instant since,
      @Nullable Instant lookedAt,
      boolean judged,
      long broughtBy,
      @Nullable String closedBy,
      List<SiteRecord.Owed> yesOwed,
      List<String> owes,
      int behind) {}

  /**
   * An application as somebody sees it.
   *
   * @param places those of its sites that they see
   * @param worst rank of its worst site, 0 for the worst in production
   */
  record Row(App app, List<Place> places, int worst) {
    /** Rank of a row without a site: behind all others. */
    private static final int NOTHING = 100;

    static Row of(App app, List<Place> places) {
      int worst = NOTHING;
      for (Place p : places) {
        worst = Math.min(worst, (p.production() ? 0 : 10) + p.condition().ordinal());
      }
      return new Row(app, places, worst);
    }

    String key() {
      return String.format(Locale.ROOT, "%03d.%s", worst, app.application().key());
    }
  }

  /**
   * Rows, the worst first, and what is true of all of them.
   *
   * @param conditions how many sites of each stage are in each condition
   * @param open cases that are not over, of those applications
   * @param busy rows with a case that is not over, or a failure that nobody closed
   * @param unjudged sites whose version nobody has judged yet
   */
  record Rows(
      List<Row> rows,
      Map<String, Map<Condition, Integer>> conditions,
      List<Open> open,
      List<Row> busy,
      List<Unjudged> unjudged,
      int goodInProduction,
      int inProduction) {}

  /** A version that a run brought and nobody has judged. */
  record Unjudged(String application, Place place) {}

  /**
   * A case that is not over.
   *
   * @param duties who did what about it
   * @param gates what is still open of one whose plan stands; null for others
   */
  record Open(Promotion promotion, Duties duties, @Nullable GateReport gates) {}

  /** Everything, as who may look everywhere sees it; linear in the applications. */
  Rows everything() {
    return everything.get(
        tools.keeper().stamp(),
        () ->
            rows(applications().stream().map(this::app).map(a -> Row.of(a, a.places())).toList()));
  }

  /** What can be seen from there. */
  Rows seen(Sight sight) {
    if (sight.everywhere()) {
      return everything();
    }
    List<Row> out = new ArrayList<>();
    for (Row row : everything().rows()) {
      String key = row.app().application().key();
      if (sight.covers(Person.ANY, key)) {
        out.add(
            Row.of(
                row.app(),
                row.places().stream().filter(p -> sight.covers(p.site().stage(), key)).toList()));
      }
    }
    return rows(out);
  }

  private Rows rows(List<Row> all) {
    List<Row> sorted =
        all.stream()
            .sorted(
                Comparator.comparingInt(Row::worst).thenComparing(r -> r.app().application().key()))
            .toList();
    Map<String, Map<Condition, Integer>> conditions = new LinkedHashMap<>();
    List<Open> cases = new ArrayList<>();
    List<Unjudged> unjudged = new ArrayList<>();
    List<Row> busy = new ArrayList<>();
    int good = 0;
    int inProduction = 0;
    for (Row row : sorted) {
      Application a = row.app().application();
      List<Open> its = open(a);
      cases.addAll(its);
      if (!its.isEmpty() || row.places().stream().anyMatch(p -> p.failed() != null)) {
        busy.add(row);
      }
      for (Place p : row.places()) {
        conditions
            .computeIfAbsent(p.site().stage(), k -> new TreeMap<>())
            .merge(p.condition(), 1, Integer::sum);
        if (p.production() && p.condition() != Condition.NEVER_HERE) {
          inProduction++;
          good += p.condition() == Condition.GOOD || p.condition() == Condition.ROLLED_BACK ? 1 : 0;
        }
        if (p.version() != null && p.broughtBy() != 0 && !p.judged()) {
          unjudged.add(new Unjudged(a.key(), p));
        }
      }
    }
    return new Rows(sorted, conditions, cases, busy, unjudged, good, inProduction);
  }

  List<Application> applications() {
    return applications.get(
        tools.keeper().stampOfSetUp(),
        () -> {
          List<Application> all =
              tools.keeper().read(kept -> kept.applications().all()).stream()
                  .filter(a -> a.retired() == null)
                  .toList();
          apps.keySet().retainAll(all.stream().map(Application::key).toList());
          open.keySet().retainAll(apps.keySet());
          return all;
        });
  }

  App app(Application a) {
    return apps.computeIfAbsent(a.key(), k -> new Memo<>())
        .get(tools.keeper().stamp(a.key()), () -> look(a));
  }

  /** Cases of an application that are not over, with their gates as they are now. */
  List<Open> open(Application a) {
    long now = tools.keeper().stamp(a.key());
    long people = tools.keeper().stampOfPeople();
    return open.computeIfAbsent(a.key(), k -> new Memo<>())
        .get(Math.max(now, people), () -> lookAtCases(a));
  }

  private List<Open> lookAtCases(Application a) {
    List<Open> out = new ArrayList<>();
    for (Promotion p :
        tools
            .keeper()
            .read(
                kept ->
                    kept.promotions()
                        .list(Kept.Filter.application(a.key()).in(PromotionState.openCodes())))) {
      boolean stands = p.state().stands();
      Promotion lean = p.lean();
      out.add(new Open(lean, promotions.duties(lean), stands ? promotions.gates(p) : null));
    }
    return out;
  }

  /** The stage in which it is edited, or what stands in place of one. */
  private static String source(Application a, Path path) {
    return a.repository() != null
        ? "repository"
        : Objects.requireNonNullElse(path.source(), "packages");
  }

  private App look(Application a) {
    return tools
        .keeper()
        .read(
            kept -> {
              List<VersionHead> versions = kept.versions().list(a.key());
              Path path = kept.paths().find(a.path()).orElseThrow();
              List<SiteRecord> records = kept.sites().list(Kept.Filter.application(a.key()));
              List<Place> places = new ArrayList<>();
              for (String key : stages(kept, a)) {
                Stage stage = kept.stages().find(key).orElseThrow();
                for (Stage.Site site : stage.sites()) {
                  places.add(place(stage, new SiteKey(key, site.key()), a, records, versions));
                }
              }
              return new App(
                  a,
                  newest(versions.stream().filter(v -> !v.withdrawn()).toList()),
                  versions.stream().map(VersionHead::number).max(SemVer::compareTo).orElse(null),
                  source(a, path),
                  kept.sources().find(a.key()).orElse(SourceRecord.none(a.key())),
                  places,
                  paused(kept, a));
            });
  }

  private static List<Paused> paused(Kept kept, Application a) {
    return kept
        .runs()
        .list(Kept.Filter.application(a.key()).in(List.of(RunState.PAUSED.code())))
        .stream()
        .map(
            r ->
                new Paused(
                    r,
                    kept.promotions()
                        .find(String.valueOf(r.promotion()))
                        .filter(Promotion::rollback)
                        .isPresent()))
        .toList();
  }

  /** The stages of all its paths, the ordinary one's first. */
  private static List<String> stages(Kept kept, Application a) {
    return a.paths().stream()
        .flatMap(key -> kept.paths().find(key).stream())
        .flatMap(p -> p.stages().stream())
        .distinct()
        .toList();
  }

  private static @Nullable VersionHead newest(List<VersionHead> versions) {
    return versions.stream().max(java.util.Comparator.comparing(VersionHead::number)).orElse(null);
  }

  private static Place place(
      Stage stage,
      SiteKey site,
      Application a,
      List<SiteRecord> records,
      List<VersionHead> versions) {
    SiteRecord r =
        records.stream()
            .filter(x -> x.site().equals(site))
            .findFirst()
            .orElse(SiteRecord.none(a.key(), site));
    SemVer present = r.present();
    SiteRecord.Placement last = r.lastPlacement().orElse(null);
    return new Place(
        site,
        stage.production(),
        present,
        r.condition(),
        note(r),
        r.failed(),
        last == null ? null : last.at(),
        r.look().at(),
        r.verdict(present).isPresent(),
        last == null || last.run() == null || !last.how().equals("run") ? 0 : last.run(),
        r.closedBy(),
        r.owed(),
        present == null ? List.of() : owes(present, site, records, versions),
        present == null
            ? 0
            : (int)
                versions.stream()
                    .filter(v -> !v.withdrawn() && v.number().compareTo(present) > 0)
                    .count());
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
                  // the same line for every reader: keys of rows are for those who may see values
                  + r.look().examples().stream()
                      .findFirst()
                      .map(e -> e.replaceFirst("#row/.*", ""))
                      .orElse("");
      case TO_LOOK_AT ->
          r.lastPlacement()
              .map(SiteRecord.Placement::toLookAt)
              .map(l -> "R-" + l.run() + " found something")
              .orElse("");
      case ROLLED_BACK -> "from " + r.rolledBackFrom();
      case NOT_REACHABLE -> "last seen " + r.look().at();
      default -> "";
    };
  }

  /**
   * Versions at later stages whose line the present version does not descend from: hotfixes it
   * owes.
   */
  private static List<String> owes(
      SemVer present, SiteKey site, List<SiteRecord> records, List<VersionHead> versions) {
    Ancestry ancestry = new Ancestry(versions);
    List<String> out = new ArrayList<>();
    for (SiteRecord other : records) {
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
}
