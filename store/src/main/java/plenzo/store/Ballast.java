package plenzo.store;

import java.io.FileOutputStream;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;

/**
 * Room that is kept for the records alone: a file that is given up when the disk fills, so that
 * outcomes and decisions can always be written (rules A). Other files are refused below {@link
 * #RESERVE}, so that they do not take what was given up.
 */
final class Ballast {
  /** Below this many free bytes the ballast goes, and only records are written (guess). */
  static final long RESERVE = 16L << 20;

  /** Room from which on it is put back (guess). */
  private static final long PLENTY = 1L << 30;

  private final Path file;
  private final long bytes;

  Ballast(Path folder, long bytes) {
    this.bytes = bytes;
    this.file = folder.resolve("ballast");
    take();
  }

  /** Puts the ballast in its place when there is plenty of room. */
  private void take() {
    if (Files.exists(file) || room() < PLENTY / 8) {
      return;
    }
    try {
      Private.file(file);
      fill();
    } catch (IOException e) {
      give();
    }
  }

  private void fill() throws IOException {
    byte[] zeros = new byte[1 << 20];
    try (FileOutputStream out = new FileOutputStream(file.toFile())) {
      for (long written = 0; written < bytes; written += zeros.length) {
        out.write(zeros);
      }
      out.getFD().sync();
    }
  }

  private long room() {
    return file.toAbsolutePath().getParent().toFile().getUsableSpace();
  }

  /** Called before every transaction. */
  void keepRoom() {
    long room = room();
    if (room < RESERVE) {
      give();
    } else if (room > PLENTY) {
      take();
    }
  }

  private void give() {
    try {
      Files.deleteIfExists(file);
    } catch (IOException e) {
      System.getLogger(Ballast.class.getName())
          .log(System.Logger.Level.WARNING, "The ballast cannot be given up", e);
    }
  }
}
