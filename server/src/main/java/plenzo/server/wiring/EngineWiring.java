package plenzo.server.wiring;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.security.SecureRandom;
import java.time.Clock;
import java.time.Duration;
import java.util.UUID;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.springframework.boot.context.event.ApplicationReadyEvent;
import org.springframework.context.ApplicationListener;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.security.crypto.bcrypt.BCryptPasswordEncoder;
import plenzo.connectors.database.PostgresConnector;
import plenzo.connectors.directory.DirectoryConnector;
import plenzo.connectors.git.GitCommits;
import plenzo.connectors.host.HostConnector;
import plenzo.core.keeping.Keeper;
import plenzo.core.stage.Application;
import plenzo.core.stage.SiteRecord;
import plenzo.core.target.Connector;
import plenzo.core.target.TablesConnector;
import plenzo.engine.Engine;
import plenzo.engine.Tools;
import plenzo.engine.Vault;
import plenzo.engine.people.People;
import plenzo.server.PlenzoSettings;
import plenzo.server.web.EventHub;
import plenzo.store.DiskFiles;
import plenzo.store.DiskPackageDesk;
import plenzo.store.H2Keeper;

/** Puts store, connectors and engine together, and starts what runs by itself. */
@Configuration
class EngineWiring {
  private static final System.Logger LOG = System.getLogger(EngineWiring.class.getName());

  @Bean(destroyMethod = "close")
  Keeper keeper(PlenzoSettings settings) {
    try {
      Files.createDirectories(settings.dataDirectory());
    } catch (IOException e) {
      throw new UncheckedIOException(
          "The data directory " + settings.dataDirectory() + " cannot be made", e);
    }
    return new H2Keeper(settings.dataDirectory(), () -> UUID.randomUUID().toString());
  }

  @Bean(destroyMethod = "shutdown")
  ExecutorService background() {
    return Executors.newCachedThreadPool();
  }

  @Bean(destroyMethod = "shutdownNow")
  ScheduledExecutorService schedule() {
    return Executors.newScheduledThreadPool(4);
  }

  @Bean
  TablesConnector connector() {
    return new PostgresConnector();
  }

  @Bean
  Engine engine(
      PlenzoSettings settings,
      Keeper keeper,
      ExecutorService background,
      EventHub events,
      TablesConnector connector) {
    SecureRandom random = new SecureRandom();
    DiskFiles files = new DiskFiles(settings.dataDirectory().resolve("files"));
    Vault vault = new Vault(key(settings, keeper, random), random);
    Tools tools =
        new Tools(
            keeper,
            files,
            Stream.of(connector, new DirectoryConnector(), new HostConnector())
                .collect(Collectors.toMap(Connector::sort, Function.identity())),
            vault,
            Clock.systemUTC(),
            random,
            background,
            background,
            Duration.ofSeconds(15));
    BCryptPasswordEncoder bcrypt = new BCryptPasswordEncoder(12);
    People.PasswordHasher hasher =
        new People.PasswordHasher() {
          @Override
          public String hash(String password) {
            return bcrypt.encode(password);
          }

          @Override
          public boolean matches(String password, String hash) {
            return bcrypt.matches(password, hash);
          }
        };
    return new Engine(
        tools,
        hasher,
        new AllowList(settings.destinations(), settings.directories()),
        new DiskPackageDesk(files),
        new GitCommits(settings.dataDirectory().resolve("git")),
        AddedChecks.of(settings.checks()),
        events);
  }

  private static byte[] key(PlenzoSettings settings, Keeper keeper, SecureRandom random) {
    Path file = settings.keyFile().toAbsolutePath().normalize();
    if (file.startsWith(settings.dataDirectory().toAbsolutePath().normalize())) {
      throw new IllegalStateException(
          "The key file "
              + file
              + " lies in the data directory; put it elsewhere, so that a copy of the data does not open its secrets.");
    }
    try {
      if (!Files.exists(file)) {
        if (keeper.read(kept -> !kept.secrets().all().isEmpty())) {
          throw new IllegalStateException(
              "The key file " + file + " is missing, and there are secrets that only it opens.");
        }
        byte[] key = new byte[32];
        random.nextBytes(key);
        Files.createFile(
            file,
            PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")));
        Files.write(file, key);
        return key;
      }
      if (Files.getPosixFilePermissions(file).size() > 2) {
        throw new IllegalStateException(
            "The key file " + file + " can be read by others; set its mode to 600.");
      }
      return Files.readAllBytes(file);
    } catch (IOException e) {
      throw new UncheckedIOException("The key file " + file + " cannot be read", e);
    }
  }

  /** Once the service answers: the first administrator, interrupted work, and regular looks. */
  @Bean
  ApplicationListener<ApplicationReadyEvent> whenReady(
      Engine engine, PlenzoSettings settings, ScheduledExecutorService schedule) {
    return event -> {
      engine
          .people()
          .firstAdministrator(settings.adminPassword())
          .ifPresent(
              password ->
                  System.out.println(
                      "First sign-in: admin, password "
                          + password
                          + " (told once; it must be changed)"));
      schedule.execute(quietly("resuming comparisons", engine.promotions()::resume));
      schedule.scheduleWithFixedDelay(
          quietly("recovering runs", engine.runs()::recover), 0, 3, TimeUnit.SECONDS);
      schedule.scheduleWithFixedDelay(
          quietly("bringing releases on", engine.releases()::goOn), 3, 3, TimeUnit.SECONDS);
      // an editing stage costs reading its rows, so it is looked at as rarely as rows are
      every(schedule, settings.lookAtSourcesEvery(), () -> lookAtSources(engine, /* git= */ true));
      every(schedule, settings.lookAtRowsEvery(), () -> lookAtSources(engine, /* git= */ false));
      every(schedule, settings.lookEvery(), () -> lookEverywhere(engine, /* rows= */ false));
      every(schedule, settings.lookAtRowsEvery(), () -> lookEverywhere(engine, /* rows= */ true));
    };
  }

  private static void every(ScheduledExecutorService schedule, Duration time, Runnable look) {
    schedule.scheduleWithFixedDelay(
        quietly("looking for drift", look), time.toSeconds(), time.toSeconds(), TimeUnit.SECONDS);
  }

  private static void lookAtSources(Engine engine, boolean git) {
    for (Application a : engine.tools().keeper().read(kept -> kept.applications().all())) {
      if ((a.repository() != null) == git) {
        quietly("looking at the source of " + a.key(), () -> engine.sourceWatch().look(a.key()))
            .run();
      }
    }
  }

  private static void lookEverywhere(Engine engine, boolean rows) {
    for (SiteRecord r : engine.tools().keeper().read(kept -> kept.sites().all())) {
      quietly("looking at " + r.id(), () -> engine.drift().look(r.application(), r.site(), rows))
          .run();
    }
  }

  private static Runnable quietly(String what, Runnable work) {
    return () -> {
      try {
        work.run();
      } catch (RuntimeException e) {
        LOG.log(System.Logger.Level.ERROR, "While " + what, e);
      }
    };
  }
}
