package plenzo.bench;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Random;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicLong;
import java.util.concurrent.locks.LockSupport;
import java.util.stream.Stream;
import plenzo.store.H2Keeper;

/**
 * Fifty readers of a house with many records: how many answers a second, how long one takes, how
 * much memory that needs, each answer beside the same question asked of H2 by plain SQL, and how
 * long it takes to verify the whole past.
 *
 * <p>{@code ManyReaders [applications cases entries]}; 500, 50,000 and 1,000,000 when nothing is
 * said. Records that were filled for the same numbers are taken again.
 */
public final class ManyReaders {
  private static final int CLIENTS = 50;
  private static final int GUESTS = 5;

  /** How often each asks: what 50 of them ask together is more than is wanted. */
  private static final Duration EACH = Duration.ofMillis(85);

  private static final Duration WARM = Duration.ofSeconds(25);
  private static final Duration MEASURED = Duration.ofSeconds(30);

  private ManyReaders() {}

  /**
   * @param share how often of a hundred it is asked
   * @param sql the same asked of H2
   */
  private record Question(String name, int share, String path, String sql) {}

  private static final String CASE =
      "SELECT id, application, stage, site, state, at FROM promotion ";
  private static final String RUN = "SELECT id, application, stage, site, state, at FROM run ";
  private static final String EVENT =
      "SELECT sequence, at, actor, event, application, stage, site, version, promotion, run, text,"
          + " hash FROM history ";
  private static final List<Question> QUESTIONS =
      List.of(
          new Question(
              "standing, first 50",
              15,
              "/standing?limit=50",
              "SELECT id, application, stage, site, body FROM site_record ORDER BY ordinal DESC LIMIT 400"),
          new Question(
              "what waits",
              10,
              "/waiting?limit=50",
              CASE + "WHERE state = 'ready' ORDER BY ordinal DESC LIMIT 50"),
          new Question(
              "promotions", 20, "/promotions?limit=50", CASE + "ORDER BY ordinal DESC LIMIT 50"),
          new Question(
              "promotions of one",
              10,
              "/promotions?limit=50&application=ferry-7",
              CASE + "WHERE application = 'ferry-7' ORDER BY ordinal DESC LIMIT 50"),
          new Question("runs", 15, "/runs?limit=50", RUN + "ORDER BY ordinal DESC LIMIT 50"),
          new Question(
              "history", 10, "/history?limit=50", EVENT + "ORDER BY sequence DESC LIMIT 50"),
          new Question(
              "history of one",
              10,
              "/history?limit=50&application=ferry-7",
              EVENT + "WHERE application = 'ferry-7' ORDER BY sequence DESC LIMIT 50"),
          new Question(
              "one promotion", 5, "/promotions/P-508", "SELECT * FROM promotion WHERE id = '508'"),
          new Question("one run", 5, "/runs/R-504", "SELECT * FROM run WHERE id = '504'"));

  public static void main(String[] args) throws Exception {
    int applications = args.length > 0 ? Integer.parseInt(args[0]) : 500;
    int cases = args.length > 1 ? Integer.parseInt(args[1]) : 50_000;
    int entries = args.length > 2 ? Integer.parseInt(args[2]) : 1_000_000;
    Path world =
        Path.of("bench/target/readers-" + applications + "-" + cases + "-" + entries)
            .toAbsolutePath();
    fill(world, applications, cases, entries);
    List<Long> plain = plain(world.resolve("data"));
    int port = freePort();
    Process service = start(world, port);
    try {
      await(port);
      compare(port, plain);
      verify(port);
      load(port, service);
    } finally {
      service.destroy();
      if (!service.waitFor(30, TimeUnit.SECONDS)) {
        service.destroyForcibly().waitFor();
      }
    }
  }

  private static void fill(Path world, int applications, int cases, int entries)
      throws IOException {
    Path filled = world.resolve("filled");
    if (Files.exists(filled)) {
      return;
    }
    if (Files.exists(world)) {
      try (Stream<Path> all = Files.walk(world)) {
        for (Path p : all.sorted(Comparator.reverseOrder()).toList()) {
          Files.delete(p);
        }
      }
    }
    long began = System.nanoTime();
    Files.createDirectories(world.resolve("data"));
    try (H2Keeper keeper = new H2Keeper(world.resolve("data"), () -> "bench", 1 << 20)) {
      new ManyRecords(applications, cases, entries).fill(keeper);
    }
    Files.writeString(filled, "");
    System.out.printf(
        "%d applications, %d cases, %d entries filled in %d s, %d MB%n",
        applications,
        cases,
        entries,
        TimeUnit.NANOSECONDS.toSeconds(System.nanoTime() - began),
        Files.size(world.resolve("data/records.mv.db")) >> 20);
  }

  private static long median(List<Long> all) {
    long[] sorted = all.stream().mapToLong(Long::longValue).sorted().toArray();
    return sorted[sorted.length / 2];
  }

  /** Median nanoseconds of each question as plain SQL, each row read to its end. */
  private static List<Long> plain(Path data) throws SQLException {
    List<Long> out = new ArrayList<>();
    try (Connection c =
            DriverManager.getConnection(
                "jdbc:h2:file:"
                    + data.resolve("records")
                    + ";CACHE_SIZE=16384;IFEXISTS=TRUE;OPTIMIZE_REUSE_RESULTS=FALSE",
                "plenzo",
                "");
        Statement s = c.createStatement()) {
      for (Question q : QUESTIONS) {
        List<Long> took = new ArrayList<>();
        for (int n = 0; n < 400; n++) {
          long began = System.nanoTime();
          try (ResultSet r = s.executeQuery(q.sql())) {
            int columns = r.getMetaData().getColumnCount();
            while (r.next()) {
              for (int i = 1; i <= columns; i++) {
                r.getString(i);
              }
            }
          }
          if (n >= 200) {
            took.add(System.nanoTime() - began);
          }
        }
        out.add(median(took));
      }
    }
    return out;
  }

  private static int freePort() throws IOException {
    try (ServerSocket any = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
      return any.getLocalPort();
    }
  }

  private static Process start(Path world, int port) throws IOException {
    Path config = world.resolve("plenzo.yml");
    Files.writeString(
        config,
        "server.port: "
            + port
            + "\nplenzo:\n  data-directory: "
            + world.resolve("data")
            + "\n  key-file: "
            + world.resolve("plenzo.key")
            + "\n");
    return new ProcessBuilder(
            Path.of("bin/service").toAbsolutePath().toString(),
            "--spring.config.additional-location=file:" + config)
        .redirectErrorStream(true)
        .redirectOutput(world.resolve("service.log").toFile())
        .start();
  }

  private static void await(int port) throws InterruptedException {
    long until = System.nanoTime() + TimeUnit.SECONDS.toNanos(120);
    while (true) {
      try (Caller caller = new Caller(port, ManyRecords.READER)) {
        caller.ask("/session");
        return;
      } catch (IOException e) {
        if (System.nanoTime() > until) {
          throw new UncheckedIOException("The service did not start; see service.log", e);
        }
        TimeUnit.MILLISECONDS.sleep(100);
      }
    }
  }

  /** One client alone, each answer beside its plain SQL. */
  private static void compare(int port, List<Long> plain) throws IOException {
    System.out.printf(
        "%-22s %10s %10s %8s %10s%n", "one client", "answer", "plain SQL", "times", "bytes");
    try (Caller caller = new Caller(port, ManyRecords.READER)) {
      for (int i = 0; i < QUESTIONS.size(); i++) {
        Question q = QUESTIONS.get(i);
        List<Long> took = new ArrayList<>();
        long bytes = 0;
        long until = System.nanoTime() + TimeUnit.SECONDS.toNanos(4);
        for (int n = 0; n < 600 && (took.size() < 5 || System.nanoTime() < until); n++) {
          long began = System.nanoTime();
          bytes = caller.ask(q.path());
          if (n >= 300 || System.nanoTime() > until - TimeUnit.SECONDS.toNanos(2)) {
            took.add(System.nanoTime() - began);
          }
        }
        long ours = median(took);
        System.out.printf(
            "%-22s %7.2f ms %7.2f ms %8.1f %10d%n",
            q.name(), ours / 1e6, plain.get(i) / 1e6, (double) ours / plain.get(i), bytes);
      }
    }
  }

  /** The whole past, once as it is found and once more. */
  private static void verify(int port) throws IOException {
    try (Caller caller = new Caller(port, ManyRecords.READER)) {
      for (String time : List.of("first", "again")) {
        long began = System.nanoTime();
        caller.ask("/history/verify");
        System.out.printf("history verify, %s: %.1f s%n", time, (System.nanoTime() - began) / 1e9);
      }
    }
  }

  private static void load(int port, Process service) throws Exception {
    ConcurrentHashMap<String, ConcurrentLinkedQueue<Long>> took = new ConcurrentHashMap<>();
    AtomicLong failed = new AtomicLong();
    long warm = System.nanoTime() + WARM.toNanos();
    long end = warm + MEASURED.toNanos();
    List<Thread> clients = new ArrayList<>();
    for (int n = 0; n < CLIENTS; n++) {
      String secret = n < GUESTS ? ManyRecords.GUEST : ManyRecords.READER;
      Random random = new Random(n);
      Thread client =
          new Thread(
              () -> {
                try (Caller caller = new Caller(port, secret)) {
                  long next = System.nanoTime() + random.nextInt((int) EACH.toNanos());
                  while (System.nanoTime() < end) {
                    LockSupport.parkNanos(next - System.nanoTime());
                    next += EACH.toNanos();
                    Question q = pick(random.nextInt(100), secret);
                    long began = System.nanoTime();
                    caller.ask(q.path());
                    long now = System.nanoTime();
                    if (began > warm) {
                      took.computeIfAbsent(q.name(), k -> new ConcurrentLinkedQueue<>())
                          .add(now - began);
                    }
                  }
                } catch (IOException e) {
                  failed.incrementAndGet();
                  System.err.println(e.getMessage());
                }
              });
      client.start();
      clients.add(client);
    }
    for (Thread client : clients) {
      client.join();
    }
    long[] all =
        took.values().stream()
            .flatMap(q -> q.stream())
            .mapToLong(Long::longValue)
            .sorted()
            .toArray();
    for (Question q : QUESTIONS) {
      long[] each =
          took.getOrDefault(q.name(), new ConcurrentLinkedQueue<>()).stream()
              .mapToLong(Long::longValue)
              .sorted()
              .toArray();
      System.out.printf("%-22s %6d answers, %s%n", q.name(), each.length, spread(each));
    }
    System.out.printf(
        "%d clients: %.0f answers a second, %s, %d clients failed, %d MB resident%n",
        CLIENTS,
        all.length / (double) MEASURED.toSeconds(),
        spread(all),
        failed.get(),
        resident(service));
  }

  private static Question pick(int share, String secret) {
    int left = share;
    for (Question q : QUESTIONS) {
      left -= q.share();
      if (left < 0) {
        // who sees three applications has no single case to open
        return secret.equals(ManyRecords.GUEST) && q.name().startsWith("one ")
            ? QUESTIONS.get(2)
            : q;
      }
    }
    throw new IllegalStateException("The shares are less than a hundred");
  }

  private static String spread(long[] sorted) {
    return sorted.length == 0
        ? "none"
        : String.format(
            "median %.1f ms, 95 of 100 within %.1f ms, longest %.1f ms",
            sorted[sorted.length / 2] / 1e6,
            sorted[sorted.length * 95 / 100] / 1e6,
            sorted[sorted.length - 1] / 1e6);
  }

  /** Megabytes of a process as the system counts them; -1 where it does not say. */
  private static long resident(Process process) throws IOException {
    Path status = Path.of("/proc/" + process.pid() + "/status");
    return Files.exists(status)
        ? Files.readAllLines(status).stream()
            .filter(l -> l.startsWith("VmRSS:"))
            .mapToLong(l -> Long.parseLong(l.replaceAll("[^0-9]", "")) >> 10)
            .findFirst()
            .orElse(-1)
        : -1;
  }
}
