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

/** Rows that have a label since which the version that one goes back to does not know. */
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
}
