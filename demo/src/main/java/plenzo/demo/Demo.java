package plenzo.demo;

import java.io.IOException;
import java.io.OutputStreamWriter;
import java.io.PrintWriter;
import java.net.ServerSocket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Comparator;
import java.util.List;
import java.util.concurrent.CountDownLatch;
import java.util.stream.Stream;

/**
 * {@code bin/demo}: starts the databases and the service, tells the story, and stays; {@code
 * --script} ends instead, and {@code --quarter} lets a quarter go by instead of the story.
 */
public final class Demo {
  private static final String ADMIN = "first-crossing";

  private Demo() {}

  public static void main(String[] args) throws Exception {
    boolean script = List.of(args).contains("--script");
    Path root = Path.of(System.getProperty("plenzo.root", ".")).toAbsolutePath().normalize();
    boolean quarter = List.of(args).contains("--quarter");
    Path folder = root.resolve(".demo").resolve(quarter ? "quarter" : script ? "script" : "world");
    clear(folder);
    PrintWriter out =
        new PrintWriter(new OutputStreamWriter(System.out, StandardCharsets.UTF_8), true);
    PrintWriter told = script ? out : new PrintWriter(java.io.Writer.nullWriter());
    CountDownLatch ended = new CountDownLatch(1);
    try (Stoppable stoppable = new Stoppable(ended)) {
      out.println("Starting the sample databases …");
      Cluster cluster = stoppable.add(new Cluster(folder.resolve("postgres")));
      out.println("Starting the application hosts …");
      Places places = stoppable.add(new Places(folder.resolve("sites"), cluster));
      out.println("Starting Plenzo …");
      Service service =
          stoppable.add(
              new Service(
                  root.resolve("server/target/service/plenzo-server.jar"),
                  folder,
                  port(script),
                  places.destinations(),
                  places.root(),
                  ADMIN,
                  places.letters().port(),
                  quarter ? Quarter.clock(folder) : ""));
      Teller teller = new Teller(service.address(), told);
      out.println(
          quarter
              ? "A quarter of Morrowick Ferries goes by (about two minutes) …"
              : script
                  ? "Telling the story of Morrowick Ferries …"
                  : "Telling the story of Morrowick Ferries (about three minutes; bin/demo --script prints it) …");
      if (quarter) {
        new Quarter(teller, places, folder).tell(ADMIN);
      } else {
        World.setUp(teller, places, cluster.port(), ADMIN);
        new Story(teller, places).tell();
      }
      if (script) {
        out.println();
        out.println("The story is told; every stage was as it should be.");
        return;
      }
      out.println();
      out.println("Plenzo is at " + service.address());
      out.println();
      out.println("  sign in as   who that is");
      out.println("  ines         release manager: prepares, runs, goes back");
      out.println("  bram         business owner: approves");
      out.println("  tove         tester: says good or bad");
      out.println("  odile        auditor: looks");
      out.println(
          "  password     "
              + World.PASSWORD
              + "  (the administrator is admin, password "
              + ADMIN
              + ")");
      out.println();
      out.println(
          "From another terminal:  bin/plenzo login --server "
              + service.address()
              + " --name ines");
      out.println(
          "The databases are at 127.0.0.1:"
              + cluster.port()
              + " (development, test, production, south; account postgres, password postgres).");
      out.println("Published files and hosts lie below " + places.root() + ".");
      out.println("Ctrl-C stops everything.");
      ended.await();
    }
  }

  private static int port(boolean script) throws IOException {
    if (!script) {
      try (ServerSocket usual =
          new ServerSocket(7878, 1, java.net.InetAddress.getLoopbackAddress())) {
        return usual.getLocalPort();
      } catch (IOException e) {
        // somebody has it; any other will do
      }
    }
    try (ServerSocket any = new ServerSocket(0, 1, java.net.InetAddress.getLoopbackAddress())) {
      return any.getLocalPort();
    }
  }

  private static void clear(Path folder) throws IOException {
    if (Files.exists(folder)) {
      try (Stream<Path> all = Files.walk(folder)) {
        for (Path p : all.sorted(Comparator.reverseOrder()).toList()) {
          Files.delete(p);
        }
      }
    }
  }

  /** Stops what was started, once, in reverse order, also on Ctrl-C. */
  private static final class Stoppable implements AutoCloseable {
    private final java.util.ArrayDeque<AutoCloseable> started = new java.util.ArrayDeque<>();
    private final CountDownLatch ended;

    Stoppable(CountDownLatch ended) {
      this.ended = ended;
      Runtime.getRuntime().addShutdownHook(new Thread(this::close));
    }

    synchronized <T extends AutoCloseable> T add(T one) {
      started.push(one);
      return one;
    }

    @Override
    public synchronized void close() {
      while (!started.isEmpty()) {
        try {
          started.pop().close();
        } catch (Exception e) {
          System.err.println("While stopping: " + e.getMessage());
        }
      }
      ended.countDown();
    }
  }
}
