package plenzo.connectors.directory;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.BooleanSupplier;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.Difference;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.ContentDigest;
import plenzo.core.component.Kind;
import plenzo.core.digest.Digest;
import plenzo.core.item.FileHead;
import plenzo.core.item.ItemSeen;
import plenzo.core.target.Access;
import plenzo.core.target.Changing;
import plenzo.core.target.ItemsChanging;
import plenzo.core.target.ItemsDelta;
import plenzo.core.target.ItemsLooking;
import plenzo.core.target.RunMark;

/** A published folder of files for tests, and changes of it. */
final class DirectoryWorld {
  final Path published;
  final DirectoryConnector connector = new DirectoryConnector();
  final Access access;
  private final Map<Digest, byte[]> contents;

  DirectoryWorld(Path folder, String mode) {
    published = folder.resolve("published");
    access = new Access("", 0, "", published.toString(), "", "disable", Map.of("mode", mode), "");
    contents = new HashMap<>();
  }

  private DirectoryWorld(Access other, Map<Digest, byte[]> contents) {
    published = Path.of(other.path());
    access = other;
    this.contents = contents;
  }

  /** Another directory, which may be given the same contents. */
  DirectoryWorld at(Access other) {
    return new DirectoryWorld(other, contents);
  }

  void write(String name, String text) {
    try {
      Path path = published.resolve(name);
      Files.createDirectories(path.getParent());
      Files.writeString(path, text);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  /** Every file with its text, links with an arrow: read without the connector. */
  Map<String, String> files() {
    Map<String, String> out = new TreeMap<>();
    try {
      Path root = published.toRealPath();
      try (Stream<Path> all = Files.walk(root)) {
        for (Path p : all.toList()) {
          String name = root.relativize(p).toString();
          if (Files.isSymbolicLink(p)) {
            out.put(name, "-> " + Files.readSymbolicLink(p));
          } else if (Files.isRegularFile(p, LinkOption.NOFOLLOW_LINKS)) {
            out.put(name, Files.readString(p));
          }
        }
      }
      return out;
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  Map<String, ItemSeen> inventory() {
    Map<String, ItemSeen> out = new LinkedHashMap<>();
    try (ItemsLooking looking = connector.look(access)) {
      looking.inventory("fares", seen -> out.put(seen.key().name(), seen));
    }
    return out;
  }

  Digest content(String text) {
    return content(new FileHead(false, null), text);
  }

  Digest content(FileHead head, String text) {
    byte[] bytes = (head.line() + text).getBytes(StandardCharsets.UTF_8);
    Digest digest = ContentDigest.of(Kind.FILE, bytes);
    contents.put(digest, bytes);
    return digest;
  }

  /**
   * A change of the present state.
   *
   * @param next digest by name; null takes the file away
   */
  ItemsDelta delta(Map<String, @Nullable Digest> next) {
    Map<String, ItemSeen> present = inventory();
    List<ItemsDelta.Change> changes = new ArrayList<>();
    Map<ComponentKey, String> owned = new HashMap<>();
    present.forEach(
        (name, seen) -> {
          if (!next.containsKey(name)) {
            owned.put(seen.key(), seen.seal());
          }
        });
    next.forEach(
        (name, digest) -> {
          ItemSeen seen = present.get(name);
          Difference act =
              digest == null
                  ? Difference.REMOVED
                  : seen == null ? Difference.ADDED : Difference.CHANGED;
          changes.add(
              new ItemsDelta.Change(
                  new ComponentKey(Kind.FILE, name),
                  act,
                  seen == null ? null : seen.content(),
                  seen == null ? null : seen.seal(),
                  digest,
                  0,
                  false));
        });
    return new ItemsDelta(
        changes, owned, Map.of(), (kind, digest) -> new ByteArrayInputStream(contents.get(digest)));
  }

  static RunMark mark(long run) {
    return new RunMark(run, "switch", 1, "2.4.0", "print", "ines", null);
  }

  /** Prepares and switches in one go. */
  void run(long run, ItemsDelta delta) {
    try (ItemsChanging changing = connector.change(access)) {
      changing.claim();
      changing.prepare(run, delta, new Watch());
      changing.switchOver(mark(run), delta, new Watch());
    }
  }

  /** Lets everything pass. */
  static class Watch implements Changing.Watch {
    @Override
    public void say(String line) {}

    @Override
    public void rows(long done) {}

    @Override
    public void beforeCommit() {}

    @Override
    public BooleanSupplier abortAsked() {
      return () -> false;
    }
  }
}
