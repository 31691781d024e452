package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import plenzo.core.impact.Finding;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;

/** Tables whose rows stand in partitions, each site with partitions of its own beside. */
class PartitionsOnPostgresTest extends OnPostgres {
  private static final String BASE =
      "CREATE TABLE fares.zone (code text PRIMARY KEY);"
          + "CREATE TABLE fares.trip (id integer NOT NULL, day date NOT NULL, zone text NOT NULL REFERENCES fares.zone, price numeric(6,2) CHECK (price > 0), PRIMARY KEY (id, day)) PARTITION BY RANGE (day);"
          + "CREATE TABLE fares.trip_2024 PARTITION OF fares.trip FOR VALUES FROM ('2024-01-01') TO ('2025-01-01');"
          + "CREATE TABLE fares.trip_2025 PARTITION OF fares.trip FOR VALUES FROM ('2025-01-01') TO ('2026-01-01') PARTITION BY RANGE (id);"
          + "CREATE TABLE fares.\"trip 2025 N\" PARTITION OF fares.trip_2025 FOR VALUES FROM (MINVALUE) TO (4);"
          + "CREATE TABLE fares.trip_2025_rest PARTITION OF fares.trip_2025 DEFAULT;"
          + "CREATE INDEX trip_zone ON fares.trip (zone);"
          + "CREATE VIEW fares.dear AS SELECT id, zone FROM fares.trip WHERE price > 10;"
          + "CREATE TABLE fares.word (code text, lang text NOT NULL, said text, PRIMARY KEY (code, lang)) PARTITION BY LIST (lang);"
          + "CREATE TABLE fares.word_en PARTITION OF fares.word FOR VALUES IN ('en');"
          + "CREATE TABLE fares.word_rest PARTITION OF fares.word DEFAULT;";

  private static final String NEXT =
      "CREATE TABLE fares.trip_2026 PARTITION OF fares.trip FOR VALUES FROM ('2026-01-01') TO ('2027-01-01');"
          + "ALTER TABLE fares.trip ADD note text DEFAULT 'none'; DROP VIEW fares.dear; ALTER TABLE fares.trip ALTER price TYPE numeric(8,2); CREATE VIEW fares.dear AS SELECT id, zone FROM fares.trip WHERE price > 10;"
          + "CREATE INDEX trip_day ON fares.trip (day) WHERE price > 1; ALTER TABLE fares.trip ADD CHECK (id > 0);"
          + "CREATE TABLE fares.log (at date NOT NULL, trip integer, trip_day date, FOREIGN KEY (trip, trip_day) REFERENCES fares.trip) PARTITION BY HASH (at);"
          + "CREATE TABLE fares.log_0 PARTITION OF fares.log FOR VALUES WITH (MODULUS 2, REMAINDER 0); CREATE TABLE fares.log_1 PARTITION OF fares.log FOR VALUES WITH (MODULUS 2, REMAINDER 1);"
          + "INSERT INTO fares.word VALUES ('peak', 'en', 'Peak'), ('peak', 'de', 'Spitze');";

  PartitionsOnPostgresTest() {
    super("partitions");
  }

  @BeforeEach
  void world() {
    databases.lay(BASE);
    databases.as(
        "production",
        "INSERT INTO fares.zone VALUES ('N'), ('S'); INSERT INTO fares.trip VALUES (2, '2024-05-05', 'S', 3), (3, '2025-05-05', 'N', NULL), (4, '2025-06-06', 'S', 20);");
  }

  /** A partition that the site alone has, as each site has those of its own years. */
  private void older() {
    databases.as(
        "production",
        "CREATE TABLE fares.trip_2023 PARTITION OF fares.trip FOR VALUES FROM ('2023-01-01') TO ('2024-01-01'); INSERT INTO fares.trip VALUES (1, '2023-05-05', 'N', 12)");
  }

  private List<String> catalogue(String database) {
    return cluster.query(
        database,
        "SELECT 'partition ' || c.oid::regclass || ' ' || coalesce(pg_get_expr(c.relpartbound, c.oid), '') || coalesce(pg_get_partkeydef(c.oid), '') FROM pg_class c WHERE c.relnamespace = 'fares'::regnamespace AND c.relkind IN ('r', 'p')"
            + " UNION ALL SELECT 'index ' || pg_get_indexdef(i.indexrelid) || i.indisvalid FROM pg_index i JOIN pg_class c ON c.oid = i.indrelid WHERE c.relnamespace = 'fares'::regnamespace"
            + " UNION ALL SELECT 'constraint ' || conrelid::regclass || ' ' || conname || ' ' || pg_get_constraintdef(oid) FROM pg_constraint WHERE connamespace = 'fares'::regnamespace AND confrelid NOT IN (SELECT inhrelid FROM pg_inherits)"
            + " UNION ALL SELECT 'column ' || a.attrelid::regclass || ' ' || a.attname || ' ' || format_type(a.atttypid, a.atttypmod) || a.attnotnull || coalesce(pg_get_expr(d.adbin, d.adrelid), '') FROM pg_attribute a JOIN pg_class c ON c.oid = a.attrelid LEFT JOIN pg_attrdef d ON d.adrelid = a.attrelid AND d.adnum = a.attnum WHERE c.relnamespace = 'fares'::regnamespace AND c.relkind IN ('r', 'p', 'v') AND a.attnum > 0 AND NOT a.attisdropped"
            + " ORDER BY 1");
  }

  private static List<String> without(List<String> lines, String what) {
    List<String> out = new ArrayList<>(lines);
    out.removeIf(l -> l.contains(what));
    return out;
  }

  private List<String> trips() {
    return cluster.query(
        "production",
        "SELECT tableoid::regclass, id, day, zone, price FROM fares.trip ORDER BY id");
  }

  @ParameterizedTest
  @EnumSource(names = {"BACKUP", "EARLIER_VERSION"})
  void areCarriedWithTheirTableAndComeBack(Plan.Way way) throws IOException {
    try (EngineWorld world = engine()) {
      assertThat(world.everything(EngineMain.SITE))
          .contains("table/fares.trip", "records/fares.word")
          .noneMatch(c -> c.contains("trip_20") || c.contains("word_"));
      List<String> adopted = new ArrayList<>(world.structures(EngineMain.SITE));
      adopted.add("records/fares.word");
      world.adopt(adopted);
      older();
      List<String> then = catalogue("production");
      List<String> before = trips();
      databases.as("development", NEXT);
      world.sealEverything("1.1.0");
      Promotion p = world.promotion("1.1.0");

      Run run = world.run(p);

      assertThat(run.state()).as(run.sentence() + p.findings()).isEqualTo(RunState.DONE);
      assertThat(run.sentence()).doesNotContain("to look at");
      assertThat(trips()).isEqualTo(before);
      assertThat(without(catalogue("production"), "trip_2023")).isEqualTo(catalogue("development"));
      assertThat(
              cluster.query(
                  "production", "SELECT tableoid::regclass, said FROM fares.word ORDER BY lang"))
          .containsExactly("fares.word_rest|Spitze", "fares.word_en|Peak");
      databases.as(
          "production",
          "INSERT INTO fares.trip VALUES (5, '2025-07-07', 'S', 9.5); INSERT INTO fares.log VALUES ('2026-01-01', 5, '2025-07-07'); DELETE FROM fares.log;");

      Run back = world.run(world.compared(world.goBack(world.way(way)).number()));

      assertThat(back.state()).as(back.sentence()).isEqualTo(RunState.DONE);
      assertThat(catalogue("production")).isEqualTo(then);
      List<String> since = new ArrayList<>(before);
      if (way == Plan.Way.EARLIER_VERSION) {
        since.add("fares.trip_2025_rest|5|2025-07-07|S|9.50");
      }
      assertThat(trips()).isEqualTo(since);
      assertThat(cluster.query("production", "SELECT count(*) FROM fares.word"))
          .containsExactly("0");
    }
  }

  private Promotion promoted(EngineWorld world, String next) throws IOException {
    world.adopt(world.structures(EngineMain.SITE));
    databases.as("development", next);
    world.sealStructures("1.1.0");
    return world.promotion("1.1.0");
  }

  private List<String> said(EngineWorld world, String next) throws IOException {
    return promoted(world, next).findings().stream()
        .filter(f -> f.rule().contains("partition"))
        .map(Finding::sentence)
        .toList();
  }

  @Test
  void onePartitionWithRowsDoesNotGo() throws IOException {
    try (EngineWorld world = engine()) {
      assertThat(said(world, "DROP TABLE fares.trip_2024"))
          .containsExactly("The partition fares.trip_2024 would go with 1 row.");
    }
  }

  @Test
  void whereAPartitionEndsIsNotChanged() throws IOException {
    try (EngineWorld world = engine()) {
      assertThat(
              said(
                  world,
                  "ALTER TABLE fares.trip DETACH PARTITION fares.trip_2024; ALTER TABLE fares.trip ATTACH PARTITION fares.trip_2024 FOR VALUES FROM ('2024-02-01') TO ('2025-01-01')"))
          .containsExactly(
              "fares.trip_2024 is fares.trip FOR VALUES FROM ('2024-01-01') TO ('2025-01-01') and is to be fares.trip FOR VALUES FROM ('2024-02-01') TO ('2025-01-01'): the server changes that of no table.");
    }
  }

  /** By way of its table rows of another point at it, and it may have rows no more. */
  @Test
  void onePartitionOfATableThatIsPointedAtGoesAndComesBack() throws IOException {
    for (String stage : List.of("development", "production")) {
      databases.as(
          stage,
          "CREATE TABLE fares.log (trip integer, trip_day date, FOREIGN KEY (trip, trip_day) REFERENCES fares.trip);"
              + "ALTER TABLE fares.trip ALTER zone SET STATISTICS 50; DELETE FROM fares.trip WHERE day < '2025-01-01'");
    }
    databases.as("production", "INSERT INTO fares.log VALUES (3, '2025-05-05')");
    List<String> before = catalogue("production");
    List<String> picks = List.of("table/fares.trip", "table/fares.log");
    try (EngineWorld world = engine()) {
      world.adopt(world.structures(EngineMain.SITE));
      databases.as(
          "development",
          "ALTER TABLE fares.trip DETACH PARTITION fares.trip_2024; DROP TABLE fares.trip_2024");
      world.seal("1.1.0", picks);
      Run run = world.run(world.promotion("1.1.0"));

      assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
      assertThat(catalogue("production")).noneMatch(l -> l.contains("trip_2024"));

      Run back =
          world.run(world.compared(world.goBack(world.way(Plan.Way.EARLIER_VERSION)).number()));

      assertThat(back.state()).as(back.sentence()).isEqualTo(RunState.DONE);
      assertThat(back.sentence()).doesNotContain("To look at");
      assertThat(catalogue("production")).isEqualTo(before);
      assertThat(
              cluster.query(
                  "production",
                  "SELECT attstattarget FROM pg_attribute WHERE attrelid = 'fares.trip_2024'::regclass AND attname = 'zone'"))
          .containsExactly("50");
    }
  }

  @Test
  void whatAPartitionHasByItselfIsNamed() throws IOException {
    older();
    databases.as(
        "production",
        "CREATE INDEX alone ON fares.trip_2024 (price); ALTER TABLE fares.trip_2023 ADD CONSTRAINT cheap CHECK (price < 50); COMMENT ON TABLE fares.trip_2023 IS 'old'; ALTER TABLE fares.trip_2024 ALTER price SET DEFAULT 5; ALTER TABLE fares.trip_2023 SET (fillfactor = 50)");
    try (EngineWorld world = engine()) {
      assertThat(world.uncarried(EngineMain.SITE))
          .containsExactlyInAnyOrder(
              "index alone of partition fares.trip_2024",
              "constraint cheap of partition fares.trip_2023",
              "comment of partition fares.trip_2023",
              "default of price of partition fares.trip_2024",
              "setting fillfactor=50 of partition fares.trip_2023");
    }
  }

  /** What a partition had by itself and its table gets too is one thing then, and nothing went. */
  @Test
  void whatAPartitionHasByItselfJoinsThatOfItsTable() throws IOException {
    databases.as(
        "production",
        "CREATE TABLE fares.fee (price numeric(6,2) PRIMARY KEY); INSERT INTO fares.fee VALUES (3), (20); ALTER TABLE fares.trip_2024 ADD CONSTRAINT \"its own\" UNIQUE (day, id); ALTER TABLE fares.trip_2024 ADD CONSTRAINT known FOREIGN KEY (price) REFERENCES fares.fee; CREATE INDEX \"by zone\" ON fares.trip_2024 USING btree (zone, day) WHERE (price > (1)::numeric); ALTER TABLE fares.trip_2024 ADD CONSTRAINT cheap CHECK (price < 50); ALTER TABLE fares.trip_2024 ADD CONSTRAINT otherwise CHECK (id > 0); CREATE INDEX alone ON fares.trip_2024 (price)");
    databases.as("development", "CREATE TABLE fares.fee (price numeric(6,2) PRIMARY KEY)");
    try (EngineWorld world = engine()) {
      Promotion p =
          promoted(
              world,
              "ALTER TABLE fares.trip ADD UNIQUE (day, id), ADD FOREIGN KEY (price) REFERENCES fares.fee, ADD CONSTRAINT cheap CHECK (price < 50), ADD CHECK (id > 0); CREATE INDEX ON fares.trip (zone, day) WHERE (price > 1)");
      assertThat(p.findings())
          .filteredOn(f -> f.rule().equals("joins-table"))
          .extracting(f -> f.sentence().replaceFirst(" that the.*", ""))
          .containsExactlyInAnyOrder(
              "The constraint its own",
              "The constraint known",
              "The index by zone",
              "The constraint cheap");

      Run run = world.run(p);

      assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
      assertThat(world.uncarried(EngineMain.SITE))
          .containsExactlyInAnyOrder(
              "index alone of partition fares.trip_2024",
              "constraint otherwise of partition fares.trip_2024");
    }
  }
}
