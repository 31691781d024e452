package plenzo.core.impact;

import java.util.List;
import java.util.Optional;
import plenzo.core.component.TableName;
import plenzo.core.impact.Finding.Severity;
import plenzo.core.table.ColumnPlaces;

/** What is said where the columns of a table stand in another order than in another place. */
public final class ColumnsOtherwise {
  /** So many columns are named in a sentence (guess). */
  static final int NAMED = 12;

  private static final String RULE = "columns-otherwise";

  private ColumnsOtherwise() {}

  /** Of what a plan finds at a site: the order of the site stays. */
  static Optional<Finding> atSite(TableName table, ColumnPlaces here, ColumnPlaces comes) {
    return of(
        table, here, comes, "here than in what comes", "No statement changes that: it stays.");
  }

  /**
   * Of what a draft takes from its source: each site that has the table keeps its own order.
   *
   * @param before the version drafted from, by the names that columns have now
   */
  public static Optional<Finding> inDraft(
      TableName table, ColumnPlaces source, ColumnPlaces before, String version) {
    return of(
        table,
        source,
        before,
        "at the source than in " + version,
        "No statement changes that: sites that have the table keep the order that they have.");
  }

  private static Optional<Finding> of(
      TableName table, ColumnPlaces here, ColumnPlaces there, String where, String stays) {
    List<String> one = here.otherwise(there);
    List<String> other = there.otherwise(here);
    return one.isEmpty()
        ? Optional.empty()
        : Optional.of(
            Finding.said(
                RULE,
                Severity.NOTE,
                "table/" + table,
                "The columns of "
                    + table
                    + " stand in another order "
                    + where
                    + ": "
                    + shown(one, other)
                    + " instead of "
                    + shown(other, one)
                    + ". "
                    + stays,
                "See that whatever reads or writes the table names its columns"));
  }

  /** All columns, or of many some from where the two orders part. */
  private static String shown(List<String> columns, List<String> other) {
    int from = 0;
    if (columns.size() > NAMED) {
      while (columns.get(from).equals(other.get(from))) {
        from++;
      }
    }
    int until = Math.min(columns.size(), from + NAMED);
    return (from == 0 ? "" : "…, ")
        + String.join(", ", columns.subList(from, until))
        + (until == columns.size() ? "" : ", …");
  }
}
