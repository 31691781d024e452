package plenzo.core.target;

import java.util.List;
import java.util.Optional;
import plenzo.core.component.ComponentKey;
import plenzo.core.source.RefusedDocument;
import plenzo.core.version.SemVer;

/**
 * A read-only look at a target. Every call throws {@link TargetFailed} when the target does not
 * answer.
 */
public interface Looking extends Session {
  Optional<TargetIdentity> identity();

  /**
   * Identity of the system itself, so that its own ids are only compared where they mean the same.
   */
  String instance();

  /** Release of the target's own software; empty where it has none or does not tell it. */
  Optional<SemVer> release();

  /**
   * Runs that the target remembers having been applied, newest first; empty where it does not tell.
   *
   * @param limit how many at most
   */
  List<RunSeen> runs(int limit);

  /** Who changed a component there last, and when. */
  LastChange lastChange(ComponentKey key);

  /** What runs left there beside the content; nothing where the target keeps nothing. */
  default List<Leftover> leftovers() {
    return List.of();
  }

  /** What lies where components lie and cannot be one; named, never passed over. */
  default List<RefusedDocument> refused() {
    return List.of();
  }

  /**
   * What lies where components lie and outside an application's name space: another application's,
   * or put into the wrong place. A folder with everything in it is one line.
   */
  default List<RefusedDocument> passedOver(String scope) {
    return List.of();
  }
}
