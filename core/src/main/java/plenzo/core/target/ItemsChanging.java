package plenzo.core.target;

import java.util.List;
import java.util.Map;
import plenzo.core.component.ComponentKey;
import plenzo.core.digest.Digest;

/** Changes a directory or an application host, and can switch back. */
public interface ItemsChanging extends Changing {
  /**
   * The switch back: what the mark's switch replaced is there again. Idempotent; needs no memory.
   *
   * @throws SwitchRefused when what the run wrote was touched since; nothing was changed then
   */
  void undo(RunMark mark);

  /**
   * Refreshes what the target keeps of what changed. Repeatable; only where it {@link
   * ItemsLooking#refreshes}.
   */
  default Refreshed refresh(long run) {
    throw new UnsupportedOperationException("There is nothing to refresh");
  }

  /**
   * What became of refreshing.
   *
   * @param done what was refreshed, as the target says it
   * @param people what people must do themselves, such as to sign in again
   */
  record Refreshed(List<String> done, List<String> people) {
    public Refreshed {
      done = List.copyOf(done);
      people = List.copyOf(people);
    }
  }

  /** Switches one component on or off. */
  void activation(ComponentKey key, boolean active);

  /**
   * Restores components, written as a switch writes them, in a place of its own that is gone
   * afterwards, and reads each there as the target's own are read. Only with {@link
   * Connector.Capability#SCRATCH}, or where {@link ItemsLooking#spaces} says so.
   *
   * @param pieces digest of each component's canonical content
   * @param source opens that content
   * @param each told before each component; may throw to stop
   * @return components that are not what was restored
   */
  default List<ComponentKey> restoreAside(
      long run, Map<ComponentKey, Digest> pieces, ItemsDelta.Source source, Runnable each) {
    throw new UnsupportedOperationException("There is no place to restore in");
  }

  /** Takes away what a {@link #restoreAside} that was killed has left; repeatable. */
  default void forgetAside(long run) {}
}
