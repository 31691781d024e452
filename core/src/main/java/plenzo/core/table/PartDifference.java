package plenzo.core.table;

import java.util.List;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.AttributeDifference;
import plenzo.core.comparison.Difference;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.digest.Digest;

/**
 * One part of a structure that differs, or that is kept: a column, a constraint, an index or the
 * comment.
 *
 * @param both digest of a definition with what either side moved; null when there is no such
 */
public record PartDifference(
    Part part,
    String name,
    Difference difference,
    List<AttributeDifference> attributes,
    @Nullable Digest both) {
  /** What sort of part. */
  public enum Part {
    TABLE,
    COLUMN,
    CONSTRAINT,
    INDEX,
    COMMENT,
    /** What else is set of a table. */
    SETTING,
    /** A file or a definition, with its differing lines or members. */
    CONTENT;

    public String code() {
      return name().toLowerCase(java.util.Locale.ROOT);
    }
  }

  public PartDifference {
    attributes = List.copyOf(attributes);
  }

  /** That a table has another name; null of whatever keeps its name. */
  public static @Nullable PartDifference renamed(ComponentKey table, Renaming names) {
    TableName is = table.kind() == Kind.TABLE ? TableName.of(table.name()) : null;
    return is == null || !names.isRenamed(is)
        ? null
        : new PartDifference(
            Part.TABLE,
            "",
            Difference.CHANGED,
            List.of(
                AttributeDifference.of(
                    "name", names.before(is).toString(), is.toString(), false, false)),
            null);
  }

  /** How a removal or a decision names the part, for example {@code column/surcharge}. */
  public String path() {
    return part.code() + "/" + name;
  }
}
