package plenzo.core.target;

import java.util.Optional;

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
}
