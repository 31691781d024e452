package plenzo.demo;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import java.nio.file.FileVisitResult;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.SimpleFileVisitor;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.BasicFileAttributes;
import java.util.function.Consumer;

/** A folder that takes long to lay out: the first who needs it makes it, all others copy it. */
final class MadeOnce {
  private MadeOnce() {}

  /**
   * Lays out a copy; processes that need it at the same time wait for the one that makes it.
   *
   * @param store where what was made lies
   * @param content names what it holds: another name is made anew
   * @param makes lays it out in a folder that is not there yet
   * @param to what is there is replaced
   */
  static synchronized void copy(Path store, String content, Consumer<Path> makes, Path to) {
    Path made = store.resolve(content);
    try {
      Files.createDirectories(store);
      try (FileChannel channel =
              FileChannel.open(
                  store.resolve("lock"), StandardOpenOption.CREATE, StandardOpenOption.WRITE);
          FileLock lock = channel.lock()) {
        if (!Files.isDirectory(made)) {
          Path part = store.resolve(content + ".part");
          clear(part);
          makes.accept(part);
          Files.move(part, made, StandardCopyOption.ATOMIC_MOVE);
        }
      }
      clear(to);
      copy(made, to);
    } catch (IOException e) {
      throw new UncheckedIOException("The copy of " + content + " could not be laid out", e);
    }
  }

  private static void copy(Path from, Path to) throws IOException {
    Files.walkFileTree(
        from,
        new SimpleFileVisitor<>() {
          private Path there(Path path) {
            return to.resolve(from.relativize(path).toString());
          }

          @Override
          public FileVisitResult preVisitDirectory(Path folder, BasicFileAttributes attributes)
              throws IOException {
            Files.createDirectories(there(folder).toAbsolutePath().getParent());
            Files.copy(folder, there(folder), StandardCopyOption.COPY_ATTRIBUTES);
            return FileVisitResult.CONTINUE;
          }

          @Override
          public FileVisitResult visitFile(Path file, BasicFileAttributes attributes)
              throws IOException {
            Files.copy(file, there(file), StandardCopyOption.COPY_ATTRIBUTES);
            return FileVisitResult.CONTINUE;
          }
        });
  }

  /** Removes a folder with everything in it; nothing when it is not there. */
  static void clear(Path folder) throws IOException {
    if (!Files.exists(folder)) {
      return;
    }
    Files.walkFileTree(
        folder,
        new SimpleFileVisitor<>() {
          @Override
          public FileVisitResult visitFile(Path file, BasicFileAttributes attributes)
              throws IOException {
            Files.delete(file);
            return FileVisitResult.CONTINUE;
          }

          @Override
          public FileVisitResult postVisitDirectory(Path done, IOException failed)
              throws IOException {
            Files.delete(done);
            return FileVisitResult.CONTINUE;
          }
        });
  }
}
