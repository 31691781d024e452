package plenzo.core.source;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.function.BiConsumer;
import java.util.function.Consumer;
import plenzo.core.component.Kind;
import plenzo.core.target.Looking;

/**
 * Reads repositories: objects alone, without a checkout, hooks, filters or submodules. Every call
 * throws {@link plenzo.core.target.TargetFailed} when the repository cannot be reached.
 */
public interface Commits {
  /**
   * One commit.
   *
   * @param hash its full name
   * @param tags that name it
   */
  record Commit(String hash, String author, Instant at, String message, List<String> tags) {
    public Commit {
      tags = List.copyOf(tags);
    }

    public String brief() {
      return hash.substring(0, 12);
    }
  }

  /**
   * The branch that is meant: the named one, or the repository's own where none is named.
   *
   * @throws IllegalArgumentException when that branch is not there, or has no such folder; the
   *     message says what there is
   */
  String branch(Repository repository, String secret);

  /**
   * The commit that a branch, tag or (shortened) hash names.
   *
   * @param secret of the repository's account, empty for none
   * @throws IllegalArgumentException when nothing has this name
   */
  Commit resolve(Repository repository, String secret, String revision);

  /** Every tag with its commit, to be told what is new. */
  void tags(Repository repository, String secret, BiConsumer<String, Commit> sink);

  /**
   * Who wrote what lies in a commit: authors of the commits that touched the repository's folder.
   *
   * @param hash of the commit
   * @param since commits whose own past is not looked at; none for all of it
   * @param most how many commits are looked at; the sink is told no more of them
   * @param sink gets "Name <address>" of each
   * @return whether every commit was looked at
   * @throws IllegalArgumentException when the commit is not there
   */
  boolean authors(
      Repository repository,
      String secret,
      String hash,
      List<String> since,
      int most,
      Consumer<String> sink);

  /**
   * What a commit holds, as a site is looked at; the caller closes them.
   *
   * @throws IllegalArgumentException when a document there is not of the layout; says which
   */
  Map<Kind.Holder, Looking> look(Repository repository, String secret, String hash);
}
