package plenzo.core.target;

import java.util.List;
import org.jspecify.annotations.Nullable;

/** A look at a directory or an application host. One thread. */
public interface ItemsLooking extends Looking, WholesLooking {
  /** What people and the system do there now; null where the target cannot tell. */
  @Nullable Work work();

  /** Whether it keeps something that must be refreshed when what it holds changed. */
  default boolean refreshes() {
    return false;
  }

  /** Whether definitions are tried there in places of their own. */
  default boolean spaces() {
    return false;
  }

  /** What limits the target: asked before anything is written. */
  Limits limits(String scope);

  /**
   * Asks the running system a question and returns its answer, both as JSON text.
   *
   * @throws TargetFailed when it cannot answer
   */
  String probe(String question);

  /**
   * Running work.
   *
   * @param people who are signed in
   * @param maintenance whether only operators are let in
   */
  record Work(List<Item> running, long people, boolean maintenance) {
    public Work {
      running = List.copyOf(running);
    }

    /** One piece of running work, and the component that it is in the middle of. */
    public record Item(String id, String what, String person, String component) {}
  }

  /**
   * @param pathBytes longest whole path in bytes, 0 when there is no such limit
   * @param tellsCase whether upper and lower case are told apart
   * @param room bytes that may still be written, −1 when not known
   * @param appliedBytes bytes that a run writes beside the changes themselves
   * @param changedInPlace names of files of the application that were written since the present
   *     tree was put there
   */
  record Limits(
      int pathBytes, boolean tellsCase, long room, long appliedBytes, List<String> changedInPlace) {
    public static final Limits NONE = new Limits(0, true, -1, 0, List.of());

    public Limits {
      changedInPlace = List.copyOf(changedInPlace);
    }
  }
}
