package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import java.util.zip.GZIPInputStream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestInstance;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import plenzo.core.impact.Finding;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.table.Printed;
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

  /** {@code -Dplenzo.schemas=alerts} tries one of them alone. */
  static Stream<Schema> some() {
    String one = System.getProperty("plenzo.schemas", "");
    return schemas().stream().filter(s -> one.isEmpty() || s.what().equals(one));
  }

  private static List<Schema> schemas() {
    String calendar = "davical/usr/share/davical/dba/";
    String books = "php-sabre-dav/usr/share/doc/php-sabre-dav/examples/sql/pgsql.";
    String added = "/usr/share/postgresql/15/extension/";
    String calls = "kamailio-postgres-modules/usr/share/kamailio/postgres/";
    String scores = "spamassassin/usr/share/doc/spamassassin/sql/";
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
        Schema.of("feeds", "tt-rss/usr/share/dbconfig-common/data/tt-rss/install/pgsql"),
        Schema.of(
            "mail scores",
            scores + "awl_pg.sql",
            scores + "bayes_pg.sql",
            scores + "txrep_pg.sql",
            scores + "userpref_pg.sql"),
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
        Schema.of("network log", "ulogd2/usr/share/doc/ulogd2/pgsql-ulogd2.sql.gz"),
        Schema.of(
            "address books",
            books + "calendars.sql",
            books + "addressbook.sql",
            books + "locks.sql",
            books + "principals.sql",
            books + "users.sql"),
        Schema.of("signing in", "glewlwyd/usr/share/dbconfig-common/data/glewlwyd/install/pgsql"),
        Schema.of(
            "work", "libtheschwartz-perl/usr/share/doc/libtheschwartz-perl/schema-postgres.sql"),
        Schema.of("pages", "icingaweb2/usr/share/icingaweb2/schema/pgsql.schema.sql"),
        Schema.of(
            "metrics",
            "collectd-core/usr/share/doc/collectd-core/examples/postgresql/collectd_insert.sql"),
        Schema.of("chat", "jabberd2/usr/share/doc/jabberd2/db-setup.pgsql.gz"),
        Schema.of("alerts", "libpreludedb7-pgsql/usr/share/libpreludedb/classic/pgsql.sql"),
        Schema.of("tests of databases", "postgresql-15-pgtap" + added + "pgtap--1.2.0.sql"),
        Schema.of("partitions", "postgresql-15-partman" + added + "pg_partman--4.7.2.sql"),
        Schema.of("jobs", "pgagent" + added + "pgagent--4.2.sql"),
        Schema.of(
            "name service", "libnss-pgsql2/usr/share/doc/libnss-pgsql2/examples/dbschema.sql"),
        Schema.of("queues", "postgresql-15-pgq3/usr/share/postgresql/15/contrib/pgq_pl_only.sql"),
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
    try (InputStream file = Files.newInputStream(script);
        InputStream in = path.endsWith(".gz") ? new GZIPInputStream(file) : file) {
      String text = new String(in.readAllBytes(), StandardCharsets.UTF_8);
      return Files.writeString(packages.resolve("script.sql"), inOurSchema(text));
    }
  }

  /** A script that names its own schema, or that an extension would run, in the schema fares. */
  private static String inOurSchema(String script) {
    return script
        .replace("@extschema@", "fares")
        .replaceAll("(?m)^SELECT pg_catalog.pg_extension_config_dump.*$", "")
        .replaceAll("(?i)create schema pgq;", "")
        .replaceAll("\\bpgq\\.(?=[a-z_])", "fares.")
        .replaceAll("(?i)on schema pgq\\b", "on schema fares")
        .replaceAll("(?m)^\\\\echo .*$", "")
        .replaceAll("(?im)^(create|comment on) schema pgagent\\b.*;", "")
        .replaceAll("\\bpgagent\\.(?=[a-z_])", "fares.");
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

  /** What the server prints otherwise once it has read its own print is judged by that. */
  @Test
  void whatIsOneOfSomeTextsComesToo() throws Exception {
    // makes an extension that is there already
    databases.cluster.sql("postgres", "ALTER ROLE development_change SUPERUSER");
    play("development", script("gammu-smsd/usr/share/doc/gammu-smsd/examples/pgsql.sql"), "0");
    databases.cluster.sql("postgres", "ALTER ROLE development_change NOSUPERUSER");
    try (EngineWorld world =
        new EngineWorld(databases.nextCase(), databases.cluster.port(), RunListener.NOBODY)) {
      world.adopt(List.of());
      String empty = dumped("production");
      world.sealEverything("1.1.0");

      Run run = world.run(world.promotion("1.1.0"));

      assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
      assertThat(dumped("development")).contains("(ARRAY[");
      assertThat(dumped("production")).isEqualTo(Printed.of(dumped("development")));
      assertThat(world.promotion("1.1.0").counts().written())
          .as("it is found the same afterwards")
          .isZero();

      world.back(Plan.Way.BACKUP);

      assertThat(dumped("production")).isEqualTo(empty);
    }
  }

  /** Runs a program's own scripts by the server's own tool, as the account that owns the schema. */
  private void made(String database, Schema schema) throws IOException, InterruptedException {
    databases.cluster.sql("postgres", "ALTER ROLE " + database + "_change SUPERUSER");
    for (String path : schema.scripts()) {
      play(database, script(path));
    }
    databases.cluster.sql("postgres", "ALTER ROLE " + database + "_change NOSUPERUSER");
  }

  private void play(String database, Path script) {
    play(database, script, "1");
  }

  /**
   * @param stop "1" where an error ends it, "0" where what is refused is passed over
   */
  private void play(String database, Path script, String stop) {
    server.tool(
        Map.of("PGOPTIONS", "-c search_path=fares,public -c role=" + database + "_change"),
        "psql",
        database,
        "-q",
        "-v",
        "ON_ERROR_STOP=" + stop,
        "-f",
        script.toString());
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

  /** The same in the words of a server that has read its own print. */
  private String printed(String database) throws IOException {
    return Stream.of(dumped(database).split("(?m)^(?=-- Name: )"))
        .map(Printed::of) // each by itself: quotes in a routine are none of the next one's
        .collect(Collectors.joining());
  }

  /** Columns that a script made anew stand last there, and where they stood here. */
  private String columnsSorted(String database) throws IOException {
    return Pattern.compile(
            "(?<=CREATE (?:UNLOGGED )?TABLE [^\\n]{1,80} \\(\\n).*?(?=\\n\\);)", Pattern.DOTALL)
        .matcher(dumped(database))
        .replaceAll(
            m ->
                Matcher.quoteReplacement(
                    m.group()
                        .lines()
                        .map(l -> l.replaceFirst(",$", ""))
                        .sorted()
                        .collect(Collectors.joining("\n"))));
  }

  private static List<String> blockers(Promotion p) {
    return p.findings().stream()
        .filter(f -> f.severity() == Finding.Severity.BLOCKER)
        .map(Finding::sentence)
        .toList();
  }

  /** Each table that has rows, with a sum over all of them. */
  private List<String> rows(String database) {
    List<String> out = new ArrayList<>();
    for (String table :
        databases.cluster.query(
            database,
            "SELECT quote_ident(tablename) FROM pg_tables WHERE schemaname = 'fares' ORDER BY 1")) {
      out.addAll(
          databases.cluster.query(
              database,
              "SELECT '"
                  + table
                  + "', count(*), md5(string_agg(md5(t::text), '' ORDER BY md5(t::text))) FROM fares."
                  + table
                  + " t HAVING count(*) > 0"));
    }
    return out;
  }

  @Test
  void everyRowOfAMeasuringProgramComesToo() throws Exception {
    String folder = "zabbix-server-pgsql/usr/share/zabbix-server-pgsql/";
    made(
        "development",
        Schema.of(
            "measurements",
            folder + "schema.sql.gz",
            folder + "images.sql.gz",
            folder + "data.sql.gz"));
    try (EngineWorld world =
        new EngineWorld(databases.nextCase(), databases.cluster.port(), RunListener.NOBODY)) {
      world.adopt(List.of());
      world.sealEverything("1.1.0");
      Promotion p = world.promotion("1.1.0");
      assertThat(blockers(p)).isEmpty();

      Run run = world.run(p);

      assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
      assertThat(dumped("production")).isEqualTo(dumped("development"));
      assertThat(rows("production")).hasSizeGreaterThan(60).isEqualTo(rows("development"));
    }
  }

  @ParameterizedTest
  @MethodSource("some")
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
      assertThat(printed("production")).isEqualTo(printed("development"));

      Rollbacks.Option way = world.way(Plan.Way.BACKUP);
      Promotion goingBack = world.compared(world.goBack(way).number());
      assertThat(blockers(goingBack)).isEmpty();
      Run back = world.run(goingBack);

      assertThat(back.state()).as(back.sentence()).isEqualTo(RunState.DONE);
      assertThat(dumped("production")).isEqualTo(empty);
    }
  }

  /** The same as somebody at a terminal does it. */
  @ParameterizedTest
  @MethodSource("some")
  void itComesWholeAndGoesAgainByTheClient(Schema schema) throws Exception {
    if (!schema.extension().isEmpty()) {
      databases.cluster.sql(
          "production", "CREATE EXTENSION " + schema.extension() + " SCHEMA fares");
    }
    made("development", schema);
    String empty = dumped("production");
    try (PairByClient client = new PairByClient(databases.nextCase(), databases.cluster.port())) {
      client.adopt(List.of());
      client.bring();
      assertThat(printed("production")).as(client.told()).isEqualTo(printed("development"));
      assertThat(rows("production")).as(client.told()).isEqualTo(rows("development"));

      client.goBack("backup");

      assertThat(dumped("production")).as(client.told()).isEqualTo(empty);
    }
  }

  /**
   * Versions of the address server's schema, each with the script that makes it of the one before.
   */
  private List<String> addressVersions() throws IOException, InterruptedException {
    String all =
        Files.readString(script("kea-admin/usr/share/kea/scripts/pgsql/dhcpdb_create.pgsql"));
    List<String> out = new ArrayList<>();
    int at = all.indexOf("UPDATE schema_version");
    while (at >= 0) {
      int end = all.indexOf(';', at) + 1;
      out.add(all.substring(0, end) + "\nCOMMIT;\n");
      at = all.indexOf("UPDATE schema_version", end);
    }
    return out;
  }

  private void made(String database, String sql) throws IOException {
    Path file = Files.writeString(ROOT.resolve("made.sql"), sql);
    play(database, file);
  }

  @Test
  void anAddressServerFromTheOldestToTheNewest() throws Exception {
    List<String> versions = addressVersions();
    String used =
        "INSERT INTO lease4 (address, valid_lifetime, expire, subnet_id, state) VALUES (1, 60, '2026-01-01', 1, 0), (2, 60, '2026-01-01', 2, 1);"
            + "INSERT INTO lease6 (address, valid_lifetime, expire, subnet_id, pref_lifetime, lease_type, iaid, prefix_len, state) VALUES ('2001:db8::1', 60, '2026-01-01', 1, 30, 0, 7, 128, 0);";
    upgraded(
        versions.get(0) + used,
        versions.get(versions.size() - 1),
        "INSERT INTO lease4 (address, valid_lifetime, expire, subnet_id, state) VALUES (3, 60, now(), 1, 0)",
        "SELECT address, valid_lifetime, subnet_id FROM lease4 ORDER BY address");
  }

  @Test
  void aNameServerFromTheOldestStepToTheNewest() throws Exception {
    String folder = "pdns-backend-pgsql/usr/share/pdns-backend-pgsql/schema/";
    String older =
        Files.readString(script(folder + "schema.pgsql.sql"))
            + "; ALTER TABLE domains DROP COLUMN options, DROP COLUMN catalog, ALTER COLUMN type TYPE varchar(6), ALTER COLUMN notified_serial TYPE integer;"
            + " ALTER TABLE cryptokeys DROP COLUMN published; ALTER TABLE records ADD COLUMN change_date integer, ALTER COLUMN id TYPE integer;";
    StringBuilder steps = new StringBuilder(older);
    for (String step :
        List.of("3.4.0_to_4.1.0", "4.1.0_to_4.2.0", "4.2.0_to_4.3.0", "4.3.0_to_4.7.0")) {
      steps.append(Files.readString(script(folder + step + "_schema.pgsql.sql")));
    }
    upgraded(
        older
            + "INSERT INTO domains (name, type) VALUES ('a.example', 'NATIVE'), ('b.example', 'MASTER');"
            + "INSERT INTO records (domain_id, name, type, content, change_date) SELECT id, name, 'SOA', 'x', 7 FROM domains;",
        steps.toString(),
        "INSERT INTO records (domain_id, name, type, content) SELECT max(id), 'c.example', 'SOA', 'x' FROM domains",
        "SELECT id, domain_id, name, content FROM records ORDER BY id");
  }

  /** Nearly every table of it has times that lose their zone. */
  @Test
  void aMonitorFromAnOlderStepToTheNewest() throws Exception {
    String folder = "icinga2-ido-pgsql/usr/share/icinga2-ido-pgsql/schema/";
    String older =
        Files.readString(script(folder + "pgsql.sql"))
            + "; DROP FUNCTION from_unixtime(bigint); DROP FUNCTION unix_timestamp(timestamp);"
            + " CREATE FUNCTION from_unixtime(bigint) RETURNS timestamp with time zone AS $$ SELECT to_timestamp($1) AS result $$ LANGUAGE sql;"
            + " CREATE FUNCTION unix_timestamp(timestamp with time zone) RETURNS bigint AS 'SELECT EXTRACT(EPOCH FROM $1)::bigint AS result' LANGUAGE sql;"
            + " DO $$ DECLARE c record; BEGIN FOR c IN SELECT table_name AS t, column_name AS n FROM information_schema.columns WHERE table_schema = 'fares' AND data_type = 'timestamp without time zone' LOOP"
            + " EXECUTE format('ALTER TABLE %1$I ALTER %2$I DROP DEFAULT, ALTER %2$I TYPE timestamptz, ALTER %2$I SET DEFAULT ''1970-01-01 00:00:00+00''', c.t, c.n); END LOOP;"
            + " FOR c IN SELECT table_name AS t FROM information_schema.columns WHERE table_schema = 'fares' AND column_name = 'config_hash' LOOP EXECUTE format('ALTER TABLE %I DROP COLUMN config_hash', c.t); END LOOP;"
            + " FOR c IN SELECT table_name AS t FROM information_schema.columns WHERE table_schema = 'fares' AND column_name = 'check_source' LOOP EXECUTE format('ALTER TABLE %I ALTER check_source TYPE text', c.t); END LOOP; END $$;"
            + " ALTER TABLE icinga_comments DROP COLUMN IF EXISTS session_token; ALTER TABLE icinga_scheduleddowntime DROP COLUMN IF EXISTS session_token;"
            + " ALTER TABLE icinga_customvariables ADD COLUMN IF NOT EXISTS session_token integer; ALTER TABLE icinga_customvariablestatus ADD COLUMN IF NOT EXISTS session_token integer;"
            + " DROP INDEX IF EXISTS idx_comments_session_del, idx_downtimes_session_del, idx_comments_object_id, idx_scheduleddowntime_object_id, idx_endpoints_object_id, idx_endpointstatus_object_id, idx_endpoints_zone_object_id, idx_endpointstatus_zone_object_id, idx_zones_object_id, idx_zonestatus_object_id, idx_zones_parent_object_id, idx_zonestatus_parent_object_id, idx_statehistory_cleanup, idx_customvariables_object_id, idx_contactgroup_members_object_id, idx_hostgroup_members_object_id, idx_servicegroup_members_object_id, idx_servicedependencies_dependent_service_object_id, idx_hostdependencies_dependent_host_object_id, idx_service_contacts_service_id, idx_host_contacts_host_id, idx_downtimehistory_remove, idx_scheduleddowntime_remove, idx_commenthistory_remove, idx_comments_remove;";
    StringBuilder steps = new StringBuilder(older);
    for (String step : List.of("2.5.0", "2.6.0", "2.8.0", "2.8.1")) {
      steps.append(Files.readString(script(folder + "upgrade/" + step + ".sql")));
    }
    upgraded(
        older
            + "INSERT INTO icinga_comments (object_id, entry_time, comment_time, comment_data) VALUES (1, '2026-07-01 12:00+02', '2026-01-01 12:00+01', 'a'), (2, NULL, '1970-01-01 00:00+00', 'b');"
            + "INSERT INTO icinga_customvariables (object_id, varname, session_token) VALUES (1, 'x', 7), (2, 'y', NULL);"
            + "INSERT INTO icinga_statehistory (object_id, state_time, check_source) VALUES (1, '2026-07-01 12:00+02', 'master');",
        steps.toString(),
        "INSERT INTO icinga_comments (object_id, entry_time, comment_data, session_token) VALUES (3, from_unixtime(1000), 'c', 1)",
        "SELECT object_id, date_part('epoch', timezone('UTC', entry_time)), comment_data FROM icinga_comments ORDER BY object_id");
  }

  /** The steps of a test runner, 35 of them: tables, columns and keys that come and go. */
  @Test
  void aTestRunnerFromTheOldestToTheNewest() throws Exception {
    String folder = "openqa/usr/share/openqa/dbicdh/PostgreSQL/";
    String oldest = Files.readString(script(folder + "deploy/63/001-auto.sql"));
    String used =
        "INSERT INTO jobs (test, t_created, t_updated) VALUES ('one', '2026-01-01', '2026-01-02'), ('two', '2026-01-01', '2026-01-03');"
            + "INSERT INTO needle_dirs (name, path) VALUES ('here', '/here');"
            + "INSERT INTO needles (dir_id, filename, t_created, t_updated) VALUES (1, 'a', '2026-01-01', '2026-01-02');";
    StringBuilder steps = new StringBuilder();
    for (int n = 63; n < 98; n++) {
      try (Stream<Path> all =
          Files.list(packages.resolve(folder + "upgrade/" + n + "-" + (n + 1)))) {
        for (Path step : all.filter(p -> p.toString().endsWith(".sql")).sorted().toList()) {
          steps.append(Files.readString(step)).append(";\n");
        }
      }
    }
    upgraded(
        oldest + used,
        oldest + used + steps,
        "INSERT INTO jobs (test, t_created, t_updated) VALUES ('three', '2026-01-01', '2026-01-02')",
        "SELECT id, test, t_updated FROM jobs ORDER BY id");
  }

  /**
   * A ledger from its first scripts to its newest: keys that give way to others over the same
   * columns, routines by the hundred, rules, tables that inherit and draw from one sequence.
   */
  @Test
  void aLedgerFromItsBaseToItsNewest() throws Exception {
    String base = "ledgersmb/usr/share/ledgersmb/sql/Pg-database.sql";
    script(base);
    Path folder = packages.resolve(base).getParent();
    for (String database : List.of("production", "development")) {
      databases.cluster.sql("postgres", "ALTER ROLE " + database + "_change SUPERUSER");
      for (String extension : List.of("pg_trgm", "btree_gist", "tablefunc")) {
        databases.cluster.sql(database, "CREATE EXTENSION " + extension + " SCHEMA public");
      }
      play(database, folder.resolve("Pg-database.sql"));
    }
    for (String part : List.of("changes", "modules")) {
      for (String line : Files.readAllLines(folder.resolve(part).resolve("LOADORDER"))) {
        if (!line.isBlank() && !line.startsWith("#")) {
          // what an older database lacks and this one has is refused, as the program knows
          play("development", folder.resolve(part).resolve(line.replaceFirst("^!", "")), "0");
        }
      }
    }
    for (String database : List.of("production", "development")) {
      databases.cluster.sql("postgres", "ALTER ROLE " + database + "_change NOSUPERUSER");
    }
    upgraded(
        "INSERT INTO gifi (accno, description) VALUES ('z1', 'since')",
        "SELECT accno, description FROM gifi ORDER BY accno");

    databases.lay("production", "");
    databases.unmark();
    try (EngineWorld world =
        new EngineWorld(databases.nextCase(), databases.cluster.port(), RunListener.NOBODY)) {
      world.adopt(List.of());
      String empty = dumped("production");
      world.sealEverything("1.1.0");
      Run run = world.run(world.promotion("1.1.0"));
      assertThat(run.state())
          .as("from nothing, all rows too: " + run.sentence())
          .isEqualTo(RunState.DONE);
      assertThat(rows("production")).hasSizeGreaterThan(25).isEqualTo(rows("development"));
      world.back(Plan.Way.BACKUP);
      assertThat(dumped("production")).isEqualTo(empty);
    }
  }

  /**
   * What people filled in an old schema is kept when it becomes the new one, and when it goes back.
   *
   * @param older what the site has, with rows
   * @param insert what the program itself writes into the new one
   * @param rows read the same in both
   */
  private void upgraded(String older, String newer, String insert, String rows) throws Exception {
    made("production", older);
    made("development", newer);
    upgraded(insert, rows);
  }

  private void upgraded(String insert, String rows) throws Exception {
    String before = columnsSorted("production");
    try (EngineWorld world =
        new EngineWorld(databases.nextCase(), databases.cluster.port(), RunListener.NOBODY)) {
      world.adopt(world.structures(EngineMain.SITE));
      world.sealStructures("1.1.0");
      List<String> held = queried(rows);
      Promotion p = world.promotion("1.1.0");
      assertThat(blockers(p)).isEmpty();

      Run run = world.run(p);

      assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
      assertThat(columnsSorted("production")).isEqualTo(columnsSorted("development"));
      assertThat(queried(rows)).isEqualTo(held);
      databases.as("production", "SET search_path = fares; " + insert);
      List<String> more = queried(rows);

      Promotion back = world.compared(world.goBack(world.way(Plan.Way.EARLIER_VERSION)).number());
      assertThat(blockers(back)).isEmpty();
      Run returned = world.run(back);

      assertThat(returned.state()).as(returned.sentence()).isEqualTo(RunState.DONE);
      assertThat(columnsSorted("production")).isEqualTo(before);
      assertThat(queried(rows)).isEqualTo(more);
    }
  }

  private List<String> queried(String rows) {
    return databases.cluster.query(
        "production", "SELECT * FROM (" + rows.replaceAll("FROM (\\w+)", "FROM fares.$1") + ") q");
  }
}
