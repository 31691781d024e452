package plenzo.core.component;

/** A person's word that one component is written before another; both need not need each other. */
public record Before(ComponentKey first, ComponentKey then) implements Comparable<Before> {
  public Before {
    if (first.equals(then)) {
      throw new IllegalArgumentException(first + " cannot be before itself");
    }
  }

  /** {@code table/fares.band before table/fares.zone}. */
  @Override
  public String toString() {
    return first + " before " + then;
  }

  /**
   * @throws IllegalArgumentException when the text is not two components with "before" between
   */
  public static Before of(String text) {
    int at = text.indexOf(" before ");
    if (at < 0) {
      throw new IllegalArgumentException(
          "Write it as kind/name before kind/name; got \"" + text + "\"");
    }
    return new Before(
        ComponentKey.of(text.substring(0, at)), ComponentKey.of(text.substring(at + 8)));
  }

  @Override
  public int compareTo(Before other) {
    return toString().compareTo(other.toString());
  }
}
