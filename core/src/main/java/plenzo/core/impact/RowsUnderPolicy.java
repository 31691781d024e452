package plenzo.core.impact;

import java.util.Optional;
import plenzo.core.comparison.Counts;
import plenzo.core.component.ComponentKey;
import plenzo.core.impact.Finding.Severity;
import plenzo.core.records.RowsPolicy;

/** What the policy of a version's rows does to those of a site, said before a run. */
final class RowsUnderPolicy {
  private RowsUnderPolicy() {}

  /**
   * @param rows how many of them fell into each class
   */
  static Optional<Finding> of(ComponentKey records, RowsPolicy policy, Counts rows) {
    if (policy == RowsPolicy.MIRROR && rows.removed() > 0) {
      return Optional.of(
          Finding.of(
              "mirror-removes",
              Severity.RISK,
              records.toString(),
              records
                  + " is a mirror: "
                  + count(
                      rows.removed(),
                      " that only the site has goes.",
                      " that only the site has go."),
              rows.removed(),
              "Look at them, and take into development what is to stay; by the earlier version they come back where rows are told apart by the primary key, by the backup always",
              null));
    }
    if (policy == RowsPolicy.ADD_ONLY && rows.kept() > 0) {
      return Optional.of(
          Finding.of(
              "rows-stay",
              Severity.NOTE,
              records.toString(),
              records
                  + " is add only: "
                  + count(
                      rows.kept(),
                      " that the site has otherwise, or alone, stays as it is.",
                      " that the site has otherwise, or alone, stay as they are."),
              rows.kept(),
              "Nothing, unless the site should have what the version has",
              null));
    }
    return Optional.empty();
  }

  private static String count(long rows, String one, String many) {
    return rows == 1 ? "1 row" + one : rows + " rows" + many;
  }
}
