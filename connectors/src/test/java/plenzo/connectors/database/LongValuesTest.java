package plenzo.connectors.database;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.InputStream;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestInstance;
import plenzo.core.comparison.Difference;
import plenzo.core.component.TableName;
import plenzo.core.digest.RowSum;
import plenzo.core.records.BehindRows;
import plenzo.core.records.LongValue;
import plenzo.core.records.LongValues;
import plenzo.core.records.Row;
import plenzo.core.records.RowReader;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Access;
import plenzo.core.target.Changing;
import plenzo.core.target.Question;
import plenzo.core.target.RunMark;
import plenzo.core.target.Scratch;
import plenzo.core.target.SwitchRefused;
import plenzo.core.target.TableCapture;
import plenzo.core.target.TablesDelta;
import plenzo.core.target.TablesLooking;
import plenzo.core.target.TargetContract;
import plenzo.core.target.TargetIdentity;

/** Values of megabytes go from one server's table to another's, none of them held whole. */
@TestInstance(TestInstance.Lifecycle.PER_CLASS)
class LongValuesTest {
  private static final PostgresConnector CONNECTOR = new PostgresConnector();
  private static final TableName PLAN = new TableName("fares", "plan");
  private static final String TABLE =
      "CREATE TABLE fares.plan (code text PRIMARY KEY, drawing bytea, note text, short character varying(9000000), rules jsonb, raw json)";

  private EmbeddedPostgres server;
  private long run;

  @BeforeAll
  void start() throws Exception {
    server = TestServer.start("long-values");
    sql("postgres", "CREATE DATABASE made");
    sql("made", "CREATE SCHEMA fares", "CREATE SCHEMA plenzo", TABLE);
    // what cannot be packed, what packs well, and letters of several bytes
    sql(
        "made",
        "INSERT INTO fares.plan VALUES ('a', (SELECT string_agg(sha256(n::text::bytea), ''::bytea ORDER BY n) FROM generate_series(1, 140000) n), NULL, 'x', '{}', '1')",
        "INSERT INTO fares.plan VALUES ('b', decode(repeat('00', 4194305), 'hex'), repeat('Fähre \"Nord\", ', 700000), repeat('y', 8388609), to_jsonb(repeat('z', 9000000)), to_json(repeat('w', 9000000)))",
        "INSERT INTO fares.plan VALUES ('c', NULL, 'short', NULL, NULL, NULL)",
        "INSERT INTO fares.plan VALUES ('d', '\\xdead', repeat('ä', 4194304), NULL, NULL, NULL)");
  }

  @AfterAll
  void stop() throws Exception {
    server.close();
  }

  @BeforeEach
  void world() throws SQLException {
    sql(
        "postgres",
        "DROP DATABASE IF EXISTS here",
        "CREATE DATABASE here TEMPLATE made",
        "DROP DATABASE IF EXISTS there",
        "CREATE DATABASE there");
    sql("there", "CREATE SCHEMA fares", "CREATE SCHEMA plenzo", TABLE);
  }

  private Connection connect(String database) throws SQLException {
    return DriverManager.getConnection(
        "jdbc:postgresql://127.0.0.1:" + server.getPort() + "/" + database, "postgres", "postgres");
  }

  private void sql(String database, String... statements) throws SQLException {
    try (Connection c = connect(database);
        Statement s = c.createStatement()) {
      for (String sql : statements) {
        s.execute(sql);
      }
    }
  }

  private String query(String database, String sql) throws SQLException {
    try (Connection c = connect(database);
        Statement s = c.createStatement();
        ResultSet r = s.executeQuery(sql)) {
      return r.next() ? String.valueOf(r.getString(1)) : "";
    }
  }

  private static final String ALL =
      "SELECT string_agg(md5(p::text), ' ' ORDER BY code) FROM fares.plan p";

  private Access access(String database) {
    return new Access("127.0.0.1", server.getPort(), database, "postgres", "disable", "postgres");
  }

  /** Rows as they are read, and every long value that they name. */
  private record Read(TableStructure structure, List<Row> rows, Map<LongValue, byte[]> values)
      implements LongValues {
    @Override
    public Optional<InputStream> open(LongValue value) {
      return Optional.ofNullable(values.get(value)).map(ByteArrayInputStream::new);
    }

    Row row(String code) {
      return rows.stream().filter(r -> code.equals(r.get(0))).findFirst().orElseThrow();
    }

    @Nullable String value(String code, String column) {
      Row row = row(code);
      return row.get(row.header().position(column));
    }
  }

  private Read read(String database) throws Exception {
    try (TablesLooking look = CONNECTOR.look(access(database))) {
      TableCapture capture = look.table(PLAN).orElseThrow();
      List<Row> rows = new ArrayList<>();
      Map<LongValue, byte[]> values = new LinkedHashMap<>();
      try (RowReader reader = look.allRows(PLAN, List.of("code"))) {
        for (Row row = reader.next(); row != null; row = reader.next()) {
          rows.add(row);
        }
        for (Row row : rows) {
          for (LongValue v : row.longValues()) {
            ByteArrayOutputStream out = new ByteArrayOutputStream();
            BehindRows.copy(v, reader.longValues(), out);
            values.put(v, out.toByteArray());
          }
        }
      }
      return new Read(capture.structure(), rows, values);
    }
  }

  private void write(Read from, List<TablesDelta.RowChange> changes) throws Exception {
    long removed = changes.stream().filter(c -> c.act() == Difference.REMOVED).count();
    long changed = changes.stream().filter(c -> c.act() == Difference.CHANGED).count();
    TablesDelta.Source source =
        new TablesDelta.Source() {
          @Override
          public TablesDelta.Changes open() {
            var left = changes.iterator();
            return new TablesDelta.Changes() {
              @Override
              public TablesDelta.@Nullable RowChange next() {
                return left.hasNext() ? left.next() : null;
              }

              @Override
              public void close() {}
            };
          }

          @Override
          public LongValues longValues() {
            return from;
          }
        };
    var header = from.rows().get(0).header();
    TablesDelta delta =
        new TablesDelta(
            List.of(
                TablesDelta.TableDelta.of(
                    PLAN,
                    from.structure(),
                    from.structure(),
                    new TablesDelta.RowsDelta(
                        header,
                        Set.of(),
                        header.names(),
                        removed,
                        changed,
                        changes.size() - removed - changed,
                        source))),
            List.of());
    TargetContract.Passing watch = new TargetContract.Passing();
    try (Changing changing = CONNECTOR.change(access("there"))) {
      changing.declare(
          new TargetIdentity("s", "test", "main", "database", Instant.EPOCH), "postgres");
      changing.prepare(++run, delta, watch);
      changing.switchOver(new RunMark(run, "switch", 1, "2.4.0", "f", "ines", null), delta, watch);
      changing.discard(run);
    }
  }

  private static List<TablesDelta.RowChange> added(Read from) {
    return from.rows().stream()
        .map(r -> new TablesDelta.RowChange(Difference.ADDED, null, r))
        .toList();
  }

  @Test
  void aRowNamesWhatIsLongAndItsBytesAreReadByThemselves() throws Exception {
    Read here = read("here");

    assertThat(here.row("a").longValues()).hasSize(1);
    assertThat(here.row("b").longValues()).hasSize(5);
    assertThat(here.row("c").longValues()).isEmpty();
    assertThat(here.row("d").longValues()).as("eight megabytes still stand in a row").isEmpty();
    assertThat(here.value("d", "note")).hasSize(4194304);
    assertThat(LongValue.of(here.value("a", "drawing")).orElseThrow().digest().hex())
        .isEqualTo(
            query(
                "here", "SELECT encode(sha256(drawing), 'hex') FROM fares.plan WHERE code = 'a'"));
    LongValue note = LongValue.of(here.value("b", "note")).orElseThrow();
    assertThat(new String(here.values().get(note), java.nio.charset.StandardCharsets.UTF_8))
        .isEqualTo("Fähre \"Nord\", ".repeat(700000));
  }

  @Test
  void theyAreWrittenChangedKeptAndTakenAway() throws Exception {
    Read here = read("here");
    write(here, added(here));
    assertThat(query("there", ALL)).isEqualTo(query("here", ALL));

    // one is another, the others of its row stay and come from nowhere
    sql(
        "here",
        "UPDATE fares.plan SET note = repeat('neu', 3000000), short = 'x' WHERE code = 'b'");
    sql("here", "DELETE FROM fares.plan WHERE code = 'a'");
    Read next = read("here");
    LongValue note = LongValue.of(next.value("b", "note")).orElseThrow();
    next.values().keySet().retainAll(Set.of(note));
    Read there = read("there");
    write(
        next,
        List.of(
            new TablesDelta.RowChange(Difference.CHANGED, there.row("b"), next.row("b")),
            new TablesDelta.RowChange(Difference.REMOVED, there.row("a"), null)));
    assertThat(query("there", ALL)).isEqualTo(query("here", ALL));
    assertThat(
            query(
                "there",
                "SELECT string_agg(relname, ' ') FROM pg_class WHERE relnamespace = 'plenzo'::regnamespace AND relname LIKE 'stage%'"))
        .as("nothing of it stays")
        .isEqualTo("null");
  }

  @Test
  void oneThatMovedSinceThePlanStopsTheSwitch() throws Exception {
    Read here = read("here");
    write(here, List.of(new TablesDelta.RowChange(Difference.ADDED, null, here.row("a"))));
    Read there = read("there");
    sql("there", "UPDATE fares.plan SET drawing = drawing || '\\x00' WHERE code = 'a'");

    assertThatThrownBy(
            () ->
                write(
                    here,
                    List.of(new TablesDelta.RowChange(Difference.REMOVED, there.row("a"), null))))
        .isInstanceOfSatisfying(
            SwitchRefused.class,
            e -> assertThat(e.details()).containsExactly("records/fares.plan row a: drawing"));
  }

  @Test
  void oneThatIsNotWhatItsNameSaysIsNotWritten() throws Exception {
    Read here = read("here");
    LongValue drawing = here.row("a").longValues().get(0);
    here.values().get(drawing)[1_000_000]++;

    assertThatThrownBy(() -> write(here, added(here))).hasMessageContaining("is another by now");
    assertThat(query("there", "SELECT count(*) FROM fares.plan")).isEqualTo("0");
  }

  @Test
  void aBackupsProofHasThemAll() throws Exception {
    Read here = read("here");
    RowSum expected = new RowSum();
    here.rows().forEach(r -> expected.add(r.raw()));
    try (Scratch scratch = CONNECTOR.scratch(access("postgres"))) {
      scratch.open(Scratch.Place.proof(1), List.of(), List.of());
      List<Scratch.Restored> restored =
          scratch.restore(
              List.of(new Scratch.Source(PLAN, here.structure(), () -> reader(here))), List.of());
      String there = query("plenzo_scratch_1", ALL);
      scratch.drop(Scratch.Place.proof(1));

      assertThat(restored).extracting(Scratch.Restored::sum).containsExactly(expected.digest());
      assertThat(there).isEqualTo(query("here", ALL));
    }
  }

  private static RowReader reader(Read of) {
    var left = of.rows().iterator();
    return new RowReader(InputStream.nullInputStream(), of.rows().get(0).header(), false) {
      @Override
      public @Nullable Row next() {
        return left.hasNext() ? left.next() : null;
      }

      @Override
      public LongValues longValues() {
        return of;
      }
    };
  }

  @Test
  void aPartitionsRowsHaveThemToo() throws Exception {
    sql(
        "here",
        "CREATE TABLE fares.log (n integer, body text) PARTITION BY RANGE (n)",
        "CREATE TABLE fares.log_1 PARTITION OF fares.log FOR VALUES FROM (0) TO (10)",
        "CREATE TABLE fares.log_2 PARTITION OF fares.log FOR VALUES FROM (10) TO (20)",
        "INSERT INTO fares.log VALUES (1, repeat('one', 3000000)), (11, repeat('two', 3000000))");
    TableName log = new TableName("fares", "log");
    try (TablesLooking look = CONNECTOR.look(access("here"));
        RowReader reader = look.allRows(log, List.of("n"))) {
      List<LongValue> found = new ArrayList<>();
      for (Row row = reader.next(); row != null; row = reader.next()) {
        found.addAll(row.longValues());
      }
      assertThat(found).hasSize(2);
      for (LongValue v : found) {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        BehindRows.copy(v, reader.longValues(), out);
        assertThat(out.size()).isEqualTo(9_000_000);
      }
    }
    try (TablesLooking look = CONNECTOR.look(access("here"))) {
      assertThat(look.answer(Question.longValues(log, List.of("body"), List.of("text"))).count())
          .isEqualTo(2);
    }
  }
}
