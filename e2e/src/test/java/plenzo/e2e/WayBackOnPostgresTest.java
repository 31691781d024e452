package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import plenzo.core.comparison.Decision;
import plenzo.core.impact.Finding;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.engine.returning.Rollbacks;
import plenzo.engine.running.RunListener;

/**
 * Going back by the earlier version on a real server: what a version dropped comes back, and what
 * the structure cannot hold is loss that closes nothing. Rows of the table are in no version.
 */
class WayBackOnPostgresTest extends OnPostgres {
  private static final List<String> TABLES = List.of("table/fares.zone", "table/fares.trip");
  private static final String BASE =
      "CREATE TABLE fares.zone (code text PRIMARY KEY, share integer NOT NULL);"
          + "CREATE TABLE fares.trip (id integer PRIMARY KEY, zone text CONSTRAINT trip_zone REFERENCES fares.zone,"
          + " note varchar(5) NOT NULL DEFAULT 'none', paid numeric(6,2), at timestamptz DEFAULT now(),"
          + " CONSTRAINT trip_paid CHECK (paid > 0), CONSTRAINT trip_note UNIQUE (note));"
          + "INSERT INTO fares.zone VALUES ('N', 10), ('S', 20);"
          + "INSERT INTO fares.trip VALUES (1, 'N', 'a', 1.50, NULL), (2, 'S', 'b', 2.50, '2026-04-01 06:30:00+00'), (3, NULL, 'c', NULL, '2026-04-02 00:00:00+00')";

  WayBackOnPostgresTest() {
    super("way-back");
  }

  @BeforeEach
  void world() {
    databases.lay(BASE);
  }

  private void as(String database, String sql) {
    databases.as(database, sql);
  }

  private String trips() {
    return cluster
        .query(
            "production",
            "SELECT string_agg(id || ':' || coalesce(zone, '-') || ':' || note || ':' || coalesce(paid::text, '-') || ':' || coalesce(to_char(at AT TIME ZONE 'UTC', 'MMDD'), '-'), ' ' ORDER BY id) FROM fares.trip")
        .get(0);
  }

  /** Brings what development became, does what people do, and goes back; the loss in words. */
  private String wentBack(Plan.Way way, String version, String since) throws IOException {
    Path folder = databases.nextCase();
    try (EngineWorld world = new EngineWorld(folder, cluster.port(), RunListener.NOBODY)) {
      world.adopt(TABLES);
      as("development", version);
      world.seal("1.1.0", TABLES);
      Run there = world.run(world.promotion("1.1.0"));
      assertThat(there.state()).as(there.sentence()).isEqualTo(RunState.DONE);
      as("production", since);
      Rollbacks.Option option = world.way(way);
      assertThat(option.possible()).as(option.why()).isTrue();
      List<String> saved = new ArrayList<>();
      world
          .engine
          .rollbacks()
          .lost(world.ines, "fares", EngineMain.SITE, way, Rollbacks.Wish.NONE, saved::add);
      assertThat(saved.size() == 1).as("what is lost can be saved").isEqualTo(option.lost() == 0);
      Promotion p = world.goBack(option);
      assertThat(p.findings()).noneMatch(f -> f.severity() == Finding.Severity.BLOCKER);
      Run back = world.run(world.compared(p.number()));
      assertThat(back.state()).as(back.sentence()).isEqualTo(RunState.DONE);
      return option.lossSentence();
    }
  }

  private static final String BEFORE = "1:N:a:1.50:- 2:S:b:2.50:0401 3:-:c:-:0402";

  @ParameterizedTest(name = "{0} / {1}")
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '`',
      value = {
        // what 1.1.0 changes | what people do then | what is lost | what is there afterwards
        "ALTER TABLE fares.trip DROP zone; ALTER TABLE fares.zone ALTER share TYPE numeric(6,2) | SELECT 1 | Nothing is lost. | 1:N:a:1.50:- 2:S:b:2.50:0401 3:-:c:-:0402",
        "ALTER TABLE fares.trip ALTER note TYPE text | UPDATE fares.trip SET note = 'far too long' WHERE id = 2 | 1 value of fares.trip.note that 1.0.0 cannot hold would be lost. | 1:N:a:1.50:- 2:S:b:2.50:0401 3:-:c:-:0402",
        "ALTER TABLE fares.trip DROP CONSTRAINT trip_zone | INSERT INTO fares.trip VALUES (4, 'X', 'd', 1, NULL) | 1 value of fares.trip.zone that 1.0.0 cannot hold would be lost. | 1:N:a:1.50:- 2:S:b:2.50:0401 3:-:c:-:0402 4:-:d:1.00:-"
      })
  void bringsBackWhatWasDroppedAndClosesNothing(
      String version, String since, String loss, String after) throws IOException {
    assertThat(trips()).isEqualTo(BEFORE);

    String lost = wentBack(Plan.Way.EARLIER_VERSION, version, since);

    assertThat(lost).isEqualTo(loss);
    assertThat(trips()).isEqualTo(after);
    assertThat(
            cluster.query(
                "production", "SELECT string_agg(share::text, ' ' ORDER BY code) FROM fares.zone"))
        .containsExactly("10 20");
  }

  @Tag("nightly")
  @ParameterizedTest(name = "{0} / {1}")
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '`',
      value = {
        "ALTER TABLE fares.trip ALTER note TYPE text | INSERT INTO fares.trip VALUES (4, 'N', 'far too long', 1, NULL) | 1 value of fares.trip.note that 1.0.0 cannot hold would be lost. | 1:N:a:1.50:- 2:S:b:2.50:0401 3:-:c:-:0402 4:N:none:1.00:-",
        "ALTER TABLE fares.trip DROP CONSTRAINT trip_paid | INSERT INTO fares.trip VALUES (4, 'N', 'd', -1, NULL) | 1 row of fares.trip that 1.0.0 cannot hold would be lost. | 1:N:a:1.50:- 2:S:b:2.50:0401 3:-:c:-:0402",
        "ALTER TABLE fares.trip DROP at | SELECT 1 | Nothing is lost. | 1:N:a:1.50:- 2:S:b:2.50:0401 3:-:c:-:0402",
        "ALTER TABLE fares.trip DROP zone, DROP note | DELETE FROM fares.trip WHERE id = 2 | Nothing is lost. | 1:N:a:1.50:- 3:-:c:-:0402",
        "ALTER TABLE fares.trip ALTER note DROP NOT NULL, ALTER note DROP DEFAULT | UPDATE fares.trip SET note = NULL WHERE id = 1 | 1 value of fares.trip.note that 1.0.0 cannot hold would be lost. | 1:N:a:1.50:- 2:S:b:2.50:0401 3:-:c:-:0402",
        "ALTER TABLE fares.trip ALTER paid TYPE numeric | UPDATE fares.trip SET paid = 123456.789 WHERE id = 3 | 1 value of fares.trip.paid that 1.0.0 cannot hold would be lost. | 1:N:a:1.50:- 2:S:b:2.50:0401 3:-:c:-:0402",
        "ALTER TABLE fares.trip DROP CONSTRAINT trip_note | INSERT INTO fares.trip VALUES (4, 'N', 'a', 1, NULL) | 1 row of fares.trip that 1.0.0 cannot hold would be lost. | 1:N:a:1.50:- 2:S:b:2.50:0401 3:-:c:-:0402",
        "ALTER TABLE fares.zone ALTER share TYPE numeric(6,2) | INSERT INTO fares.zone VALUES ('H', 0.5) | 1 row of fares.zone that 1.0.0 cannot hold would be lost. | 1:N:a:1.50:- 2:S:b:2.50:0401 3:-:c:-:0402",
        "DROP TABLE fares.trip | SELECT 1 | Nothing is lost. | 1:N:a:1.50:- 2:S:b:2.50:0401 3:-:c:-:0402"
      })
  void bringsBackWhatWasDroppedAndClosesNothingInFurtherCases(
      String version, String since, String loss, String after) throws IOException {
    bringsBackWhatWasDroppedAndClosesNothing(version, since, loss, after);
  }

  /** The backup takes out the very rows whose values its types cannot hold. */
  @Test
  void restoresTheBackupOverValuesThatDoNotFit() throws IOException {
    String lost =
        wentBack(
            Plan.Way.BACKUP,
            "ALTER TABLE fares.trip ALTER paid TYPE numeric, ALTER note TYPE text, DROP zone",
            "UPDATE fares.trip SET paid = 123456.789 WHERE id = 1; INSERT INTO fares.trip VALUES (4, 'far too long', 7, NULL)");

    assertThat(lost).isEqualTo("2 rows of fares.trip written since would be lost.");
    assertThat(trips()).isEqualTo(BEFORE);
  }

  /** Rows of tables that the version says nothing of, each pointing at one that goes. */
  @Test
  void takesAlongWhatHangsOnARowThatGoes() throws IOException {
    for (String database : List.of("development", "production")) {
      as(
          database,
          "CREATE TABLE fares.leg (id integer PRIMARY KEY, zone text NOT NULL REFERENCES fares.zone ON DELETE RESTRICT, up integer REFERENCES fares.leg);"
              + " CREATE TABLE fares.seat (id integer PRIMARY KEY, leg integer NOT NULL REFERENCES fares.leg)");
    }

    String lost =
        wentBack(
            Plan.Way.EARLIER_VERSION,
            "ALTER TABLE fares.zone ALTER share TYPE numeric(6,2)",
            "INSERT INTO fares.zone VALUES ('H', 0.5); INSERT INTO fares.leg VALUES (1, 'N', NULL), (2, 'H', 1), (3, 'N', 2); INSERT INTO fares.seat VALUES (10, 1), (11, 2), (12, 3)");

    assertThat(lost)
        .isEqualTo(
            "1 row of fares.zone that 1.0.0 cannot hold and 1 row of fares.leg pointing at rows that go and 1 value of fares.leg.up pointing at rows that go and 1 row of fares.seat pointing at rows that go would be lost.");
    assertThat(
            cluster.query(
                "production",
                "SELECT (SELECT string_agg(id || coalesce('<' || up, ''), ' ' ORDER BY id) FROM fares.leg) || ', ' || (SELECT string_agg(id::text, ' ' ORDER BY id) FROM fares.seat)"))
        .containsExactly("1 3, 10 12");
  }

  /** What a version dropped comes back, and what it pointed at is gone by then. */
  @Test
  void bringsBackNothingThatPointsAtNothing() throws IOException {
    String lost =
        wentBack(
            Plan.Way.EARLIER_VERSION,
            "ALTER TABLE fares.trip DROP zone",
            "DELETE FROM fares.zone WHERE code = 'S'");

    assertThat(lost)
        .isEqualTo("1 value of fares.trip.zone that only the backup still has would be lost.");
    assertThat(trips()).isEqualTo("1:N:a:1.50:- 2:-:b:2.50:0401 3:-:c:-:0402");
  }

  /** What the rows point at goes, but nothing tells them apart, so that nothing can be done. */
  @Test
  void leavesTheStructureWhereRowsWithoutAKeyHoldIt() throws IOException {
    for (String database : List.of("development", "production")) {
      as(database, "CREATE TABLE fares.log (zone text NOT NULL REFERENCES fares.zone)");
    }

    opensOnlyByLeaving(
        "INSERT INTO fares.zone VALUES ('H', 0.5); INSERT INTO fares.log VALUES ('H')",
        "1 value of fares.zone.share does not fit integer, which 1.0.0 has.");

    assertThat(cluster.query("production", "SELECT zone FROM fares.log")).containsExactly("H");
  }

  /** More rows than can be asked about in one question. */
  @Test
  @Tag("nightly")
  void leavesTheStructureWhereTooManyRowsAreHeld() throws IOException {
    opensOnlyByLeaving(
        "INSERT INTO fares.zone SELECT 'H' || n, 0.5 FROM generate_series(1, 50020) n;"
            + " INSERT INTO fares.trip SELECT n, 'H' || n, 't' || n - 9990, 1, NULL FROM generate_series(9990, 9999) n",
        "50,020 values of fares.zone.share do not fit integer, which 1.0.0 has.");

    assertThat(cluster.query("production", "SELECT count(*) FROM fares.trip WHERE zone ~ 'H'"))
        .containsExactly("10");
  }

  /**
   * 1.1.0 widens a type, and what people wrote since closes the earlier version until they choose
   * that the type stays.
   */
  private void opensOnlyByLeaving(String since, String sentence) throws IOException {
    try (EngineWorld world = engine()) {
      world.adopt(TABLES);
      as("development", "ALTER TABLE fares.zone ALTER share TYPE numeric(6,2)");
      world.seal("1.1.0", TABLES);
      assertThat(world.run(world.promotion("1.1.0")).state()).isEqualTo(RunState.DONE);
      as("production", since);
      Rollbacks.Option closed = world.way(Plan.Way.EARLIER_VERSION);
      assertThat(closed.possible()).isFalse();
      assertThat(closed.obstacles())
          .singleElement()
          .satisfies(
              o -> {
                assertThat(o.sentence()).isEqualTo(sentence);
                assertThat(o.offers().get(0).decision()).isEqualTo(Decision.KEEP);
              });
      Rollbacks.Wish wish =
          new Rollbacks.Wish(null, Map.of("table/fares.zone#column/share", Decision.KEEP));
      Rollbacks.Option open = world.way(Plan.Way.EARLIER_VERSION, wish);
      assertThat(open.possible()).as(open.why()).isTrue();
      assertThat(open.lossSentence()).isEqualTo("Nothing is lost.");
      String before = cluster.query("production", ALL).get(0);
      Run back = world.run(world.compared(world.goBack(open, wish).number()));
      assertThat(back.state()).as(back.sentence()).isEqualTo(RunState.DONE);
      assertThat(cluster.query("production", ALL)).containsExactly(before);
      assertThat(cluster.query("production", TYPE)).containsExactly("numeric(6,2)");
    }
  }

  private static final String ALL =
      "SELECT (SELECT md5(string_agg(z::text, ' ' ORDER BY code)) FROM fares.zone z) || (SELECT md5(string_agg(t::text, ' ' ORDER BY id)) FROM fares.trip t)";
  private static final String TYPE =
      "SELECT format_type(atttypid, atttypmod) FROM pg_attribute WHERE attrelid = 'fares.zone'::regclass AND attname = 'share'";
}
