package plenzo.core.manual;

/**
 * Work by hand that a plan asks for, and where that comes from.
 *
 * @param origin "fares@2.4.0", "path ordinary" or "P-15", for people
 */
public record Asked(ManualStep step, String origin) {
  /** "Grant the desk access to zones 7 to 9 (fares@2.4.0)". */
  public String words() {
    return step.title() + " (" + origin + ")";
  }
}
