package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.util.List;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import plenzo.core.plan.Plan;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.engine.returning.Rollbacks;

/** Rows that have a value since which a type of the version that one goes back to does not know. */
class LabelsOnPostgresTest extends OnPostgres {
  private static final String LAID =
      "CREATE TYPE fares.sea AS ENUM ('calm', 'rough');"
          + "CREATE TABLE fares.crossing (id integer PRIMARY KEY, sea fares.sea, seen fares.sea NOT NULL DEFAULT 'calm', all_of fares.sea[]);"
          + "CREATE TABLE fares.report (id integer PRIMARY KEY, sea fares.sea NOT NULL, crossing integer REFERENCES fares.crossing);"
          + "INSERT INTO fares.crossing VALUES (1, 'calm', 'rough', '{calm}')";

  LabelsOnPostgresTest() {
    super("labels");
  }

  @ParameterizedTest
  @EnumSource(names = {"BACKUP", "EARLIER_VERSION"})
  void areCountedAsLossAndCloseNoWay(Plan.Way way) throws IOException {
    databases.lay(LAID);
    try (EngineWorld world = engine()) {
      world.adopt(List.of("type/fares.sea", "table/fares.crossing", "table/fares.report"));
      databases.as("development", "ALTER TYPE fares.sea ADD VALUE 'storm'");
      world.sealStructures("1.1.0");
      world.bring("1.1.0");
      databases.as(
          "production",
          "INSERT INTO fares.crossing VALUES (2, 'storm', 'rough', '{calm}'), (3, 'calm', 'storm', NULL), (4, 'rough', 'rough', '{calm,storm}');"
              + "INSERT INTO fares.report VALUES (1, 'rough', 1), (2, 'storm', 2)");

      Rollbacks.Option option = world.way(way);

      assertThat(option.possible()).as(String.valueOf(option)).isTrue();
      assertThat(option.lost()).isEqualTo(4);
      Run back = world.run(world.compared(world.goBack(option).number()));
      assertThat(back.state()).as(back.sentence()).isEqualTo(RunState.DONE);
      assertThat(cluster.query("production", "SELECT enum_range(NULL::fares.sea)"))
          .containsExactly("{calm,rough}");
      assertThat(cluster.query("production", "SELECT * FROM fares.crossing ORDER BY id"))
          .containsExactly(
              "1|calm|rough|{calm}",
              "2|null|rough|{calm}",
              "3|calm|calm|null",
              "4|rough|rough|null");
      assertThat(cluster.query("production", "SELECT * FROM fares.report ORDER BY id"))
          .as("one with a label that it must have and none else goes")
          .containsExactly("1|rough|1");
    }
  }

  private static final String PLACES =
      "CREATE TYPE fares.place AS (city text, zone integer);"
          + "CREATE DOMAIN fares.price AS numeric(8,2) CONSTRAINT most CHECK (VALUE < 100);"
          + "CREATE TABLE fares.stop (id integer PRIMARY KEY, at fares.place, price fares.price NOT NULL DEFAULT 5, again fares.price);"
          + "INSERT INTO fares.stop VALUES (1, ROW('Brack', 7), 20, 30)";

  /** Attributes that came, other types of theirs, and what a domain did not allow before. */
  @ParameterizedTest
  @EnumSource(names = {"BACKUP", "EARLIER_VERSION"})
  void soAreAttributesAndWhatADomainAllowsSince(Plan.Way way) throws IOException {
    databases.lay(PLACES);
    try (EngineWorld world = engine()) {
      world.adopt(List.of("type/fares.place", "type/fares.price", "table/fares.stop"));
      databases.as(
          "development",
          "DROP TABLE fares.stop; DROP TYPE fares.place; CREATE TYPE fares.place AS (zone text, pier text, city text);"
              + "ALTER DOMAIN fares.price DROP CONSTRAINT most;"
              + "CREATE TABLE fares.stop (id integer PRIMARY KEY, at fares.place, price fares.price NOT NULL DEFAULT 5, again fares.price)");
      world.sealStructures("1.1.0");
      world.bring("1.1.0");
      assertThat(cluster.query("production", "SELECT * FROM fares.stop"))
          .containsExactly("1|(7,,Brack)|20.00|30.00");
      databases.as(
          "production",
          "INSERT INTO fares.stop VALUES (2, ROW('8', NULL, 'Lund'), 300, 1), (3, ROW('9', 'North', 'Lund'), 3, 200)");

      Rollbacks.Option option = world.way(way);

      assertThat(option.possible()).as(String.valueOf(option)).isTrue();
      assertThat(option.lost()).isEqualTo(3);
      Run back = world.run(world.compared(world.goBack(option).number()));
      assertThat(back.state()).as(back.sentence()).isEqualTo(RunState.DONE);
      assertThat(cluster.query("production", "SELECT * FROM fares.stop ORDER BY id"))
          .containsExactly("1|(Brack,7)|20.00|30.00", "2|(Lund,8)|5.00|1.00", "3|null|3.00|null");
      databases.as("production", "INSERT INTO fares.stop VALUES (4, ROW('Brack', 1), 99.99, 99)");
    }
  }
}
