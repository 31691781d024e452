package plenzo.core.impact;

import java.util.ArrayList;
import java.util.List;
import java.util.function.Predicate;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.impact.Finding.Severity;
import plenzo.core.table.Renaming;

/**
 * Tables that are to get a name that another table of the site has, or whose name another table of
 * the version takes: names are given first, all at once, so that neither can be done.
 */
final class NamesTaken {
  private NamesTaken() {}

  /**
   * @param wanted what versions tell
   * @param comes whether the version has a table of that name
   * @param there whether a table is at the site, by its name of now
   */
  static List<Finding> of(Renaming wanted, Predicate<TableName> there, Predicate<TableName> comes) {
    List<Finding> out = new ArrayList<>();
    wanted
        .tables()
        .forEach(
            (was, is) -> {
              if (there.test(was) && !there.test(is) && comes.test(was)) {
                out.add(
                    Finding.said(
                        "name-reused",
                        Severity.BLOCKER,
                        new ComponentKey(Kind.TABLE, was.componentName()).toString(),
                        was
                            + " is to be called "
                            + is
                            + ", and another table then takes its name: one run cannot do both.",
                        "Bring the version between them first"));
              } else if (there.test(was) && there.test(is)) {
                out.add(
                    Finding.said(
                        "name-taken",
                        Severity.BLOCKER,
                        new ComponentKey(Kind.TABLE, is.componentName()).toString(),
                        was + " is to be called " + is + ", and both are at the site.",
                        "Look which of them has the rows that count, and take the other away there"));
              }
            });
    return out;
  }
}
