package plenzo.engine.kit;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.jspecify.annotations.Nullable;
import plenzo.store.H2Keeper;

/**
 * Records with nothing in them, made once a process: to make their tables takes five times as long
 * as to open them.
 */
final class EmptyRecords {
  private static final String FILE = "records.mv.db";

  private static byte @Nullable [] empty;

  private EmptyRecords() {}

  /** Lays them into a folder that has none; others stay as they are. */
  static synchronized void into(Path folder) {
    Path file = folder.resolve(FILE);
    if (Files.exists(file)) {
      return;
    }
    try {
      Files.createDirectories(folder);
      if (empty == null) {
        new H2Keeper(folder, () -> "service", /* room= */ 1 << 20).close();
        empty = Files.readAllBytes(file);
      } else {
        Files.write(file, empty);
      }
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }
}
