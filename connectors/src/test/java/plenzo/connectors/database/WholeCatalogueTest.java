package plenzo.connectors.database;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestInstance;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import plenzo.core.component.TableName;
import plenzo.core.inventory.NamedThings;
import plenzo.core.inventory.NamedThings.Name;
import plenzo.core.inventory.Uncarried;
import plenzo.core.table.Index;
import plenzo.core.table.IndexKeys;
import plenzo.core.table.Setting;
import plenzo.core.target.Access;
import plenzo.core.target.Question;
import plenzo.core.target.TablesLooking;

/** Whatever a server has in a schema is carried or named, on a real server. */
@TestInstance(TestInstance.Lifecycle.PER_CLASS)
class WholeCatalogueTest {
  private EmbeddedPostgres server;
  private final PostgresConnector connector = new PostgresConnector();

  @BeforeAll
  void start() throws Exception {
    server = TestServer.start("catalogue");
  }

  @AfterAll
  void stop() throws Exception {
    server.close();
  }

  @BeforeEach
  void empty() throws SQLException {
    sql("DROP PUBLICATION IF EXISTS out");
    sql("DROP SERVER IF EXISTS far CASCADE");
    sql("DROP FOREIGN DATA WRAPPER IF EXISTS wrap CASCADE");
    sql("DROP SCHEMA IF EXISTS fares CASCADE");
    sql("CREATE SCHEMA fares");
    sql("CREATE TABLE fares.band (code text PRIMARY KEY, amount numeric(8,2), zone int)");
  }

  private void sql(String sql) throws SQLException {
    try (Connection c = server.getPostgresDatabase().getConnection();
        Statement s = c.createStatement()) {
      s.execute(sql);
    }
  }

  private TablesLooking look() {
    return connector.look(
        new Access("127.0.0.1", server.getPort(), "postgres", "postgres", "disable", "postgres"));
  }

  /** What stands beside the tables: carried by its key, not carried by its name. */
  private Map<String, String> beside() {
    Map<String, String> out = new TreeMap<>();
    try (TablesLooking look = look()) {
      for (Uncarried u : look.uncarried("fares")) {
        out.put(u.shown(), u.digest());
      }
      look.objects("fares").forEach(o -> out.put(o.key().toString(), o.digest().hex()));
    }
    return out;
  }

  @Test
  void aPlainTableHasNothingBesideIt() {
    assertThat(beside()).isEmpty();
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '`',
      value = {
        "CREATE SEQUENCE fares.ticket|sequence/fares.ticket",
        "CREATE VIEW fares.dear AS SELECT code FROM fares.band|view/fares.dear",
        "CREATE MATERIALIZED VIEW fares.kept AS SELECT code FROM fares.band|view/fares.kept",
        "CREATE FUNCTION fares.f(int) RETURNS int LANGUAGE sql AS 'SELECT 1'|routine/fares.f(integer)",
        "CREATE PROCEDURE fares.p() LANGUAGE sql AS 'SELECT 1'|routine/fares.p()",
        "CREATE AGGREGATE fares.total(numeric) (SFUNC = numeric_add, STYPE = numeric)|routine/fares.total(numeric)",
        "CREATE TYPE fares.mood AS ENUM ('glad')|type/fares.mood",
        "CREATE DOMAIN fares.percent AS int CHECK (VALUE < 101)|type/fares.percent",
        "CREATE TYPE fares.place AS (city text)|type/fares.place",
        "CREATE TYPE fares.span AS RANGE (SUBTYPE = int)|type/fares.span",
        "CREATE TYPE fares.shell|type fares.shell",
        "CREATE AGGREGATE fares.moving(numeric) (SFUNC = numeric_add, STYPE = numeric, MSFUNC = numeric_add, MINVFUNC = numeric_sub, MSTYPE = numeric)|routine fares.moving(numeric)",
        "CREATE POLICY own ON fares.band USING (true)|policy/fares.band.own",
        "CREATE PUBLICATION out FOR TABLE fares.band|publication out of fares.band",
        "CREATE OPERATOR fares.=== (LEFTARG = text, RIGHTARG = text, FUNCTION = texteq)|operator fares.===(pg_catalog.text,pg_catalog.text)",
        "CREATE OPERATOR FAMILY fares.fam USING btree|operator family fares.fam USING btree",
        "CREATE COLLATION fares.plain (LOCALE = 'C')|collation fares.plain",
        "CREATE CONVERSION fares.conv FOR 'LATIN1' TO 'UTF8' FROM iso8859_1_to_utf8|conversion fares.conv",
        "CREATE TEXT SEARCH CONFIGURATION fares.words (COPY = simple)|text search configuration fares.words",
        "CREATE TEXT SEARCH DICTIONARY fares.dict (TEMPLATE = simple)|text search dictionary fares.dict",
      })
  void whateverElseIsThereIsCarriedOrNamed(String made, String named) throws SQLException {
    sql(made);

    assertThat(beside()).containsOnlyKeys(named);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '`',
      value = {
        "CREATE STATISTICS fares.pair ON code, zone FROM fares.band|statistics/fares.pair",
        "CREATE RULE quiet AS ON DELETE TO fares.band DO INSTEAD NOTHING|rule/quiet",
        "ALTER TABLE fares.band SET (fillfactor = 70)|option/fillfactor",
        "ALTER TABLE fares.band ALTER COLUMN code SET STATISTICS 500|statistics target/code",
        "ALTER TABLE fares.band ALTER COLUMN code SET STORAGE EXTERNAL|storage/code",
        "ALTER TABLE fares.band ALTER COLUMN code SET COMPRESSION pglz|compression/code",
        "ALTER TABLE fares.band ALTER COLUMN code SET (n_distinct = 7)|n_distinct/code",
        "ALTER TABLE fares.band SET UNLOGGED|logged",
        "ALTER TABLE fares.band ENABLE ROW LEVEL SECURITY|row security",
        "ALTER TABLE fares.band FORCE ROW LEVEL SECURITY|row security of the owner",
        "CLUSTER fares.band USING band_pkey|clustered",
        "ALTER TABLE fares.band REPLICA IDENTITY FULL|replica identity",
        "COMMENT ON CONSTRAINT band_pkey ON fares.band IS 'why'|comment/constraint/band_pkey",
        "COMMENT ON INDEX fares.band_pkey IS 'why'|comment/index/band_pkey",
      })
  void whatIsSetOfATableIsCarriedWithIt(String made, String setting) throws SQLException {
    sql(made);

    assertThat(beside()).isEmpty();
    try (TablesLooking look = look()) {
      assertThat(look.table(TableName.of("fares.band")).orElseThrow().structure().settings())
          .extracting(Setting::name)
          .containsExactly(setting);
    }
  }

  /**
   * Since its releases of November 2026 a server keeps count of changes among a column's options.
   */
  @Test
  void whatAServerNotesOfAColumnForItselfIsNotSetByAnybody() throws SQLException {
    sql("ALTER TABLE fares.band ALTER COLUMN code SET (n_distinct = 7)");
    sql(
        "CREATE TABLE fares.line (day date, seats int) PARTITION BY RANGE (day); CREATE TABLE fares.june PARTITION OF fares.line FOR VALUES FROM ('2031-06-01') TO ('2031-07-01')");
    Map<String, String> before = beside();

    for (int count : List.of(51605000, 51646768)) {
      sql(
          "UPDATE pg_attribute a SET attoptions = '{pg_attver="
              + count
              + "}'::text[] || array(SELECT o FROM unnest(attoptions) o WHERE o NOT LIKE 'pg%') FROM pg_class c WHERE c.oid = attrelid AND attnum > 0 AND relkind IN ('r', 'p') AND relnamespace = 'fares'::regnamespace AND (relname <> 'line' OR "
              + (count > 51605000)
              + ")");
      assertThat(beside()).isEqualTo(before);
      try (TablesLooking look = look()) {
        assertThat(look.table(TableName.of("fares.band")).orElseThrow().structure().settings())
            .extracting(Setting::name)
            .containsExactly("n_distinct/code");
      }
    }
  }

  @Test
  void aTriggerIsCarriedWithItsComment() throws SQLException {
    sql(
        "CREATE FUNCTION fares.watch() RETURNS trigger LANGUAGE plpgsql AS 'BEGIN RETURN NEW; END'");
    sql(
        "CREATE TRIGGER audit BEFORE INSERT ON fares.band FOR EACH ROW EXECUTE FUNCTION fares.watch()");
    Map<String, String> before = beside();
    sql("COMMENT ON TRIGGER audit ON fares.band IS 'who wrote'");
    assertThat(beside()).isNotEqualTo(before);

    assertThat(beside()).containsOnlyKeys("trigger/fares.band.audit", "routine/fares.watch()");
  }

  @Test
  void aViewsRulesAreCarriedWithIt() throws SQLException {
    sql("CREATE VIEW fares.seen AS SELECT code FROM fares.band");
    Map<String, String> before = beside();
    sql("CREATE RULE quiet AS ON INSERT TO fares.seen DO INSTEAD NOTHING");

    assertThat(beside()).containsOnlyKeys("view/fares.seen").isNotEqualTo(before);
  }

  @Test
  void aForeignTableIsNamed() throws SQLException {
    sql("CREATE FOREIGN DATA WRAPPER wrap");
    sql("CREATE SERVER far FOREIGN DATA WRAPPER wrap");
    sql("CREATE FOREIGN TABLE fares.away (code text) SERVER far");

    assertThat(beside()).containsOnlyKeys("foreign table fares.away");
  }

  /** It belongs to the accounts of a stage, which are others at each. */
  @Test
  void whoMayUseWhatIsNotNamed() throws SQLException {
    sql("GRANT SELECT ON fares.band TO PUBLIC");
    sql("ALTER DEFAULT PRIVILEGES IN SCHEMA fares GRANT SELECT ON TABLES TO PUBLIC");

    assertThat(beside()).isEmpty();
  }

  /** What a broken build left is kept up by the server, and refuses rows. */
  @Test
  void anIndexThatABrokenBuildLeftIsNamedAndNotCarried() throws SQLException {
    sql("INSERT INTO fares.band VALUES ('a', 1, 1), ('b', 1, 1)");
    assertThatThrownBy(() -> sql("CREATE UNIQUE INDEX CONCURRENTLY band_zone ON fares.band (zone)"))
        .isInstanceOf(SQLException.class);

    assertThat(beside()).containsOnlyKeys("invalid index fares.band_zone of fares.band");
    try (TablesLooking look = look()) {
      assertThat(look.table(TableName.of("fares.band")).orElseThrow().structure().indexes())
          .isEmpty();
    }
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '`',
      value = {
        "CREATE AGGREGATE fares.total(numeric) (SFUNC = numeric_add, STYPE = numeric)|CREATE OR REPLACE AGGREGATE fares.total(numeric) (SFUNC = numeric_mul, STYPE = numeric)",
        "CREATE VIEW fares.dear AS SELECT code FROM fares.band|ALTER VIEW fares.dear SET (security_barrier = true)",
        "CREATE MATERIALIZED VIEW fares.kept AS SELECT code FROM fares.band|CREATE INDEX ON fares.kept (code)",
        "CREATE TYPE fares.mood AS ENUM ('glad')|ALTER TYPE fares.mood ADD VALUE 'sad'",
        "CREATE POLICY own ON fares.band USING (true)|ALTER POLICY own ON fares.band USING (zone > 0)",
      })
  void whatChangesOfItIsSeen(String made, String changed) throws SQLException {
    sql(made);
    Map<String, String> before = beside();

    sql(changed);

    assertThat(beside()).hasSize(1).isNotEqualTo(before);
  }

  /**
   * Nothing that depends on the schema is neither a table with its parts nor named: asked of the
   * server's own list of dependencies, which knows sorts of things that nobody thought of.
   */
  @Test
  void nothingThatDependsOnTheSchemaIsPassedOver() throws SQLException {
    sql("CREATE SEQUENCE fares.ticket");
    sql("CREATE TYPE fares.span AS RANGE (SUBTYPE = int)");
    sql("CREATE TABLE fares.seat (id serial PRIMARY KEY, at int GENERATED ALWAYS AS IDENTITY)");
    sql("CREATE TEXT SEARCH CONFIGURATION fares.words (COPY = simple)");
    sql("CREATE VIEW fares.dear AS SELECT code FROM fares.band");
    List<String> passedOver = new ArrayList<>();
    Set<String> named = beside().keySet();
    try (Connection c = server.getPostgresDatabase().getConnection();
        Statement s = c.createStatement();
        ResultSet r =
            s.executeQuery(
                "SELECT o.type, o.identity FROM pg_depend x CROSS JOIN LATERAL pg_identify_object(x.classid, x.objid, 0) o"
                    + " WHERE x.refclassid = 'pg_namespace'::regclass AND x.refobjid = 'fares'::regnamespace")) {
      while (r.next()) {
        String identity = r.getString(2);
        boolean carried = Set.of("fares.band", "fares.seat").contains(identity);
        boolean owned = identity.startsWith("fares.seat_");
        boolean comesAlong =
            identity.startsWith("fares.span(") || identity.startsWith("fares.span_multirange");
        if (!carried
            && !owned
            && !comesAlong
            && named.stream().noneMatch(n -> n.contains(identity))) {
          passedOver.add(r.getString(1) + " " + identity);
        }
      }
    }
    assertThat(passedOver).isEmpty();
  }

  private long equal(String definition) {
    IndexKeys keys =
        IndexKeys.of(
                new Index("i", true, "CREATE UNIQUE INDEX i ON fares.band USING " + definition))
            .orElseThrow();
    try (TablesLooking look = look()) {
      return look.answer(Question.duplicatesBy(TableName.of("fares.band"), keys)).count();
    }
  }

  /** The server's own judgement, by building the index. */
  private boolean builds(String definition) {
    try {
      sql("CREATE UNIQUE INDEX i ON fares.band USING " + definition);
      sql("DROP INDEX fares.i");
      return true;
    } catch (SQLException e) {
      return false;
    }
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '`',
      value = {
        "btree (lower(code))|1",
        "btree (code)|0",
        "btree (zone)|1",
        "btree (zone) NULLS NOT DISTINCT|2",
        "btree (zone) WHERE (amount > 5)|0",
        "btree (lower(code)) WHERE (zone IS NULL)|0",
        "btree (lower(code), COALESCE(zone, 0))|0",
        "btree ((amount * 2))|1",
      })
  void rowsThatAnIndexWouldFindEqualAreCountedAsTheServerFindsThem(String definition, int equal)
      throws SQLException {
    sql(
        "INSERT INTO fares.band VALUES ('a', 1, 7), ('A', 9, 8), ('b', 3, 7), ('c', 1, NULL), ('d', 4, NULL)");

    assertThat(equal(definition)).isEqualTo(equal);
    assertThat(builds(definition)).isEqualTo(equal == 0);
  }

  @Test
  void whatAnExpressionNamesIsAskedOfTheServer() throws SQLException {
    sql("CREATE FUNCTION fares.rank(text) RETURNS int IMMUTABLE LANGUAGE sql AS 'SELECT 1'");
    sql("CREATE OPERATOR fares.=== (LEFTARG = text, RIGHTARG = text, FUNCTION = texteq)");
    sql("CREATE INDEX by_rank ON fares.band (fares.rank(code))");
    sql("ALTER TABLE fares.band ADD CONSTRAINT odd CHECK (code OPERATOR(fares.===) code)");
    try (TablesLooking look = look()) {
      NamedThings named =
          NamedThings.of(look.table(TableName.of("fares.band")).orElseThrow().structure());

      assertThat(named.byPart().get("index/by_rank")).contains(new Name("fares", "rank"));
      assertThat(named.byPart().get("constraint/odd")).containsExactly(new Name("fares", "==="));
      assertThat(
              look.absent(
                  Set.of(
                      new Name("fares", "rank"),
                      new Name("fares", "==="),
                      new Name("fares", "band"),
                      new Name("fares", "gone"),
                      new Name("none", "rank"))))
          .containsExactlyInAnyOrder(new Name("fares", "gone"), new Name("none", "rank"));
      assertThat(look.absent(Set.of())).isEmpty();
    }
  }
}
