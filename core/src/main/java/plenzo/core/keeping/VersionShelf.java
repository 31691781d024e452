package plenzo.core.keeping;

import java.util.List;
import java.util.Optional;
import plenzo.core.version.Version;
import plenzo.core.version.VersionHead;

/**
 * Sealed versions. Lists hold heads alone, so that they stay short however many components there
 * are.
 */
public interface VersionShelf {
  /** By {@code application@number}, with every component. */
  Optional<Version> find(String ref);

  Optional<VersionHead> head(String ref);

  /** Of one application, sealed last first. */
  List<VersionHead> list(String application);

  void insert(Version version);

  /** Replaces what is said of it; its components never change. */
  void update(VersionHead head);
}
