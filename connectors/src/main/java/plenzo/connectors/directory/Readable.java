package plenzo.connectors.directory;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Predicate;
import java.util.stream.Stream;
import plenzo.core.target.Probe;

/**
 * Whether everything below a folder can be read: one file that cannot stops the first run, long
 * after the folder itself was found good.
 */
final class Readable {
  /** Files that are named (guess: more are no help). */
  private static final int NAMED = 3;

  private final Predicate<Path> readable;
  private final List<String> hidden = new ArrayList<>();
  private long files;
  private long unread;

  Readable(Predicate<Path> readable) {
    this.readable = readable;
  }

  Probe probe(Path published) {
    try {
      Path root = published.toRealPath();
      below(root, root);
    } catch (IOException e) {
      return new Probe(
          "everything can be read", false, published + " cannot be walked: " + e.getMessage(), "");
    }
    String account = System.getProperty("user.name");
    return new Probe(
        "everything can be read",
        unread == 0,
        unread == 0
            ? files + " files and folders, all readable"
            : unread
                + " of "
                + files
                + " files and folders cannot be read by the service (as "
                + account
                + "): "
                + String.join(", ", hidden)
                + (unread > hidden.size() ? " …" : ""),
        unread == 0
            ? ""
            : "Give the service's account the right to read them, such as: setfacl -R -m u:"
                + account
                + ":rX "
                + published.toAbsolutePath());
  }

  private void below(Path root, Path folder) throws IOException {
    List<Path> folders = new ArrayList<>();
    try (Stream<Path> entries = Files.list(folder)) {
      for (Path entry : (Iterable<Path>) entries::iterator) {
        if (Files.isSymbolicLink(entry)) {
          continue; // carried as the link that it is
        }
        files++;
        if (!readable.test(entry)) {
          unread++;
          if (hidden.size() < NAMED) {
            hidden.add(root.relativize(entry).toString());
          }
        } else if (Files.isDirectory(entry)) {
          folders.add(entry);
        }
      }
    }
    for (Path next : folders) {
      below(root, next);
    }
  }
}
