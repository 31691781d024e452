package plenzo.core.table;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import plenzo.core.component.Before;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.ComponentOrder;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;

/** The order in which tables are written. */
public final class TableOrder {
  private TableOrder() {}

  /**
   * Parents before children, by foreign keys, by inheritance and by sequences, then as a person
   * moved them, ties by name; constraints of a cycle are added after the rows anyway. To move a
   * table or its rows is the same here.
   */
  public static List<TableName> parentsFirst(
      Map<TableName, TableStructure> tables, List<Before> moved) {
    Map<ComponentKey, List<ComponentKey>> needs = new HashMap<>();
    SequenceOwners owners = new SequenceOwners(tables);
    tables.forEach(
        (table, structure) ->
            needs.put(
                key(table),
                Stream.of(
                        structure.inherits().stream(),
                        owners.of(table, structure).stream(),
                        structure.foreignKeys().stream()
                            .map(Constraint::references)
                            .filter(java.util.Objects::nonNull))
                    .flatMap(t -> t)
                    .map(TableOrder::key)
                    .toList()));
    List<Before> asTables =
        moved.stream()
            .filter(b -> !b.first().kind().whole() && !b.then().kind().whole())
            .filter(b -> !b.first().name().equals(b.then().name()))
            .map(b -> new Before(table(b.first()), table(b.then())))
            .toList();
    return ComponentOrder.of(needs.keySet(), needs, asTables).keys().stream()
        .map(k -> TableName.of(k.name()))
        .toList();
  }

  private static ComponentKey key(TableName table) {
    return new ComponentKey(Kind.TABLE, table.componentName());
  }

  private static ComponentKey table(ComponentKey key) {
    return new ComponentKey(Kind.TABLE, key.name());
  }
}
