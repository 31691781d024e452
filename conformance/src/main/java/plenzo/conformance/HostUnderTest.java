package plenzo.conformance;

/** The host that is tried, and power over its process. */
public interface HostUnderTest {
  String address();

  int port();

  /** What stands before the protocol in its address; empty for nothing. */
  String prefix();

  String token();

  /** Whether {@link #kill} and {@link #restart} may be asked for. */
  boolean canBeKilled();

  /** Ends the process at once, without a chance to tidy up. */
  void kill();

  /** Starts it again with what is on its disk; returns when it answers. */
  void restart();
}
