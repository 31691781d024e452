package plenzo.connectors.database;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.tuple;

import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.TimeZone;
import java.util.function.BooleanSupplier;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestInstance;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import plenzo.connectors.database.sql.FactsSql;
import plenzo.core.comparison.Difference;
import plenzo.core.component.TableName;
import plenzo.core.digest.Digest;
import plenzo.core.digest.RowSum;
import plenzo.core.records.CanonicalCsv;
import plenzo.core.records.Header;
import plenzo.core.records.RecordsDefinition;
import plenzo.core.records.Row;
import plenzo.core.records.RowReader;
import plenzo.core.table.Column;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Access;
import plenzo.core.target.Changing;
import plenzo.core.target.Connector.Trial;
import plenzo.core.target.Connector.Use;
import plenzo.core.target.Extension;
import plenzo.core.target.Leftover;
import plenzo.core.target.Probe;
import plenzo.core.target.Question;
import plenzo.core.target.Rows;
import plenzo.core.target.RunMark;
import plenzo.core.target.Scratch;
import plenzo.core.target.Settled;
import plenzo.core.target.SwitchRefused;
import plenzo.core.target.TablesDelta;
import plenzo.core.target.TablesLooking;
import plenzo.core.target.TargetFailed;
import plenzo.core.target.TargetIdentity;

/** The connector against a real server. */
@TestInstance(TestInstance.Lifecycle.PER_CLASS)
class PostgresConnectorTest {
  private static final TableName FARE = new TableName("fares", "fare \"band\".x");
  private static final RecordsDefinition RECORDS =
      new RecordsDefinition(FARE, List.of("code"), null);

  private EmbeddedPostgres server;
  private final PostgresConnector connector = new PostgresConnector();

  @BeforeAll
  void start() throws Exception {
    server = TestServer.start("postgres");
    sql(
        "CREATE ROLE owner LOGIN PASSWORD 'x'; CREATE ROLE looker LOGIN PASSWORD 'x'; CREATE ROLE maker LOGIN CREATEDB PASSWORD 'x'");
  }

  @AfterAll
  void stop() throws Exception {
    server.close();
  }

  @BeforeEach
  void world() throws SQLException {
    sql(
        "DROP SCHEMA IF EXISTS fares CASCADE; DROP SCHEMA IF EXISTS plenzo CASCADE; CREATE SCHEMA fares AUTHORIZATION owner; CREATE SCHEMA plenzo AUTHORIZATION owner; GRANT USAGE ON SCHEMA fares TO looker");
    sql(
        "SET ROLE owner; CREATE TABLE fares.\"fare \"\"band\"\".x\" (code text PRIMARY KEY, amount numeric(8,2), at timestamptz, f float8, b bytea, j json); GRANT SELECT ON ALL TABLES IN SCHEMA fares TO looker;"
            + " INSERT INTO fares.\"fare \"\"band\"\".x\" VALUES ('b', 1.50, '2026-06-03 20:00+02', 0.1, '\\xdead', '{\"a\": 1}'), ('B', NULL, NULL, 1e300, NULL, NULL), ('ä', 2, '1999-12-31 23:59:59.5+00', 'NaN', '', '[]')");
  }

  private void sql(String sql) throws SQLException {
    sql("postgres", sql);
  }

  private void sql(String database, String sql) throws SQLException {
    try (Connection c = server.getDatabase("postgres", database).getConnection();
        Statement s = c.createStatement()) {
      s.execute(sql);
    }
  }

  private String query(String sql) throws SQLException {
    try (Connection c = server.getPostgresDatabase().getConnection();
        Statement s = c.createStatement();
        ResultSet r = s.executeQuery(sql)) {
      return r.next() ? String.valueOf(r.getString(1)) : "";
    }
  }

  private void workers(String... settings) throws SQLException {
    for (String setting : settings) {
      sql("ALTER SYSTEM " + setting);
    }
    sql("SELECT pg_reload_conf()");
  }

  private Access access(String account) {
    return new Access("127.0.0.1", server.getPort(), "postgres", account, "disable", "x");
  }

  private List<Row> rows() {
    List<Row> out = new ArrayList<>();
    try (TablesLooking looking = connector.look(access("looker"));
        RowReader reader = looking.rows(RECORDS, null)) {
      for (Row row = reader.next(); row != null; row = reader.next()) {
        out.add(row);
      }
    }
    return out;
  }

  private TableStructure structure() {
    try (TablesLooking looking = connector.look(access("looker"))) {
      return looking.table(FARE).orElseThrow().structure();
    }
  }

  @Test
  void readsTheSameBytesUnderHostileSettings() throws SQLException {
    List<String> seen = new ArrayList<>();
    TimeZone zone = TimeZone.getDefault();
    String[] hostile = {
      "",
      "ALTER ROLE looker SET TimeZone = 'Asia/Kolkata'",
      "ALTER ROLE looker SET DateStyle = 'German'",
      "ALTER ROLE looker SET extra_float_digits = -10; ALTER ROLE looker SET bytea_output = 'escape'",
      "ALTER ROLE looker SET search_path = fares, public; CREATE FUNCTION fares.format(text, text) RETURNS text LANGUAGE sql AS 'SELECT ''stolen'''; ALTER ROLE looker SET row_security = on"
    };
    for (String setting : hostile) {
      if (!setting.isEmpty()) {
        sql(setting);
      }
      TimeZone.setDefault(
          TimeZone.getTimeZone(
              setting.length() % 2 == 0 ? "Pacific/Auckland" : "America/St_Johns"));
      RowSum sum = new RowSum();
      rows().forEach(row -> sum.add(row.raw()));
      seen.add(sum.digest().hex());
    }
    TimeZone.setDefault(zone);
    sql("ALTER ROLE looker RESET ALL");

    assertThat(seen).hasSize(5).containsOnly(seen.get(0));
    assertThat(rows()).extracting(row -> row.get(0)).containsExactly("B", "b", "ä");
  }

  /** What the codec writes is what COPY reads, and the other way round, for random texts. */
  @Test
  void writesRowsAsCopyDoes() throws SQLException {
    long seed = System.nanoTime();
    System.out.println("seed " + seed);
    Random random = new Random(seed);
    String[] parts = {
      "", "\\.", "\"", "\r\n", "\n", ",", "'", "\\", "\\N", "é", "😀", "x", " ", "NULL"
    };
    sql(
        "SET ROLE owner; CREATE TABLE fares.texts (n integer PRIMARY KEY, t text); GRANT SELECT ON fares.texts TO looker");
    RecordsDefinition texts =
        new RecordsDefinition(new TableName("fares", "texts"), List.of("n"), null);
    Header header = new Header(List.of("n", "t"), List.of("integer", "text"), 1);
    List<Row> written = new ArrayList<>();
    for (int i = 0; i < 200; i++) {
      String text =
          parts[random.nextInt(parts.length)]
              + parts[random.nextInt(parts.length)]
              + parts[random.nextInt(parts.length)];
      written.add(
          Row.of(header, Arrays.asList(String.valueOf(i), random.nextInt(5) == 0 ? null : text)));
    }
    apply(
        delta(
            texts.table(),
            header,
            written.stream()
                .map(r -> new TablesDelta.RowChange(Difference.ADDED, null, r))
                .toList()),
        7,
        new Silent());

    List<byte[]> read = new ArrayList<>();
    try (TablesLooking looking = connector.look(access("looker"));
        RowReader reader = looking.rows(texts, null)) {
      for (Row row = reader.next(); row != null; row = reader.next()) {
        read.add(row.raw());
      }
    }
    assertThat(read)
        .usingElementComparator(Arrays::compare)
        .containsExactlyElementsOf(written.stream().map(Row::raw).toList());
  }

  private TablesDelta delta(TableName table, Header columns, List<TablesDelta.RowChange> changes) {
    TableStructure present;
    try (TablesLooking looking = connector.look(access("looker"))) {
      present = looking.table(table).orElseThrow().structure();
    }
    return delta(table, columns, present, present, changes);
  }

  private static TablesDelta delta(
      TableName table,
      Header columns,
      TableStructure present,
      TableStructure result,
      List<TablesDelta.RowChange> changes) {
    List<String> compared =
        columns.names().stream().filter(n -> present.column(n).isPresent()).toList();
    return new TablesDelta(
        List.of(
            TablesDelta.TableDelta.of(table, present, result, Rows.of(columns, compared, changes))),
        List.of());
  }

  /** Watches without a word. */
  private static class Silent implements Changing.Watch {
    @Override
    public void say(String line) {}

    @Override
    public void rows(long done) {}

    @Override
    public void beforeCommit() {}

    @Override
    public BooleanSupplier abortAsked() {
      return () -> false;
    }
  }

  private static RunMark mark(long run) {
    return new RunMark(run, "switch", 1, "2.4.0", "f", "ines", null);
  }

  private void apply(TablesDelta delta, long run, Changing.Watch watch) {
    try (Changing changing = connector.change(access("owner"))) {
      changing.declare(
          new TargetIdentity("s", "test", "main", "database", Instant.EPOCH), "looker");
      changing.prepare(run, delta, watch);
      changing.switchOver(mark(run), delta, watch);
      changing.discard(run);
    }
  }

  private TablesDelta change(String code, String to) {
    Row row = rows().stream().filter(r -> code.equals(r.get(0))).findFirst().orElseThrow();
    List<@Nullable String> fields = new ArrayList<>(row.fields());
    fields.set(row.header().position("amount"), to);
    return delta(
        FARE,
        row.header(),
        List.of(new TablesDelta.RowChange(Difference.CHANGED, row, Row.of(row.header(), fields))));
  }

  @Test
  void changesExactlyTheRowAndForwardsNothingElse() throws SQLException {
    apply(change("b", "9.99"), 1, new Silent());

    assertThat(
            query(
                "SELECT string_agg(code || '=' || coalesce(amount::text, '-'), ' ' ORDER BY code COLLATE \"C\") FROM fares.\"fare \"\"band\"\".x\""))
        .isEqualTo("B=- b=9.99 ä=2.00");
    assertThat(query("SELECT outcome FROM plenzo.run_mark WHERE run = 1")).isEqualTo("applied");
  }

  @Test
  void stopsAndNamesRowAndAttributeWhenATouchedRowMoved() throws SQLException {
    TablesDelta delta = change("b", "9.99");
    sql("UPDATE fares.\"fare \"\"band\"\".x\" SET amount = 7 WHERE code = 'b'");

    assertThatThrownBy(() -> apply(delta, 2, new Silent()))
        .isInstanceOfSatisfying(
            SwitchRefused.class,
            e -> {
              assertThat(e.why()).isEqualTo(SwitchRefused.Why.MOVED);
              assertThat(e.details())
                  .singleElement()
                  .asString()
                  .contains("row b")
                  .contains("amount");
            });
    assertThat(query("SELECT amount FROM fares.\"fare \"\"band\"\".x\" WHERE code = 'b'"))
        .isEqualTo("7.00");
    assertThat(query("SELECT count(*) FROM plenzo.run_mark WHERE run = 2")).isEqualTo("0");
  }

  @Test
  void refusesWhatTheEngineWouldNotTakeAndChangesNothing() throws SQLException {
    sql(
        "SET ROLE owner; ALTER TABLE fares.\"fare \"\"band\"\".x\" ADD CONSTRAINT low CHECK (amount < 100)");
    TablesDelta delta = change("b", "500.00");

    assertThatThrownBy(() -> apply(delta, 3, new Silent()))
        .isInstanceOf(SwitchRefused.class)
        .hasMessageContaining("low");
    assertThat(query("SELECT amount FROM fares.\"fare \"\"band\"\".x\" WHERE code = 'b'"))
        .isEqualTo("1.50");
  }

  @Test
  void saysVoidForGoodBeforeAndAppliedForGoodAfter() {
    TablesDelta delta = change("b", "9.99");
    try (Changing changing = connector.change(access("owner"))) {
      changing.declare(
          new TargetIdentity("s", "test", "main", "database", Instant.EPOCH), "looker");
      changing.prepare(4, delta, new Silent());

      assertThat(changing.settle(mark(4), List.of())).isEqualTo(Settled.VOID);
      assertThatThrownBy(() -> changing.switchOver(mark(4), delta, new Silent()))
          .isInstanceOf(SwitchRefused.class);
      assertThat(changing.settle(mark(4), List.of())).isEqualTo(Settled.VOID);

      changing.prepare(5, delta, new Silent());
      changing.switchOver(mark(5), delta, new Silent());
      assertThat(changing.settle(mark(5), List.of())).isEqualTo(Settled.APPLIED);
      assertThat(changing.settle(mark(5), List.of())).isEqualTo(Settled.APPLIED);
    }
  }

  @Test
  void givesUpOnALockInTimeAndNamesWhoHoldsIt() throws Exception {
    TablesDelta delta = change("b", "9.99");
    try (Connection reader =
            DriverManager.getConnection(
                "jdbc:postgresql://127.0.0.1:"
                    + server.getPort()
                    + "/postgres?ApplicationName=till",
                "owner",
                "x");
        Statement s = reader.createStatement()) {
      reader.setAutoCommit(false);
      s.execute("LOCK TABLE fares.\"fare \"\"band\"\".x\" IN ROW EXCLUSIVE MODE");

      assertThatThrownBy(() -> apply(delta, 6, new Silent()))
          .isInstanceOfSatisfying(
              SwitchRefused.class,
              e -> {
                assertThat(e.why()).isEqualTo(SwitchRefused.Why.LOCKED);
                assertThat(e.details()).anyMatch(d -> d.contains("owner (till)"));
              });
    }
  }

  @Test
  void movesAnIdentityForwardSoThatTheNextUserInsertFits() throws SQLException {
    sql(
        "SET ROLE owner; CREATE TABLE fares.line (id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY, name text); GRANT SELECT ON fares.line TO looker");
    Header header = new Header(List.of("id", "name"), List.of("bigint", "text"), 1);
    apply(
        delta(
            new TableName("fares", "line"),
            header,
            List.of(
                new TablesDelta.RowChange(
                    Difference.ADDED, null, Row.of(header, List.of("41", "north"))))),
        8,
        new Silent());

    sql("INSERT INTO fares.line (name) VALUES ('user')");

    assertThat(query("SELECT id FROM fares.line WHERE name = 'user'")).isEqualTo("42");
  }

  private static final TableName NOTE = new TableName("fares", "note");

  /** Rows 1 to 5 of a table in which anything may stand. */
  private TableStructure notes() throws SQLException {
    sql(
        "SET ROLE owner; CREATE TABLE fares.note (id integer PRIMARY KEY, level text NOT NULL, zone text, line text);"
            + " INSERT INTO fares.note VALUES (1, '7', 'b', 'x'), (2, '99999999999', 'b', 'x'), (3, 'many', 'gone', NULL), (4, '4', NULL, 'long one'), (5, '5', 'B', 'x');"
            + " GRANT SELECT ON fares.note TO looker");
    try (TablesLooking looking = connector.look(access("looker"))) {
      return looking.table(NOTE).orElseThrow().structure();
    }
  }

  /** What a question counts is marked row by row, of equal rows all but the first. */
  @Test
  void marksTheRowsThatAQuestionCounts() throws SQLException {
    notes();
    List<Question> asked =
        List.of(
            Question.of(Question.Type.ROWS, NOTE),
            Question.of(Question.Type.NULLS, NOTE, "line"),
            Question.notFitting(NOTE, "level", "integer", "text"),
            Question.violating(NOTE, "(length(line) < 5)"),
            Question.of(Question.Type.DUPLICATES, NOTE, "line"),
            Question.of(Question.Type.ORPHANS, NOTE, "zone")
                .along(List.of(new Question.Hop(FARE, List.of("zone"), List.of("code")))),
            Question.of(Question.Type.POINTING, FARE)
                .along(List.of(new Question.Hop(NOTE, List.of("zone"), List.of("code"))))
                .given(
                    new Question.Tuples(
                        List.of("code"), List.of("text"), List.of(List.of("b"), List.of("x")))));
    List<String> marked = new ArrayList<>();
    List<Long> counted = new ArrayList<>();
    try (TablesLooking looking = connector.look(access("looker"))) {
      for (Question q : asked) {
        counted.add(looking.answer(q).count());
      }
      try (RowReader reader = looking.allRows(NOTE, List.of("id"), asked)) {
        for (Row row = reader.next(); row != null; row = reader.next()) {
          StringBuilder line = new StringBuilder(row.keyLine().replace("\"", "")).append(' ');
          for (int n = 0; n < asked.size(); n++) {
            line.append(row.get(row.header().position(TablesLooking.mark(n))));
          }
          marked.add(line.toString());
        }
      }
    }

    assertThat(marked)
        .containsExactly("1 tffffft", "2 tftftft", "3 tttfftf", "4 tfftfff", "5 tffftff");
    assertThat(counted)
        .as("one value stands in three rows")
        .containsExactly(5L, 1L, 2L, 1L, 1L, 1L, 2L);
  }

  /** Whatever can be cast and comes back as it was fits; the texts of numbers do not matter. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "integer          | numeric(6,2)         | 30            | 0",
        "integer          | numeric(3,2)         | 30            | 1",
        "integer          | smallint             | 32767         | 0",
        "integer          | smallint             | 32768         | 1",
        "numeric(6,2)     | integer              | 12.00         | 0",
        "numeric(6,2)     | integer              | 12.50         | 1",
        "numeric(6,2)     | numeric(6,1)         | 10.50         | 0",
        "numeric(6,2)     | numeric(6,1)         | 10.55         | 1",
        "bigint           | double precision     | 9007199254740993 | 1",
        "integer          | double precision     | 30            | 0",
        "double precision | numeric(6,2)         | 0.25          | 0",
        "text             | character varying(3) | abc           | 0",
        "text             | character varying(3) | abcd          | 1",
        "text             | integer              | 7             | 0",
        "text             | integer              | seven         | 1",
        "integer          | text                 | 7             | 0",
        "date             | timestamp without time zone | 2026-04-01 | 0",
      })
  void countsValuesThatDoNotFitAnotherType(String was, String is, String value, long unfit)
      throws SQLException {
    sql(
        "SET ROLE owner; CREATE TABLE fares.note (v "
            + was
            + "); INSERT INTO fares.note VALUES ('"
            + value
            + "'), (NULL); GRANT SELECT ON fares.note TO looker");
    try (TablesLooking looking = connector.look(access("looker"))) {
      assertThat(looking.answer(Question.notFitting(NOTE, "v", is, was)).count()).isEqualTo(unfit);
    }
  }

  /** A server that cannot be asked whether it would refuse a text is shown each of them. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "text    | uuid     | d1b5a2f0-0a52-4b51-9b3c-0d8a1f3c2e11, Nord | 1 Nord",
        "integer | uuid     | 1, 2      | 2 1 2",
        "text    | date     | 2026-04-01, 2026-13-01, soon  | 2 2026-13-01 soon",
        "text    | interval | 1 mon     | 0",
        "text    | inet     | 10.0.0.1/32, 10.0.0.1, ten | 2 10.0.0.1 ten",
      })
  void countsThemOneByOneBeforePostgres16(String was, String is, String values, String unfit)
      throws SQLException {
    sql("SET ROLE owner; CREATE TABLE fares.note (v " + was + ")");
    for (String value : values.split(", ")) {
      sql("SET ROLE owner; INSERT INTO fares.note VALUES ('" + value + "'), (NULL)");
    }
    Question q = Question.notFitting(NOTE, "v", is, was);
    try (Connection c = server.getPostgresDatabase().getConnection();
        Statement s = c.createStatement()) {
      c.setAutoCommit(false);
      s.execute("SET TRANSACTION READ ONLY");
      s.execute(FactsSql.failing(q, /* server= */ 150000));
      try (ResultSet r =
          s.executeQuery("SELECT pg_catalog.current_setting('" + FactsSql.FAILED + "')")) {
        r.next();
        assertThat(r.getString(1).replace("\n", " ")).isEqualTo(unfit);
      }
    }
  }

  @Test
  void marksNoRowThatTheRunWrites() throws SQLException {
    notes();
    Question.Tuples three =
        new Question.Tuples(List.of("id"), List.of("integer"), List.of(List.of("3")));
    Question q = Question.of(Question.Type.NULLS, NOTE, "line").without(three);
    try (TablesLooking looking = connector.look(access("looker"));
        RowReader reader = looking.allRows(NOTE, List.of("id"), List.of(q))) {
      for (Row row = reader.next(); row != null; row = reader.next()) {
        assertThat(row.get(row.header().position(TablesLooking.mark(0)))).isEqualTo("f");
      }
      assertThat(reader.count()).isEqualTo(5);
    }
  }

  /** Rows point at "b", which goes, and then at "c", which comes, or at nothing. */
  @ParameterizedTest(name = "{0}")
  @ValueSource(
      strings = {
        "text",
        "text ON DELETE RESTRICT",
        "text NOT NULL",
        "text NOT NULL DEFERRABLE",
        "text NOT NULL DEFERRABLE INITIALLY DEFERRED"
      })
  void letsRowsPointElsewhereThanAtARowThatGoes(String how) throws SQLException {
    String type = how.startsWith("text NOT NULL") ? "text NOT NULL" : "text";
    sql(
        "SET ROLE owner; CREATE TABLE fares.zone (code text PRIMARY KEY); CREATE TABLE fares.note (id integer PRIMARY KEY, zone "
            + type
            + " CONSTRAINT there REFERENCES fares.zone"
            + how.substring(type.length())
            + "); INSERT INTO fares.zone VALUES ('a'), ('b'); INSERT INTO fares.note VALUES (1, 'a'), (2, 'b'), (3, 'b'); GRANT SELECT ON ALL TABLES IN SCHEMA fares TO looker");
    TableName zone = new TableName("fares", "zone");
    Header code = new Header(List.of("code"), List.of("text"), 1);
    Header note = new Header(List.of("id", "zone"), List.of("integer", "text"), 1);
    String third = type.equals("text") ? null : "a";
    List<TablesDelta.TableDelta> tables = new ArrayList<>();
    tables.addAll(
        delta(
                zone,
                code,
                List.of(
                    new TablesDelta.RowChange(Difference.REMOVED, Row.of(code, List.of("b")), null),
                    new TablesDelta.RowChange(Difference.ADDED, null, Row.of(code, List.of("c")))))
            .tables());
    tables.addAll(
        delta(
                NOTE,
                note,
                List.of(
                    new TablesDelta.RowChange(
                        Difference.CHANGED,
                        Row.of(note, List.of("2", "b")),
                        Row.of(note, List.of("2", "c"))),
                    new TablesDelta.RowChange(
                        Difference.CHANGED,
                        Row.of(note, List.of("3", "b")),
                        Row.of(note, Arrays.asList("3", third)))))
            .tables());
    TableStructure before = tables.get(1).present();

    apply(new TablesDelta(tables, List.of()), 12, new Silent());

    assertThat(
            query("SELECT string_agg(id || coalesce(zone, '-'), ' ' ORDER BY id) FROM fares.note"))
        .isEqualTo("1a 2c 3" + (third == null ? "-" : third));
    assertThat(query("SELECT string_agg(code, '' ORDER BY code) FROM fares.zone")).isEqualTo("ac");
    try (TablesLooking looking = connector.look(access("looker"))) {
      assertThat(looking.table(NOTE).orElseThrow().structure())
          .as("the key is as it was")
          .isEqualTo(before);
    }
  }

  /** A row that was there points at one of its own table that comes. */
  @Test
  void letsARowPointAtOneThatComesInTheSameTable() throws SQLException {
    sql(
        "SET ROLE owner; CREATE TABLE fares.note (id integer PRIMARY KEY, up integer NOT NULL CONSTRAINT above REFERENCES fares.note ON DELETE RESTRICT);"
            + " INSERT INTO fares.note VALUES (1, 1); GRANT SELECT ON fares.note TO looker");
    Header note = new Header(List.of("id", "up"), List.of("integer", "integer"), 1);

    apply(
        delta(
            NOTE,
            note,
            List.of(
                new TablesDelta.RowChange(
                    Difference.CHANGED,
                    Row.of(note, List.of("1", "1")),
                    Row.of(note, List.of("1", "2"))),
                new TablesDelta.RowChange(
                    Difference.ADDED, null, Row.of(note, List.of("2", "2"))))),
        13,
        new Silent());

    assertThat(query("SELECT string_agg(id || '>' || up, ' ' ORDER BY id) FROM fares.note"))
        .isEqualTo("1>2 2>2");
  }

  /**
   * "level" becomes a number, which two values do not fit: one is written anew and one goes with
   * its row. "line" comes back to one row in a set of its own.
   */
  @Test
  void changesATypeWhenTheValuesInTheWayGo() throws SQLException {
    TableStructure present = notes();
    List<Column> columns = new ArrayList<>(present.columns());
    columns.replaceAll(
        c ->
            c.name().equals("level")
                ? new Column("level", "integer", true, null, null, null, null, null)
                : c);
    columns.add(new Column("since", "date", false, null, null, null, null, null));
    TableStructure result =
        new TableStructure(columns, present.constraints(), present.indexes(), present.comment());
    Header id = new Header(List.of("id"), List.of("integer"), 1);
    Header was = new Header(List.of("id", "level"), List.of("integer", "text"), 1);
    Header is = new Header(List.of("id", "level"), List.of("integer", "integer"), 1);
    Header since = new Header(List.of("id", "since"), List.of("integer", "date"), 1);
    TablesDelta.Fitted fitted =
        new TablesDelta.Fitted(
            List.of(
                Rows.of(
                    is,
                    is.names(),
                    List.of(
                        new TablesDelta.RowChange(
                            Difference.CHANGED,
                            Row.of(was, List.of("2", "99999999999")),
                            Row.of(is, List.of("2", "9"))))),
                Rows.of(
                    was,
                    was.names(),
                    List.of(
                        new TablesDelta.RowChange(
                            Difference.REMOVED, Row.of(was, List.of("3", "many")), null))),
                Rows.of(
                    since,
                    List.of("id"),
                    List.of(
                        new TablesDelta.RowChange(
                            Difference.CHANGED,
                            Row.of(id, List.of("2")),
                            Row.of(since, List.of("2", "2026-04-01")))))),
            Set.of("column/level"));
    TablesDelta delta =
        new TablesDelta(
            List.of(TablesDelta.TableDelta.of(NOTE, present, result, null).with(fitted)),
            List.of());

    apply(delta, 9, new Silent());

    assertThat(
            query(
                "SELECT string_agg(id || '=' || level || coalesce('/' || since, ''), ' ' ORDER BY id) FROM fares.note"))
        .isEqualTo("1=7 2=9/2026-04-01 4=4 5=5");
    assertThat(delta.rows()).isEqualTo(3);
    try (TablesLooking looking = connector.look(access("looker"))) {
      assertThat(looking.table(NOTE).orElseThrow().structure()).isEqualTo(result);
    }
    assertThat(connector.statements(delta))
        .as("what people read of it beforehand")
        .anyMatch(line -> line.contains("SET \"level\" = NULL"))
        .anyMatch(line -> line.endsWith("\"level\" SET NOT NULL"));
  }

  /** An account that may make databases may not make every extension in them. */
  @Test
  void whatAScratchPlaceLacksIsSaidAndLaidByAnAdministrator() throws SQLException {
    Scratch.Place place = Scratch.Place.proof(11);
    List<Extension> needed =
        List.of(new Extension("citext", "public", "1.6"), new Extension("dblink", "public", "1.2"));
    TableStructure structure =
        new TableStructure(
            List.of(
                new Column(
                    "far", "public.dblink_pkey_results", false, null, null, null, null, null)),
            List.of(),
            List.of(),
            null);
    Scratch.Source table =
        new Scratch.Source(
            TableName.of("public.odd"), structure, () -> Scratch.Source.none(structure));
    try (Scratch scratch = connector.scratch(access("maker"))) {
      scratch.open(place, List.of(), needed);
      assertThat(scratch.lacking())
          .singleElement()
          .asString()
          .startsWith(
              "extension dblink, which this site has, cannot be made in a scratch place: ERROR: permission denied");
      assertThatThrownBy(() -> scratch.restore(List.of(table), List.of()))
          .isInstanceOf(TargetFailed.class)
          .hasMessageContaining("dblink_pkey_results")
          .hasMessageContaining("extension dblink, which this site has");
    }

    sql("CREATE DATABASE plenzo_template ENCODING 'UTF8' TEMPLATE template0");
    sql("plenzo_template", "CREATE EXTENSION dblink SCHEMA public");
    try (Scratch scratch = connector.scratch(access("maker"))) {
      scratch.open(place, List.of(), needed);
      assertThat(scratch.lacking()).as("one that is no template yet").hasSize(1);
      sql("ALTER DATABASE plenzo_template IS_TEMPLATE true");
      scratch.open(place, List.of(), needed);
      assertThat(scratch.lacking()).isEmpty();
      assertThat(scratch.restore(List.of(table), List.of())).hasSize(1);
      scratch.drop(place);
    } finally {
      sql("ALTER DATABASE plenzo_template IS_TEMPLATE false");
      sql("DROP DATABASE plenzo_template");
    }
  }

  @Test
  void restoresABackupInAScratchPlaceAndReadsTheSame() throws SQLException {
    sql(
        "SET ROLE owner; CREATE TABLE fares.child (id integer GENERATED BY DEFAULT AS IDENTITY PRIMARY KEY, code text NOT NULL REFERENCES fares.\"fare \"\"band\"\".x\" (code), note varchar(20) DEFAULT 'x' CHECK (note <> ''));"
            + " CREATE UNIQUE INDEX child_note ON fares.child (lower(note)); COMMENT ON TABLE fares.child IS 'it''s a child'; INSERT INTO fares.child (code) VALUES ('b'); GRANT SELECT ON fares.child TO looker");
    TableName child = new TableName("fares", "child");
    List<Scratch.Source> sources = new ArrayList<>();
    List<Digest> sums = new ArrayList<>();
    for (TableName table : List.of(FARE, child)) {
      try (TablesLooking looking = connector.look(access("looker"));
          RowReader reader = looking.allRows(table, List.of())) {
        RowSum sum = new RowSum();
        StringBuilder text =
            new StringBuilder(
                CanonicalCsv.text(reader.header().names())
                    + "\n"
                    + CanonicalCsv.text(reader.header().types())
                    + "\n");
        for (Row row = reader.next(); row != null; row = reader.next()) {
          sum.add(row.raw());
          text.append(CanonicalCsv.text(row.fields())).append('\n');
        }
        sums.add(sum.digest());
        byte[] bytes = text.toString().getBytes(java.nio.charset.StandardCharsets.UTF_8);
        try (TablesLooking again = connector.look(access("looker"))) {
          sources.add(
              new Scratch.Source(
                  table,
                  again.table(table).orElseThrow().structure(),
                  () -> new RowReader(new java.io.ByteArrayInputStream(bytes), 0)));
        }
      }
    }

    try (Scratch scratch = connector.scratch(access("maker"))) {
      scratch.open(Scratch.Place.proof(9), List.of(), List.of());
      List<Scratch.Restored> restored = scratch.restore(sources, List.of());
      scratch.drop(Scratch.Place.proof(9));

      assertThat(restored)
          .extracting(Scratch.Restored::structure)
          .containsExactly(sources.get(0).structure(), sources.get(1).structure());
      assertThat(restored).extracting(Scratch.Restored::sum).containsExactlyElementsOf(sums);
    }
    // a table that others are only built on has no rows that theirs could point at
    try (Scratch scratch = connector.scratch(access("maker"))) {
      scratch.open(Scratch.Place.proof(9), List.of(), List.of());
      Scratch.Restored restored =
          scratch
              .restore(
                  List.of(Scratch.Source.beside(FARE, sources.get(0).structure()), sources.get(1)),
                  List.of())
              .get(1);
      scratch.drop(Scratch.Place.proof(9));

      assertThat(restored.structure()).isEqualTo(sources.get(1).structure());
      assertThat(restored.sum()).isEqualTo(sums.get(1));
    }
    assertThat(query("SELECT count(*) FROM pg_database WHERE datname LIKE 'plenzo_scratch%'"))
        .isEqualTo("0");
  }

  /** No call with an argument for each column, of which there may be a hundred. */
  @Test
  void aTableOfHundredsOfColumnsIsReadWrittenAndGuarded() throws SQLException {
    int columns = 790;
    sql("SET ROLE owner; CREATE TABLE fares.many (" + numbered("c%d integer", columns) + ")");
    sql(
        "SET ROLE owner; ALTER TABLE fares.many ADD PRIMARY KEY (c0); GRANT SELECT ON fares.many TO looker");
    sql(
        "INSERT INTO fares.many SELECT "
            + numbered("n + %d", columns)
            + " FROM generate_series(1, 3) n");
    TableName many = new TableName("fares", "many");
    RecordsDefinition records = new RecordsDefinition(many, List.of("c0"), null);
    Row row;
    try (TablesLooking looking = connector.look(access("looker"));
        RowReader reader = looking.rows(records, null)) {
      row = reader.next();
    }
    assertThat(row.fields()).hasSize(columns).startsWith("1", "2").contains("790");
    List<@Nullable String> fields = new ArrayList<>(row.fields());
    fields.set(row.header().position("c789"), "-7");
    TablesDelta delta =
        delta(
            many,
            row.header(),
            List.of(
                new TablesDelta.RowChange(Difference.CHANGED, row, Row.of(row.header(), fields))));

    apply(delta, 31, new Silent());

    assertThat(query("SELECT c789 FROM fares.many WHERE c0 = 1")).isEqualTo("-7");
    assertThatThrownBy(() -> apply(delta, 32, new Silent()))
        .as("it is no longer what the plan read")
        .isInstanceOfSatisfying(
            SwitchRefused.class,
            e ->
                assertThat(e.details())
                    .singleElement()
                    .asString()
                    .contains("row 1")
                    .contains("c789"));
  }

  @Test
  void theStructureOfATableOfAllColumnsThatAreAllowedIsRead() throws SQLException {
    sql(
        "SET ROLE owner; CREATE TABLE fares.many ("
            + numbered("c%d integer", 1_600)
            + "); GRANT SELECT ON fares.many TO looker");
    try (TablesLooking looking = connector.look(access("looker"))) {
      assertThat(looking.table(new TableName("fares", "many")).orElseThrow().structure().columns())
          .hasSize(1_600);
    }
  }

  private static String numbered(String format, int count) {
    return IntStream.range(0, count).mapToObj(format::formatted).collect(Collectors.joining(", "));
  }

  /** What is not read to its end is left in a state from which the look goes on. */
  @ParameterizedTest
  @ValueSource(ints = {3, 5_000, 200_000})
  void readsOnAfterRowsThatWereNotReadToTheirEnd(int rows) throws SQLException {
    sql(
        "SET ROLE owner; CREATE TABLE fares.many AS SELECT n, repeat('x', 40) AS text FROM generate_series(1, "
            + rows
            + ") n; GRANT SELECT ON fares.many TO looker");
    TableName many = new TableName("fares", "many");
    try (TablesLooking looking = connector.look(access("looker"))) {
      for (int read : new int[] {0, 1, 2}) {
        try (RowReader reader = looking.allRows(many, List.of())) {
          for (int i = 0; i < read; i++) {
            assertThat(reader.next()).isNotNull();
          }
        }
        assertThat(looking.table(many)).as("after " + read + " rows").isPresent();
        assertThat(looking.answer(Question.of(Question.Type.ROWS, many)).count()).isEqualTo(rows);
      }
    }
  }

  /** A place of a rehearsal is a database like any other: it is marked, switched and looked at. */
  @Test
  void aRehearsalsPlaceIsSwitchedLikeATarget() throws SQLException {
    TableStructure structure;
    try (TablesLooking looking = connector.look(access("looker"))) {
      structure = looking.table(FARE).orElseThrow().structure();
      try (Scratch scratch = connector.scratch(access("maker"))) {
        scratch.open(Scratch.Place.rehearsal(3), List.of("fares", "plenzo"), List.of());
        scratch.restore(
            List.of(new Scratch.Source(FARE, structure, () -> looking.allRows(FARE, List.of()))),
            List.of());
        try (Changing copy = connector.change(scratch.inside())) {
          copy.declare(
              new TargetIdentity("s", "production", "north", "t", java.time.Instant.EPOCH),
              scratch.inside().account());
          copy.claim();
          copy.prepare(1, change("b", "9.99"), new Silent());
          copy.switchOver(
              new RunMark(1, "switch", 1, "2.4.0", "f".repeat(64), "ines", null),
              change("b", "9.99"),
              new Silent());
          copy.discard(1);
        }
        try (TablesLooking copy = connector.look(scratch.inside())) {
          assertThat(copy.query("SELECT max(amount) FROM fares.\"fare \"\"band\"\".x\""))
              .contains("9.99");
        }
        scratch.drop(Scratch.Place.rehearsal(3));
      }
    }
    assertThat(query("SELECT count(*) FROM pg_database WHERE datname LIKE 'plenzo_rehearsal%'"))
        .isEqualTo("0");
  }

  @Test
  void namesWhatRunsLeftAndClearsOneOfIt() throws SQLException {
    apply(change("b", "9.99"), 31, new Silent());
    sql(
        "SET ROLE owner; CREATE TABLE plenzo.stage_32_0 (x integer); CREATE TABLE plenzo.before_mine (x integer)");
    List<Leftover> found;
    try (TablesLooking looking = connector.look(access("looker"))) {
      found = looking.leftovers();
    }
    assertThat(found)
        .extracting(Leftover::sort, Leftover::name, Leftover::run)
        .containsExactlyInAnyOrder(
            tuple(Leftover.Sort.BEFORE, "before_31_0", 31L),
            tuple(Leftover.Sort.PREPARED, "stage_32_0", 32L));
    assertThat(found)
        .filteredOn(l -> l.run() == 31)
        .allMatch(l -> l.bytes() != null && l.bytes() > 0);

    try (Changing changing = connector.change(access("owner"))) {
      changing.claim();
      changing.clear(found.stream().filter(l -> l.run() == 31).findFirst().orElseThrow());
      changing.clear(new Leftover(Leftover.Sort.BEFORE, "marker", 31, null));
    }

    try (TablesLooking looking = connector.look(access("looker"))) {
      assertThat(looking.leftovers()).extracting(Leftover::name).containsExactly("stage_32_0");
    }
    assertThat(query("SELECT count(*) FROM plenzo.marker")).isEqualTo("1");
  }

  @Test
  void namesScratchDatabasesThatAreLeft() throws SQLException {
    sql("CREATE DATABASE plenzo_scratch_41");
    sql("CREATE DATABASE plenzo_scratch_mine");
    sql("CREATE DATABASE plenzo_rehearsal_7");
    try (Scratch scratch = connector.scratch(access("maker"))) {
      assertThat(scratch.leftovers())
          .extracting(Leftover::sort, Leftover::run)
          .containsExactlyInAnyOrder(
              tuple(Leftover.Sort.SCRATCH, 41L), tuple(Leftover.Sort.REHEARSAL, 7L));
      assertThat(scratch.leftovers()).allMatch(l -> l.bytes() != null && l.bytes() > 0);
    } finally {
      sql("DROP DATABASE plenzo_rehearsal_7");
      sql("DROP DATABASE plenzo_scratch_41");
      sql("DROP DATABASE plenzo_scratch_mine");
    }
  }

  /** A name that leads elsewhere a moment after it was judged is not asked for again. */
  @Test
  void goesToTheAddressThatWasJudgedWhateverTheNameLeadsTo() {
    Access named =
        new Access(
            "database.invalid",
            server.getPort(),
            "postgres",
            "",
            "looker",
            "disable",
            Map.of(),
            "x",
            List.of("127.0.0.1"));

    try (TablesLooking looking = connector.look(named)) {
      assertThat(looking.instance()).isNotEmpty();
    }
    assertThatThrownBy(
            () ->
                connector.look(
                    new Access(
                        "database.invalid",
                        server.getPort(),
                        "postgres",
                        "looker",
                        "disable",
                        "x")))
        .isInstanceOf(TargetFailed.class);
  }

  private List<Probe> red(String account, Use use, String reader) {
    return connector.test(access(account), new Trial(use, List.of("fares"), null, reader)).stream()
        .filter(p -> !p.good())
        .toList();
  }

  @Test
  void whatAnAccountLacksIsPrintedAsTheStatementThatGivesIt() throws SQLException {
    sql(
        "CREATE ROLE bare LOGIN PASSWORD 'x'; CREATE ROLE worker LOGIN PASSWORD 'x'; CREATE ROLE \"odd \"\"one\" LOGIN PASSWORD 'x'");
    try {
      sql("REVOKE ALL ON SCHEMA fares FROM looker");
      for (String account : List.of("bare", "odd \"one")) {
        List<Probe> look = red(account, Use.LOOKING, "");
        assertThat(look).extracting(Probe::name).containsExactly("read plenzo", "read fares");
        obey(look);
        assertThat(red(account, Use.LOOKING, "")).isEmpty();
      }

      List<Probe> change = red("worker", Use.CHANGING, "bare");
      assertThat(change)
          .extracting(Probe::name)
          .containsExactly("own plenzo", "own fares", "new tables of fares");
      obey(change);
      assertThat(red("worker", Use.CHANGING, "bare")).isEmpty();

      List<Probe> scratch = red("worker", Use.SCRATCH, "");
      assertThat(scratch).extracting(Probe::name).containsExactly("create databases");
      obey(scratch);
      assertThat(red("worker", Use.SCRATCH, "")).isEmpty();

      sql("DROP SCHEMA plenzo CASCADE");
      List<Probe> without = red("worker", Use.CHANGING, "bare");
      assertThat(without).extracting(Probe::name).containsExactly("own plenzo");
      obey(without);
      assertThat(red("worker", Use.CHANGING, "bare")).isEmpty();
    } finally {
      sql("REASSIGN OWNED BY worker TO owner");
      for (String role : List.of("bare", "worker", "\"odd \"\"one\"")) {
        sql("DROP OWNED BY " + role + "; DROP ROLE " + role);
      }
    }
  }

  /** Runs what the test advised, as the database's administrator would. */
  private void obey(List<Probe> probes) throws SQLException {
    for (Probe p : probes) {
      sql(p.advice());
    }
  }

  @Test
  void aServerWithoutTlsIsSaidToHaveNone() {
    Access sure =
        new Access("127.0.0.1", server.getPort(), "postgres", "looker", "verify-full", "x");

    assertThat(connector.test(sure, Trial.of(Use.LOOKING, List.of("fares"), null)))
        .singleElement()
        .matches(p -> !p.good() && p.advice().contains("--tls disable"));
  }

  @Test
  void testsRedForATooPowerfulAccountAndForACopy() {
    assertThat(
            connector.test(
                new Access(
                    "127.0.0.1", server.getPort(), "postgres", "postgres", "disable", "postgres"),
                Trial.of(Use.CHANGING, List.of("fares"), null)))
        .anyMatch(p -> p.name().equals("account") && !p.good() && p.found().contains("superuser"));
    apply(change("b", "9.99"), 10, new Silent());
    TargetIdentity other = new TargetIdentity("s", "production", "main", "database", Instant.EPOCH);
    assertThat(connector.test(access("looker"), Trial.of(Use.LOOKING, List.of("fares"), other)))
        .anyMatch(
            p ->
                p.name().equals("identity")
                    && !p.good()
                    && p.found().contains("says it is test/main"));
    assertThat(
            connector.test(
                new Access("127.0.0.1", 1, "postgres", "x", "disable", "x"),
                Trial.of(Use.LOOKING, List.of(), null)))
        .singleElement()
        .matches(p -> !p.good());
  }

  @Test
  void addsAColumnFillsItAndOnlyThenForbidsNull() throws SQLException {
    TableStructure present = structure();
    List<Column> columns = new ArrayList<>(present.columns());
    columns.add(new Column("zone", "integer", true, null, null, null, null, "Which zone"));
    TableStructure result =
        new TableStructure(columns, present.constraints(), present.indexes(), "Bands");
    List<TablesDelta.RowChange> changes = new ArrayList<>();
    for (Row row : rows()) {
      List<String> names = new ArrayList<>(row.header().names());
      List<String> types = new ArrayList<>(row.header().types());
      names.add("zone");
      types.add("integer");
      List<@Nullable String> fields = new ArrayList<>(row.fields());
      fields.add("3");
      changes.add(
          new TablesDelta.RowChange(
              Difference.CHANGED, row, Row.of(new Header(names, types, 1), fields)));
    }
    Header columnsOfRows = java.util.Objects.requireNonNull(changes.get(0).incoming()).header();

    apply(delta(FARE, columnsOfRows, present, result, changes), 11, new Silent());

    assertThat(structure()).isEqualTo(result);
    assertThat(query("SELECT sum(zone) FROM fares.\"fare \"\"band\"\".x\"")).isEqualTo("9");
  }

  private String asked(String query) {
    try (TablesLooking look = connector.look(access("looker"))) {
      return look.query(query);
    }
  }

  @Test
  void aQueryOfAPersonsIsAnsweredAsLines() {
    assertThat(
            asked(
                "SELECT code, amount FROM fares.\"fare \"\"band\"\".x\" ORDER BY code COLLATE \"C\""))
        .isEqualTo("\"B\",\n\"b\",\"1.50\"\n\"\u00e4\",\"2.00\"\n");
    assertThat(asked("SELECT 'a\"b'")).isEqualTo("\"a\"\"b\"\n");
    assertThat(asked("SELECT 1 WHERE false")).isEmpty();
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "SELECT 1; SELECT 2                                             | semicolon",
        "DELETE FROM fares.\"fare \"\"band\"\".x\"                      | syntax error",
        "INSERT INTO fares.\"fare \"\"band\"\".x\" (code) VALUES ('z')  | syntax error",
        "SELECT * FROM generate_series(1, 51)                           | more than 50 rows",
        "SELECT repeat('x', 30000)                                      | more than 20000 characters",
        "SELECT lo_create(0)                                            | read-only",
        "SELECT pg_sleep(30)                                            | statement timeout",
        "SELECT * FROM nowhere                                          | does not exist"
      })
  void aQueryThatDoesMoreOrTakesLongerIsRefusedAndTheNextIsAnswered(String query, String why)
      throws SQLException {
    try (TablesLooking look = connector.look(access("looker"))) {
      assertThatThrownBy(() -> look.query(query))
          .isInstanceOf(TargetFailed.class)
          .hasMessageContaining(why);
      assertThat(look.query("SELECT 1")).isEqualTo("\"1\"\n");
    }
    assertThat(query("SELECT count(*) FROM fares.\"fare \"\"band\"\".x\"")).isEqualTo("3");
  }

  /** One proof in fifty failed by that: no account but an administrator's may end such a worker. */
  @Test
  void dropsAScratchPlaceThatAWorkerOfTheServerHolds() throws Exception {
    workers(
        "SET autovacuum_naptime = '1s'",
        "SET autovacuum_vacuum_cost_delay = '100ms'",
        "SET autovacuum_vacuum_cost_limit = 1");
    try (Scratch scratch = connector.scratch(access("maker"))) {
      Scratch.Place place = Scratch.Place.proof(77);
      scratch.open(place, List.of("fares"), List.of());
      try (Connection inside =
              DriverManager.getConnection(
                  "jdbc:postgresql://127.0.0.1:" + server.getPort() + "/plenzo_scratch_77",
                  "maker",
                  "x");
          Statement s = inside.createStatement()) {
        s.execute(
            "CREATE TABLE fares.many AS SELECT n, repeat('x', 200) FROM generate_series(1, 200000) n");
        Instant patience = Instant.now().plusSeconds(120);
        while (query(
                "SELECT count(*) FROM pg_stat_activity WHERE backend_type = 'autovacuum worker' AND datname = 'plenzo_scratch_77'")
            .equals("0")) {
          assertThat(Instant.now()).as("a worker comes").isBefore(patience);
          s.execute("SELECT pg_sleep(0.2)");
        }
      }

      scratch.drop(place);

      assertThat(query("SELECT count(*) FROM pg_database WHERE datname = 'plenzo_scratch_77'"))
          .isEqualTo("0");
    } finally {
      workers(
          "RESET autovacuum_naptime",
          "RESET autovacuum_vacuum_cost_delay",
          "RESET autovacuum_vacuum_cost_limit");
    }
  }
}
