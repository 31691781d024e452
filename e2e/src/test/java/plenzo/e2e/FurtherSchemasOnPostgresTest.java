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
import org.junit.jupiter.params.provider.ValueSource;
import plenzo.core.plan.Plan;
import plenzo.core.version.SemVer;
import plenzo.core.version.VersionHead;
import plenzo.engine.setup.Applications;

/** An application in several schemas of its database, one of them with an odd name. */
class FurtherSchemasOnPostgresTest extends OnPostgres {
  private static final String ODD = "Fares \"of\" old.";
  private static final String QUOTED = "\"Fares \"\"of\"\" old.\"";
  private static final String LAID =
      "CREATE TABLE fares.line (code text PRIMARY KEY, name text);"
          + "INSERT INTO fares.line VALUES ('n', 'North'), ('s', 'South');"
          + "CREATE TABLE @.line (code text PRIMARY KEY, was text REFERENCES fares.line);"
          + "INSERT INTO @.line VALUES ('old n', 'n');"
          + "CREATE TABLE @.kept (id integer PRIMARY KEY, note text)";

  FurtherSchemasOnPostgresTest() {
    super("further-schemas");
  }

  @BeforeEach
  void world() {
    databases.lay("");
    for (String stage : List.of("development", "production")) {
      cluster.sql(
          stage,
          "DROP SCHEMA IF EXISTS "
              + QUOTED
              + " CASCADE; CREATE SCHEMA "
              + QUOTED
              + " AUTHORIZATION "
              + stage
              + "_change; GRANT USAGE ON SCHEMA "
              + QUOTED
              + " TO "
              + stage
              + "_look; ALTER DEFAULT PRIVILEGES FOR ROLE "
              + stage
              + "_change IN SCHEMA "
              + QUOTED
              + " GRANT SELECT ON TABLES TO "
              + stage
              + "_look");
      databases.as(stage, LAID.replace("@", QUOTED));
    }
  }

  private static void further(EngineWorld world, String... schemas) {
    world
        .engine
        .applications()
        .change(
            world.ines,
            "fares",
            new Applications.Facts(null, null, null, null, null, null, null, List.of(schemas)),
            null);
  }

  private List<String> state(String stage) {
    return cluster.query(
        stage,
        "SELECT n.nspname || ' ' || c.relname || ' ' || a.attname || ' ' || format_type(a.atttypid, a.atttypmod) FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace JOIN pg_attribute a ON a.attrelid = c.oid AND a.attnum > 0 AND NOT a.attisdropped WHERE c.relkind IN ('r', 'v') AND n.nspname ILIKE 'fares%' ORDER BY 1");
  }

  @ParameterizedTest
  @EnumSource(names = "EARLIER_VERSION")
  void isOneVersionOfAllOfThemAndGoesBack(Plan.Way way) throws IOException {
    try (EngineWorld world = engine()) {
      further(world, ODD);
      assertThat(world.everything(EngineMain.SITE))
          .contains("table/fares.line", "table/\"" + ODD.replace("\"", "\"\"") + "\".line");
      world.adopt(world.everything(EngineMain.SITE));
      List<String> before = state("production");
      databases.as(
          "development",
          ("ALTER TABLE @.line ADD COLUMN since date DEFAULT '2020-01-01'; INSERT INTO fares.line VALUES ('e', 'East'); INSERT INTO @.line VALUES ('old e', 'e', NULL);"
                  + "CREATE VIEW @.all_lines AS SELECT code FROM fares.line UNION ALL SELECT code FROM @.line; ALTER TABLE fares.line ADD COLUMN colour text")
              .replace("@", QUOTED));
      world.sealEverything("1.1.0");
      VersionHead v = world.engine.versions().head(world.ines, "fares", new SemVer("1.1.0"));
      assertThat(v.coverage().get(0)).isEqualTo("4 of 4 things in the schemas fares and " + ODD);

      world.bring("1.1.0");
      assertThat(state("production")).isEqualTo(state("development"));
      assertThat(
              cluster.query(
                  "production", "SELECT code, was, since FROM " + QUOTED + ".line ORDER BY 1"))
          .containsExactly("old e|e|null", "old n|n|2020-01-01");
      world.back(way);
      assertThat(state("production")).isEqualTo(before);
      assertThat(cluster.query("production", "SELECT code FROM " + QUOTED + ".line"))
          .containsExactly("old n");
    }
  }

  @Tag("nightly")
  @ParameterizedTest
  @EnumSource(names = "BACKUP")
  void isOneVersionOfAllOfThemAndGoesBackByTheOtherWay(Plan.Way way) throws IOException {
    isOneVersionOfAllOfThemAndGoesBack(way);
  }

  /** A routine, a type and a table that nothing of the plan touches, in a schema of nobody too. */
  @ParameterizedTest
  @ValueSource(booleans = {true, false})
  void aBackupIsProvenThatIsBuiltOnAnotherSchema(boolean own) throws IOException {
    for (String stage : List.of("development", "production")) {
      databases.as(
          stage,
          ("CREATE TYPE @.tone AS ENUM ('calm'); CREATE FUNCTION @.half(integer) RETURNS integer LANGUAGE sql IMMUTABLE AS 'SELECT $1 / 2';"
                  + "CREATE TABLE fares.fee (id integer PRIMARY KEY, amount integer CHECK (@.half(amount) > 0), tone @.tone DEFAULT 'calm');"
                  + "CREATE VIEW fares.fees AS SELECT f.id, @.half(f.amount) AS half, k.note FROM fares.fee f LEFT JOIN @.kept k USING (id); INSERT INTO fares.fee VALUES (1, 8)")
              .replace("@", QUOTED));
    }
    try (EngineWorld world = engine()) {
      if (own) {
        further(world, ODD);
      }
      world.adopt(world.structures(EngineMain.SITE));
      databases.as(
          "development",
          "DROP VIEW fares.fees; ALTER TABLE fares.fee ALTER id TYPE bigint; CREATE VIEW fares.fees AS SELECT id, amount FROM fares.fee");
      world.sealStructures("1.1.0");

      world.bring("1.1.0");
      world.back(Plan.Way.BACKUP);

      assertThat(cluster.query("production", "SELECT half FROM fares.fees")).containsExactly("4");
    }
  }

  @Test
  void aTablePulledAlongMayStandInAnyOfThem() throws IOException {
    try (EngineWorld world = engine()) {
      further(world, ODD);
      world.adopt(List.of("table/fares.line"));
      databases.as(
          "development",
          "CREATE TABLE fares.new (code text PRIMARY KEY, was text REFERENCES "
              + QUOTED
              + ".line)");

      assertThat(world.seal("1.1.0", List.of("table/fares.new")).entries())
          .extracting(e -> e.key().toString())
          .contains("table/\"" + ODD.replace("\"", "\"\"") + "\".line");
    }
  }

  @ParameterizedTest
  @EnumSource(names = "BACKUP")
  void aTableThatMovesTakesItsRowsAlongAndComesBack(Plan.Way way) throws IOException {
    for (String stage : List.of("development", "production")) {
      databases.as(
          stage,
          "CREATE TABLE fares.trip (id serial PRIMARY KEY, line text REFERENCES fares.line, seats integer CHECK (seats > 0));"
              + "CREATE INDEX seats ON fares.trip (seats); INSERT INTO fares.trip (line, seats) VALUES ('n', 5), ('s', 6);"
              + "CREATE FUNCTION fares.stamp() RETURNS trigger LANGUAGE plpgsql AS 'BEGIN RETURN NEW; END';"
              + "CREATE TRIGGER stamped BEFORE UPDATE ON fares.trip FOR EACH ROW EXECUTE FUNCTION fares.stamp();"
              + "CREATE VIEW fares.trips AS SELECT id, seats FROM fares.trip");
    }
    try (EngineWorld world = engine()) {
      further(world, ODD);
      world.adopt(world.everything(EngineMain.SITE));
      List<String> before = state("production");
      databases.as(
          "development",
          ("ALTER TABLE fares.trip SET SCHEMA @; ALTER TABLE @.trip RENAME TO journey; ALTER TABLE @.journey ADD COLUMN note text; ALTER TABLE @.journey RENAME COLUMN seats TO places;"
                  + "CREATE TABLE fares.seat (trip integer REFERENCES @.journey)")
              .replace("@", QUOTED));
      world.sealEverything("1.1.0");

      world.bring("1.1.0");
      assertThat(state("production")).isEqualTo(state("development"));
      databases.as(
          "production", "INSERT INTO " + QUOTED + ".journey (line, places) VALUES ('n', 7)");
      assertThat(
              cluster.query(
                  "production", "SELECT id, line, places FROM " + QUOTED + ".journey ORDER BY 1"))
          .containsExactly("1|n|5", "2|s|6", "3|n|7");
      world.back(way);
      assertThat(state("production")).isEqualTo(before);
      assertThat(cluster.query("production", "SELECT id, seats FROM fares.trips ORDER BY 1"))
          .startsWith("1|5", "2|6");
    }
  }

  @Tag("nightly")
  @ParameterizedTest
  @EnumSource(names = "EARLIER_VERSION")
  void aTableThatMovesTakesItsRowsAlongAndComesBackByTheOtherWay(Plan.Way way) throws IOException {
    aTableThatMovesTakesItsRowsAlongAndComesBack(way);
  }

  @Test
  void eachSchemaBelongsToOneApplication() throws IOException {
    try (EngineWorld world = engine()) {
      further(world, ODD, "fares_history");
      assertThatThrownBy(
              () ->
                  world
                      .engine
                      .applications()
                      .register(
                          world.ines, "history", "History", "Desk", "fares_history", "ordinary"))
          .hasMessageContaining("The name space fares_history is that of fares");
      assertThatThrownBy(() -> further(world, "plenzo")).hasMessageContaining("no further schema");
      further(world);
      assertThat(world.everything(EngineMain.SITE))
          .noneMatch(component -> component.contains("old."));
    }
  }
}
