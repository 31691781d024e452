package plenzo.store;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalStateException;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import java.util.zip.ZipFile;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import plenzo.core.keeping.Kept;
import plenzo.core.person.AccessKey;

/**
 * The tables have a number: earlier ones are brought up, those of a newer Plenzo are left alone.
 */
class SchemaTest {
  @TempDir Path folder;

  private H2Keeper open() {
    return new H2Keeper(folder, () -> "service-1", 1 << 20);
  }

  private List<String> sql(String... statements) throws SQLException {
    List<String> out = new ArrayList<>();
    try (Connection c =
            DriverManager.getConnection(
                "jdbc:h2:file:" + folder.resolve("records").toAbsolutePath(), "plenzo", "");
        Statement s = c.createStatement()) {
      for (String one : statements) {
        if (s.execute(one)) {
          try (ResultSet r = s.getResultSet()) {
            while (r.next()) {
              out.add(r.getString(1));
            }
          }
        }
      }
    }
    return out;
  }

  private String number() throws SQLException {
    return String.join("", sql("SELECT text FROM fact WHERE name = 'schema'"));
  }

  private List<String> copies() throws IOException {
    try (Stream<Path> all = Files.list(folder)) {
      return all.map(f -> f.getFileName().toString()).filter(f -> f.endsWith(".zip")).toList();
    }
  }

  @Test
  void numbersNewRecordsAndCopiesNothingAside() throws Exception {
    open().close();

    assertThat(number()).isEqualTo(String.valueOf(Schema.NUMBER));
    assertThat(copies()).isEmpty();
    open().close();
    assertThat(copies()).as("there is nothing to bring up").isEmpty();
  }

  @Test
  void copiesEarlierRecordsAsideBeforeItBringsThemUp() throws Exception {
    open().close();
    sql("UPDATE fact SET text = '1' WHERE name = 'schema'", "DROP INDEX promotion_by_state");

    open().close();

    assertThat(number()).isEqualTo(String.valueOf(Schema.NUMBER));
    assertThat(
            sql("SELECT 1 FROM INFORMATION_SCHEMA.INDEXES WHERE INDEX_NAME = 'PROMOTION_BY_STATE'"))
        .hasSize(1);
    assertThat(copies()).containsExactly("records-before-schema-2.zip");
    try (ZipFile copy = new ZipFile(folder.resolve(copies().get(0)).toFile())) {
      assertThat(copy.getEntry("records.mv.db").getSize()).isPositive();
    }
  }

  /** What is sorted by time is a time; a text of another zone or length would sort elsewhere. */
  @Test
  void hasTimesForWhatHappenedWhen() throws Exception {
    open().close();

    assertThat(
            sql(
                "SELECT TABLE_NAME || '.' || COLUMN_NAME FROM INFORMATION_SCHEMA.COLUMNS WHERE"
                    + " TABLE_SCHEMA = 'PUBLIC' AND (COLUMN_NAME = 'AT' OR COLUMN_NAME LIKE"
                    + " '%\\_AT') AND DATA_TYPE NOT LIKE 'TIMESTAMP%'"))
        .isEmpty();
  }

  /** Cut off after any statement of a script, it is run again. */
  @Test
  void goesOnWhereAScriptWasCutOff() throws Exception {
    open().close();
    sql("DELETE FROM fact WHERE name = 'schema'", "DROP INDEX history_by_actor");

    open().close();

    assertThat(number()).isEqualTo(String.valueOf(Schema.NUMBER));
    assertThat(
            sql("SELECT 1 FROM INFORMATION_SCHEMA.INDEXES WHERE INDEX_NAME = 'HISTORY_BY_ACTOR'"))
        .hasSize(1);
  }

  @Test
  void leavesRecordsOfANewerPlenzoAlone() throws Exception {
    open().close();
    sql("UPDATE fact SET text = '99' WHERE name = 'schema'");

    assertThatIllegalStateException()
        .isThrownBy(this::open)
        .withMessageContaining("have schema 99 and this Plenzo knows schemas up to")
        .withMessageContaining("Start that one");
    assertThat(number()).isEqualTo("99");
    assertThat(copies()).isEmpty();
  }

  /** Each question that is asked, and the index that answers it. */
  @ParameterizedTest(name = "{0}")
  @CsvSource(
      delimiter = '|',
      value = {
        "SELECT * FROM access_key WHERE state = ? ORDER BY state, ordinal DESC LIMIT 9 | ACCESS_KEY_BY_LOGIN",
        "SELECT * FROM connection WHERE stage = ? ORDER BY stage, ordinal DESC LIMIT 9 | CONNECTION_BY_STAGE",
        "SELECT * FROM version WHERE application = ? ORDER BY application, ordinal DESC LIMIT 9 | VERSION_BY_APPLICATION",
        "SELECT * FROM draft WHERE application = ? ORDER BY application, ordinal DESC LIMIT 9 | DRAFT_BY_APPLICATION",
        "SELECT * FROM binding WHERE application = ? ORDER BY application, ordinal DESC LIMIT 9 | BINDING_BY_APPLICATION",
        "SELECT * FROM parcel WHERE application = ? ORDER BY application, ordinal DESC LIMIT 9 | PARCEL_BY_APPLICATION",
        "SELECT * FROM site_record WHERE application = ? ORDER BY application, ordinal DESC LIMIT 9 | SITE_RECORD_BY_APPLICATION",
        "SELECT * FROM promotion WHERE application = ? ORDER BY application, ordinal DESC LIMIT 9 | PROMOTION_BY_APPLICATION",
        "SELECT * FROM run WHERE application = ? ORDER BY application, ordinal DESC LIMIT 9 | RUN_BY_APPLICATION",
        "SELECT * FROM draft WHERE state = ? ORDER BY state, ordinal DESC LIMIT 9 | DRAFT_BY_STATE",
        "SELECT * FROM draft ORDER BY ordinal DESC LIMIT 9 | DRAFT_BY_ORDER",
        "SELECT * FROM draft WHERE ordinal < 7 ORDER BY ordinal DESC LIMIT 9 | DRAFT_BY_ORDER",
        "SELECT * FROM parcel ORDER BY ordinal DESC LIMIT 9 | PARCEL_BY_ORDER",
        "SELECT * FROM parcel WHERE ordinal < 7 ORDER BY ordinal DESC LIMIT 9 | PARCEL_BY_ORDER",
        "SELECT * FROM release ORDER BY ordinal DESC LIMIT 9 | RELEASE_BY_ORDER",
        "SELECT * FROM release WHERE ordinal < 7 ORDER BY ordinal DESC LIMIT 9 | RELEASE_BY_ORDER",
        "SELECT * FROM person ORDER BY ordinal DESC LIMIT 9 | PERSON_BY_ORDER",
        "SELECT * FROM person WHERE ordinal < 7 ORDER BY ordinal DESC LIMIT 9 | PERSON_BY_ORDER",
        "SELECT * FROM site_record ORDER BY ordinal DESC LIMIT 9 | SITE_RECORD_BY_ORDER",
        "SELECT * FROM site_record WHERE ordinal < 7 ORDER BY ordinal DESC LIMIT 9 | SITE_RECORD_BY_ORDER",
        "SELECT * FROM promotion ORDER BY ordinal DESC LIMIT 9 | PROMOTION_BY_ORDER",
        "SELECT * FROM promotion WHERE ordinal < 7 ORDER BY ordinal DESC LIMIT 9 | PROMOTION_BY_ORDER",
        "SELECT * FROM run ORDER BY ordinal DESC LIMIT 9 | RUN_BY_ORDER",
        "SELECT * FROM run WHERE ordinal < 7 ORDER BY ordinal DESC LIMIT 9 | RUN_BY_ORDER",
        "SELECT * FROM site_record WHERE stage = ? AND site = ? ORDER BY stage, ordinal DESC LIMIT 9 | SITE_RECORD_BY_STAGE",
        "SELECT * FROM site_record WHERE application = ? AND stage = ? AND site = ? ORDER BY application, stage, ordinal DESC LIMIT 9 | SITE_RECORD_BY_PLACE",
        "SELECT * FROM site_record WHERE application = ? AND ordinal < 7 ORDER BY application, ordinal DESC LIMIT 9 | SITE_RECORD_BY_APPLICATION",
        "SELECT * FROM promotion WHERE stage = ? AND site = ? ORDER BY stage, ordinal DESC LIMIT 9 | PROMOTION_BY_STAGE",
        "SELECT * FROM promotion WHERE application = ? AND stage = ? AND site = ? ORDER BY application, stage, ordinal DESC LIMIT 9 | PROMOTION_BY_PLACE",
        "SELECT * FROM promotion WHERE application = ? AND ordinal < 7 ORDER BY application, ordinal DESC LIMIT 9 | PROMOTION_BY_APPLICATION",
        "SELECT * FROM run WHERE stage = ? AND site = ? ORDER BY stage, ordinal DESC LIMIT 9 | RUN_BY_STAGE",
        "SELECT * FROM run WHERE application = ? AND stage = ? AND site = ? ORDER BY application, stage, ordinal DESC LIMIT 9 | RUN_BY_PLACE",
        "SELECT * FROM run WHERE application = ? AND ordinal < 7 ORDER BY application, ordinal DESC LIMIT 9 | RUN_BY_APPLICATION",
        "SELECT * FROM promotion WHERE state = ? ORDER BY state, ordinal DESC LIMIT 9 | PROMOTION_BY_STATE",
        "SELECT * FROM run WHERE state = ? ORDER BY state, ordinal DESC LIMIT 9 | RUN_BY_STATE",
        "SELECT * FROM run WHERE promotion = ? ORDER BY promotion, ordinal DESC LIMIT 9 | RUN_BY_PROMOTION",
        "SELECT * FROM history ORDER BY sequence DESC LIMIT 9 | PRIMARY_KEY",
        "SELECT * FROM history WHERE application = ? AND sequence < 7 ORDER BY application, sequence DESC LIMIT 9 | HISTORY_BY_APPLICATION",
        "SELECT * FROM history WHERE application = ? AND (stage = ? OR stage IS NULL) ORDER BY application, sequence DESC LIMIT 9 | HISTORY_BY_APPLICATION",
        "SELECT * FROM history WHERE application IS NULL AND stage IS NULL AND actor = ? ORDER BY application, sequence DESC LIMIT 9 | HISTORY_BY_APPLICATION",
        "SELECT * FROM history WHERE application IS NULL AND stage = ? ORDER BY application, sequence DESC LIMIT 9 | HISTORY_BY_APPLICATION",
        "SELECT * FROM history WHERE stage = ? ORDER BY stage, sequence DESC LIMIT 9 | HISTORY_BY_STAGE",
        "SELECT * FROM history WHERE event = ? ORDER BY event, sequence DESC LIMIT 9 | HISTORY_BY_EVENT",
        "SELECT * FROM history WHERE actor = ? ORDER BY actor, sequence DESC LIMIT 9 | HISTORY_BY_ACTOR",
        "SELECT * FROM journal WHERE run = ? ORDER BY sequence | JOURNAL_RUN",
        "DELETE FROM answered WHERE at < ? | ANSWERED_AGE",
        "DELETE FROM access_key WHERE at < ? | ACCESS_KEY_AGE",
      })
  void answersEachQuestionByAnIndex(String question, String index) throws Exception {
    open().close();

    String plan =
        String.join(
            "",
            sql(
                "EXPLAIN "
                    + question
                        .replace("?", "'1'")
                        .replaceAll(
                            "at < '1'", "at < TIMESTAMP WITH TIME ZONE '2026-01-01 00:00:00Z'")));

    assertThat(plan).contains("PUBLIC." + index);
    if (question.contains("LIMIT")) {
      assertThat(plan).as("it reads no further than its page").contains("/* index sorted */");
    }
  }

  private static Kept.Answered answer(String id) {
    return new Kept.Answered(id, "digest", 200, "{}", Instant.EPOCH, 0);
  }

  private static AccessKey key(String hash, boolean token) {
    return new AccessKey(
        hash,
        "ines",
        "x",
        token,
        null,
        Instant.EPOCH,
        Instant.EPOCH,
        /* revoked= */ false,
        /* only= */ null,
        null,
        0);
  }

  @Test
  void forgetsWhatIsOlderThanIsSaid() throws Exception {
    try (H2Keeper keeper = open()) {
      keeper.write(
          kept -> {
            kept.answered().insert(answer("old"));
            kept.answered().insert(answer("new"));
            kept.accessKeys().insert(key("old-session", false));
            kept.accessKeys().insert(key("new-session", false));
            kept.accessKeys().insert(key("old-token", true));
            kept.accessKeys().insert(key("new-token", true));
            return null;
          });
    }
    sql(
        "UPDATE answered SET at = DATEADD(DAY, -8, at) WHERE id = 'old'",
        "UPDATE access_key SET at = DATEADD(DAY, -8, at) WHERE id IN ('old-session', 'new-token')",
        "UPDATE access_key SET at = DATEADD(DAY, -98, at) WHERE id = 'old-token'");
    Instant now = Instant.now();

    try (H2Keeper keeper = open()) {
      int forgotten =
          keeper.write(
              kept ->
                  kept.forget(
                      now.minus(Duration.ofDays(7)),
                      now.minus(Duration.ofDays(7)),
                      now.minus(Duration.ofDays(97))));

      assertThat(forgotten).isEqualTo(3);
      assertThat(
              keeper.<Stream<String>>read(
                  kept -> kept.accessKeys().all().stream().map(AccessKey::hash)))
          .containsExactlyInAnyOrder("new-session", "new-token");
      assertThat(
              keeper.<Stream<String>>read(
                  kept -> kept.answered().all().stream().map(Kept.Answered::id)))
          .containsExactly("new");
    }
  }

  private static String row(String table, String id, String body) {
    return "INSERT INTO "
        + table
        + " (id, revision, body) VALUES ('"
        + id
        + "', 1, '"
        + body.replace("'", "''")
        + "')";
  }

  /** Until schema 6 a stage asked for approvals, a verdict and a proof; a path named its stages. */
  @Test
  void whatStagesAskedIsAskedByTheLegsThatLeadThere() throws Exception {
    open().close();
    String stage =
        "{\"key\":\"%s\",\"name\":\"S\",\"role\":\"%s\",\"position\":1,\"zone\":\"UTC\",\"approvals\":%d,\"needsVerdict\":%b,\"needsProof\":%b,\"driftCloses\":false,\"sites\":[],\"format\":2}";
    sql(
        row("stage", "test", stage.formatted("test", "TEST", 0, false, true)),
        row("stage", "production", stage.formatted("production", "PRODUCTION", 2, true, false)),
        row(
            "path",
            "ordinary",
            "{\"key\":\"ordinary\",\"name\":\"Ordinary\",\"source\":null,\"legs\":[\"test\",\"production\"]}"),
        row(
            "application",
            "fares",
            "{\"id\":\"1\",\"key\":\"fares\",\"name\":\"F\",\"owner\":\"o\",\"description\":\"\",\"support\":{},\"schema\":\"fares\",\"path\":\"ordinary\",\"privateColumns\":[],\"probes\":[],\"repository\":null,\"retired\":null}"),
        "UPDATE fact SET text = '6' WHERE name = 'schema'");

    try (H2Keeper keeper = open()) {
      plenzo.core.stage.Path path =
          keeper.read(kept -> kept.paths().find("ordinary")).orElseThrow();

      assertThat(path.leg("test")).contains(plenzo.core.stage.Leg.open("test").proven(true));
      assertThat(path.leg("production"))
          .contains(
              plenzo.core.stage.Leg.open("production")
                  .asking(new plenzo.core.stage.Leg.Quorum("", 2))
                  .judged(true));
      plenzo.core.stage.Stage production =
          keeper.read(kept -> kept.stages().find("production")).orElseThrow();
      assertThat(production.production()).isTrue();
      assertThat(keeper.read(kept -> kept.applications().find("fares")).orElseThrow().paths())
          .containsExactly("ordinary");
    }
    assertThat(number()).isEqualTo(String.valueOf(Schema.NUMBER));
  }
}
