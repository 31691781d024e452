package plenzo.core.target;

/** An open session to a target. It is for one thread, but any thread may cut it. */
public interface Session extends AutoCloseable {
  /**
   * Ends the session at once, whatever it is waiting for; the thread that uses it gets a {@link
   * TargetFailed}. For a target that no longer answers. Repeatable.
   */
  void cut();

  @Override
  void close();
}
