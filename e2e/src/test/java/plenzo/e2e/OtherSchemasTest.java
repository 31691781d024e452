package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import java.util.zip.GZIPInputStream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.TestInstance;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import plenzo.core.impact.Finding;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.testing.Ground;
import plenzo.core.version.SemVer;
import plenzo.demo.PlainServer;
import plenzo.engine.returning.Rollbacks;
import plenzo.engine.running.RunListener;

/**
 * Schemas of other people's programs through the whole engine: everything is drafted where their
 * own scripts laid it, sealed, promoted to a site that has nothing of it, and gone back from. The
 * server's own dump of structures is the judge. Packages are downloaded and unpacked, not
 * installed, and nothing of them is kept.
 */
@Tag("nightly")
@TestInstance(TestInstance.Lifecycle.PER_CLASS)
class OtherSchemasTest {
  private static final Path ROOT = Ground.of("other-schemas");

  /**
   * @param extension what an administrator has to create at the site before, or empty
   * @param scripts in their order, each a path that begins with its package
   */
  record Schema(String what, String extension, List<String> scripts) {
    static Schema of(String what, String... scripts) {
      return new Schema(what, "", List.of(scripts));
    }

    @Override
    public String toString() {
      return what;
    }
  }

  /** An operator is not carried: it is named, and left out of what is compared. */
  private static final String NOT_CARRIED =
      "--\n-- Name: [^;]*; Type: OPERATOR;[^\n]*\n--\n\n[^;]*;\n\n\n";

  private final Started started = new Started();
  private PlainServer server;
  private FaresDatabases databases;
  private Path packages;

  static List<Schema> schemas() {
    String calendar = "davical/usr/share/davical/dba/";
    String calls = "kamailio-postgres-modules/usr/share/kamailio/postgres/";
    String access = "freeradius-config/etc/freeradius/3.0/mods-config/sql/";
    return List.of(
        Schema.of(
            "measurements", "zabbix-server-pgsql/usr/share/zabbix-server-pgsql/schema.sql.gz"),
        Schema.of(
            "backups",
            "bacula-director-pgsql/usr/share/dbconfig-common/data/bacula-director-pgsql/install/pgsql"),
        Schema.of("mail", "roundcube-core/usr/share/roundcube/SQL/postgres.initial.sql"),
        Schema.of(
            "monitoring rules",
            "icingaweb2-module-director/usr/share/icingaweb2/modules/director/schema/pgsql.sql"),
        new Schema(
            "monitoring", "citext", List.of("icingadb/usr/share/icingadb/schema/pgsql/schema.sql")),
        Schema.of("messages", "ejabberd/usr/share/ejabberd/sql/pg.new.sql"),
        Schema.of("tickets", "request-tracker5/usr/share/request-tracker5/etc/schema.Pg"),
        Schema.of(
            "access",
            access + "main/postgresql/schema.sql",
            access + "ippool/postgresql/schema.sql",
            access + "cui/postgresql/schema.sql"),
        Schema.of(
            "calls",
            calls + "standard-create.sql",
            calls + "presence-create.sql",
            calls + "permissions-create.sql",
            calls + "dialog-create.sql",
            calls + "usrloc-create.sql",
            calls + "dispatcher-create.sql",
            calls + "lcr-create.sql",
            calls + "drouting-create.sql"),
        Schema.of(
            "calendars",
            "libawl-php/usr/share/awl/dba/awl-tables.sql",
            "libawl-php/usr/share/awl/dba/schema-management.sql",
            calendar + "davical.sql",
            calendar + "caldav_functions.sql",
            calendar + "rrule_functions.sql",
            calendar + "views/dav_principal.sql",
            calendar + "base-data.sql"));
  }

  @BeforeAll
  void start() throws Exception {
    Path folder = Ground.of("other-server");
    KillTest.clear(folder);
    server = new PlainServer(folder);
    databases = started.add(new FaresDatabases(ROOT, server));
    packages = Files.createDirectories(ROOT.resolve("packages"));
  }

  @AfterAll
  void stop() {
    started.close();
  }

  @BeforeEach
  void world() {
    databases.lay("");
  }

  private Path script(String path) throws IOException, InterruptedException {
    String program = path.substring(0, path.indexOf('/'));
    if (!Files.isDirectory(packages.resolve(program))) {
      run("apt-get", "download", program);
      Path found;
      try (Stream<Path> all = Files.list(packages)) {
        found =
            all.filter(p -> p.getFileName().toString().startsWith(program + "_"))
                .findFirst()
                .orElseThrow();
      }
      Files.createDirectory(packages.resolve(program));
      run("dpkg-deb", "-x", found.getFileName().toString(), program);
    }
    Path script = packages.resolve(path);
    if (!path.endsWith(".gz")) {
      return script;
    }
    Path plain = packages.resolve("script.sql");
    try (GZIPInputStream in = new GZIPInputStream(Files.newInputStream(script))) {
      Files.write(plain, in.readAllBytes());
    }
    return plain;
  }

  private void run(String... command) throws IOException, InterruptedException {
    Process p =
        new ProcessBuilder(command)
            .directory(packages.toFile())
            .redirectErrorStream(true)
            .redirectOutput(ProcessBuilder.Redirect.DISCARD)
            .start();
    assertThat(p.waitFor()).as(String.join(" ", command)).isZero();
  }

  /** Runs a program's own scripts by the server's own tool, as the account that owns the schema. */
  private void made(String database, Schema schema) throws IOException, InterruptedException {
    databases.cluster.sql("postgres", "ALTER ROLE " + database + "_change SUPERUSER");
    for (String path : schema.scripts()) {
      server.tool(
          Map.of("PGOPTIONS", "-c search_path=fares,public -c role=" + database + "_change"),
          "psql",
          database,
          "-q",
          "-v",
          "ON_ERROR_STOP=1",
          "-f",
          script(path).toString());
    }
    databases.cluster.sql("postgres", "ALTER ROLE " + database + "_change NOSUPERUSER");
  }

  /** The structures in the words of the server's own tool. */
  private String dumped(String database) throws IOException {
    Path out = ROOT.resolve("dump.sql");
    server.tool(
        "pg_dump", database, "-s", "--no-owner", "--no-acl", "-n", "fares", "-f", out.toString());
    return Files.readString(out, StandardCharsets.UTF_8)
        .lines()
        // a word of its own for each dump
        .filter(l -> !l.startsWith("\\restrict") && !l.startsWith("\\unrestrict"))
        .collect(Collectors.joining("\n"))
        .replaceAll(NOT_CARRIED, "");
  }

  private static List<String> blockers(Promotion p) {
    return p.findings().stream()
        .filter(f -> f.severity() == Finding.Severity.BLOCKER)
        .map(Finding::sentence)
        .toList();
  }

  @ParameterizedTest
  @MethodSource("schemas")
  void itComesWholeAndGoesAgain(Schema schema) throws Exception {
    if (!schema.extension().isEmpty()) {
      databases.cluster.sql(
          "production", "CREATE EXTENSION " + schema.extension() + " SCHEMA fares");
    }
    made("development", schema);
    try (EngineWorld world =
        new EngineWorld(databases.nextCase(), databases.cluster.port(), RunListener.NOBODY)) {
      world.adopt(List.of());
      String empty = dumped("production");
      assertThat(
              world
                  .engine
                  .sources()
                  .against(world.ines, "fares", EngineWorld.DEVELOPMENT, new SemVer("1.0.0"))
                  .components())
          .filteredOn(c -> !c.problem().isEmpty())
          .isEmpty();
      world.sealEverything("1.1.0");
      Promotion p = world.promotion("1.1.0");

      assertThat(blockers(p)).isEmpty();
      Run run = world.run(p);
      assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
      assertThat(dumped("production")).isEqualTo(dumped("development"));

      Rollbacks.Option way = world.way(Plan.Way.BACKUP);
      Promotion goingBack = world.compared(world.goBack(way).number());
      assertThat(blockers(goingBack)).isEmpty();
      Run back = world.run(goingBack);

      assertThat(back.state()).as(back.sentence()).isEqualTo(RunState.DONE);
      assertThat(dumped("production")).isEqualTo(empty);
    }
  }
}
