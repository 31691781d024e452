package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;

/** Tables of which an account sees some rows only. */
class RowSecurityOnPostgresTest extends OnPostgres {
  private static final List<String> ALL =
      List.of("table/fares.pass", "records/fares.pass", "policy/fares.pass.own");
  private static final String SECURED =
      "CREATE TABLE fares.pass (id integer PRIMARY KEY, holder text);"
          + "INSERT INTO fares.pass VALUES (1, 'ines'), (2, 'bram');"
          + "CREATE POLICY own ON fares.pass USING (holder = current_user);"
          + "ALTER TABLE fares.pass ENABLE ROW LEVEL SECURITY";

  RowSecurityOnPostgresTest() {
    super("row-security");
  }

  @BeforeEach
  void world() {
    databases.lay(SECURED);
    for (String stage : List.of("development", "production")) {
      cluster.sql("postgres", "ALTER ROLE " + stage + "_look BYPASSRLS");
    }
  }

  @Test
  void allOfItIsCarriedByWhoReadsAllRows() throws IOException {
    try (EngineWorld world = engine()) {
      world.adopt(ALL);
      databases.as(
          "development",
          "UPDATE fares.pass SET holder = 'noor' WHERE id = 2; INSERT INTO fares.pass VALUES (3, 'noor');"
              + "ALTER TABLE fares.pass FORCE ROW LEVEL SECURITY, ADD COLUMN until date;"
              + "CREATE TABLE fares.zone (code text PRIMARY KEY);"
              + "ALTER TABLE fares.zone ENABLE ROW LEVEL SECURITY");
      world.sealEverything("1.1.0");
      Promotion p = world.promotion("1.1.0");
      assertThat(p.findings())
          .filteredOn(f -> f.rule().equals("row-policy"))
          .extracting(f -> f.severity() + " " + f.place())
          .containsExactly("NOTE table/fares.zone#setting/row security");

      Run run = world.run(p);

      assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
      assertThat(state()).containsExactly("pass|t|t", "zone|t|f");
      assertThat(cluster.query("production", "SELECT id, holder FROM fares.pass ORDER BY id"))
          .containsExactly("1|ines", "2|noor", "3|noor");

      Run back = world.run(world.compared(world.goBack(world.way(Plan.Way.BACKUP)).number()));

      assertThat(back.state()).as(back.sentence()).isEqualTo(RunState.DONE);
      assertThat(state()).containsExactly("pass|t|f");
      assertThat(cluster.query("production", "SELECT id, holder FROM fares.pass ORDER BY id"))
          .containsExactly("1|ines", "2|bram");
    }
  }

  private List<String> state() {
    return cluster.query(
        "production",
        "SELECT relname, relrowsecurity, relforcerowsecurity FROM pg_class WHERE relnamespace = 'fares'::regnamespace AND relkind = 'r' ORDER BY 1");
  }

  @Test
  void whoSeesSomeRowsIsToldWhatWouldLetThemSeeAll() throws IOException {
    cluster.sql("postgres", "ALTER ROLE production_look NOBYPASSRLS");
    try (EngineWorld world = engine()) {
      assertThat(
              world.engine.adoption().candidates(world.ines, "fares", EngineMain.SITE).candidates())
          .filteredOn(c -> c.component().toString().equals("table/fares.pass"))
          .flatExtracting(c -> c.refusals())
          .containsExactly(
              "its row security keeps rows from production_look: an administrator lets it read all of them by ALTER ROLE \"production_look\" BYPASSRLS");
    }
  }
}
