package plenzo.store;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermission;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.Set;
import java.util.stream.Stream;

/**
 * Plenzo's own files are for its own account: folders of mode 700, files of mode 600, whatever the
 * account's mask says. Where the file system knows no modes, nothing is set.
 */
final class Private {
  private static final Set<PosixFilePermission> FOLDER =
      PosixFilePermissions.fromString("rwx------");
  private static final Set<PosixFilePermission> FILE = PosixFilePermissions.fromString("rw-------");

  private Private() {}

  /** Makes a folder and those above it that are missing; one that is there is left as it is. */
  static void folders(Path folder) throws IOException {
    if (knowsModes(folder)) {
      Files.createDirectories(folder, PosixFilePermissions.asFileAttribute(FOLDER));
    } else {
      Files.createDirectories(folder);
    }
  }

  /** Makes an empty file; one that is there is left as it is. */
  static void file(Path file) throws IOException {
    if (knowsModes(file)) {
      try {
        Files.createFile(file, PosixFilePermissions.asFileAttribute(FILE));
      } catch (FileAlreadyExistsException e) {
        return;
      }
    }
  }

  /** Closes a file that somebody else made to others. */
  static void only(Path file) throws IOException {
    if (knowsModes(file)) {
      Files.setPosixFilePermissions(file, FILE);
    }
  }

  /**
   * Closes a folder, made where it is missing, and the files right in it to others, also those of
   * an earlier Plenzo.
   *
   * @throws UncheckedIOException when a mode cannot be set: the folder is another account's
   */
  static void close(Path folder) {
    try {
      folders(folder);
      if (!knowsModes(folder)) {
        return;
      }
      Files.setPosixFilePermissions(folder, FOLDER);
      try (Stream<Path> entries = Files.list(folder)) {
        for (Path file : (Iterable<Path>) entries::iterator) {
          if (Files.isRegularFile(file, LinkOption.NOFOLLOW_LINKS)) {
            Files.setPosixFilePermissions(file, FILE);
          }
        }
      }
    } catch (IOException e) {
      throw new UncheckedIOException(
          "The data directory "
              + folder
              + " cannot be made or closed to others; it must be this account's",
          e);
    }
  }

  private static boolean knowsModes(Path path) {
    return path.getFileSystem().supportedFileAttributeViews().contains("posix");
  }
}
