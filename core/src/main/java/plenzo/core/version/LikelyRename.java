package plenzo.core.version;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.table.Column;
import plenzo.core.table.TableStructure;

/**
 * A column that is gone beside one of the same type that is new: perhaps one column under another
 * name, whose values a run would lose. The same of a table whose columns are those of one that is
 * gone. Only a person knows.
 *
 * @param component the table; of a table the one that is new
 * @param was the column that is gone, or the component of the table
 * @param is the column that is new, or the component of the table
 * @param denied whether a person said that these are two
 * @param one whether it is one under another name, as a person said or the server's own numbers
 *     tell; null in what was kept before that was asked
 */
public record LikelyRename(
    ComponentKey component, String was, String is, boolean denied, @Nullable Boolean one) {
  public LikelyRename(ComponentKey component, String was, String is, boolean denied) {
    this(component, was, is, denied, null);
  }

  /** A table that is gone, and one that is new. */
  public LikelyRename(ComponentKey was, TableName is) {
    this(
        new ComponentKey(Kind.TABLE, is.componentName()),
        was.toString(),
        new ComponentKey(Kind.TABLE, is.componentName()).toString(),
        false);
  }

  /** Whether it is about the table itself. */
  public boolean ofTable() {
    return is.equals(component.toString());
  }

  /** Whether one table may be another under a new name: they have the same columns. */
  public static boolean alike(TableStructure was, TableStructure is) {
    return types(was).equals(types(is));
  }

  private static Map<String, String> types(TableStructure table) {
    return table.columns().stream().collect(Collectors.toMap(Column::name, Column::type));
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

  /** Whether a pair is about one of the two. */
  public boolean touches(LikelyRename other) {
    return ofTable() && other.ofTable()
        ? was.equals(other.was) || is.equals(other.is)
        : component.equals(other.component) && (was.equals(other.was) || is.equals(other.is));
  }

  /** It is one. */
  public LikelyRename same() {
    return new LikelyRename(component, was, is, false, true);
  }

  public boolean isOne() {
    return Boolean.TRUE.equals(one);
  }
}
