package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.TestInstance;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.testing.Ground;
import plenzo.demo.Cluster;
import plenzo.engine.running.RunListener;

/** Rows whose types come with the very plan that writes them, or are exchanged by it. */
@TestInstance(TestInstance.Lifecycle.PER_CLASS)
class TypesOnPostgresTest {
  private static final Path ROOT = Ground.of("types");
  private static final String BASE =
      "CREATE TYPE fares.vehicle AS ENUM ('car', 'bike');"
          + "CREATE TABLE fares.band (kind fares.vehicle PRIMARY KEY, price integer);"
          + "INSERT INTO fares.band VALUES ('car', 20), ('bike', 3);"
          + "CREATE TABLE fares.berth (id integer PRIMARY KEY, suits fares.vehicle NOT NULL DEFAULT 'car');"
          + "INSERT INTO fares.berth VALUES (1, 'car'), (2, 'bike')";

  private final Started started = new Started();
  private FaresDatabases databases;
  private Cluster cluster;

  @BeforeAll
  void start() throws IOException {
    databases = started.add(new FaresDatabases(ROOT));
    cluster = databases.cluster;
  }

  @AfterAll
  void stop() {
    started.close();
  }

  @BeforeEach
  void world() {
    databases.lay(BASE);
  }

  private List<String> berths() {
    return cluster.query("production", "SELECT id, suits FROM fares.berth ORDER BY id");
  }

  private List<String> bands() {
    return cluster.query("production", "SELECT kind, price FROM fares.band ORDER BY kind");
  }

  @ParameterizedTest
  @EnumSource(names = {"BACKUP", "EARLIER_VERSION"})
  void rowsUseWhatComesWithThemAndGoBack(Plan.Way way) throws IOException {
    try (EngineWorld world =
        new EngineWorld(databases.nextCase(), cluster.port(), RunListener.NOBODY)) {
      world.adopt(
          List.of(
              "type/fares.vehicle",
              "table/fares.band",
              "records/fares.band",
              "table/fares.berth",
              "records/fares.berth"));
      databases.as(
          "development",
          "ALTER TYPE fares.vehicle ADD VALUE 'lorry'; CREATE DOMAIN fares.code AS text CHECK (VALUE <> '')");
      databases.as(
          "development",
          "INSERT INTO fares.band VALUES ('lorry', 90); UPDATE fares.berth SET suits = 'lorry' WHERE id = 2; INSERT INTO fares.berth VALUES (3, 'lorry'); UPDATE fares.band SET price = 4 WHERE kind = 'bike';"
              + "CREATE TABLE fares.zone (code fares.code PRIMARY KEY, allows fares.vehicle[]);"
              + "INSERT INTO fares.zone VALUES ('N', '{car,lorry}'), ('S', NULL)");
      world.sealEverything("1.1.0");
      Promotion p = world.promotion("1.1.0");

      Run run = world.run(p);

      assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
      assertThat(bands()).containsExactly("car|20", "bike|4", "lorry|90");
      assertThat(berths()).containsExactly("1|car", "2|lorry", "3|lorry");
      assertThat(cluster.query("production", "SELECT code, allows FROM fares.zone ORDER BY code"))
          .containsExactly("N|{car,lorry}", "S|null");

      Run back = world.run(world.compared(world.goBack(world.way(way)).number()));

      assertThat(back.state()).as(back.sentence()).isEqualTo(RunState.DONE);
      assertThat(bands()).containsExactly("car|20", "bike|3");
      assertThat(berths()).containsExactly("1|car", "2|bike");
      assertThat(
              cluster.query(
                  "production",
                  "SELECT attnotnull FROM pg_attribute WHERE attrelid = 'fares.berth'::regclass AND attname = 'suits'"))
          .containsExactly("t");
    }
  }
}
