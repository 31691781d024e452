package plenzo.core.version;

import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.table.Column;
import plenzo.core.table.TableStructure;

/**
 * A column that is gone beside one of the same type that is new: perhaps one column under another
 * name, whose values a run would lose. Only a person knows.
 *
 * @param was the column that is gone
 * @param is the column that is new
 * @param denied whether a person said that these are two columns
 * @param one whether it is one column under another name, as a person said or the server's own
 *     numbers tell; null in what was kept before that was asked
 */
public record LikelyRename(
    ComponentKey component, String was, String is, boolean denied, @Nullable Boolean one) {
  public LikelyRename(ComponentKey component, String was, String is, boolean denied) {
    this(component, was, is, denied, null);
  }

  /** Every pair of a gone and a new column of one type, in the order of their names. */
  public static List<LikelyRename> of(
      ComponentKey component, TableStructure before, TableStructure now) {
    List<LikelyRename> out = new ArrayList<>();
    for (Column gone : before.columns()) {
      if (now.column(gone.name()).isPresent()) {
        continue;
      }
      now.columns().stream()
          .filter(c -> before.column(c.name()).isEmpty() && c.type().equals(gone.type()))
          .forEach(c -> out.add(new LikelyRename(component, gone.name(), c.name(), false)));
    }
    return out;
  }

  public boolean samePair(LikelyRename other) {
    return component.equals(other.component) && was.equals(other.was) && is.equals(other.is);
  }

  public LikelyRename deny() {
    return new LikelyRename(component, was, is, true);
  }

  /** Whether a pair is about one of the two columns. */
  public boolean touches(LikelyRename other) {
    return component.equals(other.component) && (was.equals(other.was) || is.equals(other.is));
  }

  /** It is one column. */
  public LikelyRename same() {
    return new LikelyRename(component, was, is, false, true);
  }

  public boolean isOne() {
    return Boolean.TRUE.equals(one);
  }
}
