package plenzo.store;

import java.io.BufferedInputStream;
import java.io.BufferedOutputStream;
import java.io.FileOutputStream;
import java.io.FilterOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.nio.channels.Channels;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.util.Comparator;
import java.util.List;
import java.util.stream.Stream;
import plenzo.core.keeping.Files;

/** Files below one folder: written aside, flushed, renamed, and the folder flushed. */
public final class DiskFiles implements Files {
  private final Path root;

  public DiskFiles(Path root) {
    this.root = root.toAbsolutePath().normalize();
    try {
      Private.folders(this.root);
    } catch (IOException e) {
      throw new UncheckedIOException("The folder " + root + " cannot be made", e);
    }
  }

  /** Where a file lies. */
  Path path(String name) {
    Path path = root.resolve(name).normalize();
    if (!path.startsWith(root) || path.equals(root)) {
      throw new IllegalArgumentException("Not a file of Plenzo's own: \"" + name + "\"");
    }
    return path;
  }

  @Override
  public void write(String name, Writing writing) {
    Path path = path(name);
    Path aside = path.resolveSibling(path.getFileName() + ".part");
    try {
      Private.folders(path.getParent());
      Private.file(aside);
      try (FileOutputStream file = new FileOutputStream(aside.toFile())) {
        OutputStream out = new BufferedOutputStream(new Bounded(file), 1 << 16);
        writing.to(out);
        out.flush();
        file.getFD().sync();
      }
      java.nio.file.Files.move(
          aside, path, StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
      flushFolder(path);
    } catch (IOException | RuntimeException e) {
      leave(aside);
      if (e instanceof IOException io) {
        throw new UncheckedIOException("The file " + name + " could not be written", io);
      }
      throw (RuntimeException) e;
    }
  }

  /** What was written of a file that is not to be. */
  private static void leave(Path aside) {
    try {
      java.nio.file.Files.deleteIfExists(aside);
    } catch (IOException e) {
      System.getLogger(DiskFiles.class.getName())
          .log(System.Logger.Level.WARNING, aside + " is left over", e);
    }
  }

  @Override
  public OutputStream create(String name) {
    Path path = path(name);
    try {
      Private.folders(path.getParent());
      Private.file(path);
      FileOutputStream file = new FileOutputStream(path.toFile());
      return new BufferedOutputStream(new Bounded(file), 1 << 16) {
        @Override
        public void close() throws IOException {
          flush();
          file.getFD().sync();
          super.close();
        }
      };
    } catch (IOException e) {
      throw new UncheckedIOException("The file " + name + " could not be made", e);
    }
  }

  @Override
  public void move(String from, String to) {
    Path path = path(to);
    try {
      Private.folders(path.getParent());
      java.nio.file.Files.move(
          path(from), path, StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
      flushFolder(path);
    } catch (IOException e) {
      throw new UncheckedIOException("The file " + to + " could not be put in its place", e);
    }
  }

  /** Leaves the last of the room to the records. */
  private final class Bounded extends FilterOutputStream {
    /** Bytes between two looks at the room. */
    private static final long EVERY = 1 << 20;

    private long untilLook;

    Bounded(OutputStream out) {
      super(out);
    }

    @Override
    public void write(byte[] bytes, int from, int length) throws IOException {
      untilLook -= length;
      if (untilLook < 0) {
        if (room() < Ballast.RESERVE + EVERY) {
          throw new IOException("The disk is full: the rest is kept for the records");
        }
        untilLook = EVERY;
      }
      out.write(bytes, from, length);
    }
  }

  private static void flushFolder(Path path) throws IOException {
    try (FileChannel folder = FileChannel.open(path.getParent(), StandardOpenOption.READ)) {
      folder.force(true);
    }
  }

  @Override
  public InputStream open(String name, long offset) {
    try {
      FileChannel channel = FileChannel.open(path(name), StandardOpenOption.READ);
      channel.position(offset);
      return new BufferedInputStream(Channels.newInputStream(channel), 1 << 16);
    } catch (IOException e) {
      throw new UncheckedIOException("The file " + name + " cannot be opened", e);
    }
  }

  @Override
  public boolean exists(String name) {
    return java.nio.file.Files.exists(path(name));
  }

  @Override
  public long size(String name) {
    try {
      return java.nio.file.Files.size(path(name));
    } catch (IOException e) {
      throw new UncheckedIOException("The file " + name + " cannot be measured", e);
    }
  }

  @Override
  public void append(String name, String text) {
    Path path = path(name);
    try {
      Private.folders(path.getParent());
      Private.file(path);
      java.nio.file.Files.write(
          path,
          text.getBytes(StandardCharsets.UTF_8),
          StandardOpenOption.CREATE,
          StandardOpenOption.APPEND);
    } catch (IOException e) {
      throw new UncheckedIOException("The file " + name + " cannot be added to", e);
    }
  }

  @Override
  public void remove(String name) {
    Path path = path(name);
    if (!java.nio.file.Files.exists(path)) {
      return;
    }
    try (Stream<Path> all = java.nio.file.Files.walk(path)) {
      for (Path p : all.sorted(Comparator.reverseOrder()).toList()) {
        java.nio.file.Files.deleteIfExists(p);
      }
    } catch (IOException e) {
      throw new UncheckedIOException("The file " + name + " cannot be removed", e);
    }
  }

  @Override
  public List<String> list(String folder) {
    Path path = path(folder);
    if (!java.nio.file.Files.isDirectory(path)) {
      return List.of();
    }
    try (Stream<Path> all = java.nio.file.Files.list(path)) {
      return all.map(p -> p.getFileName().toString()).sorted().toList();
    } catch (IOException e) {
      throw new UncheckedIOException("The folder " + folder + " cannot be listed", e);
    }
  }

  @Override
  public long room() {
    return root.toFile().getUsableSpace();
  }
}
