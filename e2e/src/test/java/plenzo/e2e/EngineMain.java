package plenzo.e2e;

import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Clock;
import java.time.Duration;
import java.util.List;
import java.util.UUID;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import org.jspecify.annotations.Nullable;
import plenzo.connectors.database.PostgresConnector;
import plenzo.connectors.directory.DirectoryConnector;
import plenzo.connectors.git.GitCommits;
import plenzo.connectors.host.HostConnector;
import plenzo.core.check.ContentCheck;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.stage.SiteKey;
import plenzo.engine.Engine;
import plenzo.engine.Tools;
import plenzo.engine.Vault;
import plenzo.engine.people.People;
import plenzo.engine.returning.Rollbacks;
import plenzo.engine.running.RunListener;
import plenzo.engine.setup.Destinations;
import plenzo.engine.underway.Underway;
import plenzo.store.DiskFiles;
import plenzo.store.DiskPackageDesk;
import plenzo.store.H2Keeper;

/**
 * The engine without web, as a process that may be killed: {@code FOLDER
 * run|back|rehearse|recover}, and {@code night|night-paused|night-recover} for two sites in waves.
 */
public final class EngineMain {
  static final SiteKey SITE = new SiteKey("production", "main");

  private EngineMain() {}

  /** Everybody's rights in one person, and one more to approve. */
  static Person person(String login) {
    return Person.invited(login, login, "", false)
        .withGrants(
            List.of(Right.values()).stream().map(r -> new Person.Grant(r, "*", "*")).toList());
  }

  static Engine open(Path folder) {
    return open(folder, RunListener.NOBODY, Duration.ofSeconds(15));
  }

  /**
   * @param beat how often a target under way is asked whether it still answers; four misses cut it
   */
  static Engine open(Path folder, RunListener listener, Duration beat) {
    return open(folder, listener, beat, List.of());
  }

  /**
   * @param added checks of content beside those that every Plenzo has
   */
  static Engine open(Path folder, RunListener listener, Duration beat, List<ContentCheck> added) {
    SecureRandom random = new SecureRandom();
    PostgresConnector postgres = new PostgresConnector();
    People.PasswordHasher plain =
        new People.PasswordHasher() {
          @Override
          public String hash(String password) {
            return password;
          }

          @Override
          public boolean matches(String password, String hash) {
            return password.equals(hash);
          }
        };
    java.util.concurrent.ExecutorService pool =
        Executors.newCachedThreadPool(
            r -> {
              Thread t = new Thread(r);
              t.setDaemon(true);
              return t;
            });
    Tools tools =
        new Tools(
            new H2Keeper(folder, () -> UUID.randomUUID().toString(), H2Keeper.ROOM),
            new DiskFiles(folder.resolve("files")),
            java.util.stream.Stream.of(postgres, new DirectoryConnector(), new HostConnector())
                .collect(
                    java.util.stream.Collectors.toMap(plenzo.core.target.Connector::sort, c -> c)),
            new Vault(new byte[32], random),
            Clock.systemUTC(),
            random,
            pool,
            pool,
            new Underway(Clock.systemUTC()),
            beat,
            new plenzo.connectors.host.WebPages(),
            plenzo.core.target.Mail.NONE,
            System::nanoTime);
    Destinations all =
        new Destinations() {
          @Override
          public Judged judged(String host, int port) {
            return new Judged(null, List.of());
          }

          @Override
          public @Nullable String refusal(String path) {
            return null;
          }
        };
    return new Engine(
        tools,
        plain,
        all,
        new DiskPackageDesk(new DiskFiles(folder.resolve("files"))),
        new GitCommits(folder.resolve("git")),
        added,
        listener);
  }

  private static void run(Engine engine, Person by, Promotion p) throws InterruptedException {
    long run = engine.runs().start(by, p.number(), p.requirePlan().fingerprint().shown()).number();
    end(engine, by, run);
    System.out.println(
        "ended "
            + java.util.Objects.requireNonNull(rest(engine, by, /* pushes= */ false))
                .state()
                .code());
  }

  public static void main(String[] args) throws InterruptedException {
    Engine engine = open(Path.of(args[0]));
    Person by = person("ines");
    switch (args[1]) {
      case "run" -> {
        long agreed =
            engine
                .promotions()
                .list(by, Kept.Filter.application("fares").in(List.of("agreed")))
                .items()
                .get(0)
                .number();
        Promotion p = engine.promotions().get(by, agreed);
        run(engine, by, p);
      }
      case "rehearse" -> {
        long agreed =
            engine
                .promotions()
                .list(by, Kept.Filter.application("fares").in(List.of("agreed")))
                .items()
                .get(0)
                .number();
        long number = engine.rehearsals().start(by, agreed).number();
        while (!engine.rehearsals().get(by, number).over()) {
          TimeUnit.MILLISECONDS.sleep(30);
        }
        System.out.println("ended " + engine.rehearsals().get(by, number).result().code());
      }
      case "back" -> {
        String expect =
            engine.rollbacks().ways(by, "fares", SITE, Rollbacks.Wish.NONE).stream()
                .filter(o -> o.way() == Plan.Way.EARLIER_VERSION)
                .findFirst()
                .orElseThrow()
                .fingerprint();
        Promotion p =
            engine
                .rollbacks()
                .start(
                    by,
                    "fares",
                    SITE,
                    Plan.Way.EARLIER_VERSION,
                    Rollbacks.Wish.NONE,
                    "test",
                    String.valueOf(expect));
        run(engine, by, p);
      }
      case "night" -> {
        Nights night = new Nights(engine, by);
        night.start();
        System.out.println("ended " + night.end());
      }
      case "night-paused" -> {
        Nights night = new Nights(engine, by);
        night.start();
        night.untilPaused();
        System.out.println("paused");
        TimeUnit.MINUTES.sleep(5); // until it is killed
      }
      case "night-recover" -> System.out.println("ended " + new Nights(engine, by).recovered());
      default -> {
        engine.promotions().resume();
        engine.rehearsals().resume();
        int open = engine.runs().recover();
        for (int i = 0; open > 0 && i < 100; i++) {
          TimeUnit.MILLISECONDS.sleep(100);
          open = engine.runs().recover();
        }
        rest(engine, by, /* pushes= */ true);
        List<Run> runs = engine.runs().whole(by, Kept.Filter.application("fares")).items();
        System.out.println(
            "ended "
                + (runs.isEmpty() ? "never began" : runs.get(0).state().code())
                + " journal "
                + (runs.isEmpty() ? 0 : journal(engine, runs.get(0))));
      }
    }
    engine.tools().keeper().close();
    System.exit(0);
  }

  /**
   * The newest run, once no run goes on and none begins by itself; null where there is none.
   *
   * @param pushes whether what is wanted is asked for again and again, as a service does
   */
  private static @Nullable Run rest(Engine engine, Person by, boolean pushes)
      throws InterruptedException {
    for (int quiet = 0; true; ) {
      List<Run> runs = engine.runs().whole(by, Kept.Filter.application("fares")).items();
      boolean wanted =
          engine
              .tools()
              .keeper()
              .read(kept -> kept.fact("going-back").filter(f -> !f.isBlank()).isPresent());
      boolean over = runs.stream().allMatch(r -> r.state().ended());
      quiet = over && !wanted ? quiet + 1 : 0;
      if (runs.isEmpty() || quiet == 5) {
        return runs.isEmpty() ? null : runs.get(0);
      }
      if (pushes) {
        engine.runs().recover();
      }
      TimeUnit.MILLISECONDS.sleep(50);
    }
  }

  private static int journal(Engine engine, Run run) {
    return engine.tools().keeper().read((Kept kept) -> kept.journal(run.number()).entries().size());
  }

  private static Run end(Engine engine, Person by, long number) throws InterruptedException {
    while (true) {
      Run run = engine.runs().get(by, number);
      if (run.state().ended()) {
        return run;
      }
      TimeUnit.MILLISECONDS.sleep(30);
    }
  }
}
