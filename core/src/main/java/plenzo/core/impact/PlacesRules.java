package plenzo.core.impact;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Consumer;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.impact.Finding.Severity;
import plenzo.core.promotion.Promotion.ComponentResult;
import plenzo.core.table.Column;
import plenzo.core.table.TableStructure;
import plenzo.core.target.TablesDelta;
import plenzo.core.words.Words;

/** How columns stand where no statement changes it: what stays different is said. */
final class PlacesRules {
  static final List<Rule<ImpactCase>> ALL =
      List.of(
          Rule.of("columns-otherwise", Severity.RISK, PlacesRules::order),
          Rule.of("declared-otherwise", Severity.RISK, PlacesRules::declared));

  private PlacesRules() {}

  /** Looks at a table as the version has it, and as it will be at the site. */
  private interface Look {
    void at(TableName table, TableStructure comes, TableStructure stays);
  }

  /** Tables that are there and stay: one that comes stands as the version has it. */
  private static void each(ImpactCase impact, Look look) {
    Map<TableName, TableStructure> after = impact.after();
    for (ComponentResult c : impact.components()) {
      if (c.key().kind() != Kind.TABLE) {
        continue;
      }
      TableName table = TableName.of(c.key().name());
      TableStructure stays = after.get(table);
      if (stays != null && impact.delta(table).map(d -> d.present() != null).orElse(Boolean.TRUE)) {
        impact.told().comes().apply(table).ifPresent(comes -> look.at(table, comes, stays));
      }
    }
  }

  private static void order(ImpactCase impact, Consumer<Finding> found) {
    each(
        impact,
        (table, comes, stays) ->
            ColumnsOtherwise.atSite(table, stays.places(), comes.places()).ifPresent(found));
  }

  private static void declared(ImpactCase impact, Consumer<Finding> found) {
    Map<TableName, TableStructure> after = impact.after();
    each(
        impact,
        (table, comes, stays) -> {
          Set<String> there = comes.places().handed();
          Set<String> here = stays.places().handed();
          if (there == null || here == null) {
            return;
          }
          List<String> more = new ArrayList<>();
          List<String> fewer = new ArrayList<>();
          for (String column : inherited(stays, after)) {
            boolean handed = here.contains(column) || isNew(impact, table, column);
            if (comes.column(column).isPresent() && handed != there.contains(column)) {
              (handed ? fewer : more).add(column);
            }
          }
          say(table, more, "Here ", "in what comes it has ", found);
          say(table, fewer, "In what comes ", "here it has ", found);
        });
  }

  private static void say(
      TableName table, List<String> columns, String where, String has, Consumer<Finding> found) {
    if (!columns.isEmpty()) {
      boolean one = columns.size() == 1;
      found.accept(
          Finding.said(
              "declared-otherwise",
              Severity.NOTE,
              "table/" + table,
              where
                  + table
                  + " declares "
                  + (one ? "the inherited column " : "the inherited columns ")
                  + Words.and(columns, ColumnsOtherwise.NAMED)
                  + " itself too; "
                  + has
                  + (one ? "it" : "them")
                  + " by inheriting alone. No statement changes that: it stays.",
              "Nothing differs until such a column goes from a table above it by hand: one that is"
                  + " declared stays then"));
    }
  }

  private static Set<String> inherited(TableStructure table, Map<TableName, TableStructure> all) {
    Set<String> out = new TreeSet<>();
    for (TableName parent : table.inherits()) {
      TableStructure above = all.get(parent);
      if (above != null) {
        above.columns().stream()
            .map(Column::name)
            .filter(c -> table.column(c).isPresent())
            .forEach(out::add);
      }
    }
    return out;
  }

  /** What comes to a table and to one above it is handed down. */
  private static boolean isNew(ImpactCase impact, TableName table, String column) {
    return impact
        .delta(table)
        .map(TablesDelta.TableDelta::present)
        .map(was -> was.column(column).isEmpty())
        .orElse(Boolean.FALSE);
  }
}
