package plenzo.core.target;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import plenzo.core.component.TableName;
import plenzo.core.table.Constraint;
import plenzo.core.table.TableStructure;

/** How far the removal of rows reaches through foreign keys. */
public final class Reach {
  /** Hops that are followed; longer chains are cut (guess: deeper than schemas in use). */
  private static final int DEEPEST = 8;

  private Reach() {}

  /**
   * One foreign key on the way.
   *
   * @param onDelete whether the database changes the pointing rows when a row goes
   * @param onUpdate whether it changes them when a value that they point at changes
   * @param removes whether it removes them when a row goes, so that the reach goes on
   */
  public record Edge(
      Question.Hop hop, String name, boolean onDelete, boolean onUpdate, boolean removes) {}

  /** Every path of foreign keys that leads to the table; each table and key once a path. */
  public static List<List<Edge>> from(TableName table, Map<TableName, TableStructure> tables) {
    List<List<Edge>> out = new ArrayList<>();
    walk(table, List.of(), new HashSet<>(), tables, out);
    return out;
  }

  private static void walk(
      TableName table,
      List<Edge> before,
      Set<String> seen,
      Map<TableName, TableStructure> tables,
      List<List<Edge>> out) {
    for (Map.Entry<TableName, TableStructure> other : tables.entrySet()) {
      for (Constraint k : other.getValue().foreignKeys()) {
        if (!table.equals(k.references()) || !seen.add(other.getKey() + "#" + k.name())) {
          continue;
        }
        boolean removes = k.definition().contains("ON DELETE CASCADE");
        List<Edge> path = new ArrayList<>(before);
        path.add(
            new Edge(
                new Question.Hop(other.getKey(), k.columns(), k.referencedColumns()),
                k.name(),
                removes || k.definition().contains("ON DELETE SET"),
                k.definition().contains("ON UPDATE CASCADE")
                    || k.definition().contains("ON UPDATE SET"),
                removes));
        out.add(List.copyOf(path));
        if (removes && path.size() < DEEPEST) {
          walk(other.getKey(), path, seen, tables, out);
        }
      }
    }
  }
}
