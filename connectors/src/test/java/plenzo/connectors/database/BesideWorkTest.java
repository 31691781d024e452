package plenzo.connectors.database;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.function.BooleanSupplier;
import java.util.stream.IntStream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestInstance;
import plenzo.core.comparison.Difference;
import plenzo.core.component.TableName;
import plenzo.core.records.Header;
import plenzo.core.records.Row;
import plenzo.core.table.Column;
import plenzo.core.table.Constraint;
import plenzo.core.table.Index;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Access;
import plenzo.core.target.Changing;
import plenzo.core.target.Leftover;
import plenzo.core.target.Question;
import plenzo.core.target.Rows;
import plenzo.core.target.RunMark;
import plenzo.core.target.TablesDelta;
import plenzo.core.target.TablesLooking;
import plenzo.core.target.TargetIdentity;

/** What a run does beside running work, on a real server with tables that are large enough. */
@TestInstance(TestInstance.Lifecycle.PER_CLASS)
class BesideWorkTest {
  private static final TableName BAND = new TableName("fares", "band");
  private static final TableName BOOKING = new TableName("fares", "booking");
  private static final Header BANDS = new Header(List.of("code"), List.of("integer"), 1);

  private EmbeddedPostgres server;
  private final PostgresConnector connector = new PostgresConnector();
  private final Said said = new Said();

  /** What the connector tells. */
  private static final class Said implements Changing.Watch {
    private final List<String> lines = new ArrayList<>();

    @Override
    public void say(String line) {
      lines.add(line);
    }

    @Override
    public void rows(long done) {}

    @Override
    public void beforeCommit() {}

    @Override
    public BooleanSupplier abortAsked() {
      return () -> false;
    }
  }

  @BeforeAll
  void start() throws Exception {
    server = TestServer.start("beside");
  }

  @AfterAll
  void stop() throws Exception {
    server.close();
  }

  /** 8 MB and more of bookings, by a band each. */
  @BeforeEach
  void world() throws SQLException {
    said.lines.clear();
    sql(
        "DROP SCHEMA IF EXISTS fares CASCADE",
        "DROP SCHEMA IF EXISTS plenzo CASCADE",
        "CREATE SCHEMA fares",
        "CREATE SCHEMA plenzo",
        "CREATE TABLE fares.band (code integer PRIMARY KEY)",
        "INSERT INTO fares.band SELECT generate_series(1, 2000)",
        "CREATE TABLE fares.booking (n integer PRIMARY KEY, band integer, note text)",
        "INSERT INTO fares.booking SELECT i, 1 + i % 100, repeat('x', 90) FROM generate_series(1, 70000) i");
    try (Changing changing = connector.change(access())) {
      changing.declare(
          new TargetIdentity("s", "test", "main", "database", Instant.EPOCH), "postgres");
    }
  }

  private Connection connect() throws SQLException {
    return DriverManager.getConnection(
        "jdbc:postgresql://127.0.0.1:" + server.getPort() + "/postgres", "postgres", "postgres");
  }

  private void sql(String... statements) throws SQLException {
    try (Connection c = connect();
        Statement s = c.createStatement()) {
      for (String sql : statements) {
        s.execute(sql);
      }
    }
  }

  private String query(String sql) throws SQLException {
    List<String> out = new ArrayList<>();
    try (Connection c = connect();
        Statement s = c.createStatement();
        ResultSet r = s.executeQuery(sql)) {
      while (r.next()) {
        out.add(String.valueOf(r.getString(1)));
      }
    }
    return String.join(" ", out);
  }

  private Access access() {
    return new Access("127.0.0.1", server.getPort(), "postgres", "postgres", "disable", "postgres");
  }

  private TableStructure structure(TableName table) {
    try (TablesLooking look = connector.look(access())) {
      return look.table(table).orElseThrow().structure();
    }
  }

  private String indexes() throws SQLException {
    return query("SELECT indexname FROM pg_indexes WHERE schemaname = 'fares' ORDER BY 1");
  }

  private static TableStructure with(TableStructure s, List<Index> indexes, Constraint... more) {
    List<Constraint> all = new ArrayList<>(s.constraints());
    all.addAll(Arrays.asList(more));
    return new TableStructure(s.columns(), all, indexes, s.comment(), s.places(), s.settings());
  }

  private TablesDelta indexed() {
    TableStructure is = structure(BOOKING);
    Index index =
        new Index(
            "booking band",
            false,
            "CREATE INDEX \"booking band\" ON fares.booking USING btree (band)");
    return new TablesDelta(
        List.of(TablesDelta.TableDelta.of(BOOKING, is, with(is, List.of(index)), null)), List.of());
  }

  private TablesDelta pointing() {
    TableStructure is = structure(BOOKING);
    Constraint key =
        new Constraint(
            "booking_band",
            Constraint.Type.FOREIGN,
            "FOREIGN KEY (band) REFERENCES fares.band(code)",
            List.of("band"),
            BAND,
            List.of("code"));
    return new TablesDelta(
        List.of(TablesDelta.TableDelta.of(BOOKING, is, with(is, is.indexes(), key), null)),
        List.of());
  }

  private static RunMark mark() {
    return new RunMark(7, "switch", 1, "2.4.0", "f", "ines", null);
  }

  private void carryOut(TablesDelta delta) {
    try (Changing changing = connector.change(access())) {
      changing.prepare(7, delta, said);
      changing.switchOver(mark(), delta, said);
    }
  }

  private List<String> finish() {
    try (Changing changing = connector.change(access())) {
      return changing.finish(7, said);
    }
  }

  @Test
  void aLargeTablesIndexIsBuiltBeforeAndOnlyNamedInTheSwitch() throws SQLException {
    TablesDelta delta = indexed();
    TableStructure before = structure(BOOKING);
    try (Connection writer = connect();
        Statement s = writer.createStatement();
        Changing changing = connector.change(access())) {
      changing.prepare(7, delta, said);

      assertThat(structure(BOOKING)).as("nobody sees it yet").isEqualTo(before);
      assertThat(indexes()).isEqualTo("band_pkey booking_pkey plenzo_early_7_0");
      s.execute("INSERT INTO fares.booking VALUES (0, 7, 'written meanwhile')");
      changing.switchOver(mark(), delta, said);
    }

    assertThat(indexes()).isEqualTo("band_pkey booking band booking_pkey");
    assertThat(structure(BOOKING)).isEqualTo(delta.tables().get(0).result());
    assertThat(said.lines)
        .contains(
            "CREATE INDEX CONCURRENTLY \"plenzo_early_7_0\" ON fares.booking USING btree (band)",
            "ALTER INDEX \"fares\".\"plenzo_early_7_0\" RENAME TO \"booking band\"")
        .noneMatch(l -> l.startsWith("CREATE INDEX \"booking band\""));
  }

  @Test
  void aSmallTablesIndexIsBuiltInTheSwitch() throws SQLException {
    sql("DELETE FROM fares.booking WHERE n > 100", "VACUUM FULL fares.booking");

    carryOut(indexed());

    assertThat(indexes()).isEqualTo("band_pkey booking band booking_pkey");
    assertThat(said.lines).noneMatch(l -> l.contains("CONCURRENTLY"));
  }

  /** What a kill in the middle of building leaves is of no use to anybody, and goes. */
  @Test
  void whatAKillLeavesIsListedAndDiscarded() throws SQLException {
    TablesDelta delta = indexed();
    try (Changing changing = connector.change(access())) {
      changing.prepare(7, delta, said);
    }
    sql(
        "UPDATE pg_index SET indisvalid = false WHERE indexrelid = 'fares.plenzo_early_7_0'::regclass");
    try (TablesLooking look = connector.look(access())) {
      assertThat(look.leftovers())
          .extracting(Leftover::name, Leftover::run)
          .contains(org.assertj.core.groups.Tuple.tuple("plenzo_early_7_0", 7L));
      assertThat(look.uncarried("fares")).as("it is nothing of the application's").isEmpty();
    }

    try (Changing changing = connector.change(access())) {
      changing.discard(7);
      changing.discard(7);
    }

    assertThat(indexes()).isEqualTo("band_pkey booking_pkey");
  }

  /** One that did not come about whole is not taken for the version's. */
  @Test
  void anIndexThatIsNotWholeIsBuiltInTheSwitch() throws SQLException {
    TablesDelta delta = indexed();
    try (Changing changing = connector.change(access())) {
      changing.prepare(7, delta, said);
      sql(
          "UPDATE pg_index SET indisvalid = false WHERE indexrelid = 'fares.plenzo_early_7_0'::regclass");
      changing.switchOver(mark(), delta, said);
    }
    assertThat(indexes()).isEqualTo("band_pkey booking band booking_pkey plenzo_early_7_0");

    assertThat(finish()).isEmpty();

    assertThat(indexes()).isEqualTo("band_pkey booking band booking_pkey");
  }

  @Test
  void aLargeTablesConstraintIsLookedAtAfterTheSwitch() throws SQLException {
    sql(
        "INSERT INTO fares.booking SELECT i, 1 + i % 100, repeat('x', 90) FROM generate_series(70001, 290000) i");
    TablesDelta delta = pointing();

    carryOut(delta);
    try (Changing changing = connector.change(access())) {
      changing.discard(7); // of what was prepared; what is left to do is still known
    }

    assertThat(query("SELECT convalidated FROM pg_constraint WHERE conname = 'booking_band'"))
        .isEqualTo("f");
    assertThat(finish()).isEmpty();
    assertThat(structure(BOOKING)).isEqualTo(delta.tables().get(0).result());
    assertThat(query("SELECT to_regclass('plenzo.finish_7')")).isEqualTo("null");
    assertThat(finish()).as("again, after a kill").isEmpty();
  }

  @Test
  void aRowThatDoesNotHoldIsToldWithWhatHelps() throws SQLException {
    sql(
        "INSERT INTO fares.booking SELECT i, 1 + i % 100, repeat('x', 90) FROM generate_series(70001, 290000) i",
        "UPDATE fares.booking SET band = 9999 WHERE n = 5");

    carryOut(pointing());

    assertThat(finish())
        .singleElement()
        .asString()
        .contains("booking_band of fares.booking", "9999", "VALIDATE CONSTRAINT");
    assertThat(structure(BOOKING).foreignKeys())
        .singleElement()
        .extracting(Constraint::definition)
        .asString()
        .endsWith("NOT VALID");
  }

  @Test
  void aSmallTablesConstraintIsWholeInTheSwitch() throws SQLException {
    carryOut(pointing());

    assertThat(query("SELECT convalidated FROM pg_constraint WHERE conname = 'booking_band'"))
        .isEqualTo("t");
  }

  /** The columns with another in the place of its namesake. */
  private static List<Column> filled(TableStructure is, Column column) {
    return is.columns().stream().map(c -> c.name().equals(column.name()) ? column : c).toList();
  }

  /** Every booking has a note from now on. */
  private TablesDelta noted() {
    TableStructure is = structure(BOOKING);
    TableStructure result =
        new TableStructure(
            filled(is, new Column("note", "text", true, null, null, null, null, null)),
            is.constraints(),
            is.indexes(),
            is.comment(),
            is.places(),
            is.settings());
    return new TablesDelta(
        List.of(TablesDelta.TableDelta.of(BOOKING, is, result, null)), List.of());
  }

  private void large() throws SQLException {
    sql(
        "INSERT INTO fares.booking SELECT i, 1 + i % 100, repeat('x', 90) FROM generate_series(70001, 290000) i");
  }

  @Test
  void whetherALargeTablesColumnIsFilledIsLookedAtAfterTheSwitch() throws SQLException {
    large();
    TablesDelta delta = noted();

    carryOut(delta);

    assertThat(query("SELECT attnotnull FROM pg_attribute WHERE attname = 'note'")).isEqualTo("f");
    assertThat(said.lines).noneMatch(l -> l.contains("SET NOT NULL"));
    assertThatThrownBy(() -> sql("INSERT INTO fares.booking VALUES (0, 1, NULL)"))
        .as("from the switch on")
        .hasMessageContaining("plenzo_filled_7_0");
    assertThat(finish()).isEmpty();
    assertThat(structure(BOOKING)).isEqualTo(delta.tables().get(0).result());
    assertThat(finish()).as("again, after a kill").isEmpty();
  }

  @Test
  void aRowWithoutAValueIsToldWithAllThatHelps() throws SQLException {
    large();
    TablesDelta delta = noted();
    sql("UPDATE fares.booking SET note = NULL WHERE n = 5");

    carryOut(delta);
    String told = finish().get(0);

    assertThat(told)
        .startsWith("That note is filled in fares.booking holds for what is written from now on");
    sql("UPDATE fares.booking SET note = '' WHERE n = 5");
    sql(told.substring(told.indexOf("ALTER TABLE")));
    assertThat(structure(BOOKING)).isEqualTo(delta.tables().get(0).result());
  }

  /** What a run of an earlier build left to look at knew of no columns. */
  @Test
  void whatAnEarlierBuildLeftIsLookedAt() throws SQLException {
    sql(
        "ALTER TABLE fares.booking ADD CONSTRAINT odd CHECK (n > 0) NOT VALID",
        "CREATE TABLE plenzo.finish_7 (schema_name text NOT NULL, table_name text NOT NULL, constraint_name text NOT NULL)",
        "INSERT INTO plenzo.finish_7 VALUES ('fares', 'booking', 'odd')");

    assertThat(finish()).isEmpty();

    assertThat(query("SELECT convalidated FROM pg_constraint WHERE conname = 'odd'"))
        .isEqualTo("t");
  }

  @Test
  void aSmallTablesColumnIsFilledInTheSwitch() throws SQLException {
    TablesDelta delta = noted();

    carryOut(delta);

    assertThat(structure(BOOKING)).isEqualTo(delta.tables().get(0).result());
  }

  /** The server asks for the value at once where a key is made of it. */
  @Test
  void aColumnOfANewKeyIsFilledInTheSwitch() throws SQLException {
    sql("ALTER TABLE fares.booking DROP CONSTRAINT booking_pkey");
    sql("ALTER TABLE fares.booking ALTER n DROP NOT NULL");
    large();
    TableStructure is = structure(BOOKING);
    Constraint key =
        new Constraint(
            "booking_pkey",
            Constraint.Type.PRIMARY,
            "PRIMARY KEY (n)",
            List.of("n"),
            null,
            List.of());
    TableStructure result =
        new TableStructure(
            filled(is, new Column("n", "integer", true, null, null, null, null, null)),
            List.of(key),
            is.indexes(),
            is.comment(),
            is.places(),
            is.settings());

    carryOut(
        new TablesDelta(List.of(TablesDelta.TableDelta.of(BOOKING, is, result, null)), List.of()));

    assertThat(structure(BOOKING)).isEqualTo(result);
  }

  private TablesDelta going(int from, int until) {
    TableStructure is = structure(BAND);
    List<TablesDelta.RowChange> gone =
        IntStream.rangeClosed(from, until)
            .mapToObj(i -> Row.of(BANDS, List.of(String.valueOf(i))))
            .map(r -> new TablesDelta.RowChange(Difference.REMOVED, r, null))
            .toList();
    return new TablesDelta(
        List.of(TablesDelta.TableDelta.of(BAND, is, is, Rows.of(BANDS, List.of("code"), gone))),
        List.of());
  }

  @Test
  void rowsThatOthersMayPointAtGoSetBySet() throws SQLException {
    sql(
        "ALTER TABLE fares.booking ADD CONSTRAINT by_band FOREIGN KEY (band) REFERENCES fares.band");
    try (TablesLooking look = connector.look(access())) {
      Question.Answer a = look.answer(Question.of(Question.Type.UNINDEXED, BAND));
      assertThat(a.count()).isGreaterThan(8L << 20);
      assertThat(a.examples()).containsExactly("fares.booking (band)");
    }

    carryOut(going(201, 2000));

    assertThat(said.lines)
        .contains(
            "CREATE INDEX CONCURRENTLY \"plenzo_early_7_1000\" ON \"fares\".\"booking\" (\"band\")");
    assertThat(query("SELECT count(*) FROM fares.band")).isEqualTo("200");
    assertThat(finish()).isEmpty();
    assertThat(indexes()).isEqualTo("band_pkey booking_pkey");
  }

  @Test
  void aFewRowsAreLookedForAsTheyAre() throws SQLException {
    sql(
        "ALTER TABLE fares.booking ADD CONSTRAINT by_band FOREIGN KEY (band) REFERENCES fares.band");

    carryOut(going(1990, 2000));

    assertThat(said.lines).noneMatch(l -> l.contains("CONCURRENTLY"));
  }

  @Test
  void whatBeginsWithTheColumnsIsAnIndexForIt() throws SQLException {
    sql(
        "ALTER TABLE fares.booking ADD CONSTRAINT by_band FOREIGN KEY (band) REFERENCES fares.band",
        "CREATE INDEX partly ON fares.booking (band) WHERE note IS NULL",
        "CREATE INDEX behind ON fares.booking (note, band)");
    try (TablesLooking look = connector.look(access())) {
      assertThat(look.answer(Question.of(Question.Type.UNINDEXED, BAND)).examples())
          .containsExactly("fares.booking (band)");
    }
    sql("CREATE INDEX first ON fares.booking (band, note)");
    try (TablesLooking look = connector.look(access())) {
      assertThat(look.answer(Question.of(Question.Type.UNINDEXED, BAND)).count()).isZero();
    }
  }

  /** Somebody's open transaction is waited for, and then done without. */
  @Test
  void nobodyIsWaitedForForever() throws SQLException {
    TablesDelta delta = indexed();
    try (Connection other = connect();
        Statement s = other.createStatement();
        Connection own = Sessions.open(access(), "changing", "1h");
        Changing changing = connector.change(access())) {
      other.setAutoCommit(false);
      s.execute("LOCK TABLE fares.booking IN ROW EXCLUSIVE MODE");
      new BesideWork(own, 7, Duration.ofMillis(300)).before(delta, said);
      other.rollback();
      changing.switchOver(mark(), delta, said);
    }
    assertThat(finish()).isEmpty();
    assertThat(indexes()).isEqualTo("band_pkey booking band booking_pkey");
    assertThat(said.lines).anyMatch(l -> l.endsWith("so it is built in the switch"));
  }
}
