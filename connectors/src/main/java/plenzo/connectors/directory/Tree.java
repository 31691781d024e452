package plenzo.connectors.directory;

import java.io.BufferedInputStream;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.SequenceInputStream;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.FileTime;
import java.nio.file.attribute.PosixFilePermission;
import java.security.DigestInputStream;
import java.security.MessageDigest;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ContentDigest;
import plenzo.core.component.Kind;
import plenzo.core.digest.Digest;
import plenzo.core.item.FileHead;
import plenzo.core.item.FilePath;

/** Files of a tree as canonical content: never through a link, in one fixed order. */
final class Tree {
  private static final Set<PosixFilePermission> PLAIN =
      java.nio.file.attribute.PosixFilePermissions.fromString("rw-r--r--");
  private static final Set<PosixFilePermission> EXECUTABLE =
      java.nio.file.attribute.PosixFilePermissions.fromString("rwxr-xr-x");

  private Tree() {}

  /** What the file system says of one entry. */
  record Stat(
      String seal,
      long size,
      FileTime modified,
      boolean folder,
      boolean plain,
      boolean link,
      boolean executable) {
    static Stat of(Path path) throws IOException {
      Map<String, Object> a =
          Files.readAttributes(
              path, "unix:ino,size,ctime,lastModifiedTime,mode", LinkOption.NOFOLLOW_LINKS);
      int mode = (Integer) Objects.requireNonNull(a.get("mode"));
      long size = (Long) Objects.requireNonNull(a.get("size"));
      FileTime changed = (FileTime) Objects.requireNonNull(a.get("ctime"));
      // bits of the mode as POSIX <sys/stat.h> has them
      int type = mode & 0170000;
      return new Stat(
          a.get("ino") + ":" + size + ":" + changed.to(java.util.concurrent.TimeUnit.NANOSECONDS),
          size,
          (FileTime) Objects.requireNonNull(a.get("lastModifiedTime")),
          type == 0040000,
          type == 0100000,
          type == 0120000,
          (mode & 0100) != 0);
    }
  }

  /** Told every entry: folders before what is in them. */
  interface Visitor {
    void entry(String name, Path path, Stat stat) throws IOException;
  }

  /** Walks everything below, in the order of the names of each folder. */
  static void walk(Path root, String under, Visitor visitor) throws IOException {
    List<Path> entries = new ArrayList<>();
    try (DirectoryStream<Path> folder = Files.newDirectoryStream(root)) {
      folder.forEach(entries::add);
    }
    entries.sort(Comparator.comparing(p -> p.getFileName().toString()));
    for (Path entry : entries) {
      String name = under + entry.getFileName();
      Stat stat;
      try {
        stat = Stat.of(entry);
      } catch (java.nio.file.NoSuchFileException e) {
        continue; // gone meanwhile
      }
      visitor.entry(name, entry, stat);
      if (stat.folder()) {
        walk(entry, name + "/", visitor);
      }
    }
  }

  /** Order in which {@link #walk} meets names. */
  static int compare(String a, String b) {
    String[] x = a.split("/");
    String[] y = b.split("/");
    for (int i = 0; i < x.length && i < y.length; i++) {
      int c = x[i].compareTo(y[i]);
      if (c != 0) {
        return c;
      }
    }
    return Integer.compare(x.length, y.length);
  }

  /**
   * The place of a name below the root; every folder on the way is a real one or not there yet.
   *
   * @throws IllegalArgumentException when the name is no safe path, or leads through a link
   */
  static Path resolve(Path root, String name) throws IOException {
    FilePath.require(name);
    Path at = root;
    String[] parts = name.split("/");
    for (int i = 0; i < parts.length - 1; i++) {
      at = at.resolve(parts[i]);
      if (Disk.exists(at) && !Stat.of(at).folder()) {
        throw new IllegalArgumentException(
            "The path \"" + name + "\" leads through \"" + parts[i] + "\", which is no folder");
      }
    }
    return at.resolve(parts[parts.length - 1]);
  }

  /** Why an entry cannot be carried; empty when it can. */
  static String refusal(String name, Path path, Stat stat) throws IOException {
    String problem = FilePath.problem(name);
    if (!problem.isEmpty()) {
      return "its path is refused: " + problem;
    }
    if (stat.link()) {
      String link = Files.readSymbolicLink(path).toString();
      return FilePath.staysInside(name, link) ? "" : "it is a link that leads outside the tree";
    }
    return stat.plain() ? "" : "it is neither a file nor a link";
  }

  static FileHead head(Path path, Stat stat) throws IOException {
    return stat.link()
        ? new FileHead(false, Files.readSymbolicLink(path).toString())
        : new FileHead(stat.executable(), null);
  }

  /** The canonical content; the caller closes it. */
  static InputStream open(Path path, Stat stat) throws IOException {
    InputStream head =
        new ByteArrayInputStream(head(path, stat).line().getBytes(StandardCharsets.UTF_8));
    return stat.link()
        ? head
        : new SequenceInputStream(head, Files.newInputStream(path, LinkOption.NOFOLLOW_LINKS));
  }

  /** Digest of the canonical content. */
  static Digest digest(Path path, Stat stat) throws IOException {
    MessageDigest digest = ContentDigest.begin(Kind.FILE);
    byte[] buffer = new byte[1 << 17];
    try (InputStream in = open(path, stat)) {
      for (int n = in.read(buffer); n >= 0; n = in.read(buffer)) {
        digest.update(buffer, 0, n);
      }
    }
    return Digest.of(digest);
  }

  /**
   * Writes canonical content to a new place and flushes it.
   *
   * @throws IllegalStateException when it is not the content with this digest
   */
  static void write(Path path, InputStream canonical, Digest expected, String name)
      throws IOException {
    MessageDigest digest = ContentDigest.begin(Kind.FILE);
    FileHead head;
    try (InputStream in =
        new DigestInputStream(new BufferedInputStream(canonical, 1 << 16), digest)) {
      head = FileHead.of(line(in));
      String link = head.link();
      if (link != null) {
        if (!FilePath.staysInside(name, link)) {
          throw new IllegalArgumentException(
              "The link \"" + name + "\" leads outside the tree, to \"" + link + "\"");
        }
        in.transferTo(java.io.OutputStream.nullOutputStream());
        Files.createSymbolicLink(path, Path.of(link));
      } else {
        bytes(path, in);
      }
    }
    if (!Digest.of(digest).equals(expected)) {
      throw new IllegalStateException("The content of file/" + name + " is damaged");
    }
    if (head.link() == null) {
      Files.setPosixFilePermissions(path, head.executable() ? EXECUTABLE : PLAIN);
      Disk.flush(path);
    }
  }

  private static String line(InputStream in) throws IOException {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    for (int b = in.read(); b != '\n'; b = in.read()) {
      if (b < 0 || out.size() > FileHead.LONGEST) {
        throw new IllegalStateException("The content of a file has no head");
      }
      out.write(b);
    }
    return out.toString(StandardCharsets.UTF_8);
  }

  private static void bytes(Path path, InputStream in) throws IOException {
    try (FileChannel out =
        FileChannel.open(path, StandardOpenOption.CREATE_NEW, StandardOpenOption.WRITE)) {
      byte[] buffer = new byte[1 << 17];
      for (int n = in.read(buffer); n >= 0; n = in.read(buffer)) {
        ByteBuffer bytes = ByteBuffer.wrap(buffer, 0, n);
        while (bytes.hasRemaining()) {
          out.write(bytes);
        }
      }
    }
  }

  /** Copies an entry as it is, times and owner's mode too, and flushes it. */
  static void copy(Path from, Path to, Stat stat) throws IOException {
    Files.copy(
        from,
        to,
        LinkOption.NOFOLLOW_LINKS,
        java.nio.file.StandardCopyOption.COPY_ATTRIBUTES,
        java.nio.file.StandardCopyOption.REPLACE_EXISTING);
    if (stat.plain()) {
      Disk.flush(to);
    }
  }

  /**
   * Removes the folders of a file that went, as far as they became empty with it.
   *
   * @return what was removed
   */
  static List<Path> removeEmpty(Path root, String name) throws IOException {
    List<Path> out = new ArrayList<>();
    Path folder = root.resolve(name).getParent();
    while (!folder.equals(root) && Files.isDirectory(folder, LinkOption.NOFOLLOW_LINKS)) {
      try (DirectoryStream<Path> left = Files.newDirectoryStream(folder)) {
        if (left.iterator().hasNext()) {
          return out;
        }
      }
      Files.delete(folder);
      out.add(folder);
      folder = folder.getParent();
    }
    return out;
  }

  static @Nullable Stat find(Path path) throws IOException {
    return Disk.exists(path) ? Stat.of(path) : null;
  }
}
