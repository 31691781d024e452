package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.tuple;

import java.io.IOException;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.component.Kind;
import plenzo.core.impact.Finding;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;

/** What roles may do, carried where somebody asks for it. */
class GrantsOnPostgresTest extends OnPostgres {
  private static final String LAID =
      "CREATE TABLE fares.pass (id serial PRIMARY KEY, holder text, code text);"
          + "CREATE VIEW fares.holders AS SELECT holder FROM fares.pass;"
          + "CREATE FUNCTION fares.half(a integer) RETURNS integer LANGUAGE sql AS 'SELECT a / 2';"
          + "GRANT SELECT ON fares.pass TO desk;"
          + "GRANT SELECT ON fares.holders TO desk";
  private static final List<String> ALL =
      List.of(
          "table/fares.pass",
          "view/fares.holders",
          "routine/fares.half(integer)",
          "grant/fares.pass.desk",
          "grant/fares.holders.desk");

  GrantsOnPostgresTest() {
    super("grants");
  }

  @BeforeEach
  void world() {
    for (String role : List.of("desk", "\"Night Shift\"")) {
      cluster.sql("postgres", "CREATE ROLE " + role);
    }
    databases.lay(LAID);
    for (String stage : List.of("development", "production")) {
      databases.as(stage, "GRANT USAGE ON SCHEMA fares TO desk, \"Night Shift\"");
    }
  }

  @AfterEach
  void noRoles() {
    for (String stage : List.of("development", "production")) {
      cluster.sql(stage, "DROP OWNED BY desk, \"Night Shift\"");
    }
    cluster.sql("postgres", "DROP ROLE IF EXISTS desk, \"Night Shift\"");
  }

  private List<String> rights(String stage) {
    return cluster.query(
        stage,
        """
        SELECT c.name || ' ' || CASE g.grantee WHEN 0 THEN 'PUBLIC' ELSE pg_get_userbyid(g.grantee) END
          || ' ' || string_agg(g.privilege_type || CASE WHEN g.is_grantable THEN '*' ELSE '' END, ',' ORDER BY g.privilege_type)
        FROM (SELECT relname::text AS name, relowner AS owner, relacl AS acl FROM pg_class WHERE relnamespace = 'fares'::regnamespace
          UNION ALL SELECT c.relname || '.' || attname, c.relowner, attacl FROM pg_attribute a JOIN pg_class c ON c.oid = a.attrelid WHERE c.relnamespace = 'fares'::regnamespace
          UNION ALL SELECT proname, proowner, coalesce(proacl, acldefault('f', proowner)) FROM pg_proc WHERE pronamespace = 'fares'::regnamespace
          UNION ALL SELECT typname, typowner, typacl FROM pg_type WHERE typnamespace = 'fares'::regnamespace) c
        CROSS JOIN LATERAL aclexplode(c.acl) g
        WHERE g.grantee <> c.owner AND (g.grantee = 0 OR pg_get_userbyid(g.grantee) NOT LIKE '%look')
        GROUP BY c.name, g.grantee ORDER BY 1
        """);
  }

  @Test
  void areListedAndTakenOnlyWhereTheyAreAskedFor() throws IOException {
    try (EngineWorld world = engine()) {
      assertThat(
              world.engine.adoption().candidates(world.ines, "fares", EngineMain.SITE).candidates())
          .extracting(c -> c.component().kind())
          .doesNotContain(Kind.GRANT);
      assertThat(
              world
                  .engine
                  .adoption()
                  .candidates(world.ines, "fares", EngineMain.SITE, /* grants= */ true)
                  .candidates())
          .extracting(c -> c.component().toString())
          .contains("grant/fares.pass.desk", "grant/fares.holders.desk")
          .as("what Plenzo's own account may do is nothing of the application")
          .noneMatch(component -> component.endsWith("_look"));

      world.adopt(List.of("table/fares.pass", "view/fares.holders"));
      databases.as("development", "GRANT INSERT ON fares.pass TO desk");
      databases.as("development", "ALTER TABLE fares.pass ADD COLUMN until date");
      world.sealEverything("1.1.0");
      world.bring("1.1.0");
      assertThat(rights("production"))
          .containsExactly("half PUBLIC EXECUTE", "holders desk SELECT", "pass desk SELECT");
    }
  }

  @Test
  void comeWithEverythingThatChangesBelowThemAndGoBackByBothWays() throws IOException {
    try (EngineWorld world = engine()) {
      world.adopt(ALL);
      List<String> before = rights("production");
      databases.as(
          "development",
          "CREATE TABLE fares.zone (code text PRIMARY KEY, note text);"
              + "GRANT SELECT, INSERT ON fares.zone TO desk WITH GRANT OPTION;"
              + "GRANT UPDATE (note) ON fares.zone TO \"Night Shift\";"
              + "GRANT USAGE ON SEQUENCE fares.pass_id_seq TO desk;"
              + "GRANT SELECT, INSERT ON fares.pass TO desk; REVOKE SELECT ON fares.pass FROM desk;"
              + "DROP VIEW fares.holders; ALTER TABLE fares.pass ALTER COLUMN holder TYPE varchar(40); CREATE VIEW fares.holders AS SELECT holder, code AS c FROM fares.pass;"
              + "GRANT SELECT, UPDATE ON fares.holders TO desk;"
              + "REVOKE EXECUTE ON FUNCTION fares.half(integer) FROM PUBLIC;"
              + "GRANT EXECUTE ON FUNCTION fares.half(integer) TO desk;"
              + "CREATE TYPE fares.season AS ENUM ('summer', 'winter');"
              + "GRANT USAGE ON TYPE fares.season TO \"Night Shift\" WITH GRANT OPTION;"
              + "REVOKE USAGE ON TYPE fares.season FROM PUBLIC;"
              + "CREATE DOMAIN fares.price AS numeric(8,2); GRANT USAGE ON DOMAIN fares.price TO desk;"
              + "COMMENT ON TABLE fares.pass IS 'Passes'");
      world.seal(
          "1.1.0",
          List.of(
              "table/fares.zone",
              "table/fares.pass",
              "view/fares.holders",
              "grant/fares.zone.desk",
              "grant/fares.zone.Night Shift",
              "grant/fares.pass_id_seq.desk",
              "grant/fares.pass.desk",
              "grant/fares.holders.desk",
              "grant/fares.\"half(integer)\".PUBLIC",
              "grant/fares.\"half(integer)\".desk",
              "grant/fares.season.Night Shift",
              "grant/fares.season.PUBLIC",
              "grant/fares.price.desk"));

      Promotion p = world.promotion("1.1.0");
      assertThat(p.findings())
          .filteredOn(f -> f.rule().equals("rights-change"))
          .extracting(Finding::place, f -> f.severity().code(), Finding::sentence)
          .contains(
              tuple(
                  "grant/fares.pass.desk",
                  "risk",
                  "desk may from now on INSERT and may no longer SELECT: fares.pass."),
              tuple(
                  "grant/fares.\"half(integer)\".PUBLIC",
                  "risk",
                  "Everybody may no longer EXECUTE: fares.half(integer)."));
      Run run = world.run(p);

      assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
      List<String> after = rights("development");
      assertThat(rights("production")).isEqualTo(after);
      assertThat(after)
          .contains(
              "half desk EXECUTE",
              "holders desk SELECT,UPDATE",
              "pass desk INSERT",
              "pass_id_seq desk USAGE",
              "price PUBLIC USAGE",
              "price desk USAGE",
              "season Night Shift USAGE*",
              "zone desk INSERT*,SELECT*",
              "zone.note Night Shift UPDATE");

      for (Plan.Way way : List.of(Plan.Way.BACKUP, Plan.Way.EARLIER_VERSION)) {
        world.back(way);
        assertThat(rights("production")).as(way.code()).isEqualTo(before);
        if (way == Plan.Way.BACKUP) {
          world.run(world.promotion("1.1.0"));
        }
      }
    }
  }

  @Test
  void aRoleThatMayNotEnterTheSchemaIsSaid() throws IOException {
    try (EngineWorld world = engine()) {
      world.adopt(ALL);
      databases.as("development", "GRANT SELECT ON fares.pass TO \"Night Shift\"");
      world.seal("1.1.0", List.of("grant/fares.pass.Night Shift"));
      databases.as("production", "REVOKE USAGE ON SCHEMA fares FROM \"Night Shift\"");

      Promotion p = world.promotion("1.1.0");

      assertThat(p.findings())
          .filteredOn(f -> f.rule().equals("cannot-enter"))
          .extracting(Finding::sentence, Finding::advice)
          .containsExactly(
              tuple(
                  "Night Shift gets rights to things in fares and may not enter that schema.",
                  "As its owner: GRANT USAGE ON SCHEMA fares TO \"Night Shift\""));
    }
  }

  @Test
  void whatSomebodyElseMayDoThereStays() throws IOException {
    try (EngineWorld world = engine()) {
      world.adopt(ALL);
      databases.as(
          "production",
          "GRANT ALL ON fares.pass TO \"Night Shift\"; GRANT SELECT ON fares.holders TO \"Night Shift\"");
      databases.as(
          "development",
          "GRANT DELETE ON fares.pass TO desk; DROP VIEW fares.holders; CREATE VIEW fares.holders AS SELECT code FROM fares.pass; GRANT SELECT ON fares.holders TO desk");
      world.seal("1.1.0", List.of("view/fares.holders", "grant/fares.pass.desk"));

      world.bring("1.1.0");
      assertThat(rights("production"))
          .contains("pass desk DELETE,SELECT", "holders Night Shift SELECT", "holders desk SELECT")
          .anyMatch(r -> r.startsWith("pass Night Shift DELETE"));
    }
  }
}
