package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import plenzo.core.impact.Finding;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;

/** Tables that inherit from others, judged by the server's own catalogue and by their rows. */
class InheritanceOnPostgresTest extends OnPostgres {
  private static final String LAID =
      "CREATE TABLE fares.vessel (code text PRIMARY KEY, name text NOT NULL DEFAULT 'nameless', since date, CONSTRAINT named CHECK (name <> ''));"
          + "CREATE TABLE fares.ferry (cars integer DEFAULT 10, PRIMARY KEY (code)) INHERITS (fares.vessel);"
          + "CREATE TABLE fares.barge (tons numeric, PRIMARY KEY (code)) INHERITS (fares.vessel);"
          + "ALTER TABLE fares.barge ALTER COLUMN name SET DEFAULT 'barge';"
          + "INSERT INTO fares.vessel VALUES ('a', 'Anna', '2020-01-01'), ('b', 'Bo', NULL);"
          + "INSERT INTO fares.ferry VALUES ('a', 'Ferry Anna', '2021-01-01', 20), ('f', 'Fee', NULL, 30);"
          + "INSERT INTO fares.barge VALUES ('g', 'Gus', NULL, 1.50)";
  private static final List<String> ALL = EngineWorld.both("vessel", "ferry", "barge");

  InheritanceOnPostgresTest() {
    super("inheritance");
  }

  @BeforeEach
  void world() {
    databases.lay(LAID);
  }

  /** Columns with where they come from, checks, parents, and rows of each table by itself. */
  private List<String> state(String stage) {
    List<String> out =
        new java.util.ArrayList<>(
            cluster.query(
                stage,
                """
                SELECT * FROM (
                SELECT c.relname || ' ' || a.attname || ' ' || format_type(a.atttypid, a.atttypmod) || CASE WHEN a.attnotnull THEN ' not null' ELSE '' END
                  || coalesce(' default ' || pg_get_expr(d.adbin, d.adrelid), '') || CASE WHEN a.attislocal THEN ' local' ELSE '' END || ' ' || a.attinhcount AS line
                FROM pg_class c JOIN pg_attribute a ON a.attrelid = c.oid AND a.attnum > 0 AND NOT a.attisdropped LEFT JOIN pg_attrdef d ON d.adrelid = c.oid AND d.adnum = a.attnum
                WHERE c.relnamespace = 'fares'::regnamespace AND c.relkind = 'r'
                UNION ALL SELECT conrelid::regclass || ' ' || conname || ' ' || pg_get_constraintdef(oid) || CASE WHEN conislocal THEN ' local' ELSE '' END || ' ' || coninhcount FROM pg_constraint WHERE connamespace = 'fares'::regnamespace
                UNION ALL SELECT inhrelid::regclass || ' from ' || inhparent::regclass || ' ' || inhseqno FROM pg_inherits
                ) x ORDER BY 1
                """));
    for (String table :
        cluster.query(
            stage,
            "SELECT relname FROM pg_class WHERE relnamespace = 'fares'::regnamespace AND relkind = 'r' ORDER BY 1")) {
      cluster
          .query(stage, "SELECT t::text FROM ONLY fares." + table + " t ORDER BY 1")
          .forEach(row -> out.add(table + " " + row));
    }
    return out;
  }

  private void change(String sql) {
    databases.as("development", sql);
  }

  @Test
  void eachHasItsOwnRowsAndNobodyElses() throws IOException {
    try (EngineWorld world = engine()) {
      world.adopt(ALL);
      change(
          "UPDATE ONLY fares.vessel SET name = 'Anna II' WHERE code = 'a'; DELETE FROM ONLY fares.vessel WHERE code = 'b';"
              + "INSERT INTO fares.vessel VALUES ('f', 'Not the ferry', NULL); UPDATE fares.ferry SET cars = 21 WHERE code = 'a'");
      world.sealEverything("1.1.0");

      world.bring("1.1.0");

      assertThat(state("production")).isEqualTo(state("development"));
      assertThat(state("production"))
          .contains(
              "vessel (a,\"Anna II\",2020-01-01)",
              "ferry (a,\"Ferry Anna\",2021-01-01,21)",
              "ferry (f,Fee,,30)",
              "vessel (f,\"Not the ferry\",)");
    }
  }

  @ParameterizedTest
  @EnumSource(names = "EARLIER_VERSION")
  void whatIsDoneToOneIsDoneToThoseBelowAndGoesBack(Plan.Way way) throws IOException {
    try (EngineWorld world = engine()) {
      world.adopt(ALL);
      List<String> before = state("production");
      change(
          "ALTER TABLE fares.vessel ADD COLUMN flag text DEFAULT 'none', DROP COLUMN since, ALTER COLUMN name TYPE varchar(60), DROP CONSTRAINT named;"
              + "ALTER TABLE fares.vessel ADD CONSTRAINT flagged CHECK (flag <> '-');"
              + "ALTER TABLE fares.vessel ALTER COLUMN flag SET NOT NULL;"
              + "ALTER TABLE ONLY fares.vessel ALTER COLUMN name SET DEFAULT 'unknown';"
              + "ALTER TABLE fares.ferry ADD COLUMN deck integer; COMMENT ON COLUMN fares.ferry.name IS 'As painted'");
      world.sealEverything("1.1.0");

      world.bring("1.1.0");

      assertThat(state("production")).isEqualTo(state("development"));
      databases.as("production", "UPDATE fares.ferry SET deck = 3 WHERE code = 'f'");
      world.back(way);
      assertThat(bare(state("production"))).isEqualTo(bare(before));
    }
  }

  @Tag("nightly")
  @ParameterizedTest
  @EnumSource(names = "BACKUP")
  void whatIsDoneToOneIsDoneToThoseBelowAndGoesBackByTheOtherWay(Plan.Way way) throws IOException {
    whatIsDoneToOneIsDoneToThoseBelowAndGoesBack(way);
  }

  /** Without where a column is declared, and its place: what came back stands behind the others. */
  private static List<String> bare(List<String> state) {
    return state.stream()
        .map(s -> s.replace(" local", ""))
        .map(s -> s.contains("(") && s.endsWith(")") && !s.contains("CHECK") ? values(s) : s)
        .toList();
  }

  private static String values(String row) {
    int at = row.indexOf('(');
    return row.substring(0, at)
        + java.util.Arrays.stream(row.substring(at + 1, row.length() - 1).split(",", -1))
            .sorted()
            .toList();
  }

  @Test
  void newTablesOfAFamilyComeInTheirOrderAndGoAgain() throws IOException {
    try (EngineWorld world = engine()) {
      world.adopt(ALL);
      List<String> before = state("production");
      change(
          "CREATE TABLE fares.asset (id integer, note text DEFAULT 'asset' NOT NULL, CONSTRAINT noted CHECK (note <> ''));"
              + "CREATE TABLE fares.tug (power integer, PRIMARY KEY (code)) INHERITS (fares.vessel, fares.asset);"
              + "CREATE TABLE fares.harbour_tug (harbour text) INHERITS (fares.tug);"
              + "ALTER TABLE fares.harbour_tug ALTER COLUMN note SET DEFAULT 'harbour', ALTER COLUMN name DROP DEFAULT;"
              + "COMMENT ON COLUMN fares.harbour_tug.code IS 'As at the harbour';"
              + "CREATE TABLE fares.lighter (tons numeric, since date, name text NOT NULL, code text DEFAULT 'l') INHERITS (fares.vessel);"
              + "CREATE TABLE fares.wreck (depth integer, code text NOT NULL, name text NOT NULL DEFAULT 'nameless', since date, CONSTRAINT named CHECK (name <> ''));"
              + "ALTER TABLE fares.wreck INHERIT fares.vessel;"
              + "INSERT INTO fares.tug VALUES ('t', 'Tug', NULL, 1, 'n', 900); INSERT INTO fares.harbour_tug VALUES ('h', 'Harry', NULL, 2, 'm', 500, 'north')");
      world.sealEverything("1.1.0");

      world.bring("1.1.0");

      assertThat(state("production")).isEqualTo(state("development"));
      world.back(Plan.Way.BACKUP);
      assertThat(state("production")).isEqualTo(before);
    }
  }

  @Test
  void oneThatTheVersionDoesNotHaveFollowsAndIsSaid() throws IOException {
    databases.as(
        "production",
        "CREATE TABLE fares.raft (logs integer) INHERITS (fares.ferry); ALTER TABLE fares.raft ADD PRIMARY KEY (code); INSERT INTO fares.raft VALUES ('r', 'Raft', '2022-02-02', 1, 4)");
    try (EngineWorld world = engine()) {
      world.adopt(ALL);
      change("ALTER TABLE fares.vessel DROP COLUMN since, ADD COLUMN flag text DEFAULT 'none'");
      world.sealEverything("1.1.0");

      Promotion p = world.promotion("1.1.0");
      assertThat(p.findings())
          .filteredOn(f -> f.rule().equals("column-dropped"))
          .extracting(Finding::place)
          .contains("table/fares.raft#column/since");
      Run run = world.run(p);

      assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
      assertThat(state("production")).contains("raft (r,Raft,1,4,none)");
      world.back(Plan.Way.BACKUP);
      assertThat(cluster.query("production", "SELECT code, since FROM fares.raft"))
          .containsExactly("r|2022-02-02");
    }
  }

  @Test
  void aTableJoinsAnotherAndLeavesIt() throws IOException {
    try (EngineWorld world = engine()) {
      world.adopt(ALL);
      List<String> before = state("production");
      change(
          "ALTER TABLE fares.barge NO INHERIT fares.vessel; ALTER TABLE fares.barge DROP COLUMN since;"
              + "CREATE TABLE fares.hull (code text NOT NULL); ALTER TABLE fares.barge INHERIT fares.hull");
      world.sealEverything("1.1.0");

      world.bring("1.1.0");

      assertThat(bare(state("production"))).isEqualTo(bare(state("development")));
      world.back(Plan.Way.EARLIER_VERSION);
      assertThat(bare(state("production"))).isEqualTo(bare(before));
    }
  }

  @Test
  void aColumnGetsAnotherNameInAllOfThem() throws IOException {
    try (EngineWorld world = engine()) {
      world.adopt(ALL);
      change("ALTER TABLE fares.vessel RENAME COLUMN name TO title");
      world.sealEverything("1.1.0");

      world.bring("1.1.0");

      assertThat(state("production")).isEqualTo(state("development"));
    }
  }

  @ParameterizedTest
  @EnumSource(names = {"EARLIER_VERSION", "BACKUP"})
  void whatGoesComesBackWithItsColumnsAsTheyStood(Plan.Way way) throws IOException {
    databases.lay(
        LAID
            + ";CREATE TABLE fares.lighter (tons numeric, since date, code text DEFAULT 'l') INHERITS (fares.vessel);"
            + "CREATE TABLE fares.pier (name text, place text, berth integer PRIMARY KEY, depth integer);"
            + "INSERT INTO fares.lighter VALUES ('l', 'Lis', NULL, 3); INSERT INTO fares.pier VALUES ('North', 'Morrowick', 1, 9)");
    try (EngineWorld world = engine()) {
      List<String> all =
          new java.util.ArrayList<>(EngineWorld.both("vessel", "ferry", "barge", "pier"));
      all.add("table/fares.lighter");
      all.add("records/fares.lighter");
      world.adopt(all);
      List<String> before = state("production");
      List<String> places = places("production");
      change("DROP TABLE fares.lighter, fares.pier; UPDATE fares.ferry SET cars = 31");
      world.sealEverything("1.1.0");
      world.bring("1.1.0");

      world.back(way);

      assertThat(state("production")).isEqualTo(before);
      assertThat(places("production")).isEqualTo(places);
    }
  }

  private List<String> places(String stage) {
    return cluster.query(
        stage,
        "SELECT c.relname || ' ' || string_agg(a.attname, ' ' ORDER BY a.attnum) FROM pg_class c JOIN pg_attribute a ON a.attrelid = c.oid AND a.attnum > 0 AND NOT a.attisdropped"
            + " WHERE c.relnamespace = 'fares'::regnamespace AND c.relkind = 'r' GROUP BY c.relname ORDER BY 1");
  }

  /** No statement changes either of an older table: both are said beside "already equal". */
  @Test
  void howColumnsStandIsSaidWhereItIsOtherwise() throws IOException {
    databases.as(
        "production",
        "CREATE TABLE fares.lighter (tons numeric, since date) INHERITS (fares.vessel);"
            + "CREATE TABLE fares.pier (berth integer PRIMARY KEY, name text, place text)");
    databases.as(
        "development",
        "CREATE TABLE fares.lighter (tons numeric, name text NOT NULL) INHERITS (fares.vessel);"
            + "CREATE TABLE fares.pier (name text, place text, berth integer PRIMARY KEY)");
    try (EngineWorld world = engine()) {
      world.adopt(ALL);
      change("ALTER TABLE fares.pier ADD COLUMN depth integer");
      world.seal("1.1.0", List.of("table/fares.lighter", "table/fares.pier"));

      Promotion p = world.promotion("1.1.0");

      assertThat(p.findings())
          .filteredOn(f -> f.rule().endsWith("-otherwise"))
          .extracting(f -> f.severity() + " " + f.place() + " " + f.sentence())
          .containsExactlyInAnyOrder(
              "NOTE table/fares.pier The columns of fares.pier stand in another order here than in what comes: berth, name, place, depth instead of name, place, berth, depth. No statement changes that: it stays.",
              "NOTE table/fares.lighter Here fares.lighter declares the inherited column since itself too; in what comes it has it by inheriting alone. No statement changes that: it stays.",
              "NOTE table/fares.lighter In what comes fares.lighter declares the inherited column name itself too; here it has it by inheriting alone. No statement changes that: it stays.");
      Run run = world.run(p);
      assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
    }
  }

  /** The structure is the same as in the version: the order alone is not, a rename is none. */
  @Test
  void aDraftSaysThatColumnsStandOtherwise() throws IOException {
    for (String database : List.of("development", "production")) {
      databases.as(
          database, "CREATE TABLE fares.pier (berth integer PRIMARY KEY, name text, place text)");
    }
    try (EngineWorld world = engine()) {
      world.adopt(EngineWorld.both("pier"));
      change("ALTER TABLE fares.pier RENAME COLUMN place TO quay");
      assertThat(otherwise(world)).as("renamed alone").isEmpty();

      change(
          "ALTER TABLE fares.pier DROP COLUMN name; ALTER TABLE fares.pier ADD COLUMN name text");

      assertThat(otherwise(world))
          .containsExactly(
              "NOTE table/fares.pier The columns of fares.pier stand in another order at the source than in 1.0.0: berth, quay, name instead of berth, name, quay. No statement changes that: sites that have the table keep the order that they have.");
    }
  }

  private static List<String> otherwise(EngineWorld world) {
    return world.checked("table/fares.pier").findings().stream()
        .filter(f -> f.rule().equals("columns-otherwise"))
        .map(f -> f.severity() + " " + f.place() + " " + f.sentence())
        .toList();
  }
}
