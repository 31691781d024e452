package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.awaitility.Awaitility;
import plenzo.core.check.ContentCheck;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.impact.Finding;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.records.RecordsDefinition;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.stage.Connection;
import plenzo.core.stage.Leg;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.Stage;
import plenzo.core.version.Draft;
import plenzo.core.version.Removal;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;
import plenzo.demo.Cluster;
import plenzo.engine.Engine;
import plenzo.engine.returning.Rollbacks;
import plenzo.engine.running.RunListener;
import plenzo.engine.sealing.Drafts;
import plenzo.engine.setup.Adoption;
import plenzo.store.EmptyRecords;

/**
 * The engine in this process over the sample databases: a development stage and one to promote to,
 * which needs no approval so that one person can do the whole job.
 */
final class EngineWorld implements AutoCloseable {
  static final SiteKey DEVELOPMENT = new SiteKey("development", "main");

  final Engine engine;
  final Person ines = EngineMain.person("ines");

  /**
   * @param port where the databases are reached; a relay's to stand in between
   */
  EngineWorld(Path folder, int port, RunListener listener) {
    this(folder, port, listener, Duration.ofSeconds(15));
  }

  EngineWorld(Path folder, int port, RunListener listener, Duration beat) {
    this(folder, port, opened(folder, listener, beat, List.of()));
  }

  /**
   * @param added checks of content beside those that every Plenzo has
   */
  EngineWorld(Path folder, int port, RunListener listener, List<ContentCheck> added) {
    this(folder, port, opened(folder, listener, Duration.ofSeconds(15), added));
  }

  private static Engine opened(
      Path folder, RunListener listener, Duration beat, List<ContentCheck> added) {
    EmptyRecords.into(folder);
    return EngineMain.open(folder, listener, beat, added);
  }

  /**
   * One that was laid before, from a copy of its records: all that is done to lay one takes longer
   * than most of what is then tried with it.
   *
   * @param golden records of one that is closed
   * @param folder for the copy
   */
  static EngineWorld again(Path golden, Path folder, RunListener listener, Duration beat) {
    try {
      Files.createDirectories(folder);
      KillTest.copy(golden, folder);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    return new EngineWorld(EngineMain.open(folder, listener, beat));
  }

  /** One that ended, over the same records; it goes on with what it was comparing. */
  static EngineWorld reopened(Path folder) {
    EngineWorld world = new EngineWorld(EngineMain.open(folder));
    world.engine.promotions().resume();
    return world;
  }

  private EngineWorld(Engine engine) {
    this.engine = engine;
  }

  private EngineWorld(Path folder, int port, Engine engine) {
    this.engine = engine;
    engine
        .tools()
        .keeper()
        .write(
            kept -> {
              kept.people().insert(ines);
              return null;
            });
    stage(0, "development", "Development", Stage.Role.DEVELOPMENT, false);
    stage(1, "production", "Production", Stage.Role.TEST, true);
    connection(port, "development", "look", "development", "development_look");
    connection(port, "production", "look", "production", "production_look");
    connection(port, "production", "change", "production", "production_change");
    connection(port, "production", "scratch", "postgres", "scratch");
    engine.connections().testSite(ines, EngineMain.SITE);
    engine
        .paths()
        .lay(
            ines,
            new plenzo.core.stage.Path(
                "ordinary",
                "Ordinary",
                "development",
                List.of(Leg.open("production").proven(true)),
                0));
    engine.applications().register(ines, "fares", "Fares", "Tickets", "fares", "ordinary");
  }

  private void stage(int position, String key, String name, Stage.Role role, boolean changes) {
    Stage.Target target =
        new Stage.Target(
            null,
            "database",
            "postgresql",
            List.of("fares"),
            "look",
            changes ? "change" : "",
            changes ? "scratch" : "");
    engine
        .stages()
        .save(
            ines,
            new Stage(
                key,
                name,
                role,
                position,
                "UTC",
                /* driftCloses= */ false,
                List.of(new Stage.Site("main", List.of(target))),
                0));
  }

  /** The stage with one site of other targets, and another number of approvals on the way there. */
  Stage changed(String stage, int approvals, List<Stage.Target> targets) {
    plenzo.core.stage.Path path = engine.paths().list().get(0);
    if (path.leg(stage).isPresent()) {
      Leg asking = path.leg(stage).orElseThrow();
      Leg next = approvals == 0 ? asking.asking() : asking.asking(new Leg.Quorum("", approvals));
      engine
          .paths()
          .change(
              ines,
              new plenzo.core.stage.Path(
                  path.key(), path.name(), path.source(), List.of(next), path.revision()));
    }
    Stage old = engine.stages().get(ines, stage);
    return engine
        .stages()
        .save(
            ines,
            new Stage(
                old.key(),
                old.name(),
                old.role(),
                old.position(),
                old.zone(),
                old.driftCloses(),
                List.of(new Stage.Site("main", targets)),
                old.revision()));
  }

  /** A target of one piece that production's runs change and development only shows. */
  static Stage.Target whole(String stage, String key, String sort) {
    return new Stage.Target(
        null, key, sort, List.of(), key, stage.equals("development") ? "" : key, "");
  }

  private void connection(int port, String stage, String name, String database, String account) {
    engine
        .connections()
        .save(
            ines,
            new Connection(
                stage,
                name,
                "postgresql",
                "127.0.0.1",
                port,
                database,
                "",
                account,
                "disable",
                java.util.Map.of(),
                List.of(),
                false,
                null,
                null,
                null,
                0),
            Cluster.PASSWORD);
  }

  /** Components by name; rows with their key behind a colon where it is not the proposed one. */
  private static List<Adoption.Pick> picks(List<String> components) {
    return components.stream()
        .map(
            named -> {
              String[] parts = named.split(":", 2);
              ComponentKey key = ComponentKey.of(parts[0]);
              RecordsDefinition by =
                  parts.length == 1
                      ? null
                      : new RecordsDefinition(
                          TableName.of(key.name()), List.of(parts[1].split(",")), null);
              return new Adoption.Pick(key, by, /* generatedKeyConfirmed= */ true);
            })
        .toList();
  }

  /** What production holds becomes 1.0.0. */
  void adopt(List<String> components) {
    engine
        .adoption()
        .adopt(ines, "fares", EngineMain.SITE, new SemVer("1.0.0"), "Was there", picks(components));
  }

  /** A new draft of some of what development holds, checked. */
  Draft checked(String... components) {
    String draft = engine.drafts().start(ines, "fares", null).id();
    engine.drafts().add(ines, draft, DEVELOPMENT, picks(List.of(components)));
    return engine.drafts().check(ines, draft);
  }

  /** Seals what development holds; everything that is gone there is ticked as a removal. */
  Version seal(String number, List<String> components) {
    var begun = engine.drafts().start(ines, "fares", null);
    String draft = begun.id();
    Set<String> all =
        engine
            .sources()
            .against(ines, "fares", DEVELOPMENT, begun.from(), /* grants= */ true)
            .components()
            .stream()
            .filter(c -> !c.state().equals("gone"))
            .map(c -> c.key().toString())
            .collect(Collectors.toSet());
    List<String> there =
        components.stream().filter(c -> all.contains(c.replaceFirst(":.*", ""))).toList();
    engine.drafts().add(ines, draft, DEVELOPMENT, picks(there));
    List<Removal> gone = engine.drafts().check(ines, draft).gone();
    engine.drafts().removals(ines, draft, gone);
    engine.drafts().check(ines, draft);
    return engine.drafts().seal(ines, draft, said(number, "Next"));
  }

  /**
   * Seals everything that development holds, rows too where they can be records; everything that is
   * gone there is ticked as a removal, and what a check asks about was not renamed.
   */
  Version sealEverything(String number) {
    return sealAll(number, /* rows= */ true, draft -> {});
  }

  /** The same without rows. */
  Version sealStructures(String number) {
    return sealAll(number, /* rows= */ false, draft -> {});
  }

  /** The same with what somebody says of the draft, by its id, when everything is picked. */
  Version sealStructures(String number, Consumer<String> said) {
    return sealAll(number, /* rows= */ false, said);
  }

  private Version sealAll(String number, boolean rows, Consumer<String> said) {
    var begun = engine.drafts().start(ines, "fares", null);
    List<Adoption.Pick> all =
        engine.sources().against(ines, "fares", DEVELOPMENT, begun.from()).components().stream()
            .filter(c -> List.of("new", "changed").contains(c.state()) && c.problem().isEmpty())
            .filter(c -> rows || c.key().kind() != Kind.RECORDS)
            .map(c -> new Adoption.Pick(c.key(), null, /* generatedKeyConfirmed= */ true))
            .toList();
    engine.drafts().add(ines, begun.id(), DEVELOPMENT, all);
    said.accept(begun.id());
    sayTwo(begun.id());
    engine.drafts().removals(ines, begun.id(), engine.drafts().check(ines, begun.id()).gone());
    engine.drafts().check(ines, begun.id());
    return engine.drafts().seal(ines, begun.id(), said(number, "Everything"));
  }

  /** Says of everything that a check asks about that it was not renamed. */
  void sayTwo(String draft) {
    engine.drafts().check(ines, draft).renames().stream()
        .filter(r -> !r.denied() && !r.isOne())
        .forEach(r -> engine.drafts().twoColumns(ines, draft, r.component(), r.was(), r.is()));
  }

  /** States what a column is worked out from. */
  void convert(String draft, ComponentKey table, String column, String expression) {
    engine.drafts().convert(ines, draft, table, column, expression, false);
  }

  /** States what a column of the version before is worked out from, where one goes back. */
  void convertBack(String draft, ComponentKey table, String column, String expression) {
    engine.drafts().convert(ines, draft, table, column, expression, true);
  }

  /** Everything that a site has, rows too where they can be records. */
  List<String> everything(SiteKey site) {
    return engine.adoption().candidates(ines, "fares", site).candidates().stream()
        .flatMap(
            c ->
                c.component().kind() == Kind.TABLE && c.keyProblem().isEmpty()
                    ? Stream.of(c.component(), new ComponentKey(Kind.RECORDS, c.component().name()))
                    : Stream.of(c.component()))
        .map(ComponentKey::toString)
        .toList();
  }

  /** What production says of a table before anything of it is taken. */
  Adoption.Candidate candidate(String table) {
    return engine.adoption().candidates(ines, "fares", EngineMain.SITE).candidates().stream()
        .filter(c -> c.component().toString().equals("table/fares." + table))
        .findFirst()
        .orElseThrow();
  }

  /** What a site has and is not carried, by name. */
  List<String> uncarried(SiteKey site) {
    return engine.adoption().candidates(ines, "fares", site).uncarried().stream()
        .map(u -> u.name())
        .toList();
  }

  /** Every structure that a site has. */
  List<String> structures(SiteKey site) {
    return engine.adoption().candidates(ines, "fares", site).candidates().stream()
        .map(c -> c.component().toString())
        .toList();
  }

  /** What is said of a version that nothing special is said of. */
  static Drafts.Statement said(String number, String title) {
    return new Drafts.Statement(new SemVer(number), title, "", null, List.of());
  }

  /** Prepares a promotion and waits for its comparison. */
  Promotion promotion(String number) {
    long p =
        engine
            .promotions()
            .prepare(ines, "fares", new SemVer(number), EngineMain.SITE, "")
            .number();
    return compared(p);
  }

  Promotion compared(long number) {
    Awaitility.await()
        .atMost(Duration.ofMinutes(10))
        .until(() -> engine.promotions().get(ines, number).state() != PromotionState.PREPARING);
    return engine.promotions().get(ines, number);
  }

  Run start(Promotion p) {
    return engine.runs().start(ines, p.number(), p.requirePlan().fingerprint().shown());
  }

  /** Waits for the end of a run. */
  Run ended(Run run) {
    Awaitility.await()
        .atMost(Duration.ofMinutes(10))
        .until(() -> engine.runs().get(ines, run.number()).state().ended());
    return engine.runs().get(ines, run.number());
  }

  Run run(Promotion p) {
    return ended(start(p));
  }

  /** Brings a version to production, where nothing is in the way. */
  Run bring(String number) {
    Promotion p = promotion(number);
    assertThat(p.findings())
        .filteredOn(f -> f.severity() == Finding.Severity.BLOCKER)
        .extracting(Finding::sentence)
        .isEmpty();
    return done(run(p));
  }

  /** Goes back from what came last. */
  Run back(Plan.Way way) {
    return done(run(compared(goBack(way(way)).number())));
  }

  private static Run done(Run run) {
    assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
    return run;
  }

  Rollbacks.Option way(Plan.Way way) {
    return way(way, Rollbacks.Wish.NONE);
  }

  Rollbacks.Option way(Plan.Way way, Rollbacks.Wish wish) {
    return engine.rollbacks().ways(ines, "fares", EngineMain.SITE, wish).stream()
        .filter(o -> o.way() == way)
        .findFirst()
        .orElseThrow();
  }

  /** Opens going back to the last good version, as the option says that it goes. */
  Promotion goBack(Rollbacks.Option option) {
    return goBack(option, Rollbacks.Wish.NONE);
  }

  Promotion goBack(Rollbacks.Option option, Rollbacks.Wish wish) {
    return engine
        .rollbacks()
        .start(
            ines,
            "fares",
            EngineMain.SITE,
            option.way(),
            wish,
            "test",
            String.valueOf(option.fingerprint()));
  }

  /** Components as text, from kinds and table names: {@code tr fare_band} is both of a table. */
  static List<String> both(String... tables) {
    TreeMap<String, Boolean> out = new TreeMap<>();
    for (String table : tables) {
      out.put("table/fares." + table, true);
      out.put("records/fares." + table, true);
    }
    return List.copyOf(out.keySet());
  }

  /** A stopped run has its promotion compared again in the background: that is waited for. */
  @Override
  public void close() {
    Awaitility.await()
        .atMost(Duration.ofMinutes(1))
        .until(
            () ->
                engine
                    .promotions()
                    .list(ines, Kept.Filter.state(PromotionState.PREPARING.code()))
                    .items()
                    .isEmpty());
    engine.tools().keeper().close();
  }
}
