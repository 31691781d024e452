package plenzo.engine.kit;

import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.BiConsumer;
import java.util.function.Consumer;
import plenzo.core.component.Kind;
import plenzo.core.source.Commits;
import plenzo.core.source.Repository;
import plenzo.core.target.Looking;
import plenzo.core.target.TargetFailed;

/** A repository of which nothing but its branches is known; every address leads to it. */
public final class ScriptedCommits implements Commits {
  public final Set<String> branches = new TreeSet<>(Set.of("trunk", "main"));
  public String own = "trunk";
  public boolean reachable = true;

  /** The secret that was shown last. */
  public String shown = "";

  @Override
  public String branch(Repository repository, String secret) {
    shown = secret;
    if (!reachable) {
      throw new TargetFailed("The repository cannot be read", true, new IllegalStateException());
    }
    String branch = repository.branch().isEmpty() ? own : repository.branch();
    if (!branches.contains(branch)) {
      throw new IllegalArgumentException("There is no branch \"" + branch + "\"");
    }
    return branch;
  }

  @Override
  public Commit resolve(Repository repository, String secret, String revision) {
    throw new IllegalStateException("This repository has no commits");
  }

  @Override
  public boolean authors(
      Repository repository,
      String secret,
      String hash,
      List<String> since,
      int most,
      Consumer<String> sink) {
    throw new IllegalStateException("This repository has no commits");
  }

  @Override
  public void tags(Repository repository, String secret, BiConsumer<String, Commit> sink) {
    throw new IllegalStateException("This repository has no tags");
  }

  @Override
  public Map<Kind.Holder, Looking> look(Repository repository, String secret, String hash) {
    throw new IllegalStateException("This repository has no commits");
  }
}
