package plenzo.store;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import org.jspecify.annotations.Nullable;

/**
 * Records with nothing in them, made once a process: to make their tables takes five times as long
 * as to open them. Whoever opens a copy makes a service of its own of it.
 */
public final class EmptyRecords {
  private static final String FILE = "records.mv.db";

  private static byte @Nullable [] empty;

  private EmptyRecords() {}

  /** Lays them into a folder that has none; others stay as they are. */
  public static synchronized void into(Path folder) {
    Path file = folder.resolve(FILE);
    if (Files.exists(file)) {
      return;
    }
    try {
      Files.createDirectories(folder);
      if (empty == null) {
        new H2Keeper(folder, () -> "nobody", /* room= */ 1 << 20).close();
        withoutIdentity(folder);
        empty = Files.readAllBytes(file);
      } else {
        Files.write(file, empty);
      }
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private static void withoutIdentity(Path folder) {
    try (Connection c =
            DriverManager.getConnection(
                "jdbc:h2:file:" + folder.resolve("records").toAbsolutePath(), "plenzo", "");
        Statement s = c.createStatement()) {
      s.execute("DELETE FROM fact WHERE name = 'service'");
    } catch (SQLException e) {
      throw new IllegalStateException(e);
    }
  }
}
