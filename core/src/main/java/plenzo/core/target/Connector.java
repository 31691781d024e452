package plenzo.core.target;

import java.util.List;
import org.jspecify.annotations.Nullable;
import plenzo.core.stage.Connection.Probe;

/**
 * The code that speaks to one sort of target. Sessions that it opens belong to the caller, who
 * closes them, and are for one thread; the connector itself is for many.
 */
public interface Connector {
  /** Which sort of target, "postgresql". */
  String sort();

  /**
   * Measures whether the account is fit for its use and goes on after a failure. Throws nothing:
   * what went wrong is a probe.
   *
   * @param expected who the target should be, null to only look
   */
  List<Probe> test(Access access, Use use, List<String> schemas, @Nullable TargetIdentity expected);

  /**
   * @throws TargetFailed when the target cannot be reached
   */
  Looking look(Access access);

  /**
   * @throws TargetFailed when the target cannot be reached
   */
  Changing change(Access access);

  /**
   * @throws TargetFailed when the scratch place cannot be reached
   */
  Scratch scratch(Access access);

  /** The exact statements of a delta in the order in which they run, for people to read before. */
  List<String> statements(Delta delta);

  /** What an account is for. */
  enum Use {
    LOOKING,
    CHANGING,
    SCRATCH
  }
}
