package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.concurrent.CyclicBarrier;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import org.awaitility.Awaitility;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.RepeatedTest;
import org.junit.jupiter.api.TestInstance;
import plenzo.core.manual.ManualStep;
import plenzo.core.person.Person;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.run.RunStep;
import plenzo.core.stage.Leg;
import plenzo.core.testing.Ground;
import plenzo.demo.Cluster;
import plenzo.engine.running.RunListener;

/** Two people act on one run at the same moment: one of them is first, and the site is whole. */
@TestInstance(TestInstance.Lifecycle.PER_CLASS)
class TwoPeopleTest {
  private static final Path ROOT = Ground.of("two-people");
  private static final List<String> PICKS =
      List.of("table/fares.surcharge", "records/fares.surcharge");

  private final Started started = new Started();
  private final ExecutorService both = Executors.newFixedThreadPool(2);
  private Cluster cluster;
  private EngineWorld world;
  private Person edda;
  private int versions;

  @BeforeAll
  void start() throws Exception {
    KillTest.clear(ROOT);
    Files.createDirectories(ROOT.resolve("records"));
    cluster = started.add(new Cluster(ROOT.resolve("postgres"), /* flushed= */ false));
    world =
        started.add(new EngineWorld(ROOT.resolve("records"), cluster.port(), RunListener.NOBODY));
    edda = EngineMain.person("edda");
    world
        .engine
        .tools()
        .keeper()
        .write(
            kept -> {
              kept.people().insert(edda);
              return null;
            });
    world.adopt(PICKS);
    plenzo.core.stage.Path was = world.engine.paths().list().get(0);
    world
        .engine
        .paths()
        .change(
            world.ines,
            new plenzo.core.stage.Path(
                was.key(),
                was.name(),
                was.source(),
                List.of(
                    Leg.open("production")
                        .by(
                            List.of(
                                new ManualStep(
                                    ManualStep.When.CLOSED,
                                    "",
                                    "Tell the desk",
                                    "",
                                    0,
                                    false,
                                    false)))),
                was.revision()));
  }

  @AfterAll
  void stop() {
    both.shutdownNow();
    started.close();
  }

  private String amount() {
    return cluster
        .query("production", "SELECT amount FROM fares.surcharge WHERE code = 'PEAK'")
        .get(0);
  }

  /** A run of a new version that waits for people before its switch. */
  private Run paused(String amount) {
    cluster.sql(
        "development",
        "SET ROLE development_change; UPDATE fares.surcharge SET amount = "
            + amount
            + " WHERE code = 'PEAK'");
    String number = "1." + ++versions + ".0";
    world.seal(number, PICKS);
    Promotion p = world.promotion(number);
    Run run = world.start(p);
    Awaitility.await()
        .pollInterval(Duration.ofMillis(20))
        .until(() -> now(run).state() == RunState.PAUSED);
    return now(run);
  }

  private Run now(Run run) {
    return world.engine.runs().get(world.ines, run.number());
  }

  private static int asked(Run run) {
    return run.steps().stream()
        .filter(s -> s.manual() != null && s.state() == RunStep.State.RUNNING)
        .findFirst()
        .orElseThrow()
        .number();
  }

  /** Both at once; true where the act was taken, false where it was refused. */
  private List<Boolean> atOnce(Callable<?> one, Callable<?> other) throws Exception {
    CyclicBarrier barrier = new CyclicBarrier(2);
    List<Future<Boolean>> said = new ArrayList<>();
    for (Callable<?> act : List.of(one, other)) {
      said.add(
          both.submit(
              () -> {
                barrier.await();
                try {
                  act.call();
                  return true;
                } catch (Problem e) {
                  return false;
                }
              }));
    }
    return List.of(said.get(0).get(), said.get(1).get());
  }

  @RepeatedTest(3)
  void oneDoesTheWorkWhileAnotherAborts() throws Exception {
    String before = amount();
    String after = (versions + 11) + ".00";
    Run run = paused(after);
    int step = asked(run);

    List<Boolean> taken =
        atOnce(
            () -> world.engine.runs().steering().done(world.ines, run.number(), step, "told"),
            () -> world.engine.runs().abort(edda, run.number(), "not tonight"));

    assertThat(taken).contains(true);
    Run end = world.ended(run);
    assertThat(end.state()).isIn(RunState.DONE, RunState.STOPPED);
    assertThat(amount()).isEqualTo(end.state() == RunState.DONE ? after : before);
    assertThat(end.steps())
        .noneMatch(s -> s.state() == RunStep.State.RUNNING || s.state() == RunStep.State.UNKNOWN);
    assertThat(world.engine.runs().recover()).as("nothing is left to do").isZero();
  }

  @RepeatedTest(2)
  void twoTakeOverAndOneHasIt() throws Exception {
    Run run = paused((versions + 11) + ".00");
    String had = run.startedBy();
    Person bo = EngineMain.person("bo" + versions);
    world
        .engine
        .tools()
        .keeper()
        .write(
            kept -> {
              kept.people().insert(bo);
              return null;
            });

    List<Boolean> taken =
        atOnce(
            () -> world.engine.runs().steering().takeOver(edda, run.number(), had, "Ines is ill"),
            () -> world.engine.runs().steering().takeOver(bo, run.number(), had, "Ines is ill"));

    assertThat(taken).as("one of both").containsOnlyOnce(true);
    world.engine.runs().abort(edda, run.number(), "enough");
    assertThat(world.ended(run).state()).isEqualTo(RunState.STOPPED);
  }
}
