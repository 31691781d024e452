package plenzo.bench;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import plenzo.core.comparison.Counts;
import plenzo.core.comparison.Difference;
import plenzo.core.component.ComponentKey;
import plenzo.core.digest.Digest;
import plenzo.core.digest.Fingerprint;
import plenzo.core.history.HistoryEntry;
import plenzo.core.impact.Finding;
import plenzo.core.keeping.Keeper;
import plenzo.core.keeping.Kept;
import plenzo.core.person.AccessKey;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.run.RunStep;
import plenzo.core.stage.Application;
import plenzo.core.stage.Connection;
import plenzo.core.stage.Leg;
import plenzo.core.stage.Path;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.SiteRecord;
import plenzo.core.stage.Stage;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;

/**
 * Records of a house with many applications that was at work for years: a path of four stages with
 * two sites each, cases and their runs in turn over all of them, and a long history. Every 250th
 * case is open, as a house has a few hundred in flight.
 */
final class ManyRecords {
  static final String READER = "a-reader-of-everything";
  static final String GUEST = "a-reader-of-three-applications";

  private static final List<String> STAGES = List.of("test", "trial", "training", "production");
  private static final Instant BEGAN = Instant.parse("2024-01-02T08:00:00Z");
  private static final int BATCH = 500;
  private static final int OPEN_EACH = 250;
  private static final int VERSIONS = 12;

  private final int applications;
  private final int cases;
  private final int entries;

  ManyRecords(int applications, int cases, int entries) {
    this.applications = applications;
    this.cases = cases;
    this.entries = entries;
  }

  static String application(int n) {
    return "ferry-" + n;
  }

  void fill(Keeper keeper) {
    keeper.write(
        kept -> {
          people(kept);
          stages(kept);
          return 0;
        });
    batches(applications, keeper, this::application);
    batches(cases, keeper, this::promotion);
    batches(entries, keeper, this::event);
  }

  /** Work on one more record. */
  private interface Making {
    void make(Kept kept, int n);
  }

  private static void batches(int most, Keeper keeper, Making making) {
    for (int from = 0; from < most; from += BATCH) {
      int first = from;
      keeper.write(
          kept -> {
            for (int n = first; n < Math.min(first + BATCH, most); n++) {
              making.make(kept, n);
            }
            return 0;
          });
    }
  }

  private static void people(Kept kept) {
    List<Person.Grant> everything = new ArrayList<>();
    for (Right r : Right.values()) {
      everything.add(new Person.Grant(r, Person.EVERY, Person.EVERY));
    }
    person(kept, "ines", READER, everything);
    person(
        kept,
        "gill",
        GUEST,
        List.of(
            new Person.Grant(Right.LOOK, Person.EVERY, application(7)),
            new Person.Grant(Right.LOOK, Person.EVERY, application(130)),
            new Person.Grant(Right.LOOK, "production", application(400))));
    for (int n = 0; n < 60; n++) {
      person(
          kept,
          "officer-" + n,
          "of-officer-" + n,
          List.of(
              new Person.Grant(Right.LOOK, Person.EVERY, Person.EVERY),
              new Person.Grant(Right.APPROVE, "production", application(n))));
    }
  }

  private static void person(Kept kept, String login, String secret, List<Person.Grant> grants) {
    kept.people().insert(Person.invited(login, login, "", false).withGrants(grants));
    kept.accessKeys()
        .insert(
            new AccessKey(
                Digest.of(secret).hex(),
                login,
                "bench",
                /* token= */ true,
                null,
                BEGAN,
                Instant.now().plus(Duration.ofDays(30)),
                /* revoked= */ false,
                /* only= */ null,
                null,
                0));
  }

  private static void stages(Kept kept) {
    stage(kept, "development", Stage.Role.DEVELOPMENT, 0);
    for (int n = 0; n < STAGES.size(); n++) {
      String key = STAGES.get(n);
      stage(kept, key, key.equals("production") ? Stage.Role.PRODUCTION : Stage.Role.TEST, n + 1);
    }
    kept.paths().insert(new Path("ferries", "Ferries", "development", legs(), 0));
  }

  private static List<Leg> legs() {
    return STAGES.stream()
        .map(Leg::open)
        .map(l -> l.proven(true))
        .map(l -> l.stage().equals("production") ? l.asking(new Leg.Quorum("", 1)) : l)
        .toList();
  }

  private static Stage.Site site(String key) {
    return new Stage.Site(
        key,
        List.of(new Stage.Target(null, "database", "postgresql", List.of("fares"), key, key, "")));
  }

  private static void stage(Kept kept, String key, Stage.Role role, int position) {
    for (String site : List.of("north", "south")) {
      kept.connections()
          .insert(
              new Connection(
                  key,
                  site,
                  "postgresql",
                  "db.example",
                  5432,
                  "fares",
                  "",
                  "plenzo",
                  "require",
                  Map.of(),
                  List.of(),
                  /* hasSecret= */ false,
                  null,
                  null,
                  new Connection.Test(BEGAN, /* good= */ true, List.of()),
                  0));
    }
    kept.stages()
        .insert(
            new Stage(
                key,
                key,
                role,
                position,
                "UTC",
                /* driftCloses= */ false,
                List.of(site("north"), site("south")),
                0));
  }

  private static SemVer version(int n) {
    return new SemVer("1." + n + ".0");
  }

  private void application(Kept kept, int n) {
    String key = application(n);
    kept.applications()
        .insert(
            Application.registered(key, key, "Ferry line " + n, "Harbour office", key, "ferries"));
    for (int v = 0; v < VERSIONS; v++) {
      kept.versions()
          .insert(
              Version.of(
                  key,
                  version(v),
                  v == 0 ? null : version(v - 1),
                  List.of(),
                  List.of(),
                  List.of(),
                  List.of(),
                  "Fares of season " + v,
                  "Prices and concessions of season " + v,
                  List.of("FERRY-" + v),
                  "ines",
                  BEGAN.plus(Duration.ofDays(v)),
                  "development/main"));
    }
    for (String stage : STAGES) {
      for (String site : List.of("north", "south")) {
        SiteRecord none = SiteRecord.none(key, new SiteKey(stage, site));
        SiteRecord placed = none;
        for (int v = 0; v < VERSIONS; v += 2) {
          placed =
              placed.placed(
                  new SiteRecord.Placement(
                      version(v), "run", (long) n + 1, BEGAN.plus(Duration.ofDays(v)), "ines"),
                  List.of(),
                  null,
                  new SiteRecord.Look(
                      0,
                      0,
                      List.of(),
                      BEGAN.plus(Duration.ofDays(v)),
                      /* reachable= */ true,
                      0,
                      null));
        }
        // most were judged; a few wait for it
        boolean judged = (n + stage.length()) % 20 != 0;
        kept.sites()
            .insert(
                judged
                    ? placed.judged(
                        new SiteRecord.Verdict(
                            version(VERSIONS - 2), /* good= */ true, "", "tove", BEGAN))
                    : placed);
      }
    }
  }

  private void promotion(Kept kept, int n) {
    long number = kept.next("promotion");
    int app = n % applications;
    int round = n / applications;
    String key = application(app);
    SiteKey site =
        new SiteKey(
            STAGES.get(round % STAGES.size()), round / STAGES.size() % 2 == 0 ? "north" : "south");
    Instant at = BEGAN.plus(Duration.ofMinutes(n));
    SemVer version = version(round % VERSIONS);
    boolean open = n % OPEN_EACH == 0;
    Fingerprint fingerprint = new Fingerprint(Digest.of("plan " + n));
    Promotion p =
        Promotion.opened(
            number,
            Promotion.Goal.of(key, version, site),
            new Promotion.Prepared("ines", at, "Season " + round));
    kept.promotions()
        .insert(
            new Promotion(
                number,
                p.goal(),
                open ? PromotionState.READY : PromotionState.DONE,
                p.prepared(),
                new Promotion.Look(
                    version, version, null, at, components(key), 0, List.of(), List.of()),
                findings(key),
                p.choices(),
                plan(fingerprint),
                open
                    ? List.of()
                    : List.of(
                        new Promotion.Approval(
                            "officer-" + n % 60, true, fingerprint.digest().hex(), "", at, null)),
                List.of(),
                List.of(),
                null,
                null,
                null,
                null,
                0));
    if (!open) {
      run(kept, p, fingerprint, at);
    }
  }

  private static List<Promotion.ComponentResult> components(String key) {
    return IntStream.range(0, 8)
        .mapToObj(
            n ->
                new Promotion.ComponentResult(
                    ComponentKey.of("records/" + key + ".crossing_" + n),
                    Difference.CHANGED,
                    new Counts(n, 2 * n, 0, 0, 0, 100),
                    List.of(),
                    Digest.of("touched " + n).hex()))
        .toList();
  }

  private static List<Finding> findings(String key) {
    return IntStream.range(0, 6)
        .mapToObj(
            n ->
                Finding.said(
                    "rule-" + n,
                    Finding.Severity.NOTE,
                    "records/" + key + ".crossing_" + n,
                    "Rows of the crossing are written while people book it.",
                    "Run it when no ferry leaves"))
        .toList();
  }

  private static List<Plan.Step> steps() {
    return IntStream.range(0, Plan.Act.values().length)
        .mapToObj(
            n ->
                new Plan.Step(
                    n + 1,
                    Plan.Act.values()[n],
                    null,
                    null,
                    "Step " + n,
                    "database",
                    "What this step does, in a sentence of usual length.",
                    "How it is undone",
                    null))
        .toList();
  }

  private static Plan plan(Fingerprint fingerprint) {
    return new Plan(
        steps(),
        List.of("UPDATE fares.crossing SET price = $1 WHERE id = $2"),
        7,
        List.of(new Plan.WayBack(Plan.Way.BACKUP, true, "loses nothing", 0)),
        List.of(new Plan.Condition("approvals:1", "1 approval")),
        plenzo.core.locking.Locked.NONE,
        fingerprint);
  }

  private static void run(Kept kept, Promotion p, Fingerprint fingerprint, Instant at) {
    long number = kept.next("run");
    List<RunStep> steps =
        steps().stream()
            .map(
                s ->
                    new RunStep(
                        s.number(),
                        s.act(),
                        null,
                        s.name(),
                        RunStep.State.DONE,
                        at,
                        at,
                        "done",
                        null))
            .toList();
    Run queued =
        Run.queued(
            number,
            new Run.Goal(
                p.number(),
                p.application(),
                p.version().text(),
                p.version().text(),
                p.site(),
                fingerprint.digest().hex(),
                List.of()),
            "ines",
            at,
            steps);
    kept.runs()
        .insert(
            new Run(
                number,
                queued.goal(),
                RunState.DONE,
                "ines",
                new Run.Times(at, at, at.plusSeconds(40), at.plusSeconds(20)),
                null,
                steps,
                new Run.Rows(24, 24),
                "done",
                new Run.Backup(
                    "backup-" + number,
                    "backups/" + number,
                    4096,
                    100,
                    List.of(p.application() + ".crossing"),
                    List.of(),
                    Digest.of("backup").hex(),
                    Digest.of("pieces").hex(),
                    "proven",
                    at),
                Run.Answers.NONE,
                null,
                0));
  }

  private void event(Kept kept, int n) {
    int app = n % applications;
    String stage = STAGES.get(n / applications % STAGES.size());
    kept.note(
        new HistoryEntry.Event(
            n % 3 == 0 ? "ines" : "officer-" + n % 60,
            switch (n % 4) {
              case 0 -> "promotion prepared";
              case 1 -> "approved";
              case 2 -> "run done";
              default -> "judged good";
            },
            application(app),
            stage,
            "north",
            version(n % VERSIONS).text(),
            (long) n % cases + 1,
            null,
            "What happened there, in a sentence of usual length."),
        BEGAN.plus(Duration.ofSeconds(n)));
  }
}
