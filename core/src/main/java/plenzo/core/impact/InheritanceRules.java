package plenzo.core.impact;

import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.function.Consumer;
import plenzo.core.component.TableName;
import plenzo.core.impact.Finding.Severity;
import plenzo.core.table.Column;
import plenzo.core.table.TableStructure;
import plenzo.core.target.TablesDelta;

/** Rules about tables that inherit from others. */
final class InheritanceRules {
  static final List<Rule<ImpactCase>> ALL =
      List.of(
          Rule.of("needed-missing", Severity.BLOCKER, InheritanceRules::missing),
          Rule.of("dependent-breaks", Severity.BLOCKER, InheritanceRules::going),
          Rule.of("inherited-otherwise", Severity.BLOCKER, InheritanceRules::otherwise));

  private InheritanceRules() {}

  private static void missing(ImpactCase impact, Consumer<Finding> found) {
    Map<TableName, TableStructure> after = impact.after();
    for (TablesDelta.TableDelta t : impact.delta().tables()) {
      if (t.result() == null) {
        continue;
      }
      for (TableName parent : t.result().inherits()) {
        if (!after.containsKey(parent)) {
          found.accept(
              Finding.said(
                  "needed-missing",
                  Severity.BLOCKER,
                  "table/" + t.table(),
                  "It inherits from " + parent + ", which is not at the site and does not come.",
                  "Take it into the version, or create it at the site first"));
        }
      }
    }
  }

  private static void going(ImpactCase impact, Consumer<Finding> found) {
    Map<TableName, TableStructure> after = impact.after();
    for (TablesDelta.TableDelta t : impact.delta().tables()) {
      if (t.result() != null) {
        continue;
      }
      after.forEach(
          (name, structure) -> {
            if (structure.inherits().contains(t.table())
                && impact.delta(name).map(TablesDelta.TableDelta::structureChanges).isEmpty()) {
              found.accept(
                  Finding.said(
                      "dependent-breaks",
                      Severity.BLOCKER,
                      "table/" + t.table(),
                      name + " at the site inherits from it, and it goes.",
                      "Keep it, or let what inherits from it go with the version too"));
            }
          });
    }
  }

  /** What is handed down must be there so: the server holds each table to those above it. */
  private static void otherwise(ImpactCase impact, Consumer<Finding> found) {
    Map<TableName, TableStructure> after = impact.after();
    for (TablesDelta.TableDelta t : impact.delta().tables()) {
      TableStructure is = t.result();
      if (is == null || !t.structureChanges()) {
        continue;
      }
      for (TableName parent : is.inherits()) {
        TableStructure above = after.get(parent);
        for (Column c : above == null ? List.<Column>of() : above.columns()) {
          String own = is.column(c.name()).map(Column::type).orElse(null);
          if (!Objects.equals(own, c.type())) {
            found.accept(
                Finding.said(
                    "inherited-otherwise",
                    Severity.BLOCKER,
                    "table/" + t.table() + "#column/" + c.name(),
                    "It inherits from "
                        + parent
                        + ", whose column "
                        + c.name()
                        + " is "
                        + c.type()
                        + (own == null
                            ? ", and would not have it."
                            : ", and would have " + own + "."),
                    "Take both tables into the version as they stand together in development"));
          }
        }
      }
    }
  }
}
