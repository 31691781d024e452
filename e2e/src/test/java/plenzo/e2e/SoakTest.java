package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.PrintWriter;
import java.io.UncheckedIOException;
import java.io.Writer;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.ScheduledFuture;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicLong;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import plenzo.core.testing.Ground;
import plenzo.demo.Cluster;
import plenzo.demo.Places;
import plenzo.demo.Service;
import plenzo.demo.Teller;
import plenzo.demo.Tokens;
import plenzo.demo.World;

/**
 * An hour of runs, readers and streams of events on one service of 256 MB: nothing is lost, nobody
 * is turned away, and its memory does not grow.
 *
 * <p>{@code -Dsoak.minutes=5} makes it shorter. What it saw of each minute is in {@code
 * target/soak/minutes.csv}.
 */
@Tag("nightly")
@Timeout(value = 4, unit = TimeUnit.HOURS, threadMode = Timeout.ThreadMode.SEPARATE_THREAD)
class SoakTest {
  private static final Path ROOT = Ground.of("soak");
  private static final Duration LONG = Duration.ofMinutes(Integer.getInteger("soak.minutes", 60));

  /** From one version to the next; a run takes two to three seconds of it. */
  private static final Duration CYCLE = Duration.ofSeconds(10);

  private static final Duration EACH_READER = Duration.ofMillis(250);
  private static final int READERS = 6;
  private static final int STREAMS = 3;

  /** Every n-th version is gone back from. */
  private static final int BACK = 7;

  private static final List<String> PAGES =
      List.of(
          "/standing?limit=50",
          "/waiting?limit=50",
          "/promotions?limit=50",
          "/runs?limit=50",
          "/history?limit=50",
          "/versions?application=fares&limit=50",
          "/backups?limit=50",
          "/applications?limit=50");
  private static final Pattern RUN_DONE =
      Pattern.compile("\"run\":\"(R-[0-9]+)\"[^}]*\"state\":\"(done|done, n to look at)\"");

  private final Started started = new Started();
  private final HttpClient http = HttpClient.newHttpClient();
  private final ConcurrentLinkedQueue<String> refused = new ConcurrentLinkedQueue<>();
  private final AtomicLong answers = new AtomicLong();
  private final List<Set<String>> streamed = new ArrayList<>();
  private final TreeMap<Long, Long> resident = new TreeMap<>();

  private volatile long aliveBefore;

  private Cluster cluster;
  private Service service;
  private Teller teller;

  @BeforeEach
  void start() throws IOException {
    KillTest.clear(ROOT);
    cluster = started.add(new Cluster(ROOT.resolve("postgres"), /* flushed= */ false));
    Places places = started.add(new Places(ROOT.resolve("sites"), cluster));
    service =
        started.add(
            new Service(
                TestService.JAR,
                ROOT,
                TestService.freePort(),
                places.destinations(),
                places.root(),
                TestService.ADMIN,
                /* mailPort= */ 0));
    teller = new Teller(service.address(), new PrintWriter(Writer.nullWriter()));
    World.setUp(teller, places, cluster.port(), TestService.ADMIN);
    Surcharges.adopt(teller);
  }

  @AfterEach
  void stop() {
    started.close();
  }

  @Test
  void losesNothingAndStaysAsSmallAsItWas() throws Exception {
    long end = System.nanoTime() + LONG.toNanos();
    Releasing releasing = new Releasing();
    ScheduledExecutorService readers = Executors.newScheduledThreadPool(READERS);
    ScheduledExecutorService writer = Executors.newScheduledThreadPool(2);
    started.add(readers::shutdownNow);
    started.add(writer::shutdownNow);
    for (int n = 0; n < STREAMS; n++) {
      listen();
    }
    String secret = Tokens.make(service.address(), "ines", World.PASSWORD);
    for (int n = 0; n < READERS; n++) {
      AtomicInteger next = new AtomicInteger(n);
      readers.scheduleAtFixedRate(
          () -> read(secret, PAGES.get(next.getAndIncrement() % PAGES.size())),
          n * 40,
          EACH_READER.toMillis(),
          TimeUnit.MILLISECONDS);
    }
    writer.scheduleAtFixedRate(() -> look(releasing), 0, 10, TimeUnit.SECONDS);
    ScheduledFuture<?> cycles =
        writer.scheduleAtFixedRate(
            () -> {
              if (System.nanoTime() > end) {
                throw new Over();
              }
              releasing.cycle();
              if (aliveBefore == 0 && System.nanoTime() > end - LONG.toNanos() * 2 / 3) {
                aliveBefore = aliveNow();
              }
            },
            0,
            CYCLE.toMillis(),
            TimeUnit.MILLISECONDS);
    try {
      cycles.get();
    } catch (ExecutionException e) {
      if (!(e.getCause() instanceof Over)) {
        throw e;
      }
    }
    readers.shutdown();
    assertThat(readers.awaitTermination(1, TimeUnit.MINUTES)).isTrue();

    assertThat(refused).as("answers that were none").isEmpty();
    assertThat(answers.get()).isGreaterThan(LONG.toSeconds() * READERS * 2);
    releasing.stands();
    for (Set<String> stream : streamed) {
      assertThat(stream).as("ends of runs that a stream told").containsAll(releasing.runs);
    }
    assertThat(teller.run("odile", 0, "history", "verify").out()).contains("unbroken");
    flat();
  }

  /** What ends the cycles; nothing is wrong. */
  private static final class Over extends RuntimeException {
    private static final long serialVersionUID = 1;
  }

  /** Versions that go to the test stage one after another, and every few of them back. */
  private final class Releasing {
    final List<String> runs = new ArrayList<>();
    private String amount = "4.50";
    private volatile int versions;

    void cycle() {
      versions++;
      String next = String.format("%d.%02d", 5 + versions / 100, versions % 100);
      cluster.sql(
          "development", "UPDATE fares.surcharge SET amount = " + next + " WHERE code = 'PEAK'");
      String number = "1." + versions + ".0";
      String draft = teller.run("ines", 0, "draft", "new", "fares").number("D");
      teller.run(
          "ines", 0, "draft", "add", draft, "records/fares.surcharge", "--site", "development");
      teller.run("ines", 0, "draft", "check", draft);
      teller.run("ines", 0, "draft", "seal", draft, "--number", number, "--title", "Peak " + next);
      String p =
          teller
              .run("ines", 0, "promotion", "prepare", "fares@" + number, "--to", "test")
              .number("P");
      runs.add(teller.run("ines", 0, "run", "start", p, "--wait").number("R"));
      assertThat(peak()).as(number).isEqualTo(next);
      if (versions % BACK == 0) {
        runs.add(
            teller
                .run(
                    "ines",
                    0,
                    "rollback",
                    "start",
                    "fares@test",
                    "--way",
                    "earlier-version",
                    "--reason",
                    "Too dear",
                    "--wait")
                .number("R"));
        assertThat(peak()).as("gone back from " + number).isEqualTo(amount);
      } else {
        amount = next;
      }
    }

    void stands() {
      assertThat(runs).hasSize(versions + versions / BACK).doesNotHaveDuplicates();
      assertThat(peak()).isEqualTo(amount);
      String all = teller.run("ines", 0, "run", "list", "--all").out();
      assertThat(all.lines().filter(l -> l.matches(".*\\bR-[0-9]+\\s.*\\bdone\\b.*")).count())
          .as("runs that are done, as they are listed")
          .isEqualTo(runs.size());
    }

    private String peak() {
      return cluster.query("test", "SELECT amount FROM fares.surcharge WHERE code = 'PEAK'").get(0);
    }
  }

  private void read(String secret, String page) {
    try {
      HttpResponse<Void> answer =
          http.send(
              HttpRequest.newBuilder(URI.create(service.address() + "/api/v1" + page))
                  .header("Authorization", "Bearer " + secret)
                  .timeout(Duration.ofSeconds(20))
                  .build(),
              HttpResponse.BodyHandlers.discarding());
      answers.incrementAndGet();
      if (answer.statusCode() != 200) {
        refused.add(page + " answered " + answer.statusCode());
      }
    } catch (IOException e) {
      refused.add(page + ": " + e);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  /** One more stream; what it told of runs that are done is kept. */
  private void listen() {
    Set<String> done = ConcurrentHashMap.newKeySet();
    streamed.add(done);
    Events.hear(
        http,
        service.address(),
        "odile",
        line -> {
          Matcher m = RUN_DONE.matcher(line);
          while (m.find()) {
            done.add(m.group(1));
          }
        },
        e -> refused.add("a stream ended: " + e));
  }

  private void look(Releasing releasing) {
    try {
      long megabytes =
          Files.readAllLines(Path.of("/proc/" + service.pid() + "/status")).stream()
              .filter(l -> l.startsWith("VmRSS:"))
              .mapToLong(l -> Long.parseLong(l.replaceAll("[^0-9]", "")) >> 10)
              .findFirst()
              .orElseThrow();
      long records = Files.size(ROOT.resolve("data/records.mv.db")) >> 20;
      synchronized (resident) {
        resident.put(System.nanoTime(), megabytes);
      }
      Files.writeString(
          ROOT.resolve("minutes.csv"),
          String.format("%d,%d,%d,%d%n", releasing.versions, answers.get(), megabytes, records),
          StandardOpenOption.CREATE,
          StandardOpenOption.APPEND);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  /**
   * What is alive after everything else was collected is no more at the end than after a third of
   * the time, but for a few megabytes of what is kept on purpose, and the whole process is no
   * larger than its heap and what a virtual machine needs beside it.
   */
  private void flat() throws IOException, InterruptedException {
    long now = alive();
    assertThat(now).as("MB alive at the end, %d before", aliveBefore).isLessThan(aliveBefore + 15);
    synchronized (resident) {
      assertThat(resident.values()).as("MB resident").allMatch(mb -> mb < 256 + 200);
    }
  }

  /** Megabytes of the heap that are in use once the garbage is collected. */
  private long alive() throws IOException, InterruptedException {
    jcmd("GC.run");
    return jcmd("GC.heap_info")
            .lines()
            .filter(l -> l.contains("generation"))
            .mapToLong(l -> Long.parseLong(l.replaceAll(".*used ([0-9]+)K.*", "$1")))
            .sum()
        >> 10;
  }

  private long aliveNow() {
    try {
      return alive();
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    } catch (InterruptedException e) {
      throw new IllegalStateException(e);
    }
  }

  private String jcmd(String command) throws IOException, InterruptedException {
    Process jcmd =
        new ProcessBuilder(
                Path.of(System.getProperty("java.home"), "bin", "jcmd").toString(),
                String.valueOf(service.pid()),
                command)
            .redirectErrorStream(true)
            .start();
    String out = new String(jcmd.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    assertThat(jcmd.waitFor()).as(out).isZero();
    return out;
  }
}
