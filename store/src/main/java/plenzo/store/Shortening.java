package plenzo.store;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.h2.mvstore.MVStore;
import org.h2.mvstore.MVStoreException;
import org.h2.mvstore.MVStoreTool;

/**
 * Makes the file of the records short before it is opened, when most of it is past. While it is
 * open H2 2.4.240 cannot: it ends the whole store when it moves parts about (seen: AssertionError
 * in FreeSpaceBitSet). What is there is written aside and takes the file's place in one act, so
 * that a kill leaves one or the other.
 */
final class Shortening {
  /** Percent of the file that is of use, below which it is worth the time (guess). */
  private static final int MOSTLY_PAST = 50;

  private Shortening() {}

  /**
   * @param above bytes; a file that has fewer is left as it is
   * @return whether it was made short
   */
  static boolean of(Path file, long above) {
    try {
      if (!Files.exists(file) || Files.size(file) <= above) {
        return false;
      }
      long needed = Files.size(file) * present(file) / 100;
      if (needed * 100 / Files.size(file) >= MOSTLY_PAST
          || Files.getFileStore(file).getUsableSpace() < needed * 2 + H2Keeper.ROOM) {
        return false;
      }
      MVStoreTool.compact(file.toString(), /* compress= */ false);
      return true;
    } catch (MVStoreException e) {
      return false; // whoever opens it says what is wrong with it
    } catch (IOException e) {
      throw new UncheckedIOException("The records in " + file + " cannot be looked at", e);
    }
  }

  /** Percent of the file that holds what is there now. */
  private static long present(Path file) {
    try (MVStore store = new MVStore.Builder().fileName(file.toString()).readOnly().open()) {
      return (long) store.getFillRate() * store.getFileStore().getChunksFillRate() / 100;
    }
  }
}
