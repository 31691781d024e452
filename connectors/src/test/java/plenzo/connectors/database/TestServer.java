package plenzo.connectors.database;

import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import plenzo.core.testing.Ground;

/** A server of a test's own, on loopback and without a socket; whoever starts it closes it. */
final class TestServer {
  private TestServer() {}

  /**
   * Starts an empty one; its data lies in the folder "data" of that ground, its programs where all
   * share them.
   */
  static EmbeddedPostgres start(String ground) throws IOException {
    Path folder = Ground.of(ground);
    Files.createDirectories(folder);
    return EmbeddedPostgres.builder()
        .setOverrideWorkingDirectory(
            Path.of(System.getProperty("java.io.tmpdir"), "plenzo-postgres").toFile())
        .setDataDirectory(folder.resolve("data"))
        .setCleanDataDirectory(true)
        .setServerConfig("unix_socket_directories", "")
        .start();
  }
}
