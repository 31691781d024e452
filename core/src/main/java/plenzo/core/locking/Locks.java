package plenzo.core.locking;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Predicate;
import plenzo.core.component.TableName;
import plenzo.core.object.ObjectDelta;
import plenzo.core.object.SchemaObject;
import plenzo.core.table.Constraint;
import plenzo.core.table.Renaming;
import plenzo.core.table.StructureChange;
import plenzo.core.table.StructureChange.Act;
import plenzo.core.target.TablesDelta;
import plenzo.core.words.Words;

/**
 * The tables that a switch holds, all at once and in one fixed order, so that two runs cannot wait
 * for each other. What a plan says and what a run does are both asked here.
 */
public final class Locks {
  private static final Comparator<TableName> ORDER =
      Comparator.comparing(TableName::schema).thenComparing(TableName::table);

  private final Map<TableName, Hold> holds = new TreeMap<>(ORDER);
  private final Map<TableName, Set<String>> because = new HashMap<>();

  private final Renaming renaming;

  private Locks(Renaming renaming) {
    this.renaming = renaming;
  }

  /**
   * @param isTable whether a name is a table's there: a view is held with what it shows, and what
   *     only comes cannot be held
   */
  public static Locks of(TablesDelta delta, Predicate<TableName> isTable) {
    Locks out = new Locks(delta.renaming());
    for (TablesDelta.TableDelta t : delta.tables()) {
      if (t.present() != null) {
        out.table(delta, t);
      }
    }
    for (ObjectDelta o : delta.objects()) {
      out.object(o, isTable);
    }
    delta
        .reached()
        .forEach(r -> out.hold(r.table(), Hold.WRITES, "rows of it go or change with others"));
    return out;
  }

  /** In the order in which they are taken, by the names of afterwards. */
  public Map<TableName, Hold> holds() {
    return java.util.Collections.unmodifiableMap(holds);
  }

  /** The same for people, who know the tables by their names of now. */
  public List<TableLock> words() {
    List<TableLock> out = new ArrayList<>();
    holds.forEach(
        (table, hold) ->
            out.add(
                new TableLock(
                    renaming.before(table).toString(),
                    hold,
                    List.copyOf(because.getOrDefault(table, Set.of())))));
    return out;
  }

  private void hold(TableName table, Hold hold, String why) {
    holds.merge(table, hold, (a, b) -> a.compareTo(b) < 0 ? b : a);
    because.computeIfAbsent(table, t -> new LinkedHashSet<>()).add(why);
  }

  private void table(TablesDelta delta, TablesDelta.TableDelta t) {
    boolean renamed = delta.renaming().touches(t.table());
    if (t.result() == null) {
      hold(t.table(), Hold.EVERYTHING, "it goes");
    } else if (t.structureChanges() || renamed) {
      hold(
          t.table(),
          Hold.EVERYTHING,
          t.structureChanges()
              ? "its structure changes"
              : delta.renaming().isRenamed(t.table())
                  ? "it gets another name"
                  : "columns of it get other names");
    }
    long rows = t.writes().stream().mapToLong(TablesDelta.RowsDelta::total).sum();
    if (rows > 0) {
      hold(
          t.table(),
          Hold.WRITES,
          Words.count(rows, "row") + (rows == 1 ? " of it is" : " of it are") + " written");
    }
    if (!holds.containsKey(t.table())) {
      hold(t.table(), Hold.WRITES, "it is looked at");
    }
    for (Constraint k : delta.madeAgain(t)) {
      hold(
          t.table(),
          Hold.EVERYTHING,
          k.name() + " of it is made again, as the key goes on which it rests");
    }
    for (StructureChange c : delta.changes(t)) {
      Constraint k = c.constraint();
      TableName other = k == null ? null : k.references();
      if (other != null && !other.equals(t.table()) && !comes(delta, other)) {
        boolean drops = c.act() == Act.DROP_FOREIGN_KEY;
        hold(
            other,
            drops ? Hold.EVERYTHING : Hold.WRITES,
            t.table() + (drops ? " no longer points at it" : " points at it from now on"));
      }
    }
  }

  private static boolean comes(TablesDelta delta, TableName table) {
    return delta.find(table).filter(t -> t.present() == null).isPresent();
  }

  private void object(ObjectDelta o, Predicate<TableName> isTable) {
    SchemaObject is = o.present() == null ? o.becomes() : o.was();
    TableName on = is.sort() == SchemaObject.Sort.GRANT ? null : is.name().on();
    if (on != null && isTable.test(on)) {
      hold(
          on,
          is.sort() == SchemaObject.Sort.POLICY ? Hold.EVERYTHING : Hold.WRITES,
          "what works on it changes: " + is.key());
    }
    for (ObjectDelta.Column c : o.columns()) {
      hold(c.table(), Hold.EVERYTHING, "a column of it has a type that is exchanged");
    }
  }
}
