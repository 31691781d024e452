package plenzo.core.table;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.TableName;
import plenzo.core.table.StructureChange.Act;

/**
 * Tables that inherit from others: what is done to one the server does to those that inherit from
 * it too, so that it is not done to them once more. By the rules of ALTER TABLE of PostgreSQL:
 * columns, their types, NOT NULL and checks are handed down; defaults, comments, keys and what is
 * set of a table are each table's own.
 */
public final class Inheritance {
  private Inheritance() {}

  /** One table from one structure to another; a side is null where there is none. */
  public record Change(
      TableName table, @Nullable TableStructure present, @Nullable TableStructure result) {
    private List<StructureChange> alone() {
      return StructureChange.between(table, present, result);
    }
  }

  /**
   * Everything that is to be said, table by table.
   *
   * @param tables each behind those that it inherits from
   */
  public static List<StructureChange> changes(List<Change> tables) {
    Map<TableName, Change> all = new LinkedHashMap<>();
    tables.forEach(t -> all.put(t.table(), t));
    List<StructureChange> out = new ArrayList<>();
    for (Change t : tables) {
      if (t.present() == null && t.result() != null) {
        out.addAll(made(t.table(), t.result(), all));
      } else if (t.result() != null && t.present() != null) {
        out.addAll(changed(t, t.present(), t.result(), all));
      } else {
        out.addAll(t.alone());
      }
    }
    return out;
  }

  /** Tables that inherit from one, through others too. */
  public static Set<TableName> below(TableName table, Map<TableName, TableStructure> all) {
    Set<TableName> out = new LinkedHashSet<>();
    List<TableName> open = new ArrayList<>(List.of(table));
    while (!open.isEmpty()) {
      TableName next = open.remove(0);
      all.forEach(
          (name, structure) -> {
            if (structure.inherits().contains(next) && out.add(name)) {
              open.add(name);
            }
          });
    }
    return out;
  }

  /** Tables that one inherits from, through others too. */
  public static Set<TableName> above(TableName table, Map<TableName, TableStructure> all) {
    Set<TableName> out = new LinkedHashSet<>();
    List<TableName> open = new ArrayList<>(List.of(table));
    while (!open.isEmpty()) {
      TableStructure next = all.get(open.remove(0));
      if (next != null) {
        next.inherits().stream().filter(out::add).forEach(open::add);
      }
    }
    return out;
  }

  /** The parents that a table has before and after, as many as stand first in both. */
  private static List<TableName> kept(TableStructure present, TableStructure result) {
    List<TableName> out = new ArrayList<>();
    List<TableName> was = present.inherits();
    List<TableName> is = result.inherits();
    while (out.size() < Math.min(was.size(), is.size())
        && was.get(out.size()).equals(is.get(out.size()))) {
      out.add(was.get(out.size()));
    }
    return out;
  }

  private static List<StructureChange> changed(
      Change t, TableStructure present, TableStructure result, Map<TableName, Change> all) {
    List<StructureChange> handed = handed(kept(present, result), all);
    if (handed.isEmpty()) {
      return t.alone();
    }
    if (handed.stream().anyMatch(c -> losesWhatStays(c, present, result))) {
      return apart(t, present, result);
    }
    TableStructure given = given(present, handed);
    List<StructureChange> out = new ArrayList<>();
    for (StructureChange c : handed) {
      if (isDropped(c, present)) {
        // gone with the parent's, or left where this table has it by itself too
        out.add(c.of(t.table()).whereLeft());
      }
    }
    out.addAll(StructureChange.between(t.table(), given, result));
    return out;
  }

  /**
   * What is handed down by some tables: what one of them has no more and another still has stays.
   *
   * @param all tables that change, and those that do not where they are known
   */
  public static List<StructureChange> handed(List<TableName> parents, Map<TableName, Change> all) {
    List<Change> above = new ArrayList<>();
    for (TableName parent : parents) {
      Change p = all.get(parent);
      if (p != null && p.present() != null && p.result() != null) {
        above.add(p);
      }
    }
    List<StructureChange> out = new ArrayList<>();
    for (Change p : above) {
      for (StructureChange c : p.alone()) {
        if (above.stream().noneMatch(o -> o != p && holds(o, c))) {
          out.add(c);
        }
      }
    }
    return out;
  }

  /** Whether a table keeps what another one has no more. */
  private static boolean holds(Change other, StructureChange gone) {
    TableStructure is = Objects.requireNonNull(other.result());
    return switch (gone.act()) {
      case DROP_COLUMN -> is.column(gone.name()).isPresent();
      case DROP_CONSTRAINT -> has(is, gone.constraint());
      default -> false;
    };
  }

  private static boolean isDropped(StructureChange c, TableStructure present) {
    return switch (c.act()) {
      case DROP_COLUMN, DROP_COMPUTED -> present.column(c.name()).isPresent();
      case DROP_CONSTRAINT -> isHanded(c.constraint()) && has(present, c.constraint());
      default -> false;
    };
  }

  private static boolean losesWhatStays(
      StructureChange c, TableStructure present, TableStructure result) {
    return switch (c.act()) {
      case DROP_COLUMN -> result.column(c.name()).isPresent();
      case DROP_CONSTRAINT ->
          isHanded(c.constraint()) && has(present, c.constraint()) && has(result, c.constraint());
      default -> false;
    };
  }

  private static boolean has(TableStructure table, @Nullable Constraint k) {
    return k != null && table.constraints().contains(k);
  }

  /** Whether tables that inherit get it too. */
  private static boolean isHanded(@Nullable Constraint k) {
    return k != null
        && k.type() == Constraint.Type.CHECK
        && !k.definition().endsWith(" NO INHERIT");
  }

  /** Left, changed by itself, and joined again: then nothing is handed down. */
  private static List<StructureChange> apart(
      Change t, TableStructure present, TableStructure result) {
    List<StructureChange> out =
        new ArrayList<>(
            StructureChange.between(
                t.table(), present.inheriting(List.of()), result.inheriting(List.of())));
    present
        .inherits()
        .forEach(p -> out.add(StructureChange.parent(Act.LEAVE_PARENT, t.table(), p)));
    result.inherits().forEach(p -> out.add(StructureChange.parent(Act.JOIN_PARENT, t.table(), p)));
    return out;
  }

  /** A table as it is when those that it inherits from have changed. */
  public static TableStructure given(TableStructure present, List<StructureChange> above) {
    Map<String, Column> columns = new LinkedHashMap<>();
    present.columns().forEach(c -> columns.put(c.name(), c));
    Map<String, Constraint> constraints = new LinkedHashMap<>();
    present.constraints().forEach(k -> constraints.put(k.name(), k));
    for (StructureChange c : above) {
      Column is = c.after();
      Column own = columns.get(c.name());
      Constraint k = c.constraint();
      switch (c.act()) {
        case DROP_COLUMN, DROP_COMPUTED -> columns.remove(c.name());
        case ADD_COLUMN, ADD_COMPUTED -> {
          if (own == null && is != null) {
            columns.put(c.name(), handed(is).withoutNotNull());
          }
        }
        case CHANGE_COLUMN -> {
          if (own != null && is != null) {
            columns.put(c.name(), like(own, Objects.requireNonNull(c.before()), is));
          }
        }
        case SET_NOT_NULL -> {
          if (own != null) {
            columns.put(c.name(), own.withNotNull());
          }
        }
        case DROP_CONSTRAINT -> {
          if (isHanded(k) && has(present, k)) {
            constraints.remove(c.name());
          }
        }
        case ADD_CONSTRAINT -> {
          if (k != null && isHanded(k)) {
            constraints.put(k.name(), k);
          }
        }
        default -> {
          // its own
        }
      }
    }
    return new TableStructure(
        List.copyOf(columns.values()),
        List.copyOf(constraints.values()),
        present.indexes(),
        present.comment(),
        present.places(),
        present.settings());
  }

  /** A column as those get it that inherit it. */
  private static Column handed(Column c) {
    return new Column(
        c.name(),
        c.type(),
        c.notNull(),
        c.defaultExpression(),
        null,
        c.collation(),
        null,
        null,
        c.generated());
  }

  /** A column of its own when the one above it became another. */
  private static Column like(Column own, Column was, Column is) {
    boolean typed =
        !was.type().equals(is.type()) || !Objects.equals(was.collation(), is.collation());
    return new Column(
        own.name(),
        typed ? is.type() : own.type(),
        own.notNull() && (is.notNull() || !was.notNull()),
        // its default goes with the type's change and is each table's own then
        typed && was.defaultExpression() != null ? null : own.defaultExpression(),
        own.identity(),
        typed ? is.collation() : own.collation(),
        own.sequence(),
        own.comment(),
        was.isComputed() && !is.isComputed() ? null : own.generated());
  }

  private static List<StructureChange> made(
      TableName table, TableStructure result, Map<TableName, Change> all) {
    Map<String, Column> above = new LinkedHashMap<>();
    Map<String, Constraint> checks = new HashMap<>();
    boolean known = !result.inherits().isEmpty();
    for (TableName parent : result.inherits()) {
      Change p = all.get(parent);
      if (p == null || p.result() == null) {
        known = false;
        break;
      }
      p.result().inOrder().forEach(c -> above.putIfAbsent(c.name(), c));
      p.result().constraints().stream()
          .filter(Inheritance::isHanded)
          .forEach(k -> checks.put(k.name(), k));
    }
    List<String> first = List.copyOf(above.keySet());
    List<String> order = result.inOrder().stream().map(Column::name).toList();
    boolean asIs =
        known
            && order.size() >= first.size()
            && order.subList(0, first.size()).equals(first)
            && checks.values().stream().allMatch(k -> has(result, k));
    if (!asIs) {
      // with columns in an order of its own: made by itself, and joined then
      List<StructureChange> out =
          new ArrayList<>(StructureChange.between(table, null, result.inheriting(List.of())));
      result.inherits().forEach(p -> out.add(StructureChange.parent(Act.JOIN_PARENT, table, p)));
      return out;
    }
    List<StructureChange> out = new ArrayList<>();
    Set<String> handed = new HashSet<>(above.keySet());
    // what is computed above is handed down with its expression, and declared nowhere else
    handed.removeIf(n -> !above.get(n).isComputed() && !result.places().isHanded(n));
    for (StructureChange c : StructureChange.between(table, null, result)) {
      Constraint k = c.constraint();
      if (c.act() == Act.CREATE_TABLE) {
        out.add(c.with(result.without(handed)));
        above
            .values()
            .forEach(p -> own(table, p, result, handed.contains(p.name())).ifPresent(out::add));
      } else if (k == null || !k.equals(checks.get(k.name()))) {
        out.add(c);
      }
    }
    return out;
  }

  /**
   * What a new table has of an inherited column by itself: its default, and what is said of it.
   *
   * @param alone whether it has the column by inheriting alone; one that it declares too is as
   *     declared, and takes the default from above where it states none
   */
  private static Optional<StructureChange> own(
      TableName table, Column above, TableStructure result, boolean alone) {
    Column is = result.column(above.name()).orElseThrow();
    // whether nothing may stand in it is said of all columns of a new table
    Column wanted = is.withoutNotNull();
    Column given =
        alone
            ? handed(above).withoutNotNull()
            : wanted.defaultExpression() == null && wanted.identity() == null
                ? wanted.withDefault(above.defaultExpression())
                : wanted;
    return given.equals(wanted)
        ? Optional.empty()
        : Optional.of(StructureChange.changed(table, given, wanted));
  }
}
