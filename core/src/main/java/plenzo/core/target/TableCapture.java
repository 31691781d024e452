package plenzo.core.target;

import java.util.List;
import java.util.Map;
import plenzo.core.component.TableName;
import plenzo.core.table.TableStructure;

/**
 * One table as it was read.
 *
 * @param objectId the server's own id of the table; means nothing on another server
 * @param attributes attribute number by column, to tell a rename from a drop and an add
 * @param refusals what cannot be carried and changes what rows mean: the table cannot be picked
 * @param risks what cannot be carried and stays untouched at the target
 * @param longValues whether it may have values that do not stand in their rows
 */
public record TableCapture(
    TableName table,
    long objectId,
    TableStructure structure,
    Map<String, Integer> attributes,
    List<String> refusals,
    List<String> risks,
    boolean longValues) {
  public TableCapture {
    attributes = Map.copyOf(attributes);
    refusals = List.copyOf(refusals);
    risks = List.copyOf(risks);
  }

  /** A table that is there and of which nothing else can be told. */
  public static TableCapture unreadable(TableName table, String why) {
    return new TableCapture(
        table,
        table.toString().hashCode(),
        new TableStructure(List.of(), List.of(), List.of(), null),
        Map.of(),
        List.of(why),
        List.of(),
        /* longValues= */ false);
  }

  /** Whether nothing could be told but that it is there. */
  public boolean unreadable() {
    return structure.columns().isEmpty() && !refusals.isEmpty();
  }
}
