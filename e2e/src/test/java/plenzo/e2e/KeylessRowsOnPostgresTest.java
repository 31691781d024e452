package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import plenzo.core.plan.Plan;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.engine.comparing.Losses;
import plenzo.engine.returning.Rollbacks;

/** Rows of tables that have no key: all their columns tell them apart, or nothing does. */
class KeylessRowsOnPostgresTest extends OnPostgres {
  private static final String BASE =
      "CREATE TABLE fares.crossing_rate (route text NOT NULL, season text NOT NULL, price numeric(6,2) NOT NULL);"
          + "INSERT INTO fares.crossing_rate VALUES ('M-H', 'PEAK', 12), ('M-H', 'LOW', 8), ('M-S', 'LOW', 9.5), ('M-S', '', 10);"
          + "CREATE TABLE fares.remark (about text NOT NULL, said text);"
          // read by its key it prints 1.5, else 1.50
          + "CREATE TABLE fares.step (above numeric(6,2) PRIMARY KEY, off integer); INSERT INTO fares.step VALUES (1.5, 1), (20, 2);";

  private static final List<String> PICKS = EngineWorld.both("crossing_rate", "step");

  KeylessRowsOnPostgresTest() {
    super("keyless");
  }

  @BeforeEach
  void world() {
    databases.lay(BASE);
  }

  private List<String> rates(String database) {
    return cluster.query(
        database,
        "SELECT route, season, price FROM fares.crossing_rate UNION ALL SELECT 'step', off::text, above FROM fares.step ORDER BY 1, 2, 3");
  }

  @Test
  void areToldApartByAllColumnsWhereThatIsSo() {
    databases.as(
        "production",
        "CREATE TABLE fares.odd (a text, b json); INSERT INTO fares.odd VALUES ('x', NULL), ('x', NULL), ('x', '[1]'), ('x', '[ 1]'), (NULL, '[1]');"
            + "CREATE TABLE fares.twin (a text NOT NULL, b integer NOT NULL); INSERT INTO fares.twin VALUES ('x', 1), ('x', 1), ('y', 2), ('y', 2), ('z', 3);"
            + "CREATE TABLE fares.many AS SELECT n FROM generate_series(1, 1000001) n; ALTER TABLE fares.many ALTER n SET NOT NULL");
    try (EngineWorld world = engine()) {
      assertThat(world.candidate("crossing_rate").key())
          .containsExactly("route", "season", "price");
      assertThat(world.candidate("crossing_rate").keyProblem()).isEmpty();
      assertThat(world.candidate("crossing_rate").keyRemark())
          .isEqualTo(
              "it has no key: rows are told apart by all columns, so a changed row is one that goes and one that comes");
      assertThat(world.candidate("remark").keyProblem()).isEmpty();
      assertThat(world.candidate("odd").keyProblem())
          .as("two rows with nothing in the same columns")
          .isEqualTo("it has no primary or unique key, and one row stands there more than once");
      assertThat(world.candidate("twin").keyProblem())
          .isEqualTo("it has no primary or unique key, and 2 rows stand there more than once");
      assertThat(world.candidate("many").keyProblem())
          .isEqualTo(
              "it has no primary or unique key, and more rows than are held against one another (1,000,000)");
      assertThatThrownBy(() -> world.adopt(List.of("table/fares.twin", "records/fares.twin")))
          .isInstanceOf(Problem.class)
          .hasMessage(
              "The rows of fares.twin cannot be records: it has no primary or unique key, and 2 rows stand there more than once.");
    }
  }

  @ParameterizedTest
  @EnumSource(names = "EARLIER_VERSION")
  void areCarriedAndComeBack(Plan.Way way) throws IOException {
    databases.as("production", "INSERT INTO fares.crossing_rate VALUES ('own', 'LOW', 1)");
    List<String> before = rates("production");
    try (EngineWorld world = engine()) {
      world.adopt(PICKS);
      databases.as(
          "development",
          "UPDATE fares.crossing_rate SET price = 13 WHERE season = 'PEAK'; DELETE FROM fares.crossing_rate WHERE season = ''; INSERT INTO fares.crossing_rate VALUES ('M-H', 'PEAK', 14), ('own', 'LOW', 1); UPDATE fares.step SET off = 3 WHERE above = 1.5");
      world.seal("1.1.0", PICKS);
      Promotion p = world.promotion("1.1.0");

      Run run = world.run(p);

      assertThat(run.state()).as(run.sentence() + p.findings()).isEqualTo(RunState.DONE);
      assertThat(run.sentence()).doesNotContain("to look at");
      assertThat(rates("production")).isEqualTo(rates("development"));

      databases.as("production", "INSERT INTO fares.crossing_rate VALUES ('late', 'LOW', 2)");
      Run back = world.run(world.compared(world.goBack(world.way(way)).number()));

      assertThat(back.state()).as(back.sentence()).isEqualTo(RunState.DONE);
      if (way == Plan.Way.EARLIER_VERSION) {
        databases.as("production", "DELETE FROM fares.crossing_rate WHERE route = 'late'");
      }
      assertThat(rates("production")).isEqualTo(before);
    }
  }

  @Tag("nightly")
  @ParameterizedTest
  @EnumSource(names = "BACKUP")
  void areCarriedAndComeBackByTheOtherWay(Plan.Way way) throws IOException {
    areCarriedAndComeBack(way);
  }

  /** What is null or has no order of its own is told by what it prints, on all sides alike. */
  @ParameterizedTest
  @EnumSource(names = "BACKUP")
  void mayHaveNothingInThemAndTypesWithoutAnOrder(Plan.Way way) throws IOException {
    String rows =
        "CREATE TABLE fares.loose (id integer, n numeric, at timestamptz, span interval, doc jsonb, raw json, many text[], odd double precision, free text, note text);"
            + "INSERT INTO fares.loose SELECT n, n / 4.0, '2026-05-01 12:00Z', make_interval(hours => n), jsonb_build_object('n', n), '{\"b\":1, \"a\":2}', ARRAY['x', NULL, n::text], n / 3.0, CASE n % 3 WHEN 0 THEN NULL WHEN 1 THEN '' ELSE 'w' END, 'same' FROM generate_series(1, 9) n;"
            + "INSERT INTO fares.loose (note) VALUES (NULL), ('alone');"
            + "INSERT INTO fares.loose (id, odd, note) VALUES (NULL, 'NaN', 'a'), (NULL, 'Infinity', 'a'), (NULL, NULL, 'a'), (7, NULL, NULL)";
    databases.as("development", rows);
    databases.as("production", rows);
    String all = "SELECT l::text FROM fares.loose l ORDER BY 1";
    List<String> before = cluster.query("production", all);
    List<String> picks = List.of("table/fares.loose", "records/fares.loose");
    try (EngineWorld world = engine()) {
      world.adopt(picks);
      databases.as(
          "development",
          "DELETE FROM fares.loose WHERE note IS NULL AND id IS NULL; DELETE FROM fares.loose WHERE id = 3;"
              + "UPDATE fares.loose SET free = NULL WHERE free = ''; UPDATE fares.loose SET doc = NULL WHERE id = 6;"
              + "UPDATE fares.loose SET n = 3.75 WHERE odd = 'NaN'; INSERT INTO fares.loose (span, many) VALUES ('1 day', '{}'), ('24:00:00', '{}')");
      world.seal("1.1.0", picks);
      Promotion p = world.promotion("1.1.0");

      Run run = world.run(p);

      assertThat(run.state()).as(run.sentence() + p.findings()).isEqualTo(RunState.DONE);
      assertThat(run.sentence()).doesNotContain("to look at");
      assertThat(cluster.query("production", all)).isEqualTo(cluster.query("development", all));

      databases.as("production", "INSERT INTO fares.loose (note) VALUES ('late')");
      Run back = world.run(world.compared(world.goBack(world.way(way)).number()));

      assertThat(back.state()).as(back.sentence()).isEqualTo(RunState.DONE);
      if (way == Plan.Way.EARLIER_VERSION) {
        databases.as("production", "DELETE FROM fares.loose WHERE note = 'late'");
      }
      assertThat(cluster.query("production", all)).isEqualTo(before);
    }
  }

  @Tag("nightly")
  @ParameterizedTest
  @EnumSource(names = "EARLIER_VERSION")
  void mayHaveNothingInThemAndTypesWithoutAnOrderByTheOtherWay(Plan.Way way) throws IOException {
    mayHaveNothingInThemAndTypesWithoutAnOrder(way);
  }

  /** The rows that a version fills are not counted as empty, whatever else in them is null. */
  @Test
  void whatTheVersionTakesAwayIsNotInTheWayOfItsOwnStructure() throws IOException {
    String rows =
        "CREATE TABLE fares.loose (a text, b text, c text); INSERT INTO fares.loose VALUES ('x', NULL, NULL), ('', NULL, NULL), ('y', NULL, 'c')";
    databases.as("development", rows);
    databases.as("production", rows);
    List<String> picks = List.of("table/fares.loose", "records/fares.loose");
    try (EngineWorld world = engine()) {
      world.adopt(picks);
      databases.as(
          "development",
          "DELETE FROM fares.loose WHERE c IS NULL; ALTER TABLE fares.loose ALTER c SET NOT NULL");
      world.seal("1.1.0", picks);

      Promotion p = world.promotion("1.1.0");
      Run run = world.run(p);

      assertThat(run.state()).as(run.sentence() + p.findings()).isEqualTo(RunState.DONE);
      assertThat(cluster.query("production", "SELECT l::text FROM fares.loose l"))
          .containsExactly("(y,,c)");
    }
  }

  /** Rows of the application's own, in a table without a key, come back where none has a twin. */
  @Test
  void rowsThatAreNoRecordsComeBackByTheBackup() throws IOException {
    String rows =
        "CREATE TABLE fares.log (at integer, said text); INSERT INTO fares.log VALUES (1, 'a'), (1, NULL), (NULL, 'a'), (NULL, NULL);"
            + "CREATE TABLE fares.trace (at integer); INSERT INTO fares.trace VALUES (1), (1)";
    databases.as("development", rows);
    databases.as("production", rows);
    List<String> picks = List.of("table/fares.log", "table/fares.trace");
    try (EngineWorld world = engine()) {
      world.adopt(picks);
      databases.as(
          "development",
          "ALTER TABLE fares.log ADD COLUMN more integer; ALTER TABLE fares.trace ADD COLUMN more integer");
      world.seal("1.1.0", picks);
      assertThat(closed(world.promotion("1.1.0")))
          .containsExactly(
              "Cannot be used: rows of fares.trace have no key by which they are told apart");
      databases.as("production", "DELETE FROM fares.trace");
      Promotion p = world.promotion("1.1.0");
      assertThat(closed(p)).isEmpty();
      assertThat(world.run(p).state()).isEqualTo(RunState.DONE);
      databases.as(
          "production",
          "UPDATE fares.log SET more = 5; DELETE FROM fares.log WHERE at = 1; INSERT INTO fares.log VALUES (7, 'late', 1)");

      Run back = world.run(world.compared(world.goBack(world.way(Plan.Way.BACKUP)).number()));

      assertThat(back.state()).as(back.sentence()).isEqualTo(RunState.DONE);
      assertThat(cluster.query("production", "SELECT l::text FROM fares.log l ORDER BY 1"))
          .containsExactly("(,)", "(,a)", "(1,)", "(1,a)");
    }
  }

  private static final String PARAMS =
      "SELECT run, kind, name, worth, day, amount FROM fares.param ORDER BY 1, 2, 3";

  /** A table of which columns go, get another name and become wider, and whose rows have no key. */
  private EngineWorld narrowed() throws IOException {
    databases.lay(
        "CREATE TABLE fares.param (run integer NOT NULL, kind varchar(6) NOT NULL, name text, worth text, day date, amount numeric(8,2));"
            + "INSERT INTO fares.param VALUES (1, 'LONG', 'n', NULL, '1970-01-01', 7.5), (1, 'STRING', 's', 'word', NULL, 0),"
            + " (2, 'STRING', NULL, 'word', '2020-02-02', NULL), (3, 'STRING', NULL, 'word', '2020-03-03', 3)");
    EngineWorld world = engine();
    world.adopt(List.of("table/fares.param"));
    databases.as(
        "development",
        "ALTER TABLE fares.param DROP COLUMN day, DROP COLUMN amount, ADD COLUMN since date, ALTER COLUMN kind TYPE varchar(100), ALTER COLUMN run TYPE bigint;"
            + "ALTER TABLE fares.param RENAME COLUMN worth TO said; ALTER TABLE fares.param RENAME TO parameter");
    world.sealStructures("1.1.0");
    Promotion p = world.promotion("1.1.0");
    assertThat(closed(p)).isEmpty();
    assertThat(world.run(p).state()).isEqualTo(RunState.DONE);
    return world;
  }

  @ParameterizedTest
  @EnumSource(names = {"EARLIER_VERSION", "BACKUP"})
  void valuesThatGoComeBackByWhatStaysOfTheRow(Plan.Way way) throws IOException {
    try (EngineWorld world = narrowed()) {
      databases.as("production", "UPDATE fares.parameter SET since = '2024-01-01' WHERE run = 1");

      Run back = world.run(world.compared(world.goBack(world.way(way)).number()));

      assertThat(back.state()).as(back.sentence()).isEqualTo(RunState.DONE);
      assertThat(cluster.query("production", PARAMS))
          .containsExactly(
              "1|LONG|n|null|1970-01-01|7.50",
              "1|STRING|s|word|null|0.00",
              "2|STRING|null|word|2020-02-02|null",
              "3|STRING|null|word|2020-03-03|3.00");
    }
  }

  /** Whether it was changed or taken away nobody can tell: what it held is counted. */
  @Test
  void whatARowHeldThatIsNotFoundAgainIsCounted() throws IOException {
    try (EngineWorld world = narrowed()) {
      databases.as(
          "production",
          "UPDATE fares.parameter SET name = 'other' WHERE run = 2; DELETE FROM fares.parameter WHERE run = 3; INSERT INTO fares.parameter VALUES (4, 'STRING', 'late', NULL, NULL)");

      Rollbacks.Option way = world.way(Plan.Way.EARLIER_VERSION);

      assertThat(way.losses())
          .extracting(Losses.Item::toString)
          .containsExactlyInAnyOrder(
              "Item[place=fares.param.day, sort=DROPPED, count=2]",
              "Item[place=fares.param.amount, sort=DROPPED, count=1]");
      Run back = world.run(world.compared(world.goBack(way).number()));
      assertThat(back.state()).as(back.sentence()).isEqualTo(RunState.DONE);
      assertThat(cluster.query("production", PARAMS))
          .containsExactly(
              "1|LONG|n|null|1970-01-01|7.50",
              "1|STRING|s|word|null|0.00",
              "2|STRING|other|word|null|null",
              "4|STRING|late|null|null|null");
    }
  }

  /** A row that is not found again by a key of the table was taken away: nothing of it is lost. */
  @Test
  void aUniqueKeyTellsThemApartToo() throws IOException {
    databases.lay(
        "CREATE TABLE fares.buoy (code text NOT NULL UNIQUE, name text, depth integer); INSERT INTO fares.buoy VALUES ('a', 'A', 1), ('b', 'B', 2), ('c', 'C', 3)");
    try (EngineWorld world = engine()) {
      world.adopt(List.of("table/fares.buoy"));
      databases.as("development", "ALTER TABLE fares.buoy DROP COLUMN depth");
      world.sealStructures("1.1.0");
      world.bring("1.1.0");
      databases.as(
          "production",
          "UPDATE fares.buoy SET name = 'other' WHERE code = 'a'; DELETE FROM fares.buoy WHERE code = 'b'");

      Rollbacks.Option way = world.way(Plan.Way.EARLIER_VERSION);

      assertThat(way.losses()).isEmpty();
      Run back = world.run(world.compared(world.goBack(way).number()));
      assertThat(back.state()).as(back.sentence()).isEqualTo(RunState.DONE);
      assertThat(cluster.query("production", "SELECT b::text FROM fares.buoy b ORDER BY 1"))
          .containsExactly("(a,other,1)", "(c,C,3)");
    }
  }

  private static List<String> closed(Promotion p) {
    return p.requirePlan().waysBack().stream()
        .filter(w -> !w.possible())
        .map(Plan.WayBack::sentence)
        .toList();
  }

  /** Rows that were recorded by one key are held against those of another. */
  @Test
  void mayBeToldByOtherColumnsThanBefore() throws IOException {
    String rows =
        "CREATE TABLE fares.zone (code text PRIMARY KEY, label text NOT NULL UNIQUE, n integer);"
            + "INSERT INTO fares.zone VALUES ('a', 'west', 1), ('b', 'north', 2), ('c', 'south', 3), ('d', 'east', 4)";
    databases.as("development", rows);
    databases.as("production", rows);
    try (EngineWorld world = engine()) {
      world.adopt(List.of("table/fares.zone", "records/fares.zone"));
      databases.as(
          "development",
          "UPDATE fares.zone SET n = 20 WHERE code = 'b'; DELETE FROM fares.zone WHERE code = 'd'");
      databases.as("production", "UPDATE fares.zone SET n = 30 WHERE code = 'c'");
      world.seal("1.1.0", List.of("table/fares.zone", "records/fares.zone:label"));

      Promotion p = world.promotion("1.1.0");
      Run run = world.run(p);

      assertThat(run.state()).as(run.sentence() + p.findings()).isEqualTo(RunState.DONE);
      assertThat(cluster.query("production", "SELECT code, n FROM fares.zone ORDER BY 1"))
          .as("what is there beside it is kept, what went goes")
          .containsExactly("a|1", "b|20", "c|30");
    }
  }

  /** A column that tells rows apart and is not there yet: then nothing is taken for empty. */
  @Test
  void aKeyThatIsNotAtTheSiteIsSaid() throws IOException {
    try (EngineWorld world = engine()) {
      world.adopt(PICKS);
      databases.as(
          "development",
          "ALTER TABLE fares.step ADD COLUMN code text; UPDATE fares.step SET code = 's' || above::text;"
              + "ALTER TABLE fares.step ALTER code SET NOT NULL; ALTER TABLE fares.step ADD UNIQUE (code)");
      world.seal("1.1.0", List.of("table/fares.step", "records/fares.step:code"));

      Promotion p = world.promotion("1.1.0");

      assertThat(p.state().code()).isEqualTo("failed");
      assertThat(p.sentence())
          .startsWith(
              "2 rows of fares.step at the site cannot be held against those of the version: these are told apart by code, and the table there has no code.");
    }
  }

  /** Nothing keeps a site from having a row twice: then it is said which, before anything runs. */
  @Test
  void aTwinAtTheSiteIsSaidBeforehand() throws IOException {
    try (EngineWorld world = engine()) {
      world.adopt(PICKS);
      databases.as("development", "INSERT INTO fares.crossing_rate VALUES ('new', 'LOW', 3)");
      databases.as("production", "INSERT INTO fares.crossing_rate VALUES ('M-S', 'LOW', 9.5)");
      world.seal("1.1.0", PICKS);

      Promotion p = world.promotion("1.1.0");

      assertThat(p.state().code()).isEqualTo("failed");
      assertThat(p.sentence())
          .isEqualTo(
              "Rows of fares.crossing_rate at the site have the same key (route, season, price), so it cannot be told which of them is meant."
                  + " Next: Leave one of each there. They are found by: SELECT route, season, price"
                  + " FROM fares.crossing_rate GROUP BY route, season, price HAVING count(*) > 1");
    }
  }
}
