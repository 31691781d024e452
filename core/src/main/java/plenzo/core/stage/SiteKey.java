package plenzo.core.stage;

/**
 * One installation of a stage: {@code production/north}; people may leave the site out where there
 * is one.
 */
public record SiteKey(String stage, String site) implements Comparable<SiteKey> {
  @Override
  public String toString() {
    return stage + "/" + site;
  }

  public static SiteKey of(String text) {
    int slash = text.indexOf('/');
    return slash < 0
        ? new SiteKey(text, "main")
        : new SiteKey(text.substring(0, slash), text.substring(slash + 1));
  }

  @Override
  public int compareTo(SiteKey other) {
    return toString().compareTo(other.toString());
  }
}
