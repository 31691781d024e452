package plenzo.packages;

import java.time.DateTimeException;

/** A file that is no intact package; the message is one plain sentence. Nothing was kept of it. */
public final class PackageRefused extends RuntimeException {
  public PackageRefused(String why) {
    super(why);
  }

  public PackageRefused(String why, Throwable cause) {
    super(why, cause);
  }

  /**
   * @param what "The manifest"
   * @param e why reading it ended; only what was said for people is repeated
   */
  static PackageRefused unread(String what, RuntimeException e) {
    boolean said = e instanceof IllegalArgumentException || e instanceof DateTimeException;
    return new PackageRefused(
        what + (said ? " cannot be read: " + e.getMessage() + "." : " cannot be read."), e);
  }
}
