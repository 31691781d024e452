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
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLParameters;
import javax.net.ssl.SSLSocket;
import org.jspecify.annotations.Nullable;
import plenzo.hostprotocol.ClientTls;

/** {@code bin/host-conformance}: tries every rule on a host and prints which hold. */
public final class ConformanceMain {
  private static final String USAGE =
      """
      Usage: bin/host-conformance --address http[s]://HOST[:PORT][/PREFIX]
                                  --token-file FILE | --certificate FILE [--authority FILE]
                                  [--kill COMMAND --start COMMAND] [--space NAME] [--first-run N]

      Tries every rule of the host protocol (docs/formats/host-protocol.yaml) on a host: delays, repeats,
      reorders and drops calls. With --kill and --start it also kills the host between write and answer:
      --kill must end it at once (kill -9), --start must start it again in the background.
      --certificate holds a private key (PKCS#8) and its certificates in PEM, for a host that knows its
      callers by them; --authority the certificates that the host is trusted by, instead of the machine's.
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
    String certificate = options.get("--certificate");
    if (address == null || (tokenFile == null) == (certificate == null) || args.length % 2 != 0) {
      System.err.print(USAGE);
      System.exit(2);
      return;
    }
    URI uri = URI.create(address);
    boolean secure = "https".equals(uri.getScheme());
    if (certificate != null && !secure) {
      System.err.println("A certificate needs an https address.");
      System.exit(2);
      return;
    }
    String authority = text(options.get("--authority"));
    HostUnderTest host =
        new Commanded(
            uri.getHost(),
            uri.getPort() >= 0 ? uri.getPort() : secure ? 443 : 80,
            uri.getPath() == null ? "" : uri.getPath(),
            text(tokenFile).strip(),
            secure ? ClientTls.context(authority, text(certificate)) : null,
            secure ? ClientTls.context(authority, "") : null,
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

  private static String text(@Nullable String file) throws IOException {
    return file == null ? "" : Files.readString(Path.of(file));
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
      String address,
      int port,
      String prefix,
      String token,
      @Nullable SSLContext tls,
      @Nullable SSLContext stranger,
      String killing,
      String starting)
      implements HostUnderTest {
    @Override
    public Socket connect() throws IOException {
      return socket(tls);
    }

    @Override
    public Socket connectAsStranger() throws IOException {
      return socket(stranger);
    }

    private Socket socket(@Nullable SSLContext by) throws IOException {
      if (by == null) {
        return new Socket(address, port);
      }
      SSLSocket out = (SSLSocket) by.getSocketFactory().createSocket(address, port);
      SSLParameters checked = out.getSSLParameters();
      checked.setEndpointIdentificationAlgorithm("HTTPS"); // the name in the certificate counts
      out.setSSLParameters(checked);
      return out;
    }

    @Override
    public boolean canBeKilled() {
      return !killing.isEmpty() && !starting.isEmpty();
    }

    @Override
    public void kill() {
      shell(killing);
      long until = System.nanoTime() + TimeUnit.SECONDS.toNanos(20);
      while (System.nanoTime() < until) {
        try (Socket s = new Socket(address, port)) {
          pause(); // the process is not gone yet
        } catch (IOException e) {
          return;
        }
      }
      throw new IllegalStateException("The host still answers after: " + killing);
    }

    @Override
    public void restart() {
      kill();
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
