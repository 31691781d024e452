package plenzo.connectors.git;

import java.io.IOException;
import java.io.InputStream;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
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
import plenzo.core.component.ObjectName;
import plenzo.core.component.TableName;
import plenzo.core.item.FilePath;
import plenzo.core.source.RefusedDocument;
import plenzo.core.target.LastChange;

/**
 * Where the documents of one commit lie (docs/formats/repository.md): {@code
 * definitions/KIND/NAME.json}, {@code objects/KIND/NAME.json}, {@code files/…}, {@code
 * tables/NAME.json}, {@code records/NAME.csv}. Everything else in the repository is none of ours.
 */
final class Layout implements AutoCloseable {
  /** Documents in one commit (the promise of 100,000 components). */
  private static final int MOST = 100_000;

  /**
   * Names that are looked at, folders among them: folders within folders are no documents, and a
   * few objects can name more of them than anybody could ever read.
   */
  private static final int MOST_NAMES = 300_000;

  /** Folders within one another (guess: deeper than anybody files anything). */
  private static final int DEEPEST = 64;

  private static final Duration LONGEST = Duration.ofSeconds(60);

  /** What is ours below the folder; nothing else is entered. */
  private static final Set<String> OURS =
      Set.of("definitions", "objects", "files", "tables", "records");

  private final Repository git;
  private final ObjectId commit;
  private boolean closed;
  private final Map<ComponentKey, Blob> blobs = new TreeMap<>();
  private final List<RefusedDocument> refused = new ArrayList<>();

  /** One object with its mode. */
  record Blob(ObjectId id, FileMode mode, String path) {}

  Layout(Repository git, ObjectId commit, String folder) throws IOException {
    this.git = git;
    this.commit = commit;
    try (RevWalk walk = new RevWalk(git);
        TreeWalk tree = new TreeWalk(git)) {
      tree.addTree(walk.parseCommit(commit).getTree());
      if (!folder.isEmpty()) {
        tree.setFilter(PathFilter.create(folder));
      }
      read(tree, folder.isEmpty() ? "" : folder + "/");
    }
  }

  private void read(TreeWalk tree, String under) throws IOException {
    long until = System.nanoTime() + LONGEST.toNanos();
    int names = 0;
    while (tree.next()) {
      if (++names > MOST_NAMES) {
        throw new IllegalArgumentException("The commit has more than " + MOST_NAMES + " names");
      }
      if (System.nanoTime() > until) {
        throw new IllegalArgumentException(
            "The commit's names take longer than " + LONGEST.toSeconds() + " s to read");
      }
      String path = tree.getPathString();
      if (tree.isSubtree()) {
        if (tree.getDepth() >= DEEPEST) {
          throw new IllegalArgumentException(
              "The commit has more than " + DEEPEST + " folders within one another");
        }
        if (leadsToOurs(path, under)) {
          tree.enterSubtree();
        }
      } else if (path.startsWith(under) && tree.getFileMode(0) != FileMode.GITLINK) {
        document(path, under, tree); // submodules are never followed
      }
    }
  }

  private static boolean leadsToOurs(String path, String under) {
    if (!path.startsWith(under)) {
      return under.startsWith(path + "/");
    }
    String below = path.substring(under.length());
    int slash = below.indexOf('/');
    return OURS.contains(slash < 0 ? below : below.substring(0, slash));
  }

  /** A name that cannot be a component's is one trouble of that document, and of no other. */
  private void document(String path, String under, TreeWalk tree) {
    String name = path.substring(under.length());
    ComponentKey key;
    try {
      key = key(name);
    } catch (IllegalArgumentException e) {
      refused.add(new RefusedDocument(path, String.valueOf(e.getMessage())));
      return;
    }
    if (key == null) {
      String file = path.substring(path.lastIndexOf('/') + 1);
      if (leadsToOurs(path, under) && !file.startsWith(".") && !file.startsWith("README")) {
        refused.add(
            new RefusedDocument(
                path,
                "it is no document of a component: see docs/formats/repository.md for where each lies"));
      }
      return;
    }
    if (blobs.size() == MOST) {
      throw new IllegalArgumentException("The commit has more than " + MOST + " documents");
    }
    blobs.put(key, new Blob(tree.getObjectId(0), tree.getFileMode(0), path));
  }

  List<RefusedDocument> refused() {
    return refused;
  }

  /** Whether a component belongs to an application's name space. */
  static boolean mine(ComponentKey key, String scope) {
    return key.name().startsWith(scope + (key.kind() == Kind.FILE ? "/" : "."));
  }

  /** Documents of other name spaces, those of one folder as one. */
  List<RefusedDocument> outside(String scope) {
    Map<String, String> out = new TreeMap<>();
    blobs.forEach(
        (key, blob) -> {
          if (mine(key, scope)) {
            return;
          }
          if (key.kind() != Kind.FILE) {
            out.put(blob.path(), "its name does not begin with \"" + scope + ".\"");
            return;
          }
          int slash = key.name().indexOf('/');
          String above = blob.path().substring(0, blob.path().length() - key.name().length());
          out.put(
              above + (slash < 0 ? key.name() : key.name().substring(0, slash + 1)),
              "it lies outside the folder " + above + scope + "/");
        });
    return out.entrySet().stream().map(e -> new RefusedDocument(e.getKey(), e.getValue())).toList();
  }

  private static @Nullable ComponentKey key(String name) {
    String[] parts = name.split("/", 3);
    if (parts[0].equals("files") && parts.length > 1) {
      String path = name.substring("files/".length());
      String problem = FilePath.problem(path);
      if (!problem.isEmpty()) {
        throw new IllegalArgumentException(problem);
      }
      return new ComponentKey(Kind.FILE, path);
    }
    if (parts[0].equals("definitions") && parts.length == 3 && parts[2].endsWith(".json")) {
      Kind kind = Kind.of(parts[1]);
      return kind.definition() ? new ComponentKey(kind, base(parts[2])) : null;
    }
    if (parts[0].equals("objects") && parts.length == 3 && parts[2].endsWith(".json")) {
      Kind kind = Kind.of(parts[1]);
      return kind.schemaObject()
          ? ObjectName.of(new ComponentKey(kind, base(parts[2]))).key(kind)
          : null;
    }
    if (parts.length == 2 && parts[0].equals("tables") && parts[1].endsWith(".json")) {
      return new ComponentKey(Kind.TABLE, TableName.of(base(parts[1])).componentName());
    }
    if (parts.length == 2 && parts[0].equals("records") && parts[1].endsWith(".csv")) {
      return new ComponentKey(Kind.RECORDS, TableName.of(base(parts[1])).componentName());
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

  /** Author and time of the newest commit, from this one back, in which the document changed. */
  LastChange lastChange(ComponentKey key) {
    Blob blob = find(key);
    if (blob == null) {
      return LastChange.UNKNOWN;
    }
    try (RevWalk walk = new RevWalk(git)) {
      walk.setTreeFilter(AndTreeFilter.create(PathFilter.create(blob.path()), TreeFilter.ANY_DIFF));
      walk.markStart(walk.parseCommit(commit));
      RevCommit last = walk.next();
      return last == null
          ? LastChange.UNKNOWN
          : new LastChange(
              last.getAuthorIdent().getName(), Instant.ofEpochSecond(last.getCommitTime()));
    } catch (IOException e) {
      return LastChange.UNKNOWN; // a name that cannot be found out keeps nobody from going on
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
