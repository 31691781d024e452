package plenzo.connectors.git;

import java.util.List;
import java.util.Optional;
import plenzo.core.component.ComponentKey;
import plenzo.core.source.RefusedDocument;
import plenzo.core.target.LastChange;
import plenzo.core.target.Looking;
import plenzo.core.target.RunSeen;
import plenzo.core.target.TargetIdentity;
import plenzo.core.version.SemVer;

/** A commit is a target that nobody marks and no run changes. */
abstract class GitLooking implements Looking {
  final Layout layout;

  GitLooking(Layout layout) {
    this.layout = layout;
  }

  @Override
  public Optional<TargetIdentity> identity() {
    return Optional.empty();
  }

  @Override
  public String instance() {
    return "git";
  }

  @Override
  public Optional<SemVer> release() {
    return Optional.empty();
  }

  @Override
  public List<RunSeen> runs(int limit) {
    return List.of();
  }

  @Override
  public LastChange lastChange(ComponentKey key) {
    return layout.lastChange(key);
  }

  @Override
  public List<RefusedDocument> refused() {
    return layout.refused();
  }

  @Override
  public List<RefusedDocument> passedOver(String scope) {
    return layout.outside(scope);
  }

  @Override
  public void cut() {
    layout.close();
  }

  @Override
  public void close() {
    layout.close();
  }
}
