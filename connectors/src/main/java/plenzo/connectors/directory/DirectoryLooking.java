package plenzo.connectors.directory;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.digest.Digest;
import plenzo.core.item.ItemSeen;
import plenzo.core.json.Json;
import plenzo.core.source.RefusedDocument;
import plenzo.core.target.Access;
import plenzo.core.target.ItemsLooking;
import plenzo.core.target.LastChange;
import plenzo.core.target.Leftover;
import plenzo.core.target.RunSeen;
import plenzo.core.target.TargetFailed;
import plenzo.core.target.TargetIdentity;
import plenzo.core.version.SemVer;

/**
 * Reads a directory's present tree; the tree that is there when it is opened is read throughout.
 */
final class DirectoryLooking implements ItemsLooking {
  private final Control control;
  private final int longestPath;
  private final Path tree;
  private volatile boolean cut;

  DirectoryLooking(Control control, Access access) {
    this.control = control;
    this.longestPath = Integer.parseInt(access.options().getOrDefault("longest-path", "0"));
    try {
      this.tree = control.present();
      if (!Files.isDirectory(tree)) {
        throw new TargetFailed(
            "There is no folder " + control.published(),
            true,
            new java.nio.file.NoSuchFileException(tree.toString()));
      }
    } catch (IOException e) {
      throw Control.failed(control.published() + " cannot be read", e);
    }
  }

  @Override
  public Optional<TargetIdentity> identity() {
    return control.identity();
  }

  @Override
  public String instance() {
    return control.folder().toString();
  }

  @Override
  public Optional<SemVer> release() {
    return Optional.empty();
  }

  @Override
  public List<Leftover> leftovers() {
    try {
      return control.leftovers();
    } catch (IOException e) {
      throw Control.failed("What runs left beside " + control.published() + " cannot be read", e);
    }
  }

  @Override
  public List<RunSeen> runs(int limit) {
    try {
      return control.runs(limit);
    } catch (IOException e) {
      throw Control.failed("What runs were here cannot be read", e);
    }
  }

  @Override
  public LastChange lastChange(ComponentKey key) {
    try {
      return new LastChange(
          null,
          Files.getLastModifiedTime(tree.resolve(key.name()), LinkOption.NOFOLLOW_LINKS)
              .toInstant());
    } catch (IOException e) {
      return LastChange.UNKNOWN; // it is gone by now
    }
  }

  @Override
  public void inventory(String scope, Consumer<ItemSeen> sink) {
    Path root = tree.resolve(scope);
    if (!Files.isDirectory(root, LinkOption.NOFOLLOW_LINKS)) {
      return;
    }
    try {
      Tree.walk(
          root,
          scope + "/",
          (name, path, stat) -> {
            alive();
            if (!stat.folder()) {
              sink.accept(seen(name, path, stat));
            }
          });
    } catch (IOException e) {
      throw Control.failed(root + " cannot be read", e);
    }
  }

  @Override
  public List<RefusedDocument> passedOver(String scope) {
    List<RefusedDocument> out = new ArrayList<>();
    try (Stream<Path> entries = Files.list(tree)) {
      for (Path entry : (Iterable<Path>) entries.sorted()::iterator) {
        String name = entry.getFileName().toString();
        if (!name.equals(scope)) {
          boolean folder = Files.isDirectory(entry, LinkOption.NOFOLLOW_LINKS);
          out.add(
              new RefusedDocument(
                  folder ? name + "/" : name, "it lies outside the folder " + scope + "/"));
        }
      }
      return out;
    } catch (IOException e) {
      throw Control.failed(tree + " cannot be read", e);
    }
  }

  private static ItemSeen seen(String name, Path path, Tree.Stat stat) throws IOException {
    String refusal = Tree.refusal(name, path, stat);
    Digest digest =
        stat.plain() || stat.link() ? Tree.digest(path, stat) : Digest.of(name); // never carried
    return new ItemSeen(
        new ComponentKey(Kind.FILE, name),
        digest,
        stat.plain() ? stat.size() : 0,
        stat.seal(),
        null,
        null,
        List.of(),
        refusal);
  }

  private void alive() {
    if (cut) {
      throw new TargetFailed(
          "The look at " + control.published() + " was cut", true, new IllegalStateException());
    }
  }

  @Override
  public InputStream read(ComponentKey key) {
    try {
      Path path = Tree.resolve(tree, key.name());
      return Tree.open(path, Tree.Stat.of(path));
    } catch (IOException | IllegalArgumentException e) {
      throw Control.failed(key + " cannot be read", e);
    }
  }

  @Override
  public @Nullable Work work() {
    return null;
  }

  @Override
  public Limits limits(String scope) {
    try {
      int used =
          control.published().toString().getBytes(java.nio.charset.StandardCharsets.UTF_8).length
              + 1;
      long[] others = {0};
      List<String> changed = new ArrayList<>();
      Instant since = since();
      Tree.walk(
          tree,
          "",
          (name, path, stat) -> {
            alive();
            if (stat.folder()) {
              return;
            }
            boolean mine = name.startsWith(scope + "/");
            boolean later = since != null && stat.modified().toInstant().isAfter(since);
            if (!mine || later) {
              others[0] += stat.size();
            }
            if (mine && later) {
              changed.add(name);
            }
          });
      return new Limits(
          longestPath == 0 ? 0 : Math.max(1, longestPath - used),
          tellsCase(),
          Files.getFileStore(tree).getUsableSpace(),
          control.inPlace() ? 0 : others[0],
          control.inPlace() ? List.of() : changed);
    } catch (IOException e) {
      throw Control.failed(tree + " cannot be measured", e);
    }
  }

  /** When the present tree was put there; null when no run did. */
  private @Nullable Instant since() throws IOException {
    String name = tree.getFileName().toString();
    if (!name.startsWith("run-")) {
      return null;
    }
    Json.Obj mark = control.marked(Long.parseLong(name.substring(4)));
    return mark == null ? null : Instant.parse(mark.text("at"));
  }

  private boolean tellsCase() throws IOException {
    Path folder = control.folder();
    String name = folder.getFileName().toString();
    String other = name.toUpperCase(java.util.Locale.ROOT);
    Path twin = folder.resolveSibling(other);
    return other.equals(name)
        || !Files.exists(folder)
        || !Files.exists(twin)
        || !Files.isSameFile(folder, twin);
  }

  @Override
  public String probe(String question) {
    throw new UnsupportedOperationException("A directory answers no questions");
  }

  @Override
  public void cut() {
    cut = true;
  }

  @Override
  public void close() {}
}
