package plenzo.connectors.database;

import static org.assertj.core.api.Assertions.assertThat;

import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestInstance;
import plenzo.core.testing.Ground;

/**
 * Schemas of other people's programs, from packages of the system, with their own scripts as the
 * judge: what the scripts make of an old schema, the connector makes of it too, and back. The
 * packages are downloaded and unpacked, not installed, and nothing of them is kept.
 */
@Tag("nightly")
@TestInstance(TestInstance.Lifecycle.PER_CLASS)
class RealSchemasTest {
  private EmbeddedPostgres server;
  private SchemaPair pair;
  private Path packages;

  @BeforeAll
  void start() throws Exception {
    server = TestServer.start("real");
    pair = new SchemaPair(server.getPort());
    packages = Files.createDirectories(Ground.of("real-packages"));
    run("apt-get", "download", "pdns-backend-pgsql", "kea-admin", "icinga2-ido-pgsql");
    List<Path> found;
    try (Stream<Path> all = Files.list(packages)) {
      found = all.filter(p -> p.toString().endsWith(".deb")).toList();
    }
    for (Path p : found) {
      run("dpkg-deb", "-x", p.getFileName().toString(), "unpacked");
    }
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

  @AfterAll
  void stop() throws Exception {
    server.close();
  }

  private String script(String path) throws IOException {
    return Files.readString(
        packages.resolve("unpacked/usr/share").resolve(path), StandardCharsets.UTF_8);
  }

  /** Runs a program's own script in the schema that is looked at. */
  private void made(String database, String script) throws SQLException {
    pair.sql(database, "SET search_path TO fares", script);
  }

  /**
   * @param what said when it is not so
   * @param insert what the program itself would write, and finds afterwards
   */
  private void upgraded(String what, String insert) throws SQLException {
    SchemaPair.Held was = pair.held("site");
    String judged = pair.judged("site");
    assertThat(pair.uncarried("wanted")).as(what).isEmpty();

    pair.bring();
    assertThat(pair.judged("site")).as(what).isEqualTo(pair.judged("wanted"));
    if (!insert.isEmpty()) {
      pair.sql("site", "BEGIN", "SET LOCAL search_path TO fares", insert, "ROLLBACK");
    }

    pair.apply("site", SchemaPair.difference(pair.held("site"), was));
    assertThat(pair.judged("site")).as(what + " and back").isEqualTo(judged);
  }

  /**
   * Each version of the schema of an address server begins where the one before says its number.
   */
  @Test
  void everyStepOfAnAddressServer() throws Exception {
    String all = script("kea/scripts/pgsql/dhcpdb_create.pgsql");
    List<String> versions = new ArrayList<>();
    int at = all.indexOf("UPDATE schema_version");
    while (at >= 0) {
      int end = all.indexOf(';', at) + 1;
      versions.add(all.substring(0, end) + "\nCOMMIT;");
      at = all.indexOf("UPDATE schema_version", end);
    }
    assertThat(versions).hasSizeGreaterThan(10);
    for (int n = 0; n < versions.size(); n++) {
      pair.begin();
      if (n > 0) {
        made("site", versions.get(n - 1));
      }
      made("wanted", versions.get(n));
      upgraded("version " + n, "");
    }
    pair.begin();
    made("site", versions.get(0));
    made("wanted", versions.get(versions.size() - 1));
    upgraded(
        "the oldest to the newest",
        "INSERT INTO lease4 (address, valid_lifetime, expire, subnet_id, state) VALUES (1, 60, now(), 1, 0)");
  }

  @Test
  void aNameServerFromTheOldestStep() throws Exception {
    String folder = "pdns-backend-pgsql/schema/";
    String older =
        script(folder + "schema.pgsql.sql")
            + "; ALTER TABLE domains DROP COLUMN options, DROP COLUMN catalog, ALTER COLUMN type TYPE varchar(6), ALTER COLUMN notified_serial TYPE integer;"
            + " ALTER TABLE cryptokeys DROP COLUMN published; ALTER TABLE records ADD COLUMN change_date integer, ALTER COLUMN id TYPE integer";
    String steps =
        script(folder + "3.4.0_to_4.1.0_schema.pgsql.sql")
            + script(folder + "4.1.0_to_4.2.0_schema.pgsql.sql")
            + script(folder + "4.2.0_to_4.3.0_schema.pgsql.sql")
            + script(folder + "4.3.0_to_4.7.0_schema.pgsql.sql");
    pair.begin();
    made("site", older);
    made("wanted", older);
    made("wanted", steps);

    upgraded(
        "3.4 to 4.7",
        "INSERT INTO domains (name, type, options) VALUES ('a.example', 'MASTER', 'x'); INSERT INTO records (domain_id, name, type, content) SELECT max(id), 'a.example', 'SOA', 'x' FROM domains");
  }

  @Test
  void aMonitorFromNothing() throws Exception {
    pair.begin();
    made("wanted", script("icinga2-ido-pgsql/schema/pgsql.sql"));

    upgraded("from nothing", "INSERT INTO icinga_dbversion (name, version) VALUES ('x', '1')");
  }
}
