package plenzo.core.target;

import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.Kind;

/**
 * The code that speaks to one sort of target. Sessions that it opens belong to the caller, who
 * closes them, and are for one thread; the connector itself is for many.
 */
public sealed interface Connector permits TablesConnector, ItemsConnector {
  /** Which sort of target, "postgresql". */
  String sort();

  /** What such a target holds. */
  Kind.Holder holder();

  Set<Capability> capabilities();

  /**
   * Measures whether the account is fit for its use and goes on after a failure. Throws nothing:
   * what went wrong is a probe.
   */
  List<Probe> test(Access access, Trial trial);

  /**
   * @throws TargetFailed when the target cannot be reached
   */
  Looking look(Access access);

  /**
   * @throws TargetFailed when the target cannot be reached
   */
  Changing change(Access access);

  /**
   * What an account is tested for.
   *
   * @param schemas of a database, that Plenzo looks at
   * @param expected who the target should be, null to only look
   * @param reader the account that looks at what this one makes; empty when it is this one, or not
   *     known
   */
  record Trial(Use use, List<String> schemas, @Nullable TargetIdentity expected, String reader) {
    public static Trial of(Use use, List<String> schemas, @Nullable TargetIdentity expected) {
      return new Trial(use, schemas, expected, "");
    }
  }

  /** What an account is for. */
  enum Use {
    LOOKING,
    CHANGING,
    SCRATCH
  }

  /** What only some sorts of target can. */
  enum Capability {
    /** Has a place of its own, where backups are restored to prove them and plans rehearsed. */
    SCRATCH,
    /** Can switch back without loss. */
    UNDO,
    /** Can let only operators in, and knows running work. */
    MAINTENANCE,
    /** Its components are on or off. */
    ACTIVATION,
    /** Answers questions like a user's. */
    PROBE,
    /** Keeps something of what it holds that must be refreshed; each target says so itself. */
    REFRESH
  }
}
