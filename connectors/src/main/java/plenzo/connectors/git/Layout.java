package plenzo.connectors.git;

import java.io.IOException;
import java.io.InputStream;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.eclipse.jgit.lib.FileMode;
import org.eclipse.jgit.lib.ObjectId;
import org.eclipse.jgit.lib.ObjectLoader;
import org.eclipse.jgit.lib.Repository;
import org.eclipse.jgit.revwalk.RevCommit;
import org.eclipse.jgit.revwalk.RevWalk;
import org.eclipse.jgit.treewalk.TreeWalk;
import org.eclipse.jgit.treewalk.filter.AndTreeFilter;
import org.eclipse.jgit.treewalk.filter.PathFilter;
import org.eclipse.jgit.treewalk.filter.TreeFilter;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.item.FilePath;

/**
 * Where the documents of one commit lie (docs/formats/repository.md): {@code
 * definitions/KIND/NAME.json}, {@code files/…}, {@code tables/NAME.json}, {@code records/NAME.csv}.
 * Everything else in the repository is none of ours.
 */
final class Layout implements AutoCloseable {
  /** Documents in one commit (the promise of 100,000 components). */
  private static final int MOST = 100_000;

  private final Repository git;
  private final ObjectId commit;
  private boolean closed;
  private final Map<ComponentKey, Blob> blobs = new TreeMap<>();
  private final Map<String, Blob> others = new HashMap<>();

  /** One object with its mode. */
  record Blob(ObjectId id, FileMode mode, String path) {}

  Layout(Repository git, ObjectId commit, String folder) throws IOException {
    this.git = git;
    this.commit = commit;
    try (RevWalk walk = new RevWalk(git);
        TreeWalk tree = new TreeWalk(git)) {
      RevCommit c = walk.parseCommit(commit);
      tree.addTree(c.getTree());
      tree.setRecursive(true);
      String under = folder.isEmpty() ? "" : folder + "/";
      int found = 0;
      while (tree.next()) {
        String path = tree.getPathString();
        FileMode mode = tree.getFileMode(0);
        if (!path.startsWith(under) || mode == FileMode.GITLINK) {
          continue; // submodules are never followed
        }
        Blob blob = new Blob(tree.getObjectId(0), mode, path);
        String name = path.substring(under.length());
        ComponentKey key = key(name);
        if (key != null) {
          if (++found > MOST) {
            throw new IllegalArgumentException("The commit has more than " + MOST + " documents");
          }
          blobs.put(key, blob);
        } else {
          others.put(name, blob);
        }
      }
    }
  }

  private static @Nullable ComponentKey key(String name) {
    String[] parts = name.split("/", 3);
    if (parts[0].equals("files") && parts.length > 1) {
      String path = name.substring("files/".length());
      String problem = FilePath.problem(path);
      if (!problem.isEmpty()) {
        throw new IllegalArgumentException("The document " + name + " is refused: " + problem);
      }
      return new ComponentKey(Kind.FILE, path);
    }
    if (parts[0].equals("definitions") && parts.length == 3 && parts[2].endsWith(".json")) {
      Kind kind = Kind.of(parts[1]);
      return kind.definition() ? new ComponentKey(kind, base(parts[2])) : null;
    }
    if (parts.length == 2 && parts[0].equals("tables") && parts[1].endsWith(".json")) {
      return new ComponentKey(Kind.TABLE, base(parts[1]));
    }
    if (parts.length == 2 && parts[0].equals("records") && parts[1].endsWith(".csv")) {
      return new ComponentKey(Kind.RECORDS, base(parts[1]));
    }
    return null;
  }

  private static String base(String file) {
    return file.substring(0, file.lastIndexOf('.'));
  }

  String commit() {
    return commit.getName();
  }

  List<ComponentKey> keys() {
    return new ArrayList<>(blobs.keySet());
  }

  @Nullable Blob find(ComponentKey key) {
    return blobs.get(key);
  }

  @Nullable Blob other(String name) {
    return others.get(name);
  }

  /** Author of the newest commit, from this one back, in which the document changed. */
  @Nullable String author(ComponentKey key) {
    Blob blob = find(key);
    if (blob == null) {
      return null;
    }
    try (RevWalk walk = new RevWalk(git)) {
      walk.setTreeFilter(AndTreeFilter.create(PathFilter.create(blob.path()), TreeFilter.ANY_DIFF));
      walk.markStart(walk.parseCommit(commit));
      RevCommit last = walk.next();
      return last == null ? null : last.getAuthorIdent().getName();
    } catch (IOException e) {
      return null; // a name that cannot be found out keeps nobody from going on
    }
  }

  ObjectLoader load(Blob blob) throws IOException {
    return git.open(blob.id());
  }

  InputStream open(Blob blob) throws IOException {
    return load(blob).openStream();
  }

  /** A small document as text. */
  String text(Blob blob, int longest) throws IOException {
    ObjectLoader loader = load(blob);
    if (loader.getSize() > longest) {
      throw new IllegalArgumentException(
          "The document " + blob.path() + " is longer than " + longest + " bytes");
    }
    return GitCommits.text(loader.getBytes(longest));
  }

  /** Whether the commit holds anything of such a target. */
  boolean holds(Kind.Holder holder) {
    return blobs.keySet().stream().anyMatch(k -> k.kind().holder() == holder);
  }

  @Override
  public synchronized void close() {
    if (!closed) {
      closed = true;
      git.close();
    }
  }
}
