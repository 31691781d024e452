package plenzo.bench;

import java.io.BufferedOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.function.BooleanSupplier;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.postgresql.PGConnection;
import org.postgresql.copy.CopyManager;
import plenzo.connectors.database.PostgresConnector;
import plenzo.core.comparison.Difference;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.records.Header;
import plenzo.core.records.Row;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Access;
import plenzo.core.target.Changing;
import plenzo.core.target.RunMark;
import plenzo.core.target.Scratch;
import plenzo.core.target.SiteDelta;
import plenzo.core.target.TablesDelta;
import plenzo.core.target.TablesLooking;
import plenzo.core.target.TargetIdentity;
import plenzo.demo.Cluster;
import plenzo.engine.backup.BackupFile;
import plenzo.engine.setup.SiteLook;
import plenzo.store.DiskFiles;

/**
 * A million rows backed up, proven and changed, each beside what a person would do by hand in the
 * same session of the same server: COPY out, COPY into an empty table with its key, COPY into a
 * staging table and one UPDATE. Run with -Xmx256m.
 */
public final class WriteRows {
  private static final int ROWS = 1_000_000;
  private static final TableName TABLE = new TableName("fares", "crossing");
  private static final String COLUMNS =
      "id bigint PRIMARY KEY, harbour text NOT NULL, price numeric(8,2)";

  private WriteRows() {}

  /** Something that is measured. */
  private interface Work {
    void run() throws SQLException, IOException;
  }

  private static Duration took(Work work) throws SQLException, IOException {
    long began = System.nanoTime();
    work.run();
    return Duration.ofNanos(System.nanoTime() - began);
  }

  private static void report(String what, Duration ours, Duration byHand) {
    System.out.printf(
        "%-34s %6d ms, by hand %6d ms (%.2f times)%n",
        what, ours.toMillis(), byHand.toMillis(), (double) ours.toMillis() / byHand.toMillis());
  }

  public static void main(String[] args) throws IOException, SQLException {
    Path folder = Path.of("bench/target/write").toAbsolutePath();
    if (Files.exists(folder)) {
      try (Stream<Path> all = Files.walk(folder)) {
        for (Path p : all.sorted(Comparator.reverseOrder()).toList()) {
          Files.delete(p);
        }
      }
    }
    try (Cluster cluster = new Cluster(folder.resolve("postgres"))) {
      cluster.sql(
          "production",
          "SET ROLE production_change; CREATE TABLE fares.crossing ("
              + COLUMNS
              + "); CREATE TABLE fares.by_hand ("
              + COLUMNS
              + "); INSERT INTO fares.crossing SELECT n, 'Harbour ' || n % 40, n % 90 FROM generate_series(1, "
              + ROWS
              + ") n; INSERT INTO fares.by_hand SELECT * FROM fares.crossing; ANALYZE fares.crossing; ANALYZE fares.by_hand");
      measure(cluster, folder);
    }
  }

  private static Access access(Cluster cluster, String database, String account) {
    return new Access("127.0.0.1", cluster.port(), database, account, "disable", Cluster.PASSWORD);
  }

  private static void measure(Cluster cluster, Path folder) throws SQLException, IOException {
    PostgresConnector connector = new PostgresConnector();
    TableStructure structure;
    try (TablesLooking looking = connector.look(access(cluster, "production", "production_look"))) {
      structure = looking.table(TABLE).orElseThrow().structure();
    }
    TablesDelta delta = delta(structure);
    BackupFile backup = new BackupFile(new DiskFiles(folder.resolve("files")), "backup/R-1");
    Path plain = folder.resolve("by-hand.csv");
    try (Connection c = cluster.open("production")) {
      CopyManager copy = c.unwrap(PGConnection.class).getCopyAPI();
      report(
          "back up, with a digest of each row",
          took(
              () -> {
                try (SiteLook look =
                    new SiteLook(
                        "production/main",
                        Map.of(
                            Kind.Holder.DATABASE,
                            connector.look(access(cluster, "production", "production_look"))))) {
                  backup.write(
                      look, new SiteDelta(delta, Map.of()), "bench", Instant.now(), rows -> {});
                }
              }),
          took(
              () -> {
                try (OutputStream out =
                    new BufferedOutputStream(Files.newOutputStream(plain), 1 << 16)) {
                  copy.copyOut(
                      "COPY (SELECT * FROM fares.by_hand ORDER BY id) TO STDOUT (FORMAT csv)", out);
                }
              }));
      report(
          "prove: restore and read again",
          took(() -> prove(connector, cluster, backup)),
          took(() -> restoreByHand(cluster, plain)));
      report(
          "prepare and switch, with proof",
          took(() -> change(connector, cluster, delta)),
          took(() -> changeByHand(c, copy)));
    }
  }

  private static void prove(PostgresConnector connector, Cluster cluster, BackupFile backup) {
    try (Scratch scratch = connector.scratch(access(cluster, "postgres", "scratch"))) {
      scratch.open(Scratch.Place.proof(1), List.of(), List.of());
      BackupFile.Table table = backup.tables(null).get(0);
      scratch.restore(
          List.of(
              new Scratch.Source(
                  TABLE,
                  java.util.Objects.requireNonNull(table.structure()),
                  () -> backup.rows(0, table))),
          List.of());
      scratch.drop(Scratch.Place.proof(1));
    }
  }

  private static void restoreByHand(Cluster cluster, Path plain) throws SQLException, IOException {
    cluster.sql("postgres", "CREATE DATABASE by_hand TEMPLATE template0");
    try (Connection c = cluster.open("by_hand");
        Statement s = c.createStatement();
        var in = Files.newInputStream(plain)) {
      s.execute("CREATE TABLE crossing (id bigint, harbour text NOT NULL, price numeric(8,2))");
      c.unwrap(PGConnection.class)
          .getCopyAPI()
          .copyIn("COPY crossing FROM STDIN (FORMAT csv)", in, 1 << 16);
      s.execute("ALTER TABLE crossing ADD PRIMARY KEY (id)");
    }
    cluster.sql("postgres", "DROP DATABASE by_hand");
  }

  private static void change(PostgresConnector connector, Cluster cluster, TablesDelta delta) {
    try (Changing changing = connector.change(access(cluster, "production", "production_change"))) {
      changing.declare(
          new TargetIdentity("bench", "production", "main", "database", Instant.now()),
          "production_look");
      changing.prepare(1, delta, new Silent());
      changing.switchOver(
          new RunMark(1, "switch", 1, "1.1.0", "", "bench", null), delta, new Silent());
      changing.discard(1);
    }
  }

  private static void changeByHand(Connection c, CopyManager copy)
      throws SQLException, IOException {
    try (Statement s = c.createStatement()) {
      s.execute("CREATE UNLOGGED TABLE fares.staged (id bigint, harbour text, price numeric(8,2))");
      var in = copy.copyIn("COPY fares.staged FROM STDIN (FORMAT csv)");
      for (long id = 1; id <= ROWS; id++) {
        byte[] line =
            (id + ",\"Harbour " + id % 40 + "\"," + (id % 90 + 1) + "\n")
                .getBytes(StandardCharsets.UTF_8);
        in.writeToCopy(line, 0, line.length);
      }
      in.endCopy();
      s.execute("ANALYZE fares.staged");
      c.setAutoCommit(false);
      s.execute("LOCK TABLE fares.by_hand IN SHARE ROW EXCLUSIVE MODE");
      s.execute(
          "UPDATE fares.by_hand t SET harbour = s.harbour, price = s.price FROM fares.staged s WHERE t.id = s.id");
      c.commit();
      c.setAutoCommit(true);
      s.execute("DROP TABLE fares.staged");
    }
  }

  /** Every row a bit dearer. */
  private static TablesDelta delta(TableStructure structure) {
    Header header =
        new Header(List.of("id", "harbour", "price"), List.of("bigint", "text", "numeric(8,2)"), 1);
    return new TablesDelta(
        List.of(
            TablesDelta.TableDelta.of(
                TABLE,
                structure,
                structure,
                new TablesDelta.RowsDelta(
                    header,
                    java.util.Set.of(),
                    header.names(),
                    0,
                    ROWS,
                    0,
                    () -> new Dearer(header)))),
        List.of());
  }

  /** Makes the changes as they are read. */
  private static final class Dearer implements TablesDelta.Changes {
    private final Header header;
    private long id;

    Dearer(Header header) {
      this.header = header;
    }

    private Row row(long price) {
      return Row.of(header, List.of(String.valueOf(id), "Harbour " + id % 40, price + ".00"));
    }

    @Override
    public TablesDelta.@Nullable RowChange next() {
      return ++id > ROWS
          ? null
          : new TablesDelta.RowChange(Difference.CHANGED, row(id % 90), row(id % 90 + 1));
    }

    @Override
    public void close() {}
  }

  /** Watches without a word. */
  private static final class Silent implements Changing.Watch {
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
}
