package plenzo.conformance;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.Socket;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;

/** {@code bin/host-conformance}: tries every rule on a host and prints which hold. */
public final class ConformanceMain {
  private static final String USAGE =
      """
      Usage: bin/host-conformance --address http://HOST:PORT[/PREFIX] --token-file FILE
                                  [--kill COMMAND --start COMMAND] [--space NAME] [--first-run N]

      Tries every rule of the host protocol (docs/formats/host-protocol.yaml) on a host: delays, repeats,
      reorders and drops calls. With --kill and --start it also kills the host between write and answer:
      --kill must end it at once (kill -9), --start must start it again in the background.
      It works below a name space of its own ("conformance") and takes away what it made.
      Exit codes: 0 every rule holds, 1 some do not, 2 usage.
      """;

  private ConformanceMain() {}

  public static void main(String[] args) throws IOException {
    Map<String, String> options = new HashMap<>();
    for (int i = 0; i + 1 < args.length; i += 2) {
      options.put(args[i], args[i + 1]);
    }
    String address = options.get("--address");
    String tokenFile = options.get("--token-file");
    if (address == null || tokenFile == null || args.length % 2 != 0) {
      System.err.print(USAGE);
      System.exit(2);
      return;
    }
    URI uri = URI.create(address);
    HostUnderTest host =
        new Commanded(
            uri.getHost(),
            uri.getPort(),
            uri.getPath() == null ? "" : uri.getPath(),
            Files.readString(Path.of(tokenFile)).strip(),
            options.getOrDefault("--kill", ""),
            options.getOrDefault("--start", ""));
    List<Conformance.Result> results =
        new Conformance(
                host,
                options.getOrDefault("--space", "conformance"),
                Long.parseLong(
                    options.getOrDefault(
                        "--first-run", String.valueOf(System.currentTimeMillis() * 1000))))
            .run();
    System.exit(report(results) ? 0 : 1);
  }

  /** Prints each rule; true when all that were tried hold. */
  static boolean report(List<Conformance.Result> results) {
    long failed = 0;
    for (Conformance.Result r : results) {
      System.out.println(
          (r.holds() ? "holds   " : r.tried() ? "FAILS   " : "        ")
              + r.rule()
              + (r.holds() ? "" : ": " + r.problem()));
      failed += r.tried() && !r.holds() ? 1 : 0;
    }
    System.out.println(
        failed == 0 ? "Every rule that was tried holds." : failed + " rules do not hold.");
    return failed == 0;
  }

  /** A host whose process is in the hands of two commands. */
  private record Commanded(
      String address, int port, String prefix, String token, String killing, String starting)
      implements HostUnderTest {
    @Override
    public boolean canBeKilled() {
      return !killing.isEmpty() && !starting.isEmpty();
    }

    @Override
    public void kill() {
      shell(killing);
    }

    @Override
    public void restart() {
      shell(killing);
      shell(starting);
      long until = System.nanoTime() + TimeUnit.SECONDS.toNanos(60);
      while (System.nanoTime() < until) {
        try (Socket s = new Socket(address, port)) {
          return;
        } catch (IOException e) {
          pause();
        }
      }
      throw new IllegalStateException("The host did not start again");
    }

    private static void pause() {
      try {
        TimeUnit.MILLISECONDS.sleep(50);
      } catch (InterruptedException e) {
        Thread.currentThread().interrupt();
      }
    }

    private static void shell(String command) {
      try {
        new ProcessBuilder("sh", "-c", command).inheritIO().start().waitFor();
      } catch (IOException e) {
        throw new UncheckedIOException("Cannot run: " + command, e);
      } catch (InterruptedException e) {
        Thread.currentThread().interrupt();
      }
    }
  }
}
