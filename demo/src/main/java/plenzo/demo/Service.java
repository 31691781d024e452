package plenzo.demo;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.HttpURLConnection;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;

/** The service as its own process, with 256 MB of heap. */
public final class Service implements AutoCloseable {
  private final Process process;
  private final int port;

  /**
   * @param jar the service's jar
   * @param folder for its data, its log and its configuration file
   * @param destinations hosts and ports that it may reach
   * @param directories folder below which targets and repositories may lie
   * @param mailPort of the mail server on this machine; 0 for none
   */
  public Service(
      Path jar,
      Path folder,
      int port,
      List<String> destinations,
      Path directories,
      String adminPassword,
      int mailPort) {
    this(jar, folder, port, destinations, directories, adminPassword, mailPort, "");
  }

  /**
   * @param clock a file with how far its clock differs from the machine's; empty for one that does
   *     not
   */
  public Service(
      Path jar,
      Path folder,
      int port,
      List<String> destinations,
      Path directories,
      String adminPassword,
      int mailPort,
      String clock) {
    this(jar, folder, port, destinations, directories, adminPassword, mailPort, clock, BRIEF);
  }

  /** It lives for minutes: the quick compiler alone is quicker. */
  private static final List<String> BRIEF = List.of("-XX:TieredStopAtLevel=1");

  /**
   * @param machine what the virtual machine is told beside the size of its heap
   */
  public Service(
      Path jar,
      Path folder,
      int port,
      List<String> destinations,
      Path directories,
      String adminPassword,
      int mailPort,
      String clock,
      List<String> machine) {
    this.port = port;
    try {
      Files.createDirectories(folder);
      Path config = folder.resolve("plenzo.yml");
      Files.writeString(
          config,
          "server.port: "
              + port
              + "\nplenzo:\n  data-directory: "
              + folder.resolve("data")
              + "\n  key-file: "
              + folder.resolve("plenzo.key")
              + "\n  destinations: [\""
              + String.join("\", \"", destinations)
              + "\"]\n  directories: [\""
              + directories
              + "\"]\n  password-cost: 10\n  admin-password: "
              + adminPassword
              + "\n"
              + (clock.isEmpty() ? "" : "  sample-clock: " + clock + "\n")
              + (mailPort == 0
                  ? ""
                  : "  reached-at: http://127.0.0.1:"
                      + port
                      + "\n  mail:\n    host: 127.0.0.1\n    port: "
                      + mailPort
                      + "\n    from: plenzo@morrowick.example\n    tls: none\n"));
      List<String> command = new ArrayList<>();
      command.add(ProcessHandle.current().info().command().orElse("java"));
      command.add("-Xmx256m");
      command.addAll(machine);
      Path started = jar.toAbsolutePath().normalize(); // by this name its classes are kept ready
      command.addAll(
          List.of(
              // as bin/service starts it
              "-XX:+UseSerialGC",
              "-XX:NewRatio=3",
              "-XX:SurvivorRatio=4",
              "-XX:MinHeapFreeRatio=5",
              "-XX:MaxHeapFreeRatio=15",
              "-XX:+ExitOnOutOfMemoryError",
              "-XX:SharedArchiveFile=" + started.resolveSibling("plenzo.jsa"),
              "-Xlog:cds=off",
              "-Xlog:cds+dynamic=off",
              "-jar",
              started.toString(),
              "--spring.config.additional-location=file:" + config));
      ProcessBuilder builder =
          new ProcessBuilder(command)
              .redirectErrorStream(true)
              .redirectOutput(folder.resolve("service.log").toFile());
      builder.environment().put("MALLOC_ARENA_MAX", "2");
      process = builder.start();
    } catch (IOException e) {
      throw new UncheckedIOException("The service could not be started", e);
    }
    await(folder);
  }

  private void await(Path folder) {
    long until = System.nanoTime() + TimeUnit.SECONDS.toNanos(90);
    while (System.nanoTime() < until) {
      if (!process.isAlive()) {
        break;
      }
      try {
        HttpURLConnection c =
            (HttpURLConnection) URI.create(address() + "/health").toURL().openConnection();
        c.setConnectTimeout(500);
        c.setReadTimeout(2000);
        if (c.getResponseCode() == 200) {
          return;
        }
      } catch (IOException e) {
        // not up yet
      }
      try {
        TimeUnit.MILLISECONDS.sleep(150);
      } catch (InterruptedException e) {
        Thread.currentThread().interrupt();
      }
    }
    close();
    throw new IllegalStateException(
        "The service did not start; its log is " + folder.resolve("service.log"));
  }

  public String address() {
    return "http://127.0.0.1:" + port;
  }

  public long pid() {
    return process.pid();
  }

  public boolean alive() {
    return process.isAlive();
  }

  /** Ends the process at once, as a power cut would, and waits until it is gone. */
  public void kill() {
    process.destroyForcibly();
    try {
      process.waitFor();
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  @Override
  public void close() {
    process.destroy();
    try {
      if (!process.waitFor(20, TimeUnit.SECONDS)) {
        process.destroyForcibly();
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      process.destroyForcibly();
    }
  }
}
