package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.impact.Finding;
import plenzo.core.locking.Hold;
import plenzo.core.locking.TableLock;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;

/** What a plan says of its locks, and what its run does beside running work, on a real database. */
class BesideOnPostgresTest extends OnPostgres {
  private static final List<String> TABLES =
      List.of("table/fares.zone", "table/fares.trip", "records/fares.zone");
  private static final String BASE =
      "CREATE TABLE fares.zone (code integer PRIMARY KEY);"
          + "CREATE TABLE fares.trip (id integer PRIMARY KEY, zone integer, note text);"
          + "INSERT INTO fares.zone SELECT generate_series(1, 3000)";

  BesideOnPostgresTest() {
    super("beside");
  }

  @BeforeEach
  void world() {
    databases.lay(BASE);
  }

  private void trips(int from, int until) {
    databases.as(
        "production",
        "INSERT INTO fares.trip SELECT i, 1 + i % 100, repeat('x', 90) FROM generate_series("
            + from
            + ", "
            + until
            + ") i");
  }

  private Promotion planned(EngineWorld world, String version) {
    world.adopt(TABLES);
    databases.as("development", version);
    world.seal("1.1.0", TABLES);
    return world.promotion("1.1.0");
  }

  private List<String> indexes() {
    return cluster.query(
        "production",
        "SELECT indexname FROM pg_indexes WHERE schemaname = 'fares' ORDER BY indexname");
  }

  @Test
  void aLargeIndexIsBuiltBeforeAndALargeTableLookedAtAfter() throws IOException {
    trips(1, 290_000);
    try (EngineWorld world = engine()) {
      Promotion p =
          planned(
              world,
              "CREATE INDEX trip_zone ON fares.trip (zone);"
                  + " ALTER TABLE fares.trip ADD CONSTRAINT trip_in FOREIGN KEY (zone) REFERENCES fares.zone;"
                  + " ALTER TABLE fares.trip ALTER note SET NOT NULL");

      assertThat(p.plan().locked().tables())
          .containsExactly(
              new TableLock("fares.trip", Hold.EVERYTHING, List.of("its structure changes")),
              new TableLock(
                  "fares.zone", Hold.WRITES, List.of("fares.trip points at it from now on")));
      assertThat(p.plan().locked().millis()).isLessThan(1000);
      assertThat(p.plan().steps())
          .extracting(s -> s.what())
          .anyMatch(
              w -> w.endsWith("build the index trip_zone of fares.trip while people go on working"))
          .anyMatch(
              w ->
                  w.startsWith(
                      "Look, while people go on working, whether trip_in holds for all rows of fares.trip"))
          .anyMatch(w -> w.contains("whether note has a value in all rows of fares.trip"));

      Run run = world.run(p);

      assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
      assertThat(indexes()).containsExactly("trip_pkey", "trip_zone", "zone_pkey");
      assertThat(
              cluster.query(
                  "production", "SELECT convalidated FROM pg_constraint WHERE conname = 'trip_in'"))
          .containsExactly("t");
      assertThat(
              cluster.query(
                  "production",
                  "SELECT attnotnull, (SELECT count(*) FROM pg_constraint WHERE conname LIKE 'plenzo%') FROM pg_attribute WHERE attrelid = 'fares.trip'::regclass AND attname = 'note'"))
          .containsExactly("t|0");
    }
  }

  @Test
  void rowsThatOthersMayPointAtAreSaidWithTheirTimeAndGoSetBySet() throws IOException {
    for (String stage : List.of("production", "development")) {
      databases.as(
          stage,
          "ALTER TABLE fares.trip ADD CONSTRAINT trip_in FOREIGN KEY (zone) REFERENCES fares.zone");
    }
    trips(1, 70_000);
    try (EngineWorld world = engine()) {
      world.adopt(TABLES);
      databases.as("development", "DELETE FROM fares.zone WHERE code > 2200");
      world.seal("1.1.0", TABLES);
      Promotion p = world.promotion("1.1.0");

      assertThat(p.findings()).extracting(Finding::rule).contains("check-without-index");

      Run run = world.run(p);

      assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
      assertThat(cluster.query("production", "SELECT count(*) FROM fares.zone"))
          .containsExactly("2200");
      assertThat(indexes()).containsExactly("trip_pkey", "zone_pkey");
    }
  }
}
