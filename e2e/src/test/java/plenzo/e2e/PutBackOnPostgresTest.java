package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import plenzo.core.drift.PutBack;
import plenzo.core.impact.Finding;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.stage.Condition;

/**
 * Hand edits of a real database are put back by a plan: afterwards the catalogue and the rows,
 * asked from outside, are what they were before; and the backup of that run brings the edits again.
 */
class PutBackOnPostgresTest extends OnPostgres {
  private static final List<String> CARRIED = EngineWorld.both("band", "fare");

  PutBackOnPostgresTest() {
    super("put-back");
  }

  @BeforeEach
  void world() {
    databases.lay(
        "CREATE TABLE fares.band (code text PRIMARY KEY, name text NOT NULL DEFAULT 'unnamed', zone integer CHECK (zone > 0));"
            + "CREATE TABLE fares.fare (id integer PRIMARY KEY, band text NOT NULL REFERENCES fares.band, price numeric(6,2) NOT NULL);"
            + "CREATE INDEX fare_band ON fares.fare (band);"
            + "CREATE TABLE fares.booking (id integer PRIMARY KEY, fare integer REFERENCES fares.fare);"
            + "INSERT INTO fares.band VALUES ('FOOT', 'Foot', 1), ('CAR', 'Car', 2), ('VAN', 'Van', 2);"
            + "INSERT INTO fares.fare VALUES (1, 'FOOT', 3.50), (2, 'CAR', 24.00), (3, 'CAR', 30.00);"
            + "INSERT INTO fares.booking VALUES (1, 1), (2, 2)");
  }

  /** Columns, constraints, indexes and rows of the two tables, as the server tells them. */
  private List<String> state() {
    return cluster.query(
        "production",
        "SELECT 'column ' || table_name || '.' || column_name || ' ' || data_type || ' ' || is_nullable || ' ' || coalesce(column_default, '-')"
            + " FROM information_schema.columns WHERE table_schema = 'fares' AND table_name IN ('band', 'fare')"
            + " UNION ALL SELECT 'constraint ' || conname || ' ' || pg_get_constraintdef(oid) FROM pg_constraint WHERE connamespace = 'fares'::regnamespace AND contype <> 'n' AND conrelid IN ('fares.band'::regclass, 'fares.fare'::regclass)"
            + " UNION ALL SELECT 'index ' || indexdef FROM pg_indexes WHERE schemaname = 'fares' AND tablename IN ('band', 'fare')"
            + " UNION ALL SELECT 'row ' || b.* FROM fares.band b UNION ALL SELECT 'row ' || f.* FROM fares.fare f ORDER BY 1");
  }

  private static Promotion putBack(EngineWorld world, PutBack what) {
    return world.compared(
        world.engine.promotions().putBack(world.ines, "fares", EngineMain.SITE, what, "").number());
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "UPDATE fares.band SET zone = NULL, name = 'é\"\\,' || chr(10) WHERE code = 'CAR'",
        "ALTER TABLE fares.fare DROP COLUMN price",
        "ALTER TABLE fares.fare DROP CONSTRAINT fare_band_fkey; DELETE FROM fares.band WHERE code = 'CAR'",
        "DELETE FROM fares.fare WHERE id = 3; ALTER TABLE fares.band RENAME COLUMN zone TO area; ALTER TABLE fares.band DROP COLUMN area; DROP INDEX fares.fare_band; UPDATE fares.band SET name = 'x'"
      })
  void isAfterwardsWhatItWasBefore(String edit) throws IOException {
    try (EngineWorld world = engine()) {
      world.adopt(CARRIED);
      List<String> before = state();
      databases.as("production", edit);
      List<String> edited = state();
      assertThat(edited).isNotEqualTo(before);
      assertThat(world.engine.drift().look(world.ines, "fares", EngineMain.SITE).condition())
          .isEqualTo(Condition.DRIFTED);

      Promotion p = putBack(world, PutBack.ALL);

      assertThat(p.findings()).noneMatch(f -> f.severity() == Finding.Severity.BLOCKER);
      Run run = world.run(p);
      assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
      assertThat(state()).isEqualTo(before);
      assertThat(world.engine.standing().record(world.ines, "fares", EngineMain.SITE).condition())
          .isEqualTo(Condition.GOOD);
      Run back = world.run(world.compared(world.goBack(world.way(Plan.Way.BACKUP)).number()));
      assertThat(back.state()).as(back.sentence()).isEqualTo(RunState.DONE);
      assertThat(state()).as("the edits are not lost").isEqualTo(edited);
    }
  }

  @Tag("nightly")
  @ParameterizedTest
  @ValueSource(
      strings = {
        "UPDATE fares.fare SET price = 9.99 WHERE id = 2",
        "DELETE FROM fares.fare WHERE id = 3",
        "ALTER TABLE fares.band ALTER name DROP DEFAULT, ALTER name DROP NOT NULL",
        "ALTER TABLE fares.band DROP CONSTRAINT band_zone_check",
        "DROP INDEX fares.fare_band",
        "ALTER TABLE fares.fare ALTER price TYPE numeric(8,3)"
      })
  void isAfterwardsWhatItWasBeforeInFurtherCases(String edit) throws IOException {
    isAfterwardsWhatItWasBefore(edit);
  }

  @Test
  void whatIsOnlyThereStaysUntilItIsNamed() throws IOException {
    try (EngineWorld world = engine()) {
      world.adopt(CARRIED);
      List<String> before = state();
      databases.as(
          "production",
          "INSERT INTO fares.band VALUES ('BIKE', 'Bike', 1); ALTER TABLE fares.band ADD COLUMN note text; CREATE INDEX by_zone ON fares.band (zone); UPDATE fares.fare SET price = 1 WHERE id = 1");
      world.engine.drift().look(world.ines, "fares", EngineMain.SITE);

      assertThat(world.run(putBack(world, PutBack.ALL)).state()).isEqualTo(RunState.DONE);

      assertThat(cluster.query("production", "SELECT price FROM fares.fare WHERE id = 1"))
          .containsExactly("3.50");
      assertThat(cluster.query("production", "SELECT note FROM fares.band WHERE code = 'BIKE'"))
          .as("row and column are still there")
          .hasSize(1);
      Set<String> away =
          Set.of(
              "records/fares.band#row/\"BIKE\"",
              "table/fares.band#column/note",
              "table/fares.band#index/by_zone");
      Promotion named = putBack(world, PutBack.of(Set.of(), away));
      assertThat(named.findings()).noneMatch(f -> f.severity() == Finding.Severity.BLOCKER);
      Run run = world.run(named);
      assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
      assertThat(state()).isEqualTo(before);
    }
  }

  /** A row that comes back must fit what people wrote since: the plan says so before it runs. */
  @Test
  void aHandMadeReferenceToWhatGoesIsABlockerBeforeTheRun() throws IOException {
    try (EngineWorld world = engine()) {
      world.adopt(CARRIED);
      databases.as(
          "production",
          "INSERT INTO fares.fare VALUES (9, 'FOOT', 1.00); INSERT INTO fares.booking VALUES (9, 9)");
      world.engine.drift().look(world.ines, "fares", EngineMain.SITE);

      Promotion p = putBack(world, PutBack.of(Set.of(), Set.of("records/fares.fare#row/\"9\"")));

      assertThat(p.findings())
          .filteredOn(f -> f.severity() == Finding.Severity.BLOCKER)
          .extracting(Finding::sentence)
          .singleElement()
          .asString()
          .contains("1 row of fares.booking points at rows that go");
    }
  }
}
