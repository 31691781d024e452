package plenzo.core.keeping;

import java.util.List;
import java.util.Optional;
import plenzo.core.problem.Problem;
import plenzo.core.version.SemVer;
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

  /**
   * With every component.
   *
   * @throws Problem when there is no such version
   */
  default Version get(String application, SemVer number) {
    return find(application + "@" + number).orElseThrow(() -> none(application, number));
  }

  /**
   * What is said of it alone.
   *
   * @throws Problem when there is no such version
   */
  default VersionHead getHead(String application, SemVer number) {
    return head(application + "@" + number).orElseThrow(() -> none(application, number));
  }

  private static Problem none(String application, SemVer number) {
    return Problem.notFound("version", application + "@" + number);
  }

  /** A part of those of one application, sealed last first. */
  Slice<VersionHead> slice(Kept.Filter filter);

  /** Of one application, sealed last first. */
  List<VersionHead> list(String application);

  /**
   * Of every application, those whose number begins so, sealed last first.
   *
   * @param begins digits, dots, letters and hyphens, as numbers have them
   */
  List<VersionHead> numbered(String begins, int most);

  void insert(Version version);

  /** Replaces what is said of it; its components never change. */
  void update(VersionHead head);
}
