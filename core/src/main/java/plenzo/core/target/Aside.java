package plenzo.core.target;

import java.util.Map;
import plenzo.core.component.ComponentKey;
import plenzo.core.digest.Digest;

/**
 * A place beside a directory, or of its own at a host, where a plan is rehearsed: to its sessions
 * it is a target like any other. One thread.
 */
public interface Aside {
  /** How a session is opened there. */
  Access inside();

  /**
   * Makes the place anew, with copies of components.
   *
   * @param from opens what is copied
   * @param pieces digest of each component's canonical content
   * @param each told before each component; may throw to stop
   * @throws TargetFailed when something cannot be copied, or is no longer that content
   */
  void fill(ItemsLooking from, Map<ComponentKey, Digest> pieces, Runnable each);

  /** Takes the place away; repeatable. */
  void drop();
}
