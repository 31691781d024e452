package plenzo.packages;

/** A file that is no intact package; the message is one plain sentence. Nothing was kept of it. */
public final class PackageRefused extends RuntimeException {
  public PackageRefused(String why) {
    super(why);
  }

  public PackageRefused(String why, Throwable cause) {
    super(why, cause);
  }
}
