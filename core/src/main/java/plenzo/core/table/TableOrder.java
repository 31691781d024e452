package plenzo.core.table;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import plenzo.core.component.TableName;

/** The order in which tables are written: referenced tables first, ties by name. */
public final class TableOrder {
  private TableOrder() {}

  /**
   * Parents before children; a table on a cycle keeps its place by name, and its constraints are
   * added after the rows anyway.
   */
  public static List<TableName> parentsFirst(Map<TableName, TableStructure> tables) {
    Map<String, TableName> byName = new TreeMap<>();
    tables.keySet().forEach(t -> byName.put(t.componentName(), t));
    Set<TableName> done = new LinkedHashSet<>();
    for (TableName table : byName.values()) {
      visit(table, tables, done, new LinkedHashSet<>());
    }
    return new ArrayList<>(done);
  }

  private static void visit(
      TableName table,
      Map<TableName, TableStructure> tables,
      Set<TableName> done,
      Set<TableName> under) {
    TableStructure structure = tables.get(table);
    if (structure == null || done.contains(table) || !under.add(table)) {
      return;
    }
    structure.foreignKeys().stream()
        .map(Constraint::references)
        .filter(java.util.Objects::nonNull)
        .sorted(java.util.Comparator.comparing(TableName::componentName))
        .forEach(parent -> visit(parent, tables, done, under));
    done.add(table);
  }
}
