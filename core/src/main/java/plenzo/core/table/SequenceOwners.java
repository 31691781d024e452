package plenzo.core.table;

import java.util.HashMap;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import plenzo.core.component.TableName;

/**
 * Which tables own sequences: a table whose default draws from one of another table's is built on
 * that table.
 */
public final class SequenceOwners {
  private final Map<String, TableName> owners = new HashMap<>();

  public SequenceOwners(Map<TableName, TableStructure> tables) {
    tables.forEach(
        (table, structure) ->
            structure.columns().stream()
                .map(Column::sequence)
                .filter(java.util.Objects::nonNull)
                .forEach(s -> owners.put(qualified(s.name(), table.schema()), table)));
  }

  private static String qualified(String name, String schema) {
    String bare = name.replace("\"", "");
    return bare.indexOf('.') < 0 ? schema + "." + bare : bare;
  }

  /** Other tables from whose sequences defaults of a table draw. */
  public Set<TableName> of(TableName table, TableStructure structure) {
    Set<TableName> out = new TreeSet<>(java.util.Comparator.comparing(TableName::toString));
    NeededSequences.of(structure)
        .byColumn()
        .values()
        .forEach(
            name -> {
              TableName owner = owners.get(qualified(name, table.schema()));
              if (owner != null && !owner.equals(table)) {
                out.add(owner);
              }
            });
    return out;
  }
}
