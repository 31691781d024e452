package plenzo.demo;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.util.HexFormat;
import java.util.List;
import java.util.concurrent.TimeUnit;

/** The stand-in application host of one site, as a process of its own with its own state. */
public final class HostProcess implements AutoCloseable {
  static {
    // as Plenzo itself asks hosts: none by a connection that may be closed as it is used again
    System.setProperty("jdk.httpclient.keepalive.timeout", "2");
  }

  private static final HttpClient CLIENT =
      HttpClient.newBuilder().version(HttpClient.Version.HTTP_1_1).build();

  private final Path folder;
  private final String token;
  private Process process;
  private int port;

  /**
   * @param folder for its settings, state and log; what lies there is taken up again
   * @param cluster the databases
   * @param database the site's one
   * @param account that may read it
   */
  public HostProcess(Path folder, Cluster cluster, String database, String account) {
    this.folder = folder;
    byte[] random = new byte[32];
    new SecureRandom().nextBytes(random);
    this.token = HexFormat.of().formatHex(random);
    try {
      Files.createDirectories(folder);
    } catch (IOException e) {
      throw new UncheckedIOException("The host's folder cannot be made", e);
    }
    settings(0, cluster, database, account);
    this.process = start();
    settings(port, cluster, database, account); // the same port after a restart
  }

  private void settings(int port, Cluster cluster, String database, String account) {
    try {
      Files.writeString(
          folder.resolve("settings.properties"),
          String.join(
              "\n",
              "port=" + port,
              "folder=" + folder.resolve("state"),
              "token=" + token,
              "database.url=jdbc:postgresql://127.0.0.1:" + cluster.port() + "/" + database,
              "database.account=" + account,
              "database.password=" + Cluster.PASSWORD,
              "simulate=true",
              ""));
    } catch (IOException e) {
      throw new UncheckedIOException("The host's settings cannot be written", e);
    }
  }

  private Process start() {
    try {
      Path log = folder.resolve("host.log");
      Files.deleteIfExists(log);
      Process started =
          new ProcessBuilder(
                  List.of(
                      ProcessHandle.current().info().command().orElse("java"),
                      "-Xmx64m",
                      "-XX:TieredStopAtLevel=1",
                      "-XX:+UseSerialGC",
                      "-cp",
                      System.getProperty("java.class.path"),
                      "plenzo.standin.StandIn",
                      folder.resolve("settings.properties").toString()))
              .redirectErrorStream(true)
              .redirectOutput(log.toFile())
              .start();
      long until = System.nanoTime() + TimeUnit.SECONDS.toNanos(30);
      while (System.nanoTime() < until && started.isAlive()) {
        String text = Files.exists(log) ? Files.readString(log) : "";
        int at = text.indexOf("listening on ");
        if (at >= 0 && text.indexOf('\n', at) > 0) {
          port = Integer.parseInt(text.substring(at + 13, text.indexOf('\n', at)).trim());
          return started;
        }
        TimeUnit.MILLISECONDS.sleep(20);
      }
      started.destroyForcibly();
      throw new IllegalStateException("The host did not start; its log is " + log);
    } catch (IOException e) {
      throw new UncheckedIOException("The host could not be started", e);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new IllegalStateException("Interrupted", e);
    }
  }

  public int port() {
    return port;
  }

  public String token() {
    return token;
  }

  /** Ends it at once, as a power cut would. */
  public void kill() {
    process.destroyForcibly();
    try {
      process.waitFor();
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  /** Starts it again with the same state at the same port. */
  public void restart() {
    kill();
    process = start();
  }

  public boolean alive() {
    return process.isAlive();
  }

  /** Sends JSON as one of the host's own people or its simulation; returns status and answer. */
  public String post(String path, String json) {
    try {
      HttpResponse<String> r =
          CLIENT.send(
              HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + port + path))
                  .header("Content-Type", "application/json")
                  .POST(HttpRequest.BodyPublishers.ofString(json, StandardCharsets.UTF_8))
                  .build(),
              HttpResponse.BodyHandlers.ofString());
      return r.statusCode() + " " + r.body();
    } catch (IOException e) {
      throw new UncheckedIOException("The host does not answer " + path, e);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new IllegalStateException("Interrupted", e);
    }
  }

  /** Tells the simulation something: people, work, a fault. */
  public void simulate(String what, String json) {
    String answer = post("/simulate/" + what, json);
    if (!answer.startsWith("200")) {
      throw new IllegalStateException("The host did not take " + json + ": " + answer);
    }
  }

  /** Somebody edits a definition in the host itself. */
  public void edit(String kind, String name, String document, boolean active, String inputs) {
    simulate(
        "edit",
        "{\"kind\":\""
            + kind
            + "\",\"name\":\""
            + name
            + "\",\"active\":"
            + active
            + ",\"inputs\":"
            + (inputs.isEmpty() ? "{}" : inputs)
            + ",\"text\":"
            + quoted(document)
            + "}");
  }

  private static String quoted(String text) {
    return "\"" + text.replace("\\", "\\\\").replace("\"", "\\\"").replace("\n", "\\n") + "\"";
  }

  @Override
  public void close() {
    process.destroy();
    try {
      if (!process.waitFor(5, TimeUnit.SECONDS)) {
        process.destroyForcibly();
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      process.destroyForcibly();
    }
  }
}
