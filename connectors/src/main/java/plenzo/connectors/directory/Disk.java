package plenzo.connectors.directory;

import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileVisitResult;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.SimpleFileVisitor;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.BasicFileAttributes;

/** Writing so that it is on the disk when it returns. */
final class Disk {
  private Disk() {}

  static void flush(Path path) throws IOException {
    try (FileChannel channel = FileChannel.open(path, StandardOpenOption.READ)) {
      channel.force(true);
    }
  }

  /** Writes a small file aside, flushes it, and puts it in its place. */
  static void write(Path path, String text) throws IOException {
    Files.createDirectories(path.getParent());
    Path aside = path.resolveSibling(path.getFileName() + ".part");
    try (FileChannel channel =
        FileChannel.open(
            aside,
            StandardOpenOption.CREATE,
            StandardOpenOption.WRITE,
            StandardOpenOption.TRUNCATE_EXISTING)) {
      channel.write(java.nio.ByteBuffer.wrap(text.getBytes(StandardCharsets.UTF_8)));
      channel.force(true);
    }
    Files.move(aside, path, StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
    flush(path.getParent());
  }

  static void append(Path path, String line) throws IOException {
    try (FileChannel channel =
        FileChannel.open(
            path, StandardOpenOption.CREATE, StandardOpenOption.WRITE, StandardOpenOption.APPEND)) {
      channel.write(java.nio.ByteBuffer.wrap((line + "\n").getBytes(StandardCharsets.UTF_8)));
      channel.force(true);
    }
  }

  static boolean exists(Path path) {
    return Files.exists(path, LinkOption.NOFOLLOW_LINKS);
  }

  /** Bytes of all files under a folder; links are not followed, and what goes meanwhile is 0. */
  static long size(Path folder) throws IOException {
    long[] bytes = {0};
    Files.walkFileTree(
        folder,
        new SimpleFileVisitor<>() {
          @Override
          public FileVisitResult visitFile(Path file, BasicFileAttributes about) {
            bytes[0] += about.isRegularFile() ? about.size() : 0;
            return FileVisitResult.CONTINUE;
          }

          @Override
          public FileVisitResult visitFileFailed(Path file, IOException e) {
            return FileVisitResult.CONTINUE;
          }
        });
    return bytes[0];
  }

  /** Removes a file, a link or a whole folder; nothing when it is not there. */
  static void remove(Path path) throws IOException {
    if (!exists(path)) {
      return;
    }
    Files.walkFileTree(
        path,
        new SimpleFileVisitor<>() {
          @Override
          public FileVisitResult visitFile(Path file, BasicFileAttributes attributes)
              throws IOException {
            Files.delete(file);
            return FileVisitResult.CONTINUE;
          }

          @Override
          public FileVisitResult postVisitDirectory(
              Path folder, @org.jspecify.annotations.Nullable IOException error)
              throws IOException {
            if (error != null) {
              throw error;
            }
            Files.delete(folder);
            return FileVisitResult.CONTINUE;
          }
        });
  }
}
