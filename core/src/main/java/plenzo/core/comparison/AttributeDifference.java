package plenzo.core.comparison;

import org.jspecify.annotations.Nullable;

/**
 * One attribute that differs: present beside incoming; null is SQL null, absent means no such
 * attribute there.
 *
 * @param base what it was when both last agreed; null when that is not known
 */
public record AttributeDifference(
    String name,
    @Nullable String present,
    @Nullable String incoming,
    boolean presentAbsent,
    boolean incomingAbsent,
    @Nullable Side base) {
  /** A value, or that there is no such attribute. */
  public record Side(@Nullable String value, boolean absent) {
    public static final Side ABSENT = new Side(null, true);

    public static Side of(@Nullable String value) {
      return new Side(value, false);
    }
  }

  /** Two sides, of which nobody knows what they had in common. */
  public static AttributeDifference of(
      String name,
      @Nullable String present,
      @Nullable String incoming,
      boolean presentAbsent,
      boolean incomingAbsent) {
    return new AttributeDifference(name, present, incoming, presentAbsent, incomingAbsent, null);
  }

  public AttributeDifference from(@Nullable Side known) {
    return new AttributeDifference(name, present, incoming, presentAbsent, incomingAbsent, known);
  }
}
