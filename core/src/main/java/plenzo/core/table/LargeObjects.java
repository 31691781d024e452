package plenzo.core.table;

import java.util.List;
import plenzo.core.component.TableName;
import plenzo.core.words.Words;

/**
 * Columns that hold numbers of large objects (type {@code oid}, or {@code lo} of the extension of
 * that name). The objects stand in no table and no schema: rows are carried with the numbers, and
 * the objects stay where they are, so that a number is of another object at another site, or of
 * none.
 */
public final class LargeObjects {
  /** What somebody who takes such rows does next. */
  public static final String ADVICE =
      "See whether the numbers are those of large objects; then bring the objects by hand, or keep"
          + " what they hold in a column of type bytea";

  /** The same where some are. */
  public static final String BRING =
      "Bring the objects by hand, or keep what they hold in a column of type bytea";

  private LargeObjects() {}

  /** Names of such columns, as they stand in the table. */
  public static List<String> columns(TableStructure table) {
    return table.inOrder().stream()
        .filter(c -> c.type().equals("oid") || c.type().matches("(.*\\.)?lo"))
        .map(Column::name)
        .toList();
  }

  /** What is said of such columns, behind the name of the table or rows; nothing of none. */
  public static String said(List<String> columns) {
    return columns.isEmpty()
        ? ""
        : (columns.size() == 1 ? "its column " : "its columns ")
            + String.join(", ", columns)
            + (columns.size() == 1 ? " holds" : " hold")
            + " numbers that may be those of large objects: the numbers are carried, the objects"
            + " are not";
  }

  /** What is said of the rows of a table where it was asked whose numbers they hold. */
  public static String counted(TableName table, List<String> columns, long rows) {
    return rows == 0
        ? "No row of "
            + table
            + " at the source holds in "
            + String.join(" or ", columns)
            + " the number of a large object that is there."
        : Words.count(rows, "row")
            + " of "
            + table
            + " at the source "
            + (rows == 1 ? "holds" : "hold")
            + " in "
            + String.join(" or ", columns)
            + " the number of a large object: the numbers are carried, the objects are not.";
  }
}
