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
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.springframework.boot.context.event.ApplicationReadyEvent;
import org.springframework.boot.web.server.autoconfigure.ServerProperties;
import org.springframework.boot.web.server.context.WebServerApplicationContext;
import org.springframework.context.ApplicationListener;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.security.crypto.bcrypt.BCryptPasswordEncoder;
import plenzo.connectors.database.PostgresConnector;
import plenzo.connectors.directory.DirectoryConnector;
import plenzo.connectors.git.GitCommits;
import plenzo.connectors.host.HostConnector;
import plenzo.connectors.host.WebPages;
import plenzo.core.keeping.Keeper;
import plenzo.core.target.Connector;
import plenzo.core.target.TablesConnector;
import plenzo.engine.Engine;
import plenzo.engine.Tools;
import plenzo.engine.Vault;
import plenzo.engine.people.People;
import plenzo.engine.underway.Underway;
import plenzo.server.PlenzoSettings;
import plenzo.server.web.EventHub;
import plenzo.store.DiskFiles;
import plenzo.store.DiskPackageDesk;
import plenzo.store.H2Keeper;

/** Puts store, connectors and engine together, and starts what runs by itself. */
@Configuration
class EngineWiring {

  @Bean(destroyMethod = "close")
  Keeper keeper(PlenzoSettings settings) {
    return new H2Keeper(
        settings.dataDirectory(), () -> UUID.randomUUID().toString(), H2Keeper.ROOM);
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
    Clock clock = SampleClock.of(settings.sampleClock());
    Vault vault = new Vault(key(settings, keeper, random), random);
    Tools tools =
        new Tools(
            keeper,
            files,
            Stream.of(connector, new DirectoryConnector(), new HostConnector())
                .collect(Collectors.toMap(Connector::sort, Function.identity())),
            vault,
            clock,
            random,
            background,
            background,
            new Underway(clock),
            Duration.ofSeconds(15),
            new WebPages(),
            SmtpMail.of(settings),
            System::nanoTime);
    BCryptPasswordEncoder bcrypt = new BCryptPasswordEncoder(settings.passwordCost());
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
      if (!Files.isDirectory(file.getParent())) {
        throw new IllegalStateException(
            "The folder of the key file " + file + " is not there: make it first.");
      }
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
      Engine engine,
      PlenzoSettings settings,
      ServerProperties server,
      ScheduledExecutorService schedule) {
    return event -> {
      int port =
          ((WebServerApplicationContext) event.getApplicationContext()).getWebServer().getPort();
      boolean tls = server.getSsl() != null && server.getSsl().isEnabled();
      StartNotes.lines(settings, server.getAddress(), port, tls).forEach(System.out::println);
      engine.roles().begin();
      engine
          .people()
          .firstAdministrator(settings.adminPassword())
          .ifPresent(
              password ->
                  System.out.println(
                      "First sign-in: admin, password "
                          + password
                          + " (told once; it must be changed)"));
      new RegularLooks(engine, settings, schedule).begin();
    };
  }
}
