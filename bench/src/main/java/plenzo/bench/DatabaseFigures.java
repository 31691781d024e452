package plenzo.bench;

import java.io.IOException;
import java.io.PrintWriter;
import java.io.Writer;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.stream.Stream;
import plenzo.demo.PlainServer;
import plenzo.demo.Service;
import plenzo.demo.Teller;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * {@code bin/bench database}: what the service takes for a table of many rows and a schema of many
 * tables, by its client as people use it, each beside what the server's own tools take for the same
 * in the same run. The service has 256 MB of heap; what of it lies in memory is said at the end.
 *
 * <p>Arguments: numbers of rows, smallest first; the goals are held against the last that is a
 * million or more.
 */
public final class DatabaseFigures {
  private static final String PASSWORD = "first-crossing";
  private static final String APP = "ledger";

  /** Another application of the same databases, so that no large table is read with its tables. */
  private static final String MANY = "many";

  private static final int TABLES = 500;

  private final PlainServer server;
  private final Teller teller;
  private final Service service;
  private final Path folder;

  private DatabaseFigures(PlainServer server, Service service, Path folder) {
    this.server = server;
    this.service = service;
    this.folder = folder;
    this.teller = new Teller(service.address(), new PrintWriter(Writer.nullWriter()));
  }

  /** Something that is measured. */
  private interface Work {
    void run() throws SQLException, IOException;
  }

  private static Duration took(Work work) throws SQLException, IOException {
    long began = System.nanoTime();
    work.run();
    return Duration.ofNanos(System.nanoTime() - began);
  }

  public static void main(String[] args) throws IOException, SQLException {
    List<Integer> sizes = Stream.of(args).map(Integer::parseInt).toList();
    Path folder = Files.createTempDirectory("plenzo-figures").toRealPath();
    // the server's own account must come to what it keeps
    PlainServer.took(List.of("chmod", "755", folder.toString()));
    int port;
    try (ServerSocket any = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
      port = any.getLocalPort();
    }
    try (PlainServer server = new PlainServer(folder.resolve("postgres"));
        Service service =
            new Service(
                Path.of("server/target/service/plenzo-server.jar").toAbsolutePath(),
                folder.resolve("plenzo"),
                port,
                List.of("127.0.0.1:" + server.port()),
                folder,
                PASSWORD,
                /* mailPort= */ 0,
                /* clock= */ "",
                // as bin/service starts it
                List.of())) {
      DatabaseFigures figures = new DatabaseFigures(server, service, folder);
      figures.world();
      for (int rows : sizes) {
        figures.rows(rows);
      }
      figures.manyTables();
      System.out.printf(
          "resident memory of the service at most %d MB (goal 350)%n", figures.peak());
    }
    try (Stream<Path> all = Files.walk(folder)) {
      for (Path p : all.sorted(Comparator.reverseOrder()).toList()) {
        Files.delete(p);
      }
    }
  }

  private void world() throws SQLException {
    server.sql(
        "postgres",
        "CREATE ROLE look LOGIN",
        "CREATE ROLE change LOGIN",
        "CREATE ROLE scratch LOGIN CREATEDB");
    for (String stage : List.of("development", "test")) {
      server.sql("postgres", "CREATE DATABASE " + stage + " OWNER change");
      server.sql(
          stage,
          "SET ROLE change",
          "CREATE SCHEMA plenzo",
          "GRANT USAGE ON SCHEMA plenzo TO look",
          "CREATE SCHEMA " + APP,
          "CREATE SCHEMA " + MANY,
          "GRANT USAGE ON SCHEMA " + APP + ", " + MANY + " TO look",
          "ALTER DEFAULT PRIVILEGES GRANT SELECT ON TABLES TO look");
    }
    teller.signIn("admin", PASSWORD);
    run("stage", "new", "development", "--name", "Development", "--role", "development");
    run("stage", "new", "test", "--name", "Test", "--role", "test", "--position", "1");
    connect("development/look", "development", "look");
    connect("test/look", "test", "look");
    connect("test/change", "test", "change");
    connect("test/scratch", "postgres", "scratch");
    run("site", "new", "development/main", "--looking", "look", "--schema", APP, "--schema", MANY);
    run(
        "site",
        "new",
        "test/main",
        "--looking",
        "look",
        "--changing",
        "change",
        "--scratch",
        "scratch",
        "--schema",
        APP,
        "--schema",
        MANY);
    run("site", "check", "development/main");
    run("site", "check", "test/main");
    run(
        "path",
        "new",
        "straight",
        "--name",
        "Straight",
        "--source",
        "development",
        "--leg",
        "test");
    run("path", "gates", "straight", "test", "--proof", "true");
    application(APP, "Ledger");
    application(MANY, "Many tables");
  }

  private void application(String key, String name) {
    run(
        "app",
        "new",
        key,
        "--name",
        name,
        "--owner",
        "Bench",
        "--space",
        key,
        "--path",
        "straight");
    run(
        "role",
        "grant",
        "admin",
        "developer",
        "release-engineer",
        "operate",
        "see-values",
        "--app",
        key);
  }

  private void connect(String connection, String database, String account) {
    teller.connect("admin", connection, server.port(), database, account, "trusted");
  }

  private Teller.Answer run(String... command) {
    return teller.run("admin", 0, command);
  }

  private Teller.Answer timed(List<Duration> into, String... command) {
    long began = System.nanoTime();
    Teller.Answer answer = run(command);
    into.add(Duration.ofNanos(System.nanoTime() - began));
    return answer;
  }

  private int versions;

  private String next() {
    return "1." + versions++ + ".0";
  }

  /** A table of that many rows, of which each hundredth is another in development. */
  private void rows(int rows) throws SQLException, IOException {
    String table = "entry_" + rows;
    String full = APP + "." + table;
    String columns =
        " (id bigint PRIMARY KEY, account text NOT NULL, amount numeric(10,2) NOT NULL, booked timestamptz NOT NULL, note text)";
    for (String stage : List.of("development", "test")) {
      server.sql(
          stage,
          "SET ROLE change",
          "CREATE TABLE " + full + columns,
          "INSERT INTO "
              + full
              + " SELECT n, 'Account ' || n % 4000, n % 9000 / 100.0, timestamptz '2026-01-01 00:00+00' + n * interval '1 second', CASE WHEN n % 3 = 0 THEN 'Booked by hand at the harbour' END FROM generate_series(1, "
              + rows
              + ") n");
      vacuum(stage, full);
    }
    if (versions == 0) {
      run(
          "app",
          "adopt",
          APP,
          "--site",
          "test",
          "--number",
          next(),
          "--title",
          "There",
          "--everything",
          "--records",
          full);
    } else {
      draft(full, next());
    }
    server.sql("development", "UPDATE " + full + " SET amount = amount + 1 WHERE id % 100 = 0");
    vacuum("development", full);
    System.out.printf("%n%,d rows%n", rows);
    List<Duration> ours = new ArrayList<>();
    String draft = run("draft", "new", APP).number("D");
    timed(ours, "draft", "add", draft, "--site", "development", "records/" + full);
    timed(ours, "draft", "check", draft);
    timed(ours, "draft", "seal", draft, "--number", next(), "--title", "Dearer");
    String version = "1." + (versions - 1) + ".0";
    String p = timed(ours, "promotion", "prepare", APP + "@" + version, "--to", "test").number("P");
    Path out = folder.resolve("by-hand.csv");
    Duration read = server.tool("psql", "development", "-qc", copy(full, "/dev/null"));
    Duration both = read.plus(server.tool("psql", "test", "-qc", copy(full, "/dev/null")));
    Duration sealed =
        server
            .tool("psql", "development", "-qc", copy(full, out.toString()))
            .plus(PlainServer.took(List.of("sha256sum", out.toString())))
            .plus(PlainServer.took(List.of("zip", "-q", out + ".zip", out.toString())));
    report("draft check / one read", ours.get(1), read, 1.2);
    report("seal / COPY, sha256sum and zip", ours.get(2), sealed, 1.0);
    report("compare and plan / read both in key order", ours.get(3), both, 1.5);
    run("promotion", "show", p);
    String r = start(p);
    JsonNode steps = data(run("run", "show", r, "--json")).get("steps");
    Path dump = folder.resolve("by-hand.dump");
    report(
        "back up / pg_dump -Fc",
        step(steps, "Back up"),
        server.tool("pg_dump", "test", "-Fc", "-t", full, "-f", dump.toString()),
        1.0);
    server.sql("postgres", "CREATE DATABASE by_hand");
    server.sql("by_hand", "CREATE SCHEMA " + APP);
    report(
        "prove / pg_restore",
        step(steps, "Prove"),
        server.tool("pg_restore", "by_hand", "--no-owner", "--no-privileges", dump.toString()),
        1.5);
    applied(step(steps, "Prepare").plus(step(steps, "Switch")), full);
    back();
    server.sql("postgres", "DROP DATABASE by_hand");
    Files.delete(out);
    Files.delete(Path.of(out + ".zip"));
    Files.delete(dump);
  }

  /**
   * By hand nobody knows which rows are others: all of them are loaded and put over those that are
   * there. Beside it, what it takes somebody who knows them beforehand.
   */
  private void applied(Duration ours, String full) throws SQLException, IOException {
    report(
        "apply a hundredth / COPY and one upsert", ours, upserted(full, full, "version.csv"), 0.5);
    Duration known =
        upserted(full, "(SELECT * FROM " + full + " WHERE id % 100 = 0)", "hundredth.csv");
    System.out.printf(
        "%-44s %8.2f s%n", "the same of a hundredth known beforehand", known.toMillis() / 1e3);
  }

  /** Puts rows of development over those of a copy of the test stage. */
  private Duration upserted(String full, String rows, String file)
      throws SQLException, IOException {
    server.sql("by_hand", "UPDATE " + full + " SET amount = amount - 1 WHERE id % 100 = 0");
    Path csv = folder.resolve(file);
    server.tool("psql", "development", "-qc", "\\copy " + rows + " TO '" + csv + "' (FORMAT csv)");
    Duration took =
        server.tool(
            "psql",
            "by_hand",
            "-q",
            "-c",
            "CREATE TEMPORARY TABLE t (LIKE " + full + ")",
            "-c",
            "\\copy t FROM '" + csv + "' (FORMAT csv)",
            "-c",
            "INSERT INTO "
                + full
                + " SELECT * FROM t ON CONFLICT (id) DO UPDATE SET account = excluded.account, amount = excluded.amount, booked = excluded.booked, note = excluded.note");
    Files.delete(csv);
    return took;
  }

  private void vacuum(String stage, String table) throws SQLException {
    server.sql(stage, "VACUUM ANALYZE " + table);
  }

  private static String copy(String table, String to) {
    return "\\copy (SELECT * FROM " + table + " ORDER BY id) TO '" + to + "' (FORMAT csv)";
  }

  private void draft(String full, String number) {
    String d = run("draft", "new", APP).number("D");
    run("draft", "add", d, "--site", "development", "table/" + full, "records/" + full);
    run("draft", "check", d);
    run("draft", "seal", d, "--number", number, "--title", "One more table");
    String p = run("promotion", "prepare", APP + "@" + number, "--to", "test").number("P");
    start(p);
  }

  private String start(String p) {
    String plan = run("promotion", "show", p).fingerprint();
    return run("run", "start", p, "--yes", "--expect", plan, "--wait").number("R");
  }

  /** How long nobody hears anything when somebody goes back, and how long all of it takes. */
  private void back() throws IOException, SQLException {
    String at = APP + "@test";
    String plan = run("rollback", "ways", at).fingerprint();
    List<Duration> first = new ArrayList<>();
    Duration all =
        took(
            () -> {
              String r =
                  timed(
                          first,
                          "rollback",
                          "start",
                          at,
                          "--way",
                          "earlier-version",
                          "--reason",
                          "Measured",
                          "--yes",
                          "--expect",
                          plan)
                      .number("[PR]");
              if (r.startsWith("R")) {
                run("run", "watch", r);
              }
            });
    System.out.printf(
        "%-44s %8.2f s to the number, %8.2f s in all%n",
        "go back", first.get(0).toMillis() / 1e3, all.toMillis() / 1e3);
  }

  private void manyTables() throws SQLException, IOException {
    run("app", "adopt", MANY, "--site", "test", "--number", "1.0.0", "--title", "Empty");
    for (String stage : List.of("development", "test")) {
      try (Connection c = server.open(stage);
          Statement s = c.createStatement()) {
        s.execute("SET ROLE change");
        for (int n = 0; n < TABLES; n++) {
          StringBuilder columns = new StringBuilder("id bigint PRIMARY KEY");
          for (int i = 1; i < 10; i++) {
            columns
                .append(", c")
                .append(i)
                .append(i % 2 == 0 ? " text NOT NULL DEFAULT ''" : " numeric(8,2)");
          }
          s.execute("CREATE TABLE " + MANY + ".many_" + n + " (" + columns + ")");
        }
      }
    }
    System.out.printf("%n%d tables of ten columns%n", TABLES);
    Path dump = folder.resolve("by-hand.sql");
    Duration byHand =
        server.tool("pg_dump", "development", "-s", "-n", MANY, "-f", dump.toString());
    List<Duration> ours = new ArrayList<>();
    timed(ours, "app", "candidates", MANY, "--site", "development");
    timed(ours, "app", "candidates", MANY, "--site", "development");
    report("list / pg_dump -s", ours.get(1), byHand, 1.0);
    String d = run("draft", "new", MANY).number("D");
    timed(ours, "draft", "add", d, "--site", "development", "--everything");
    timed(ours, "draft", "check", d);
    run("draft", "seal", d, "--number", "1.1.0", "--title", "Many tables");
    timed(ours, "promotion", "prepare", MANY + "@1.1.0", "--to", "test");
    report("add to a draft / pg_dump -s", ours.get(2), byHand, 1.0);
    report("draft check / pg_dump -s", ours.get(3), byHand, 1.0);
    report("compare and plan / pg_dump -s of both", ours.get(4), byHand.multipliedBy(2), 1.0);
    Files.delete(dump);
  }

  private static void report(String what, Duration ours, Duration byHand, double goal) {
    double times = (double) ours.toMillis() / Math.max(1, byHand.toMillis());
    System.out.printf(
        "%-44s %8.2f s, by hand %8.2f s: %.2f times (goal %.1f%s)%n",
        what,
        ours.toMillis() / 1e3,
        byHand.toMillis() / 1e3,
        times,
        goal,
        times > goal ? ", missed" : "");
  }

  private static JsonNode data(Teller.Answer answer) {
    JsonNode all = JsonMapper.shared().readTree(answer.out());
    return all.has("data") ? all.get("data") : all;
  }

  private static Duration step(JsonNode steps, String name) {
    for (JsonNode s : steps) {
      if (s.get("name").asString().startsWith(name)) {
        return Duration.between(
            Instant.parse(s.get("began").asString()), Instant.parse(s.get("ended").asString()));
      }
    }
    throw new IllegalStateException("The run has no step " + name);
  }

  /** The most that lay in memory at any moment. */
  private long peak() throws IOException {
    return Files.readAllLines(Path.of("/proc", String.valueOf(service.pid()), "status")).stream()
            .filter(l -> l.startsWith("VmHWM:"))
            .map(l -> l.replaceAll("\\D", ""))
            .mapToLong(Long::parseLong)
            .findFirst()
            .orElseThrow()
        / 1024;
  }
}
