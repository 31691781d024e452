package plenzo.connectors.database;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestInstance;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.junit.jupiter.params.provider.ValueSource;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.TableName;
import plenzo.core.object.ObjectDelta;
import plenzo.core.object.SchemaObject;
import plenzo.core.object.SchemaObject.Needed;
import plenzo.core.object.SomeObjects;
import plenzo.core.table.Conversion;
import plenzo.core.table.ExclusionKeys;
import plenzo.core.table.IndexKeys;
import plenzo.core.table.Renaming;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Grants;
import plenzo.core.target.Question;
import plenzo.core.target.Question.Tuples;
import plenzo.core.target.SwitchRefused;
import plenzo.core.target.TablesDelta;

/** Views, routines, sequences, triggers, types and policies on a real server, both ways. */
@TestInstance(TestInstance.Lifecycle.PER_CLASS)
class SchemaObjectsTest {
  private static final String[] EVERYTHING = {
    "CREATE TYPE fares.kind AS ENUM ('single', 'day', 'it''s')",
    "COMMENT ON TYPE fares.kind IS 'what is sold'",
    "CREATE DOMAIN fares.price AS numeric(8,2) DEFAULT 1.5 NOT NULL CONSTRAINT paid CHECK (VALUE >= 0)",
    "CREATE TYPE fares.place AS (\"the city\" text COLLATE \"C\", zone integer)",
    "CREATE TYPE fares.span AS RANGE (SUBTYPE = numeric)",
    "CREATE SEQUENCE fares.ticket AS integer INCREMENT BY 5 START 100 CACHE 3 CYCLE MAXVALUE 5000",
    "CREATE FUNCTION fares.half(a numeric) RETURNS numeric LANGUAGE sql IMMUTABLE AS 'SELECT a / 2'",
    "CREATE FUNCTION fares.half(a integer, by integer DEFAULT 2) RETURNS integer LANGUAGE sql IMMUTABLE BEGIN ATOMIC SELECT a / by; END",
    "CREATE TABLE fares.band (code text PRIMARY KEY, kind fares.kind NOT NULL DEFAULT 'day', amount fares.price, number integer DEFAULT nextval('fares.ticket'), sold fares.span, at fares.place, kinds fares.kind[], CONSTRAINT odd CHECK (kind <> 'single' OR amount > 0))",
    "CREATE INDEX halves ON fares.band (fares.half(amount::numeric)) WHERE kind = 'day'",
    "CREATE VIEW fares.dear WITH (security_barrier = true) AS SELECT b.code, b.amount, fares.half(b.amount::numeric) AS half FROM fares.band b WHERE kind = 'day'",
    "COMMENT ON VIEW fares.dear IS 'what costs much'",
    "COMMENT ON COLUMN fares.dear.half IS 'for children'",
    "CREATE VIEW fares.\"Dearest.of all\" AS SELECT max(half) AS m FROM fares.dear",
    "CREATE VIEW fares.grouped AS SELECT code, kind, count(*) AS n FROM fares.band GROUP BY code",
    "CREATE MATERIALIZED VIEW fares.kept AS SELECT code, amount FROM fares.dear",
    "CREATE UNIQUE INDEX kept_code ON fares.kept (code)",
    "CREATE FUNCTION fares.stamp() RETURNS trigger LANGUAGE plpgsql AS $$BEGIN NEW.number := coalesce(NEW.number, 7); RETURN NEW; END$$",
    "CREATE TRIGGER stamped BEFORE INSERT OR UPDATE OF code ON fares.band FOR EACH ROW WHEN (NEW.kind = 'day') EXECUTE FUNCTION fares.stamp()",
    "COMMENT ON TRIGGER stamped ON fares.band IS 'numbers'",
    "CREATE TRIGGER quiet AFTER DELETE ON fares.band FOR EACH STATEMENT EXECUTE FUNCTION fares.stamp()",
    "ALTER TABLE fares.band DISABLE TRIGGER quiet",
    "CREATE FUNCTION fares.intoview() RETURNS trigger LANGUAGE plpgsql AS $$BEGIN INSERT INTO fares.band (code, amount) VALUES (NEW.code, NEW.amount); RETURN NEW; END$$",
    "CREATE TRIGGER through INSTEAD OF INSERT ON fares.dear FOR EACH ROW EXECUTE FUNCTION fares.intoview()",
    "CREATE PROCEDURE fares.clear(IN before date) LANGUAGE sql AS 'DELETE FROM fares.band'",
    "CREATE AGGREGATE fares.total(numeric) (SFUNC = numeric_add, STYPE = numeric, INITCOND = '0', PARALLEL = SAFE)",
    "CREATE FUNCTION fares.all_dear() RETURNS SETOF fares.dear LANGUAGE sql AS 'SELECT * FROM fares.dear'",
    "CREATE TABLE fares.stay (code text NOT NULL REFERENCES fares.band, during int4range NOT NULL, days integer GENERATED ALWAYS AS (upper(during) - lower(during)) STORED CHECK (days < 90), EXCLUDE USING gist (during WITH &&) WHERE (code <> 'x'))",
    "CREATE INDEX stay_days ON fares.stay (days)",
    "ALTER TABLE fares.stay SET (fillfactor = 70, toast.autovacuum_enabled = false)",
    "ALTER TABLE fares.stay ALTER COLUMN code SET STATISTICS 500",
    "ALTER TABLE fares.stay ALTER COLUMN code SET STORAGE PLAIN, ALTER COLUMN during SET STORAGE EXTERNAL",
    "ALTER TABLE fares.stay ALTER COLUMN code SET (n_distinct = -0.5), ALTER COLUMN during SET COMPRESSION pglz",
    "ALTER TABLE fares.stay REPLICA IDENTITY FULL",
    "CREATE STATISTICS fares.\"pair.of\" ON code, during FROM fares.stay",
    "CREATE RULE quiet AS ON DELETE TO fares.stay DO ALSO NOTHING",
    "COMMENT ON CONSTRAINT stay_code_fkey ON fares.stay IS 'whose'",
    "COMMENT ON INDEX fares.stay_days IS 'how long'",
    "ALTER TABLE fares.stay CLUSTER ON stay_days",
    "CREATE UNLOGGED TABLE fares.scratch (code text PRIMARY KEY)",
    "CREATE POLICY own ON fares.band AS RESTRICTIVE FOR UPDATE TO PUBLIC USING (kind = 'day') WITH CHECK (amount > 1)",
    "ALTER TABLE fares.stay ENABLE ROW LEVEL SECURITY",
    "ALTER TABLE fares.stay FORCE ROW LEVEL SECURITY",
    "CREATE RULE gone AS ON DELETE TO fares.dear DO INSTEAD DELETE FROM fares.band WHERE band.code = OLD.code",
  };

  private EmbeddedPostgres server;
  private SchemaPair pair;

  @BeforeAll
  void start() throws Exception {
    server = TestServer.start("objects");
    pair = new SchemaPair(server.getPort());
    pair.sql("postgres", "CREATE ROLE clerk", "CREATE ROLE shop");
  }

  @AfterAll
  void stop() throws Exception {
    server.close();
  }

  @BeforeEach
  void begin() throws SQLException {
    pair.begin();
  }

  private void alike() throws SQLException {
    assertThat(pair.judged("site")).isEqualTo(pair.judged("wanted"));
  }

  @Test
  void everythingIsMadeFromNothingAndGoesAgain() throws SQLException {
    pair.sql("wanted", EVERYTHING);
    assertThat(pair.uncarried("wanted")).isEmpty();
    String before = pair.judged("site");
    SchemaPair.Held empty = pair.held("site");

    pair.bring();

    alike();
    assertThat(pair.query("site", "INSERT INTO fares.band (code) VALUES ('a') RETURNING number"))
        .isEqualTo("100");

    pair.apply("site", SchemaPair.difference(pair.held("site"), empty));
    assertThat(pair.judged("site")).isEqualTo(before);
  }

  @Test
  void everythingIsRestoredInAPlaceOfItsOwn() throws SQLException {
    pair.sql("site", EVERYTHING);

    assertThat(pair.restored("site")).isEmpty();
  }

  /** In whatever order their names stand: what one is made of comes before it. */
  @Test
  void whatIsMadeOfOneAnotherIsRestoredInItsOrder() throws SQLException {
    pair.sql(
        "site",
        "CREATE TABLE fares.note (id serial PRIMARY KEY, said text)",
        "CREATE TABLE fares.alarm (loud boolean) INHERITS (fares.note)",
        "CREATE TABLE fares.beside (id integer DEFAULT nextval('fares.note_id_seq'))",
        "CREATE RULE away AS ON INSERT TO fares.alarm DO INSTEAD INSERT INTO fares.beside VALUES (new.id)",
        "CREATE FUNCTION fares.joined(text, text) RETURNS text LANGUAGE sql AS $$ SELECT $1 || $2 $$",
        // its name is that of its function, and stands first
        "CREATE AGGREGATE fares.joined(text) (SFUNC = fares.joined, STYPE = text)",
        "CREATE VIEW fares.all_said AS SELECT fares.joined(said) AS all_said FROM fares.note");

    assertThat(pair.restored("site")).isEmpty();
    assertThat(
            pair.answer(
                    "site",
                    Question.of(Question.Type.DEPENDENTS, TableName.of("fares.beside"))
                        .text(List.of("rule on fares.alarm")))
                .count())
        .as("its rule goes with the table")
        .isZero();
    SchemaPair.Held all = pair.held("site");
    pair.apply("site", SchemaPair.difference(all, pair.held("wanted")));
    assertThat(pair.held("site").tables()).as("and all of it goes").isEmpty();
  }

  @Test
  void aKeyGivesWayToAnotherUnderTheForeignKeysThatRestOnIt() throws SQLException {
    for (String database : List.of("site", "wanted")) {
      pair.sql(
          database,
          "CREATE TABLE fares.entity (id integer NOT NULL, code text NOT NULL, CONSTRAINT e_pkey PRIMARY KEY (code), CONSTRAINT e_id UNIQUE (id))",
          "CREATE TABLE fares.note (of integer REFERENCES fares.entity (id), next integer)",
          "INSERT INTO fares.entity VALUES (1, 'a'), (2, 'b')",
          "INSERT INTO fares.note VALUES (1, 2), (2, NULL)");
    }
    pair.sql(
        "wanted",
        "ALTER TABLE fares.note DROP CONSTRAINT note_of_fkey",
        "ALTER TABLE fares.entity DROP CONSTRAINT e_id, DROP CONSTRAINT e_pkey, ADD CONSTRAINT e_pkey PRIMARY KEY (id)",
        "ALTER TABLE fares.note ADD CONSTRAINT note_of_fkey FOREIGN KEY (of) REFERENCES fares.entity (id)");
    SchemaPair.Held before = pair.held("site");
    String as = pair.judged("site");
    TablesDelta delta = SchemaPair.difference(before, pair.held("wanted"));
    List<TablesDelta.TableDelta> tables = new ArrayList<>(delta.tables());
    TableName note = TableName.of("fares.note");
    if (delta.find(note).isEmpty()) {
      TableStructure is = before.tables().get(note);
      tables.add(TablesDelta.TableDelta.of(note, is, is, null));
    }

    pair.apply("site", new TablesDelta(tables, List.of()));

    alike();
    assertThat(pair.query("site", "SELECT count(*) FROM fares.note")).isEqualTo("2");
    TablesDelta back = SchemaPair.difference(pair.held("site"), before);
    List<TablesDelta.TableDelta> all = new ArrayList<>(back.tables());
    TableStructure is = before.tables().get(note);
    all.add(TablesDelta.TableDelta.of(note, is, is, null));
    pair.apply("site", new TablesDelta(all, List.of()));
    assertThat(pair.judged("site")).isEqualTo(as);
  }

  /** What its own account may do there it may as the owner. */
  @Test
  void aGrantToItsOwnAccountIsNoneWhereBackupsAreProven() {
    SchemaObject own =
        SomeObjects.shaped(
            "grant/fares.band.postgres", SchemaObject.Sort.GRANT, Map.of("SELECT", "yes"), "table");
    SchemaObject clerks =
        SomeObjects.shaped(
            "grant/fares.band.clerk", SchemaObject.Sort.GRANT, Map.of("SELECT", "yes"), "table");

    assertThat(pair.provable(List.of(own, clerks))).containsExactly(clerks);
  }

  @Test
  void whatIsSetOfAColumnStaysWhenItsTypeChangesAndGoesWithIt() throws SQLException {
    String[] base = {
      "CREATE TABLE fares.band (code varchar(20) PRIMARY KEY, note text, twice text GENERATED ALWAYS AS (note || note) STORED)",
      "ALTER TABLE fares.band ALTER COLUMN code SET STORAGE PLAIN, ALTER COLUMN code SET STATISTICS 90, ALTER COLUMN note SET STATISTICS 80, ALTER COLUMN note SET STORAGE EXTERNAL, ALTER COLUMN note SET (n_distinct = 3), ALTER COLUMN twice SET STATISTICS 70, ALTER COLUMN twice SET STORAGE MAIN",
    };
    pair.sql("site", base);
    pair.sql("wanted", base);
    SchemaPair.Held was = pair.held("site");
    String before = pair.judged("site");
    pair.sql(
        "wanted",
        "ALTER TABLE fares.band DROP COLUMN twice",
        "ALTER TABLE fares.band DROP COLUMN note",
        "ALTER TABLE fares.band ALTER COLUMN code TYPE text",
        "ALTER TABLE fares.band ALTER COLUMN code SET STORAGE PLAIN");

    pair.bring();

    alike();
    pair.apply("site", SchemaPair.difference(pair.held("site"), was));
    assertThat(pair.judged("site")).isEqualTo(before);
  }

  @Test
  void aRuleGivesWayToWhatBecomesOfItsColumns() throws SQLException {
    String[] base = {
      "CREATE TYPE fares.kind AS ENUM ('a', 'b')",
      "CREATE TABLE fares.band (code varchar(20) PRIMARY KEY, kind fares.kind, \"the note\" text)",
      "CREATE RULE kinds AS ON DELETE TO fares.band WHERE OLD.kind = 'a' DO INSTEAD NOTHING",
      "CREATE RULE codes AS ON UPDATE TO fares.band WHERE OLD.code IS NULL DO ALSO NOTHING",
      "CREATE RULE notes AS ON INSERT TO fares.band WHERE NEW.\"the note\" = 'code' DO ALSO NOTHING",
    };
    pair.sql("site", base);
    pair.sql("wanted", base);
    SchemaPair.Held was = pair.held("site");
    String before = pair.judged("site");
    pair.sql(
        "wanted",
        "DROP RULE kinds ON fares.band",
        "DROP RULE codes ON fares.band",
        "DROP RULE notes ON fares.band",
        "ALTER TABLE fares.band DROP COLUMN \"the note\"",
        "ALTER TABLE fares.band ALTER COLUMN code TYPE text, ALTER COLUMN kind TYPE text",
        "DROP TYPE fares.kind",
        "CREATE TYPE fares.kind AS ENUM ('b', 'c')",
        "ALTER TABLE fares.band ALTER COLUMN kind TYPE fares.kind USING kind::fares.kind",
        base[2].replace("'a'", "'b'"),
        base[3]);

    pair.bring();

    alike();
    pair.apply("site", SchemaPair.difference(pair.held("site"), was));
    assertThat(pair.judged("site")).isEqualTo(before);
  }

  @Test
  void membersOfExtensionsAreThereWhereTablesAreRestored() throws SQLException {
    pair.sql(
        "site",
        "CREATE EXTENSION citext SCHEMA fares",
        "CREATE TABLE fares.band (code fares.citext PRIMARY KEY)");

    assertThat(pair.restored("site")).isEmpty();
  }

  @Test
  void aTablesOwnRuleIsInNobodysWay() throws SQLException {
    pair.sql(
        "site",
        "CREATE TABLE fares.band (code text PRIMARY KEY, amount integer)",
        "CREATE RULE quiet AS ON INSERT TO fares.band WHERE NEW.amount < 0 DO INSTEAD NOTHING",
        "CREATE TABLE fares.other (code text)",
        "CREATE RULE along AS ON DELETE TO fares.other DO ALSO DELETE FROM fares.band WHERE band.code = OLD.code");

    assertThat(pair.dependents("site", "band")).containsExactly("rule on fares.other");
    assertThat(pair.dependents("site", "other")).isEmpty();
  }

  private void changes(List<String> was, List<String> is) throws SQLException {
    pair.sql("site", was.toArray(String[]::new));
    pair.sql("wanted", is.toArray(String[]::new));
    SchemaPair.Held before = pair.held("site");
    String judged = pair.judged("site");

    pair.bring();

    alike();
    pair.apply("site", SchemaPair.difference(pair.held("site"), before));
    assertThat(pair.judged("site")).isEqualTo(judged);
  }

  /** Sequences and indexes of what goes stand under their names until it is gone. */
  @Test
  void whatComesTakesNamesOfWhatGoes() throws SQLException {
    String seen = "CREATE VIEW fares.seen AS SELECT 1 AS one";
    changes(
        List.of(
            "CREATE SEQUENCE fares.number",
            "CREATE TABLE fares.old (id integer DEFAULT nextval('fares.number') CONSTRAINT ferry_key PRIMARY KEY, code text)",
            "ALTER SEQUENCE fares.number OWNED BY fares.old.id",
            "CREATE INDEX by_code ON fares.old (code)",
            "CREATE TABLE fares.stays (id integer GENERATED ALWAYS AS IDENTITY (SEQUENCE NAME fares.seen), one integer)"),
        List.of(
            seen,
            "CREATE TABLE fares.ferry (id integer GENERATED ALWAYS AS IDENTITY (SEQUENCE NAME fares.number), code text, CONSTRAINT ferry_key PRIMARY KEY (id))",
            "CREATE INDEX by_code ON fares.ferry (code)",
            "CREATE TABLE fares.stays (one integer)"));
  }

  @Test
  void rowsThatPointAtATableThatComesPointAtItsRowsAlone() throws SQLException {
    pair.sql(
        "site",
        "CREATE TABLE fares.stay (id integer, berth integer)",
        "INSERT INTO fares.stay VALUES (1, 7), (2, 8), (3, NULL)");
    Question q =
        Question.of(Question.Type.ORPHANS, TableName.of("fares.stay"), "berth")
            .along(
                List.of(
                    new Question.Hop(TableName.of("fares.berth"), List.of("berth"), List.of("id"))))
            .text(List.of(Question.COMES));

    assertThat(pair.answer("site", q).count()).isEqualTo(2);
    assertThat(
            pair.answer(
                    "site",
                    q.given(
                        new Question.Tuples(
                            List.of("id"), List.of("integer"), List.of(List.of("7")))))
                .examples())
        .containsExactly("8");
  }

  /** Who has the sequence fares.number. */
  private enum Has {
    NOBODY(""),
    FREE(
        "CREATE SEQUENCE fares.number; ALTER TABLE fares.ferry ALTER id SET DEFAULT nextval('fares.number')"),
    FERRY(FREE.sql + "; ALTER SEQUENCE fares.number OWNED BY fares.ferry.id"),
    IDENTITY(
        "ALTER TABLE fares.ferry ALTER id SET NOT NULL, ALTER id ADD GENERATED BY DEFAULT AS IDENTITY (SEQUENCE NAME fares.number)"),
    OTHERWISE(FERRY.sql.replace("fares.number", "fares.other_number")),
    OTHER_IDENTITY(IDENTITY.sql.replace("fares.number", "fares.other_number")),
    PIER(
        FREE.sql.replace("ferry", "pier") + "; ALTER SEQUENCE fares.number OWNED BY fares.pier.id"),
    NEW("CREATE TABLE fares.berth (id integer); " + PIER.sql.replace("fares.pier", "fares.berth")),
    NEW_IDENTITY(
        "CREATE TABLE fares.berth (id integer GENERATED BY DEFAULT AS IDENTITY (SEQUENCE NAME fares.number))"),
    VIEW("CREATE VIEW fares.number AS SELECT 1 AS one");

    private final String sql;

    Has(String sql) {
      this.sql = sql;
    }

    /** The table that draws from it. */
    String drawing() {
      return switch (this) {
        case FREE, FERRY, IDENTITY, OTHERWISE, OTHER_IDENTITY -> "ferry";
        case PIER -> "pier";
        case NEW, NEW_IDENTITY -> "berth";
        default -> "";
      };
    }
  }

  /**
   * Whoever had the name of a sequence and whoever has it then, no number is given twice: a third
   * of all pairs, in which each stands before and after.
   */
  @ParameterizedTest
  @EnumSource
  void theNumbersOfASequenceGoOnWhoeverHasIt(Has was) throws SQLException {
    numbersGoOn(was, is -> (was.ordinal() + 2 * is.ordinal()) % 3 == 0);
  }

  @Tag("nightly")
  @ParameterizedTest
  @EnumSource
  void theNumbersOfASequenceGoOnOfEveryPair(Has was) throws SQLException {
    numbersGoOn(was, is -> (was.ordinal() + 2 * is.ordinal()) % 3 != 0);
  }

  private void numbersGoOn(Has was, Predicate<Has> among) throws SQLException {
    String base =
        "CREATE TABLE fares.ferry (id integer, code text); CREATE TABLE fares.pier (id integer)";
    for (Has is : Stream.of(Has.values()).filter(among).toList()) {
      pair.begin();
      pair.sql("site", base, was.sql);
      pair.sql("wanted", base, is.sql);
      draw(was, 3);
      SchemaPair.Held before = pair.held("site");
      String judged = pair.judged("site");

      pair.bring();

      assertThat(pair.judged("site")).as(was + " to " + is).isEqualTo(pair.judged("wanted"));
      draw(is, 2);
      pair.apply("site", SchemaPair.difference(pair.held("site"), before));
      assertThat(pair.judged("site")).as(was + " to " + is + " and back").isEqualTo(judged);
      draw(was, 1);
      if (!was.drawing().isEmpty()) {
        assertThat(
                pair.query(
                    "site", "SELECT count(id) - count(DISTINCT id) FROM fares." + was.drawing()))
            .as(was + " to " + is)
            .isEqualTo("0");
      }
    }
  }

  private void draw(Has who, int rows) throws SQLException {
    for (int n = 0; n < rows && !who.drawing().isEmpty(); n++) {
      String column = who.drawing().equals("ferry") ? "(code) VALUES ('x')" : "DEFAULT VALUES";
      pair.sql("site", "INSERT INTO fares." + who.drawing() + " " + column);
    }
  }

  /** The last number stays, though its row has gone. */
  @Test
  void aSequenceThatBecomesAColumnsOwnGivesNoNumberTwice() throws SQLException {
    String free =
        "CREATE SEQUENCE fares.number; CREATE TABLE fares.ferry (id integer DEFAULT nextval('fares.number'), code text)";
    pair.sql(
        "site",
        free,
        "INSERT INTO fares.ferry (code) VALUES ('a'), ('b')",
        "DELETE FROM fares.ferry WHERE code = 'b'");
    pair.sql("wanted", free, "ALTER SEQUENCE fares.number OWNED BY fares.ferry.id");
    SchemaPair.Held before = pair.held("site");

    pair.bring();

    alike();
    pair.sql(
        "site",
        "INSERT INTO fares.ferry (code) VALUES ('c')",
        "DELETE FROM fares.ferry WHERE code = 'c'");
    pair.apply("site", SchemaPair.difference(pair.held("site"), before));
    pair.sql("site", "INSERT INTO fares.ferry (code) VALUES ('d')");
    assertThat(
            pair.query("site", "SELECT string_agg(id || code, ' ' ORDER BY id) FROM fares.ferry"))
        .isEqualTo("1a 4d");
  }

  /** The server's own tools print them in that order. */
  @Test
  void optionsComeInTheOrderInWhichTheyWereSet() throws SQLException {
    String options =
        "SELECT string_agg(c.relname || ' ' || c.reloptions::text, ', ' ORDER BY c.relname) FROM pg_class c WHERE c.relnamespace = 'fares'::regnamespace AND c.relkind = 'r'";
    pair.sql("site", "CREATE TABLE fares.ferry (id integer) WITH (fillfactor = 70)");
    pair.sql(
        "wanted",
        "CREATE TABLE fares.ferry (id integer) WITH (fillfactor = 70, autovacuum_enabled = false)",
        "CREATE TABLE fares.pier (id integer) WITH (parallel_workers = 2, fillfactor = 50, autovacuum_enabled = false)");

    pair.bring();

    alike();
    assertThat(pair.query("site", options)).isEqualTo(pair.query("wanted", options));
  }

  private List<String> builtOn(String key) {
    return pair.answer("site", Question.builtOn(ComponentKey.of(key), List.of("fares"))).examples();
  }

  /** What is carried is planned for; the rest keeps the database from taking it away. */
  @Test
  void whatIsBuiltOnAnObjectAndNotCarriedIsKnown() throws SQLException {
    pair.sql(
        "site",
        "CREATE SCHEMA IF NOT EXISTS other",
        "CREATE TYPE fares.place AS (pier text, deck integer)",
        "CREATE TYPE fares.\"the Span\" AS RANGE (SUBTYPE = integer)",
        "CREATE FUNCTION fares.same(fares.place, fares.place) RETURNS boolean LANGUAGE sql AS 'SELECT true'",
        "CREATE TABLE fares.stay (at fares.place DEFAULT NULL, spans fares.\"the Span\"[], CHECK (fares.same(at, at)))",
        "CREATE DOMAIN fares.berth AS fares.place",
        "CREATE VIEW fares.taken AS SELECT at, fares.same(at, at) FROM fares.stay",
        "CREATE FUNCTION fares.first(fares.taken) RETURNS boolean LANGUAGE sql AS 'SELECT true'");
    for (String key :
        List.of(
            "type/fares.place",
            "type/fares.the Span",
            "routine/fares.same(fares.place, fares.place)",
            "view/fares.taken")) {
      assertThat(builtOn(key)).as("all of it is carried: " + key).isEmpty();
    }

    pair.sql(
        "site",
        "CREATE OPERATOR fares.=== (LEFTARG = fares.place, RIGHTARG = fares.place, FUNCTION = fares.same)",
        "CREATE CAST (fares.place AS text) WITH INOUT",
        "CREATE TABLE other.kept (spans fares.\"the Span\"[])",
        "CREATE VIEW other.seen AS SELECT * FROM fares.taken");

    assertThat(builtOn("type/fares.place"))
        .containsExactly(
            "cast (fares.place AS pg_catalog.text)",
            "operator fares.===(fares.place,fares.place)",
            "view column other.seen.at");
    assertThat(builtOn("routine/fares.same(fares.place, fares.place)"))
        .containsExactly("operator fares.===(fares.place,fares.place)");
    assertThat(builtOn("type/fares.the Span")).containsExactly("table column other.kept.spans");
    assertThat(builtOn("view/fares.taken")).containsExactly("view other.seen");
    assertThat(
            pair.answer("site", Question.builtOn(ComponentKey.of("view/fares.taken"), List.of()))
                .examples())
        .as("its own rule is itself")
        .containsExactly("function fares.first(fares.taken)", "view other.seen");
    pair.sql("site", "DROP SCHEMA other CASCADE");
  }

  @Test
  void rowsThatAnExclusionWouldNotHoldAreCounted() throws SQLException {
    pair.sql(
        "site",
        "CREATE TABLE fares.stay (id integer PRIMARY KEY, \"the berth\" integer, during int4range)",
        "INSERT INTO fares.stay VALUES (1, 1, '[1,5)'), (2, 1, '[4,9)'), (3, 2, '[4,9)'), (4, 2, '[9,12)'), (5, 2, NULL), (6, NULL, '[4,9)')");

    assertThat(excluded("EXCLUDE USING gist (\"the berth\" WITH =, during WITH &&)")).isEqualTo(2);
    assertThat(excluded("EXCLUDE USING gist (during WITH &&)")).isEqualTo(4);
    assertThat(excluded("EXCLUDE USING gist (during WITH &&) WHERE ((id > 3))")).isZero();
    assertThat(excluded("EXCLUDE USING gist (int4range(id, (id + 2)) WITH &&)")).isEqualTo(6);
    assertThat(excluded("EXCLUDE USING gist (lower(during) WITH =, ((id % 2)) WITH <>)"))
        .isEqualTo(3);
    assertThat(excluded("EXCLUDE USING gist (during WITH OPERATOR(pg_catalog.-|-))")).isEqualTo(4);
  }

  /** Rows that stay, some of them left out, beside rows that come, each as it will be. */
  @Test
  void rowsOfAfterwardsAreCounted() throws SQLException {
    pair.sql(
        "site",
        "CREATE TABLE fares.stay (id integer PRIMARY KEY, berth text, during int4range)",
        "INSERT INTO fares.stay VALUES (1, 'North', '[1,5)'), (2, 'north', '[20,25)'), (3, 'West', '[40,50)'), (4, NULL, '[60,70)')");
    TableName stay = TableName.of("fares.stay");
    Tuples left = new Tuples(List.of("id"), List.of("integer"), List.of(List.of("2")));
    Tuples coming =
        new Tuples(
            List.of("berth", "during"),
            List.of("text", "int4range"),
            List.of(Arrays.asList("WEST", "[41,42)"), Arrays.asList(null, "[21,22)")));
    TableStructure is = pair.held("site").tables().get(stay);
    Question lower =
        Question.duplicatesBy(stay, new IndexKeys(List.of("lower(berth)"), null, false));
    assertThat(count(lower)).isEqualTo(1);
    assertThat(count(lower.without(left))).isZero();
    assertThat(count(lower.without(left).given(coming))).isEqualTo(1);
    assertThat(
            count(
                Question.duplicatesBy(stay, new IndexKeys(List.of("lower(berth)"), null, true))
                    .given(coming)))
        .as("two without a value, two in the north, two in the west")
        .isEqualTo(3);

    for (String constant : List.of("(true)", "(1)", "('x'::text)")) {
      Question one =
          Question.duplicatesBy(stay, new IndexKeys(List.of(constant), "(id = 1)", false));
      assertThat(count(one)).as("an index over a constant: " + constant).isZero();
      assertThat(
              count(
                  Question.duplicatesBy(stay, new IndexKeys(List.of(constant), null, false))
                      .given(coming)))
          .isEqualTo(1);
    }
    for (String elements :
        List.of(
            "during WITH &&",
            "((id * 0)) WITH =, during WITH &&",
            "berth WITH <>, during WITH &&")) {
      ExclusionKeys keys = ExclusionKeys.of("EXCLUDE USING gist (" + elements + ")").orElseThrow();
      Question q =
          Question.excluding(
              stay,
              keys.keys().get(0).contains("id")
                  ? new ExclusionKeys(List.of("((1 * 0))", "during"), keys.operators(), "true")
                  : keys,
              keys.overlapping(is));
      assertThat(count(q)).as(elements).isZero();
      assertThat(count(q.without(left).given(coming))).as(elements).isEqualTo(2);
      assertThat(count(q.given(coming)))
          .as(elements)
          .isEqualTo(elements.startsWith("berth") ? 2 : 4);
    }
    Question wide =
        lower.converting(
            new Question.Converted(
                List.of("id", "during"),
                List.of(
                    new Question.Made(
                        "berth", "text", Conversion.printed("'the ' || berth", is)))));
    assertThat(count(wide.without(left))).isZero();
    assertThat(count(wide)).isEqualTo(1);
  }

  private long count(Question q) {
    return pair.answer("site", q).count();
  }

  private long excluded(String definition) {
    ExclusionKeys keys = ExclusionKeys.of(definition).orElseThrow();
    return excluded(
        keys, keys.overlapping(pair.held("site").tables().get(TableName.of("fares.stay"))));
  }

  private long excluded(ExclusionKeys keys, Optional<String> range) {
    return pair.answer("site", Question.excluding(TableName.of("fares.stay"), keys, range)).count();
  }

  /**
   * Counted in the order of ranges and each beside each, with ends in and out, open and nowhere.
   */
  @ParameterizedTest
  @ValueSource(
      strings = {"int4range", "numrange", "tsrange", "daterange", "tstzrange", "int8range"})
  void overlappingRangesAreCountedInTheirOrderAsEachBesideEach(String range) throws SQLException {
    pair.sql(
        "site",
        "CREATE TABLE fares.stay (id integer PRIMARY KEY, berth integer, during " + range + ")");
    String value =
        range.startsWith("ts")
            ? "timestamp '2031-01-01' + %s * interval '1 day'"
            : range.startsWith("date") ? "date '2031-01-01' + %s" : "%s";
    for (int seed = 1; seed <= 12; seed++) {
      String begin = String.format(value, "low");
      String end = String.format(value, "(low + wide)");
      pair.sql(
          "site",
          "TRUNCATE fares.stay",
          "SELECT setseed(" + seed / 100.0 + ")",
          "INSERT INTO fares.stay SELECT i, nullif((random() * 3)::integer, 3), CASE WHEN odd < 0.05 THEN NULL WHEN odd < 0.1 THEN 'empty' ELSE "
              + range
              + "(CASE WHEN odd < 0.12 THEN NULL ELSE "
              + begin
              + " END, CASE WHEN odd BETWEEN 0.11 AND 0.14 THEN NULL ELSE "
              + end
              + " END, (ARRAY['[]', '[)', '(]', '()'])[1 + (random() * 3)::integer]) END FROM (SELECT i, (random() * "
              + 40 * seed
              + ")::integer AS low, (random() * 3)::integer AS wide, random() AS odd FROM generate_series(1, 60) i) r");
      for (String elements : List.of("during WITH &&", "berth WITH =, during WITH &&")) {
        ExclusionKeys keys =
            ExclusionKeys.of("EXCLUDE USING gist (" + elements + ")").orElseThrow();
        assertThat(excluded(keys, Optional.of("during")))
            .as(elements + " " + seed)
            .isEqualTo(excluded(keys, Optional.empty()));
      }
    }
  }

  @Test
  void whatIsSetOfATableChangesAndGoesBack() throws SQLException {
    pair.sql("site", EVERYTHING);
    pair.sql("wanted", EVERYTHING);
    pair.sql("site", "INSERT INTO fares.band (code, amount) VALUES ('a', 3)");
    pair.sql("site", "INSERT INTO fares.stay (code, during) VALUES ('a', '[3,9)')");
    SchemaPair.Held was = pair.held("site");
    String before = pair.judged("site");
    pair.sql(
        "wanted",
        "ALTER TABLE fares.stay SET (fillfactor = 80)",
        "ALTER TABLE fares.stay RESET (toast.autovacuum_enabled)",
        "ALTER TABLE fares.stay ALTER COLUMN code SET STATISTICS -1",
        "ALTER TABLE fares.stay REPLICA IDENTITY NOTHING",
        "ALTER TABLE fares.stay ALTER COLUMN code SET STORAGE DEFAULT, ALTER COLUMN during SET STORAGE MAIN",
        "ALTER TABLE fares.stay ALTER COLUMN code RESET (n_distinct), ALTER COLUMN during SET COMPRESSION DEFAULT",
        "DROP STATISTICS fares.\"pair.of\"",
        "CREATE STATISTICS fares.other (ndistinct) ON code, days FROM fares.stay",
        "CREATE OR REPLACE RULE quiet AS ON DELETE TO fares.stay DO INSTEAD NOTHING",
        "CREATE OR REPLACE RULE gone AS ON DELETE TO fares.dear DO INSTEAD NOTHING",
        "CREATE RULE cheap AS ON UPDATE TO fares.dear DO INSTEAD UPDATE fares.band SET amount = NEW.amount WHERE band.code = OLD.code",
        "COMMENT ON CONSTRAINT stay_code_fkey ON fares.stay IS NULL",
        "ALTER TABLE fares.stay DROP COLUMN days",
        "ALTER TABLE fares.stay ADD COLUMN days integer GENERATED ALWAYS AS (upper(during) - lower(during) + 1) STORED CHECK (days < 90)",
        "CREATE INDEX stay_days ON fares.stay (days)",
        "COMMENT ON INDEX fares.stay_days IS 'how long'",
        "ALTER TABLE fares.scratch SET LOGGED",
        "ALTER TABLE fares.stay NO FORCE ROW LEVEL SECURITY",
        "ALTER TABLE fares.band ENABLE ROW LEVEL SECURITY",
        "ALTER TABLE fares.stay DROP CONSTRAINT stay_during_excl",
        "ALTER TABLE fares.stay ADD EXCLUDE USING gist (during WITH -|-)");

    pair.bring();
    alike();
    assertThat(pair.query("site", "SELECT days FROM fares.stay")).isEqualTo("7");

    pair.apply("site", SchemaPair.difference(pair.held("site"), was));
    assertThat(pair.judged("site")).isEqualTo(before);
    assertThat(pair.query("site", "SELECT days FROM fares.stay")).isEqualTo("6");
  }

  @Test
  void aRenamedColumnTakesItsValuesAlong() throws SQLException {
    pair.sql("site", EVERYTHING);
    pair.sql("wanted", EVERYTHING);
    pair.sql("site", "INSERT INTO fares.band (code, amount) VALUES ('a', 3)");
    pair.sql("site", "GRANT SELECT ON fares.dear TO clerk");
    pair.sql("wanted", "GRANT SELECT ON fares.dear TO clerk");
    pair.sql(
        "wanted",
        "ALTER TABLE fares.band RENAME COLUMN amount TO \"the price\"",
        "ALTER TABLE fares.band RENAME COLUMN code TO name");
    Renaming renaming =
        Renaming.ofColumns(
            Map.of(new TableName("fares", "band"), Map.of("amount", "the price", "code", "name")));
    SchemaPair.Held was = pair.held("site");
    String before = pair.judged("site");

    pair.apply("site", SchemaPair.difference(was, pair.held("wanted"), renaming));

    alike();
    assertThat(pair.query("site", "SELECT \"the price\" FROM fares.band")).isEqualTo("3.00");
    pair.apply("site", SchemaPair.difference(pair.held("site"), was, renaming.inverse()));
    assertThat(pair.judged("site")).isEqualTo(before);
    assertThat(pair.query("site", "SELECT amount FROM fares.band")).isEqualTo("3.00");
  }

  /** A rule is made again, so that its table and columns may get other names and types at once. */
  @Test
  void aTableAndAColumnThatARuleHoldsAreRenamedAndRetypedAtOnce() throws SQLException {
    String[] fees = {
      "CREATE TABLE fares.fee (code text PRIMARY KEY, price integer)",
      "CREATE TABLE fares.paid (fee text REFERENCES fares.fee ON DELETE CASCADE)",
      "CREATE RULE kept AS ON DELETE TO fares.fee WHERE OLD.price > 3 DO ALSO NOTHING",
      "CREATE FUNCTION fares.touch() RETURNS trigger LANGUAGE plpgsql AS 'BEGIN RETURN NEW; END'",
      "CREATE TRIGGER touched BEFORE INSERT ON fares.fee FOR EACH ROW EXECUTE FUNCTION fares.touch()",
      "INSERT INTO fares.fee VALUES ('a', 3)",
    };
    pair.sql("site", fees);
    pair.sql("wanted", fees);
    pair.sql(
        "wanted",
        "DROP RULE kept ON fares.fee",
        "ALTER TABLE fares.fee RENAME TO \"the cost\"",
        "ALTER TABLE fares.\"the cost\" RENAME COLUMN price TO amount",
        "ALTER TABLE fares.\"the cost\" ALTER amount TYPE numeric",
        "CREATE RULE kept AS ON DELETE TO fares.\"the cost\" WHERE OLD.amount > 3 DO ALSO NOTHING");
    TableName cost = new TableName("fares", "the cost");
    Renaming renaming =
        new Renaming(
            Map.of(new TableName("fares", "fee"), cost), Map.of(cost, Map.of("price", "amount")));
    SchemaPair.Held was = pair.held("site");
    String before = pair.judged("site");

    pair.apply("site", SchemaPair.difference(was, pair.held("wanted"), renaming));

    alike();
    assertThat(pair.query("site", "SELECT amount FROM fares.\"the cost\"")).isEqualTo("3");
    pair.apply("site", SchemaPair.difference(pair.held("site"), was, renaming.inverse()));
    assertThat(pair.judged("site")).isEqualTo(before);
  }

  @Test
  void whatIsReadIsReadAgainFromItsDocument() throws SQLException {
    pair.sql("wanted", EVERYTHING);

    for (SchemaObject o : pair.held("wanted").objects().values()) {
      assertThat(SchemaObject.of(o.key(), o.canonical())).isEqualTo(o);
    }
  }

  @Test
  void aViewGoesAndComesAgainWhenAColumnUnderItChanges() throws SQLException {
    pair.sql("site", EVERYTHING);
    pair.sql("wanted", EVERYTHING);
    pair.sql(
        "site",
        "GRANT SELECT ON fares.dear TO clerk WITH GRANT OPTION",
        "GRANT SELECT (m) ON fares.\"Dearest.of all\" TO shop",
        "REVOKE ALL ON FUNCTION fares.all_dear() FROM PUBLIC",
        "GRANT EXECUTE ON FUNCTION fares.all_dear() TO clerk",
        "ALTER VIEW fares.grouped OWNER TO clerk",
        "INSERT INTO fares.band (code, amount) VALUES ('a', 3)");
    pair.sql(
        "wanted",
        "DROP VIEW fares.dear, fares.grouped CASCADE",
        "DROP TRIGGER stamped ON fares.band",
        "ALTER TABLE fares.band ALTER COLUMN code TYPE varchar(40)",
        EVERYTHING[10],
        EVERYTHING[11],
        EVERYTHING[12],
        EVERYTHING[13],
        EVERYTHING[14],
        EVERYTHING[15],
        EVERYTHING[16],
        EVERYTHING[18],
        EVERYTHING[19],
        EVERYTHING[23],
        EVERYTHING[26]);
    pair.sql(
        "wanted",
        "GRANT SELECT ON fares.dear TO clerk WITH GRANT OPTION",
        "GRANT SELECT (m) ON fares.\"Dearest.of all\" TO shop",
        "REVOKE ALL ON FUNCTION fares.all_dear() FROM PUBLIC",
        "GRANT EXECUTE ON FUNCTION fares.all_dear() TO clerk",
        "ALTER VIEW fares.grouped OWNER TO clerk");
    SchemaPair.Held was = pair.held("site");
    String before = pair.judged("site");

    pair.bring();

    alike();
    assertThat(
            pair.query(
                "site",
                "SELECT has_function_privilege('clerk', 'fares.all_dear()', 'EXECUTE')::text || has_function_privilege('shop', 'fares.all_dear()', 'EXECUTE') || has_column_privilege('shop', 'fares.\"Dearest.of all\"', 'm', 'SELECT') || has_table_privilege('clerk', 'fares.dear', 'SELECT WITH GRANT OPTION')"))
        .isEqualTo("truefalsetruetrue");
    assertThat(pair.query("site", "SELECT code || amount FROM fares.kept")).isEqualTo("a3.00");

    pair.apply("site", SchemaPair.difference(pair.held("site"), was));
    assertThat(pair.judged("site")).isEqualTo(before);
  }

  /** Who may use tables and views, as it is granted and as it will be by default. */
  @Test
  void whoMayUseTablesIsRead() throws SQLException {
    pair.sql(
        "site",
        "CREATE TABLE fares.a (x integer)",
        "CREATE VIEW fares.b AS SELECT 1 AS y",
        "GRANT SELECT, INSERT ON fares.a TO clerk",
        "GRANT SELECT ON fares.b TO clerk, PUBLIC",
        "ALTER DEFAULT PRIVILEGES IN SCHEMA fares GRANT SELECT ON TABLES TO clerk");

    assertThat(pair.grants("site"))
        .isEqualTo(
            new Grants(
                2,
                List.of(
                    new Grants.Grant("PUBLIC", "SELECT", 1, Set.of()),
                    new Grants.Grant("clerk", "INSERT", 1, Set.of()),
                    new Grants.Grant("clerk", "SELECT", 2, Set.of("postgres")))));
  }

  @Test
  void whatCanBecomeAnotherWhereItStandsDoes() throws SQLException {
    pair.sql("site", EVERYTHING);
    pair.sql("wanted", EVERYTHING);
    pair.sql("site", "GRANT SELECT ON fares.dear TO clerk");
    pair.sql(
        "wanted",
        "GRANT SELECT ON fares.dear TO clerk",
        "CREATE OR REPLACE VIEW fares.dear AS SELECT b.code, b.amount, fares.half(b.amount::numeric) AS half, b.number FROM fares.band b",
        "CREATE OR REPLACE FUNCTION fares.half(a numeric) RETURNS numeric LANGUAGE sql IMMUTABLE AS 'SELECT a * 0.5'",
        "ALTER SEQUENCE fares.ticket INCREMENT BY 7 NO CYCLE",
        "ALTER DOMAIN fares.price DROP CONSTRAINT paid",
        "ALTER DOMAIN fares.price ADD CONSTRAINT paid2 CHECK (VALUE >= 1)",
        "ALTER DOMAIN fares.price DROP NOT NULL",
        "ALTER DOMAIN fares.price DROP DEFAULT",
        "ALTER TABLE fares.band ENABLE ALWAYS TRIGGER quiet",
        "COMMENT ON TYPE fares.kind IS NULL",
        "DROP INDEX fares.kept_code",
        "CREATE INDEX kept_amount ON fares.kept (amount)",
        "COMMENT ON COLUMN fares.dear.half IS NULL",
        "ALTER VIEW fares.dear ALTER COLUMN amount SET DEFAULT 3");
    TablesDelta delta = SchemaPair.difference(pair.held("site"), pair.held("wanted"));

    assertThat(delta.objects()).extracting(ObjectDelta::act).containsOnly(ObjectDelta.Act.ALTER);
    pair.apply("site", delta);
    alike();
  }

  @Test
  void anEnumerationGainsALabelWhereItStandsAndLosesOneByExchange() throws SQLException {
    pair.sql("site", EVERYTHING);
    pair.sql("wanted", EVERYTHING);
    pair.sql(
        "site",
        "INSERT INTO fares.band (code, amount, kinds) VALUES ('a', 3, '{day,single}')",
        "CREATE TABLE fares.other (kind fares.kind PRIMARY KEY)",
        "INSERT INTO fares.other VALUES ('day')",
        "ALTER TABLE fares.band ADD CONSTRAINT other FOREIGN KEY (kind) REFERENCES fares.other");
    SchemaPair.Held was = pair.held("site");
    pair.sql(
        "wanted",
        "CREATE TABLE fares.other (kind fares.kind PRIMARY KEY)",
        "ALTER TABLE fares.band ADD CONSTRAINT other FOREIGN KEY (kind) REFERENCES fares.other",
        "ALTER TYPE fares.kind ADD VALUE 'week' BEFORE 'single'",
        "ALTER TYPE fares.kind ADD VALUE 'year'");

    TablesDelta up = SchemaPair.difference(pair.held("site"), pair.held("wanted"));
    assertThat(up.objects()).extracting(ObjectDelta::act).containsExactly(ObjectDelta.Act.ALTER);
    pair.apply("site", up);
    alike();

    TablesDelta down = SchemaPair.difference(pair.held("site"), was);
    assertThat(down.objects())
        .filteredOn(o -> o.key().equals(ComponentKey.of("type/fares.kind")))
        .extracting(ObjectDelta::act)
        .containsExactly(ObjectDelta.Act.REBUILD);
    pair.apply("site", down);
    assertThat(pair.query("site", "SELECT code || kind || kinds::text FROM fares.band"))
        .isEqualTo("aday{day,single}");
    assertThat(pair.query("site", "SELECT enum_range(NULL::fares.kind)"))
        .isEqualTo("{single,day,it's}");
  }

  @Test
  void whatGoesUsesARoutineOfBeforeUntilItGoes() throws SQLException {
    String worth =
        "CREATE FUNCTION fares.worth(k fares.kind) RETURNS integer LANGUAGE sql IMMUTABLE AS $$SELECT length(k::text)$$";
    String twice =
        "CREATE FUNCTION fares.twice(k fares.kind) RETURNS integer LANGUAGE sql IMMUTABLE BEGIN ATOMIC SELECT fares.worth(k) * 2; END";
    String most =
        "CREATE AGGREGATE fares.most(fares.kind) (SFUNC = fares.worse, STYPE = fares.kind)";
    String worse =
        "CREATE FUNCTION fares.worse(a fares.kind, b fares.kind) RETURNS fares.kind LANGUAGE sql IMMUTABLE AS $$SELECT greatest(a, b)$$";
    pair.sql(
        "site",
        "CREATE TYPE fares.kind AS ENUM ('single', 'day', 'week')",
        worth,
        twice,
        worse,
        most,
        "CREATE TABLE fares.band (code text PRIMARY KEY, kind fares.kind, n integer DEFAULT fares.twice('day'), m integer DEFAULT fares.worth('day'), g integer GENERATED ALWAYS AS (fares.worth(kind)) STORED, CONSTRAINT least CHECK (fares.worth(kind) > 1), CONSTRAINT few CHECK (fares.twice(kind) < 90), EXCLUDE USING btree (fares.worth(kind) WITH =))",
        "CREATE INDEX worths ON fares.band (fares.twice(kind))",
        "CREATE TABLE fares.old (kind fares.kind CHECK (fares.twice(kind) > 1), n integer DEFAULT fares.worth('day'))",
        "INSERT INTO fares.band (code, kind) VALUES ('a', 'single')");
    pair.sql(
        "wanted",
        "CREATE TYPE fares.kind AS ENUM ('single', 'day')",
        worth,
        twice,
        worse,
        most,
        "CREATE TABLE fares.band (code text PRIMARY KEY, kind fares.kind, n integer DEFAULT fares.worth('single'), m integer, CONSTRAINT few CHECK (fares.twice(kind) < 90))");
    SchemaPair.Held was = pair.held("site");
    String before = pair.judged("site");

    pair.bring();

    alike();
    assertThat(pair.query("site", "SELECT concat_ws(' ', code, kind, n) FROM fares.band"))
        .isEqualTo("a single 6");

    pair.apply("site", SchemaPair.difference(pair.held("site"), was));
    assertThat(pair.judged("site")).isEqualTo(before);
  }

  @Test
  void aValueThatTheNewLabelsLackStopsTheSwitch() throws SQLException {
    pair.sql("site", EVERYTHING);
    pair.sql("wanted", EVERYTHING);
    pair.sql(
        "site",
        "ALTER TYPE fares.kind ADD VALUE 'week'",
        "INSERT INTO fares.band (code, amount, kind) VALUES ('a', 3, 'week')");
    TablesDelta delta = SchemaPair.difference(pair.held("site"), pair.held("wanted"));
    String before = pair.judged("site");

    assertThatThrownBy(() -> pair.apply("site", delta))
        .isInstanceOf(SwitchRefused.class)
        .hasMessageContaining("week");
    assertThat(pair.judged("site")).isEqualTo(before);
  }

  @Test
  void aColumnOfAnExchangedEnumerationGetsAnotherDefaultOrNone() throws SQLException {
    pair.sql(
        "site",
        "CREATE TYPE fares.kind AS ENUM ('single', 'day')",
        "CREATE TABLE fares.band (code text PRIMARY KEY, kind fares.kind NOT NULL DEFAULT 'day', other fares.kind DEFAULT 'day', third fares.kind)",
        "INSERT INTO fares.band VALUES ('a', 'single', 'single')");
    pair.sql(
        "wanted",
        "CREATE TYPE fares.kind AS ENUM ('week', 'single')",
        "CREATE TABLE fares.band (code text PRIMARY KEY, kind fares.kind DEFAULT 'week', other fares.kind, third fares.kind DEFAULT 'single')");
    SchemaPair.Held was = pair.held("site");
    String before = pair.judged("site");

    pair.bring();

    alike();
    pair.apply("site", SchemaPair.difference(pair.held("site"), was));
    assertThat(pair.judged("site")).isEqualTo(before);
  }

  /** By their place in the text, city and area would have each other's value. */
  @Test
  void attributesOfACompositeTypeKeepTheirValuesByName() throws SQLException {
    pair.sql(
        "site",
        "CREATE TYPE fares.place AS (city text, area text, zone integer)",
        "CREATE TABLE fares.stop (code text PRIMARY KEY, at fares.place, was fares.place DEFAULT ROW('a', 'b', 1)::fares.place)",
        "INSERT INTO fares.stop (code, at) VALUES ('n', ROW('Brack', 'North', 7)), ('e', ROW(NULL, NULL, NULL)), ('x', NULL)");
    pair.sql(
        "wanted",
        "CREATE TYPE fares.place AS (zone bigint, area text, \"The level\" integer, city text)",
        "CREATE TABLE fares.stop (code text PRIMARY KEY, at fares.place, was fares.place DEFAULT ROW('a', 'b', 1)::fares.place)"
            .replace("ROW('a', 'b', 1)", "ROW(1, 'b', NULL, 'a')"));
    SchemaPair.Held was = pair.held("site");
    String before = pair.judged("site");

    pair.bring();

    alike();
    assertThat(
            pair.query(
                "site",
                "SELECT string_agg(concat_ws(' ', code, coalesce(at::text, 'none'), was), ' ; ' ORDER BY code) FROM fares.stop"))
        .isEqualTo("e (,,,) (1,b,,a) ; n (7,North,,Brack) (1,b,,a) ; x none (1,b,,a)");

    pair.apply("site", SchemaPair.difference(pair.held("site"), was));
    assertThat(pair.judged("site")).isEqualTo(before);
    assertThat(pair.query("site", "SELECT at FROM fares.stop WHERE code = 'n'"))
        .isEqualTo("(Brack,North,7)");
  }

  /** Dropped and added where it stands, the attribute would lose its values. */
  @Test
  void anAttributeGetsAnotherTypeWithItsValues() throws SQLException {
    pair.sql(
        "site",
        "CREATE TYPE fares.place AS (city text, zone integer)",
        "CREATE TABLE fares.stop (code text PRIMARY KEY, at fares.place, of fares.place[])",
        "INSERT INTO fares.stop VALUES ('n', ROW('Brack', 7), ARRAY[ROW('Brack', 7), ROW('Lund', 8)]::fares.place[])");
    pair.sql(
        "wanted",
        "CREATE TYPE fares.place AS (city text, zone text)",
        "CREATE TABLE fares.stop (code text PRIMARY KEY, at fares.place, of fares.place[])");

    pair.bring();

    alike();
    assertThat(pair.query("site", "SELECT concat_ws(' ', at, of) FROM fares.stop"))
        .isEqualTo("(Brack,7) {\"(Brack,7)\",\"(Lund,8)\"}");
  }

  @Test
  void aTextBecomesAnEnumerationThatComesWithIt() throws SQLException {
    pair.sql(
        "site",
        "CREATE TABLE fares.band (code text PRIMARY KEY, kind text DEFAULT 'day')",
        "INSERT INTO fares.band VALUES ('a', 'single')",
        "CREATE VIEW fares.all_of_it AS SELECT * FROM fares.band");
    pair.sql(
        "wanted",
        "CREATE TYPE fares.kind AS ENUM ('single', 'day')",
        "CREATE TABLE fares.band (code text PRIMARY KEY, kind fares.kind DEFAULT 'day')",
        "CREATE VIEW fares.all_of_it AS SELECT * FROM fares.band");

    pair.bring();

    alike();
    assertThat(pair.query("site", "SELECT kind FROM fares.all_of_it")).isEqualTo("single");
  }

  @Test
  void somebodyElsesViewStopsTheSwitchAndNothingChanged() throws SQLException {
    pair.sql("site", EVERYTHING);
    pair.sql("wanted", EVERYTHING);
    pair.sql(
        "wanted",
        "CREATE OR REPLACE VIEW fares.grouped AS SELECT code, kind, 1::bigint AS n FROM fares.band");
    TablesDelta delta = SchemaPair.difference(pair.held("site"), pair.held("wanted"));
    pair.sql(
        "site",
        "CREATE OR REPLACE VIEW fares.grouped AS SELECT code, kind, 2::bigint AS n FROM fares.band");
    String before = pair.judged("site");

    assertThatThrownBy(() -> pair.apply("site", delta))
        .isInstanceOfSatisfying(
            SwitchRefused.class,
            e ->
                assertThat(e.details())
                    .containsExactly("view/fares.grouped: it is not the one that the plan read"));
    assertThat(pair.judged("site")).isEqualTo(before);
  }

  @Test
  void whatAnObjectNeedsIsToldByColumn() throws SQLException {
    pair.sql("wanted", EVERYTHING);
    SchemaPair.Held held = pair.held("wanted");

    assertThat(held.objects().get(ComponentKey.of("view/fares.grouped")).needs())
        .containsExactly(
            new Needed(
                ComponentKey.of("table/fares.band"),
                List.of("column/code", "column/kind", "constraint/band_pkey")),
            new Needed(ComponentKey.of("type/fares.kind"), List.of()));
    assertThat(held.objects().get(ComponentKey.of("trigger/fares.band.stamped")).needs())
        .extracting(n -> n.component().toString())
        .containsExactly("routine/fares.stamp()", "table/fares.band", "type/fares.kind");
    assertThat(held.objects().get(ComponentKey.of("type/fares.price")).needs()).isEmpty();
  }

  @Test
  void aMaterializedViewShowsTheRowsOfAfterwards() throws SQLException {
    pair.sql("site", EVERYTHING);
    pair.sql("site", "INSERT INTO fares.band (code, amount) VALUES ('a', 3)");
    SchemaPair.Held held = pair.held("site");
    TablesDelta.TableDelta same =
        TablesDelta.TableDelta.of(
            new plenzo.core.component.TableName("fares", "band"),
            held.tables().get(new plenzo.core.component.TableName("fares", "band")),
            held.tables().get(new plenzo.core.component.TableName("fares", "band")),
            new TablesDelta.RowsDelta(
                new plenzo.core.records.Header(List.of("code"), List.of("text"), 1),
                java.util.Set.of(),
                List.of(),
                0,
                0,
                1,
                () -> {
                  throw new IllegalStateException("not opened");
                }));
    TablesDelta rows = new TablesDelta(List.of(same), List.of());

    assertThat(
            plenzo.core.object.ObjectsPlan.of(
                List.of(), held.objects(), held.tables(), rows, held.objects().keySet()))
        .extracting(o -> o.act() + " " + o.key())
        .containsExactly("REFRESH view/fares.kept");
    assertThat(
            plenzo.core.object.ObjectsPlan.of(
                List.of(), held.objects(), held.tables(), rows, java.util.Set.of()))
        .isEmpty();
  }
}
