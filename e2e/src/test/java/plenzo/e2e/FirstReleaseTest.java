package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import org.eclipse.jgit.api.Git;
import org.eclipse.jgit.lib.Constants;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.MethodOrderer;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestInstance;
import org.junit.jupiter.api.TestMethodOrder;
import plenzo.core.testing.Ground;
import plenzo.demo.Service;

/**
 * Follows docs/first-release.md word for word on a server, folders and a repository of its own, and
 * judges by plain SQL and plain files what came of it.
 */
@TestInstance(TestInstance.Lifecycle.PER_CLASS)
@TestMethodOrder(MethodOrderer.OrderAnnotation.class)
class FirstReleaseTest {
  /** Commands until a first version is in production, by the document alone. */
  private static final int MOST_COMMANDS = 40;

  private static final String ADMIN = "told-at-the-first-start";

  private final Started started = new Started();
  private final List<DocumentWalk.Chapter> chapters = new ArrayList<>();
  private Path folder;
  private EmbeddedPostgres server;
  private DocumentWalk walk;

  @BeforeAll
  void emptyWorld() throws Exception {
    folder = Ground.of("first-release");
    KillTest.clear(folder);
    Files.createDirectories(folder.resolve("postgres"));
    server =
        EmbeddedPostgres.builder()
            .setOverrideWorkingDirectory(folder.resolve("postgres/server").toFile())
            .setDataDirectory(folder.resolve("postgres/data"))
            .setServerConfig("unix_socket_directories", "")
            .setServerConfig("listen_addresses", "127.0.0.1")
            .setServerConfig("fsync", "off")
            .start();
    started.add(server);
    databases();
    Path srv = Files.createDirectories(folder.resolve("srv"));
    for (String stage : List.of("development", "test", "production")) {
      Files.createDirectories(srv.resolve(stage + "/published/fares"));
      Files.writeString(srv.resolve(stage + "/published/fares/conditions.txt"), "Old\n");
      Files.writeString(srv.resolve(stage + "/published/robots.txt"), "none of ours\n");
    }
    int port = TestService.freePort();
    started.add(
        new Service(
            TestService.JAR,
            folder.resolve("service"),
            port,
            List.of("127.0.0.1:" + server.getPort()),
            srv,
            ADMIN,
            /* mailPort= */ 0));
    secret("admin.txt", ADMIN + "\nsecond-crossing\n");
    secret("admin.pw", "second-crossing");
    secret("look.pw", "look-1");
    secret("change.pw", "change-1");
    secret("scratch.pw", "scratch-1");
    secret("ines.pw", "ines-of-the-ferries");
    secret("bram.pw", "bram-of-the-ferries");
    walk =
        new DocumentWalk(
            folder,
            this::sql,
            text ->
                text.replace("127.0.0.1:7878", "127.0.0.1:" + port)
                    .replace("db.example", "127.0.0.1 --port " + server.getPort())
                    .replace("/srv", srv.toString()));
    chapters.addAll(DocumentWalk.chapters(Path.of("../docs/first-release.md")));
  }

  @AfterAll
  void stop() {
    started.close();
  }

  private void secret(String name, String text) throws IOException {
    Files.writeString(folder.resolve(name), text);
  }

  /** The databases as their owner made them long before: tables of one who is nobody here. */
  private void databases() throws SQLException {
    sql("postgres", "CREATE ROLE app_owner");
    for (String stage : List.of("development", "test", "production")) {
      String name = "fares_" + stage;
      sql("postgres", "CREATE DATABASE " + name);
      sql(
          name,
          "CREATE SCHEMA fares AUTHORIZATION app_owner; SET ROLE app_owner;"
              + " CREATE TABLE fares.band (code text PRIMARY KEY, price numeric(8,2) NOT NULL);"
              + " CREATE TABLE fares.booking (id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY, band text NOT NULL REFERENCES fares.band, at timestamptz NOT NULL DEFAULT now());"
              + " INSERT INTO fares.band VALUES ('FOOT', 4.00), ('CAR', 20.00)");
    }
    sql("fares_production", "INSERT INTO fares.booking (band) VALUES ('FOOT'), ('CAR')");
  }

  private void sql(String database, String statements) {
    try (Connection c = open(database);
        Statement s = c.createStatement()) {
      s.execute(statements);
    } catch (SQLException e) {
      throw new IllegalStateException("In " + database + ": " + statements, e);
    }
  }

  private Connection open(String database) throws SQLException {
    return DriverManager.getConnection(
        "jdbc:postgresql://127.0.0.1:" + server.getPort() + "/" + database, "postgres", "postgres");
  }

  private String query(String database, String sql) throws SQLException {
    try (Connection c = open(database);
        Statement s = c.createStatement();
        ResultSet r = s.executeQuery(sql)) {
      return r.next() ? String.valueOf(r.getString(1)) : "";
    }
  }

  private static final String BANDS =
      "SELECT string_agg(code || ' ' || price, ', ' ORDER BY code) FROM fares.band";

  private void chapter(String title) {
    walk.follow(
        chapters.stream()
            .filter(c -> c.title().startsWith(title))
            .findFirst()
            .orElseThrow(() -> new AssertionError("The document has no chapter " + title)));
  }

  private String published(String stage) throws IOException {
    return Files.readString(folder.resolve("srv/" + stage + "/published/fares/conditions.txt"));
  }

  @Test
  @Order(1)
  void aVersionOfOnesOwnIsInProductionAfterFortyCommands() throws Exception {
    for (String title : List.of("1.", "2.", "3.", "4.", "5.")) {
      chapter(title);
    }
    assertThat(query("fares_production", BANDS)).isEqualTo("CAR 20.00, FOOT 4.00");
    assertThat(walk.lastSaid("app candidates")).contains("fares.booking").contains("id");

    sql(
        "fares_development",
        "SET ROLE app_owner; ALTER TABLE fares.band ADD note text; UPDATE fares.band SET price = 4.50, note = 'from June' WHERE code = 'FOOT'; CREATE TABLE fares.season (name text PRIMARY KEY)");
    sql("fares_development", "GRANT SELECT ON fares.season TO fares_look");
    chapter("6.");

    for (String stage : List.of("test", "production")) {
      assertThat(query("fares_" + stage, BANDS)).isEqualTo("CAR 20.00, FOOT 4.50");
      assertThat(query("fares_" + stage, "SELECT note FROM fares.band WHERE code = 'FOOT'"))
          .isEqualTo("from June");
      assertThat(query("fares_" + stage, "SELECT to_regclass('fares.season') IS NOT NULL"))
          .isEqualTo("t");
    }
    assertThat(query("fares_production", "SELECT count(*) FROM fares.booking")).isEqualTo("2");
    assertThat(walk.commands()).isLessThanOrEqualTo(MOST_COMMANDS);
  }

  @Test
  @Order(2)
  void andBackAgainWithWhatWasBookedMeanwhile() throws Exception {
    sql("fares_production", "INSERT INTO fares.booking (band) VALUES ('FOOT')");

    chapter("7.");

    assertThat(query("fares_production", BANDS)).isEqualTo("CAR 20.00, FOOT 4.00");
    assertThat(query("fares_production", "SELECT to_regclass('fares.season') IS NULL"))
        .isEqualTo("t");
    assertThat(query("fares_production", "SELECT count(*) FROM fares.booking")).isEqualTo("3");
    assertThat(walk.lastSaid("standing")).contains("1.0.0").contains("1.1.0");
  }

  @Test
  @Order(3)
  void aFolderComesAlong() throws Exception {
    Files.writeString(
        folder.resolve("srv/development/published/fares/conditions.txt"), "Pets on deck\n");

    chapter("A folder");

    assertThat(published("test")).isEqualTo("Pets on deck\n");
    assertThat(published("production")).isEqualTo("Old\n");
    assertThat(Files.readString(folder.resolve("srv/test/published/robots.txt")))
        .isEqualTo("none of ours\n");
  }

  @Test
  @Order(4)
  void aRepositoryIsASourceToo() throws Exception {
    DocumentWalk.Chapter repository =
        chapters.stream().filter(c -> c.title().equals("A repository")).findFirst().orElseThrow();
    walk.follow(repository.block(0));
    Path work = folder.resolve("srv/work/fares");
    Path conditions = work.resolve("files/fares/conditions.txt");
    assertThat(conditions).hasContent("Pets on deck\n");
    Files.writeString(conditions, "Pets pay nothing\n");
    try (Git git = Git.init().setDirectory(work.toFile()).setInitialBranch("main").call()) {
      git.add().addFilepattern(".").call();
      git.commit()
          .setAuthor("Ada Falk", "ada@ferries.example")
          .setCommitter("Ada Falk", "ada@ferries.example")
          .setMessage("From the test stage")
          .setSign(false)
          .call();
      Path bare = folder.resolve("srv/git/fares.git");
      Git.cloneRepository()
          .setURI(git.getRepository().getDirectory().toURI().toString())
          .setDirectory(bare.toFile())
          .setBare(true)
          .call()
          .close();
      assertThat(git.getRepository().resolve(Constants.HEAD)).isNotNull();
    }

    walk.follow(repository.block(1));

    assertThat(walk.lastSaid("run start")).contains("1.3.0");
    assertThat(published("test")).as("gone back from").isEqualTo("Pets on deck\n");
  }
}
