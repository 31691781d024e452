package plenzo.core.way;

import java.util.Objects;
import plenzo.core.impact.Unheld;
import plenzo.core.words.Words;

/**
 * A part of a structure that would come back and that rows of today do not fit. It can stay as it
 * is there, which loses nothing and needs nothing of the rows.
 *
 * @param at {@code table/fares.band#column/note}
 * @param count rows or values that do not fit
 */
public record Unfit(String at, long count, String sentence) {
  /**
   * @param version that one goes back to
   */
  public static Unfit of(Unheld u, long count, String version) {
    return new Unfit(
        "table/" + u.change().table() + "#" + u.place(), count, sentence(u, count, version));
  }

  private static String sentence(Unheld u, long count, String version) {
    String table = u.change().table().toString();
    String columns = String.join(", ", u.columns());
    boolean one = count == 1;
    String rows = Words.count(count, "row") + " of " + table;
    return switch (u.why()) {
      case NO_FIT ->
          Words.count(count, "value")
              + " of "
              + table
              + "."
              + columns
              + (one ? " does" : " do")
              + " not fit "
              + Objects.requireNonNull(u.change().after()).type()
              + ", which "
              + version
              + " has.";
      case NO_VALUE ->
          rows
              + (one ? " has" : " have")
              + " no value in "
              + columns
              + ", which must have one in "
              + version
              + ".";
      case TWICE ->
          Words.count(count, "value")
              + " of "
              + columns
              + (one ? " stands" : " stand")
              + " in more than one row of "
              + table
              + ", and must be unique in "
              + version
              + ".";
      case UNMET ->
          rows
              + (one ? " does" : " do")
              + " not meet "
              + Objects.requireNonNull(u.change().constraint()).definition()
              + ", which "
              + version
              + " has.";
      case ORPHAN ->
          rows
              + (one ? " points" : " point")
              + " at nothing in "
              + Objects.requireNonNull(u.change().constraint()).references()
              + ", as must not be in "
              + version
              + ".";
    };
  }
}
