package plenzo.core.object;

import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.object.ObjectDelta.Act;
import plenzo.core.object.SchemaObject.Needed;
import plenzo.core.object.SchemaObject.Sort;
import plenzo.core.table.Renaming;
import plenzo.core.table.StructureChange;
import plenzo.core.table.TableStructure;
import plenzo.core.target.TablesDelta;

/**
 * What is done with schema objects so that what is planned can be done: what a version brings or
 * takes away, and what must go and be made again, because it builds on something that goes or whose
 * type changes.
 */
public final class ObjectsPlan {
  private final Map<ComponentKey, SchemaObject> there;
  private final Map<TableName, TableStructure> tables;
  private final TablesDelta delta;
  private final Map<ComponentKey, ObjectDelta> out = new TreeMap<>();

  /** Tables whole, objects whole, and parts of tables that are not there for a moment. */
  private final Set<ComponentKey> gone = new HashSet<>();

  private final Map<ComponentKey, Set<String>> goneParts = new HashMap<>();

  private ObjectsPlan(
      Map<ComponentKey, SchemaObject> there,
      Map<TableName, TableStructure> tables,
      TablesDelta delta) {
    this.there = there;
    this.tables = tables;
    this.delta = delta;
  }

  /**
   * One object that a version brings or takes away.
   *
   * @param result null when it goes
   */
  public record Change(
      ComponentKey key, @Nullable SchemaObject present, @Nullable SchemaObject result) {}

  /**
   * @param there every schema object of the site as it is now
   * @param tables every table of the site as it is now
   * @param delta what is done to tables
   * @param owned components of the version: of those, materialized views are filled again
   */
  public static List<ObjectDelta> of(
      Collection<Change> changes,
      Map<ComponentKey, SchemaObject> there,
      Map<TableName, TableStructure> tables,
      TablesDelta delta,
      Set<ComponentKey> owned) {
    ObjectsPlan plan = new ObjectsPlan(there, tables, delta);
    plan.tables();
    plan.changes(changes);
    plan.closure(changes);
    plan.refreshed(owned);
    return List.copyOf(plan.out.values());
  }

  private void tables() {
    for (TablesDelta.TableDelta t : delta.tables()) {
      ComponentKey key = new ComponentKey(Kind.TABLE, t.table().componentName());
      for (StructureChange c : StructureChange.between(t.table(), t.present(), t.result())) {
        switch (c.act()) {
          case DROP_TABLE -> gone.add(key);
          case DROP_COLUMN, DROP_COMPUTED -> part(key, "column/" + c.name());
          case CHANGE_COLUMN -> {
            if (retyped(c)) {
              part(key, "column/" + c.name());
            }
          }
          case DROP_CONSTRAINT, DROP_FOREIGN_KEY -> part(key, "constraint/" + c.name());
          default -> {
            // nothing else is in the way of what builds on it
          }
        }
      }
    }
  }

  private static boolean retyped(StructureChange c) {
    return !Objects.requireNonNull(c.before())
            .type()
            .equals(Objects.requireNonNull(c.after()).type())
        || !Objects.equals(c.before().collation(), c.after().collation())
        || c.after().isComputed() && !Objects.equals(c.before().generated(), c.after().generated());
  }

  private void part(ComponentKey table, String part) {
    goneParts.computeIfAbsent(table, k -> new HashSet<>()).add(part);
  }

  private void changes(Collection<Change> changes) {
    for (Change c : changes) {
      SchemaObject result = c.result();
      SchemaObject present = c.present();
      Act act =
          present == null
              ? Act.MAKE
              : result == null
                  ? Act.DROP
                  : altered(present, result, changes) ? Act.ALTER : Act.REBUILD;
      put(c.key(), act, present, result);
    }
  }

  private void put(
      ComponentKey key, Act act, @Nullable SchemaObject present, @Nullable SchemaObject result) {
    List<ObjectDelta.Column> columns =
        act != Act.REBUILD || present == null
            ? List.of()
            : key.kind() == Kind.TYPE
                ? columns(key)
                : key.kind() == Kind.ROUTINE ? using(key) : List.of();
    out.put(key, new ObjectDelta(key, act, present, result, columns));
    if (act == Act.DROP || act == Act.REBUILD) {
      gone.add(key);
    }
    columns.forEach(this::part);
  }

  /** A column that is not there for a moment, with those that are computed from it. */
  private void part(ObjectDelta.Column c) {
    ComponentKey table = new ComponentKey(Kind.TABLE, c.table().componentName());
    if (!c.column().isEmpty()) {
      part(table, "column/" + c.column());
      c.structure().columns().stream()
          .filter(x -> x.generated() != null && Renaming.names(x.generated(), c.column()))
          .forEach(x -> part(table, "column/" + x.name()));
    }
  }

  /** Tables that stay and of which something names a routine. */
  private List<ObjectDelta.Column> using(ComponentKey routine) {
    KnownObjects known = new KnownObjects(Set.of(routine));
    List<ObjectDelta.Column> found = new ArrayList<>();
    tables.forEach(
        (name, structure) -> {
          TableStructure result =
              delta.find(name).map(TablesDelta.TableDelta::result).orElse(structure);
          boolean goes = delta.find(name).filter(t -> t.result() == null).isPresent();
          if (!goes && needs(known, result, routine)) {
            found.add(new ObjectDelta.Column(name, "", result));
            ComponentKey table = new ComponentKey(Kind.TABLE, name.componentName());
            known.needs(
                result,
                name.schema(),
                (part, k) -> {
                  boolean computed =
                      result.columns().stream()
                          .anyMatch(c -> c.isComputed() && part.equals("column/" + c.name()));
                  if (computed || part.startsWith("constraint/")) {
                    part(table, part);
                  }
                });
          }
        });
    return found;
  }

  /** Whether it becomes the other where it stands. */
  private boolean altered(SchemaObject present, SchemaObject result, Collection<Change> changes) {
    if (!present.canBecome(result)) {
      return false;
    }
    return present.sort() != Sort.ENUM
        || present.shape().equals(result.shape())
        || !usesLabels(present, result, changes);
  }

  /**
   * Whether a new label may be used in the same transaction, which the server refuses: by rows or
   * structures of a table with the type, or by an object that names one.
   */
  private boolean usesLabels(
      SchemaObject present, SchemaObject result, Collection<Change> changes) {
    Set<TableName> having = new HashSet<>();
    columns(present.key()).forEach(c -> having.add(c.table()));
    KnownObjects known = new KnownObjects(Set.of(present.key()));
    for (TablesDelta.TableDelta t : delta.tables()) {
      if (having.contains(t.table()) || needs(known, t.result(), present.key())) {
        return true;
      }
    }
    return result.shape().stream()
        .filter(label -> !present.shape().contains(label))
        .anyMatch(
            label ->
                changes.stream()
                    .map(Change::result)
                    .filter(Objects::nonNull)
                    .filter(r -> !r.key().equals(present.key()))
                    .anyMatch(r -> r.text().contains("'" + label.replace("'", "''") + "'")));
  }

  private static boolean needs(
      KnownObjects known, @Nullable TableStructure structure, ComponentKey key) {
    boolean[] found = {false};
    if (structure != null) {
      known.needs(structure, key.name(), (part, k) -> found[0] |= k.equals(key));
    }
    return found[0];
  }

  /** Columns of tables that stay, whose type it is, alone or as an array. */
  private List<ObjectDelta.Column> columns(ComponentKey type) {
    KnownObjects known = new KnownObjects(Set.of(type));
    List<ObjectDelta.Column> found = new ArrayList<>();
    tables.forEach(
        (name, structure) -> {
          TableStructure result =
              delta.find(name).map(TablesDelta.TableDelta::result).orElse(structure);
          if (delta.find(name).filter(t -> t.result() == null).isEmpty()) {
            structure.columns().stream()
                .filter(
                    c -> result.column(c.name()).filter(x -> x.type().equals(c.type())).isPresent())
                .filter(c -> named(known, c.type()))
                .forEach(c -> found.add(new ObjectDelta.Column(name, c.name(), result)));
          }
        });
    return found;
  }

  private static boolean named(KnownObjects known, String type) {
    return plenzo.core.inventory.NamedThings.in(type).stream()
        .anyMatch(n -> !known.named(n).isEmpty());
  }

  /** Whatever builds on something that goes must go before it and is made again after it. */
  private void closure(Collection<Change> changes) {
    Map<ComponentKey, Change> planned = new LinkedHashMap<>();
    changes.forEach(c -> planned.put(c.key(), c));
    boolean more = true;
    while (more) {
      more = false;
      for (SchemaObject o : there.values()) {
        ObjectDelta now = out.get(o.key());
        if (now != null && now.act() != Act.ALTER || !builtOnGone(o)) {
          continue;
        }
        if (withItsTable(o)) {
          put(o.key(), Act.DROP, o, null);
        } else {
          put(o.key(), Act.REBUILD, o, now == null ? o : now.result());
        }
        more = true;
      }
    }
  }

  /** What works on a table goes with it. */
  private boolean withItsTable(SchemaObject o) {
    TableName on = o.name().on();
    return on != null && gone.contains(new ComponentKey(Kind.TABLE, on.componentName()));
  }

  private boolean builtOnGone(SchemaObject o) {
    TableName on = o.name().on();
    for (Needed n : o.needs()) {
      if (gone.contains(n.component())) {
        return true;
      }
      Set<String> parts = goneParts.getOrDefault(n.component(), Set.of());
      Map<String, String> renamed =
          n.component().kind() == Kind.TABLE
              ? delta.renaming().columns(TableName.of(n.component().name()))
              : Map.of();
      boolean own = on != null && n.component().name().equals(on.componentName());
      if (n.parts().isEmpty()
          ? !parts.isEmpty() && !own
          : n.parts().stream().map(p -> named(p, renamed)).anyMatch(parts::contains)) {
        return true;
      }
    }
    return false;
  }

  /** A part by the name that its column has then. */
  private static String named(String part, Map<String, String> renamed) {
    String column = "column/";
    String is = part.startsWith(column) ? renamed.get(part.substring(column.length())) : null;
    return is == null ? part : column + is;
  }

  /** Materialized views show rows of before until they are filled again. */
  private void refreshed(Set<ComponentKey> owned) {
    Set<ComponentKey> moved = new HashSet<>();
    delta.staged().forEach(s -> moved.add(table(s.table().table())));
    delta.reached().forEach(r -> moved.add(table(r.table())));
    out.values().stream()
        .filter(o -> o.key().kind() == Kind.VIEW && o.act() != Act.REFRESH)
        .forEach(o -> moved.add(o.key()));
    boolean more = !moved.isEmpty();
    while (more) {
      more = false;
      for (SchemaObject o : there.values()) {
        if (o.key().kind() == Kind.VIEW
            && !moved.contains(o.key())
            && o.needs().stream().anyMatch(n -> moved.contains(n.component()))) {
          moved.add(o.key());
          more = true;
          if (o.sort() == Sort.MATERIALIZED_VIEW
              && owned.contains(o.key())
              && !out.containsKey(o.key())) {
            out.put(o.key(), new ObjectDelta(o.key(), Act.REFRESH, o, o, List.of()));
          }
        }
      }
    }
  }

  private static ComponentKey table(TableName name) {
    return new ComponentKey(Kind.TABLE, name.componentName());
  }
}
