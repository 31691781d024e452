package plenzo.connectors.git;

import java.io.IOException;
import java.net.URISyntaxException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.function.BiConsumer;
import java.util.function.Consumer;
import org.eclipse.jgit.api.Git;
import org.eclipse.jgit.api.errors.GitAPIException;
import org.eclipse.jgit.errors.MissingObjectException;
import org.eclipse.jgit.lib.Constants;
import org.eclipse.jgit.lib.ObjectId;
import org.eclipse.jgit.lib.Ref;
import org.eclipse.jgit.lib.StoredConfig;
import org.eclipse.jgit.revwalk.RevCommit;
import org.eclipse.jgit.revwalk.RevTree;
import org.eclipse.jgit.revwalk.RevWalk;
import org.eclipse.jgit.storage.file.FileRepositoryBuilder;
import org.eclipse.jgit.transport.RefSpec;
import org.eclipse.jgit.transport.TagOpt;
import org.eclipse.jgit.transport.URIish;
import org.eclipse.jgit.transport.UsernamePasswordCredentialsProvider;
import org.eclipse.jgit.treewalk.TreeWalk;
import org.eclipse.jgit.treewalk.filter.AndTreeFilter;
import org.eclipse.jgit.treewalk.filter.PathFilter;
import org.eclipse.jgit.treewalk.filter.TreeFilter;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.Kind;
import plenzo.core.digest.Digest;
import plenzo.core.source.Commits;
import plenzo.core.source.Repository;
import plenzo.core.target.Looking;
import plenzo.core.target.TargetFailed;

/**
 * Repositories on this disk are read where they are; those at an https address are fetched into a
 * bare copy first.
 */
public final class GitCommits implements Commits {
  /** Total time of a fetch without an answer (guess). */
  private static final Duration SILENT = Duration.ofSeconds(30);

  /** Branches and folders that are named where another one was asked for (guess). */
  private static final int NAMED = 10;

  private final Path copies;

  /**
   * @param copies folder for the bare copies of repositories elsewhere
   */
  public GitCommits(Path copies) {
    this.copies = copies;
  }

  /** The repository, up to date when it lies elsewhere. */
  private org.eclipse.jgit.lib.Repository open(
      Repository repository, String secret, boolean fetch) {
    try {
      if (repository.local()) {
        Path path = Path.of(repository.address());
        Path dir = Files.isDirectory(path.resolve(".git")) ? path.resolve(".git") : path;
        return new FileRepositoryBuilder().setGitDir(dir.toFile()).setMustExist(true).build();
      }
      Path copy = copies.resolve(Digest.of(repository.address()).hex().substring(0, 32));
      boolean fresh = !Files.isDirectory(copy.resolve("objects"));
      org.eclipse.jgit.lib.Repository bare =
          new FileRepositoryBuilder().setGitDir(copy.toFile()).setBare().build();
      if (fresh) {
        bare.create(/* bare= */ true);
        StoredConfig config = bare.getConfig();
        config.setString("http", null, "followRedirects", "false");
        config.save();
      }
      if (fetch || fresh) {
        fetch(bare, repository, secret);
      }
      return bare;
    } catch (IOException e) {
      throw failed(repository, e);
    }
  }

  private static void fetch(
      org.eclipse.jgit.lib.Repository bare, Repository repository, String secret) {
    try (Git git = new Git(bare)) {
      var fetch =
          git.fetch()
              .setRemote(new URIish(repository.address()).toString())
              .setRefSpecs(new RefSpec("+refs/heads/*:refs/heads/*"))
              .setTagOpt(TagOpt.FETCH_TAGS)
              .setRemoveDeletedRefs(true)
              .setTimeout((int) SILENT.toSeconds());
      if (!repository.account().isEmpty()) {
        fetch.setCredentialsProvider(
            new UsernamePasswordCredentialsProvider(repository.account(), secret));
      }
      fetch.call();
    } catch (GitAPIException | URISyntaxException e) {
      throw failed(repository, e);
    }
  }

  private static TargetFailed failed(Repository repository, Exception e) {
    return new TargetFailed(
        "The repository " + repository.address() + " cannot be read: " + e.getMessage(),
        /* notReachable= */ true,
        e);
  }

  @Override
  public String branch(Repository repository, String secret) {
    try (org.eclipse.jgit.lib.Repository git = open(repository, secret, /* fetch= */ true);
        RevWalk walk = new RevWalk(git)) {
      String branch =
          repository.branch().isEmpty() ? own(git, repository, secret) : repository.branch();
      ObjectId id = git.resolve(Constants.R_HEADS + branch + "^{commit}");
      if (id == null) {
        throw new IllegalArgumentException(
            "There is no branch \"" + branch + "\" in " + repository.address() + branches(git));
      }
      requireFolder(git, repository.folder(), branch, walk.parseCommit(id).getTree());
      return branch;
    } catch (IOException | GitAPIException e) {
      throw failed(repository, e);
    }
  }

  /** What the repository itself is on; a copy of one elsewhere does not know that. */
  private static String own(
      org.eclipse.jgit.lib.Repository git, Repository repository, String secret)
      throws IOException, GitAPIException {
    String head = git.getFullBranch();
    if (!repository.local()) {
      var ask =
          Git.lsRemoteRepository()
              .setRemote(repository.address())
              .setTimeout((int) SILENT.toSeconds());
      if (!repository.account().isEmpty()) {
        ask.setCredentialsProvider(
            new UsernamePasswordCredentialsProvider(repository.account(), secret));
      }
      Ref told = ask.callAsMap().get(Constants.HEAD);
      head = told == null || !told.isSymbolic() ? null : told.getTarget().getName();
    }
    if (head == null || !head.startsWith(Constants.R_HEADS)) {
      throw new IllegalArgumentException(
          repository.address() + " names no branch of its own; name one" + branches(git));
    }
    return head.substring(Constants.R_HEADS.length());
  }

  private static String branches(org.eclipse.jgit.lib.Repository git) throws IOException {
    List<String> names =
        git.getRefDatabase().getRefsByPrefix(Constants.R_HEADS).stream()
            .map(r -> r.getName().substring(Constants.R_HEADS.length()))
            .sorted()
            .limit(NAMED)
            .toList();
    return names.isEmpty() ? "; it has no commit yet" : "; there is " + String.join(", ", names);
  }

  private static void requireFolder(
      org.eclipse.jgit.lib.Repository git, String folder, String branch, RevTree root)
      throws IOException {
    if (folder.isEmpty()) {
      return;
    }
    try (TreeWalk found = TreeWalk.forPath(git, folder, root)) {
      if (found != null && found.isSubtree()) {
        return;
      }
    }
    List<String> folders = new ArrayList<>();
    try (TreeWalk top = new TreeWalk(git)) {
      top.addTree(root);
      while (folders.size() < NAMED && top.next()) {
        if (top.isSubtree()) {
          folders.add(top.getPathString());
        }
      }
    }
    throw new IllegalArgumentException(
        "There is no folder \""
            + folder
            + "\" on the branch "
            + branch
            + (folders.isEmpty() ? "" : "; there is " + String.join(", ", folders)));
  }

  @Override
  public Commit resolve(Repository repository, String secret, String revision) {
    if (!revision.matches("[A-Za-z0-9][A-Za-z0-9._/-]{0,199}") || revision.contains("..")) {
      throw new IllegalArgumentException("\"" + revision + "\" is no branch, tag or commit");
    }
    try (org.eclipse.jgit.lib.Repository git = open(repository, secret, /* fetch= */ true);
        RevWalk walk = new RevWalk(git)) {
      ObjectId id = null;
      for (String name : List.of("refs/heads/" + revision, "refs/tags/" + revision, revision)) {
        id = id == null ? git.resolve(name + "^{commit}") : id;
      }
      if (id == null) {
        throw new IllegalArgumentException(
            "There is no branch, tag or commit \"" + revision + "\" in " + repository.address());
      }
      return commit(git, walk.parseCommit(id));
    } catch (IOException e) {
      throw failed(repository, e);
    }
  }

  private static Commit commit(org.eclipse.jgit.lib.Repository git, RevCommit c)
      throws IOException {
    List<String> tags = new ArrayList<>();
    for (Ref tag : git.getRefDatabase().getRefsByPrefix(Constants.R_TAGS)) {
      ObjectId at = git.getRefDatabase().peel(tag).getPeeledObjectId();
      if (c.getId().equals(at == null ? tag.getObjectId() : at)) {
        tags.add(tag.getName().substring(Constants.R_TAGS.length()));
      }
    }
    return new Commit(
        c.getName(),
        author(c),
        Instant.ofEpochSecond(c.getCommitTime()),
        c.getShortMessage(),
        tags);
  }

  @Override
  public boolean authors(
      Repository repository,
      String secret,
      String hash,
      List<String> since,
      int most,
      Consumer<String> sink) {
    try (org.eclipse.jgit.lib.Repository git = open(repository, secret, /* fetch= */ false);
        RevWalk walk = new RevWalk(git)) {
      RevCommit head = find(git, walk, hash);
      if (head == null) {
        throw new IllegalArgumentException("There is no commit " + hash + " any more");
      }
      walk.markStart(head);
      for (String before : since) {
        // one that is there no more hides nothing
        RevCommit old = find(git, walk, before);
        if (old != null) {
          walk.markUninteresting(old);
        }
      }
      if (!repository.folder().isEmpty()) {
        walk.setTreeFilter(
            AndTreeFilter.create(PathFilter.create(repository.folder()), TreeFilter.ANY_DIFF));
      }
      int looked = 0;
      for (RevCommit c : walk) {
        if (looked++ == most) {
          return false;
        }
        sink.accept(author(c));
      }
      return true;
    } catch (IOException e) {
      throw failed(repository, e);
    }
  }

  /** A commit by its full hash; null when it is not there. */
  private static @Nullable RevCommit find(
      org.eclipse.jgit.lib.Repository git, RevWalk walk, String hash) throws IOException {
    try {
      ObjectId id = git.resolve(hash + "^{commit}");
      return id == null ? null : walk.parseCommit(id);
    } catch (MissingObjectException e) {
      return null;
    }
  }

  private static String author(RevCommit c) {
    return c.getAuthorIdent().getName() + " <" + c.getAuthorIdent().getEmailAddress() + ">";
  }

  @Override
  public void tags(Repository repository, String secret, BiConsumer<String, Commit> sink) {
    try (org.eclipse.jgit.lib.Repository git = open(repository, secret, /* fetch= */ true);
        RevWalk walk = new RevWalk(git)) {
      for (Ref tag : git.getRefDatabase().getRefsByPrefix(Constants.R_TAGS)) {
        ObjectId id = git.resolve(tag.getName() + "^{commit}");
        if (id != null) {
          sink.accept(
              tag.getName().substring(Constants.R_TAGS.length()),
              commit(git, walk.parseCommit(id)));
        }
      }
    } catch (IOException e) {
      throw failed(repository, e);
    }
  }

  @Override
  public Map<Kind.Holder, Looking> look(Repository repository, String secret, String hash) {
    org.eclipse.jgit.lib.Repository git = open(repository, secret, /* fetch= */ false);
    try {
      ObjectId id = git.resolve(hash + "^{commit}");
      if (id == null) {
        git.close();
        git = open(repository, secret, /* fetch= */ true);
        id = git.resolve(hash + "^{commit}");
      }
      if (id == null) {
        throw new IllegalArgumentException(
            "There is no commit " + hash + " in " + repository.address() + " any more");
      }
      Layout layout = new Layout(git, id, repository.folder());
      Map<Kind.Holder, Looking> out = new EnumMap<>(Kind.Holder.class);
      for (Kind.Holder holder : Kind.Holder.values()) {
        if (layout.holds(holder)) {
          out.put(
              holder,
              holder == Kind.Holder.DATABASE
                  ? new GitTables(layout)
                  : new GitItems(layout, holder));
        }
      }
      if (out.isEmpty()) {
        layout.close();
        throw new IllegalArgumentException(
            "The commit "
                + hash.substring(0, 12)
                + " holds no component document"
                + (repository.folder().isEmpty() ? "" : " below " + repository.folder())
                + "; see docs/formats/repository.md");
      }
      return out;
    } catch (IOException e) {
      git.close();
      throw failed(repository, e);
    } catch (RuntimeException e) {
      git.close();
      throw e;
    }
  }

  static String text(byte[] bytes) {
    return new String(bytes, StandardCharsets.UTF_8);
  }
}
