package plenzo.connectors.database.sql;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.object.KnownObjects;
import plenzo.core.object.ObjectDelta;
import plenzo.core.object.ObjectsOrder;
import plenzo.core.object.SchemaObject;
import plenzo.core.table.Column;
import plenzo.core.table.Constraint;
import plenzo.core.table.Renaming;
import plenzo.core.table.Setting;
import plenzo.core.table.StructureChange;
import plenzo.core.table.TableStructure;
import plenzo.core.target.TablesDelta;

/**
 * The statements of a switch about schema objects. A type that is exchanged keeps standing under
 * another name until the columns that have it have the new one; what names it in a table (a
 * default, a check, an index, a computed column) goes before and comes back after. So does a
 * routine that something uses which the plan takes away later, until that is gone.
 */
public final class ObjectsSwitch {
  private final TablesDelta delta;
  private final ObjectsOrder order;
  private final Map<ComponentKey, ObjectDelta> all = new HashMap<>();
  private final Map<ComponentKey, String> aside = new LinkedHashMap<>();

  public ObjectsSwitch(TablesDelta delta) {
    this.delta = delta;
    this.order = ObjectsOrder.of(delta);
    delta.objects().forEach(o -> all.put(o.key(), o));
    for (ObjectDelta o : order.goFirst()) {
      if (o.key().kind() == Kind.TYPE || o.key().kind() == Kind.ROUTINE && isUsedByWhatGoes(o)) {
        aside.put(o.key(), ObjectSql.aside(aside.size()));
      }
    }
    for (ObjectDelta o : order.goLater()) {
      // by then what it takes has another name, and it could not be told any more
      if (o.key().kind() == Kind.ROUTINE
          && o.was().needs().stream().anyMatch(n -> aside.containsKey(n.component()))) {
        aside.put(o.key(), ObjectSql.aside(aside.size()));
      }
    }
  }

  /** Whether a part of a table has it that goes, or becomes another, only after the routine has. */
  private boolean isUsedByWhatGoes(ObjectDelta o) {
    KnownObjects known = new KnownObjects(Set.of(o.key()));
    return delta.tables().stream()
        .anyMatch(
            t -> {
              TableStructure present = t.present();
              TableStructure result = t.result();
              if (present == null) {
                return false;
              }
              Set<String> going = new TreeSet<>();
              known.needs(present, t.table().schema(), (part, key) -> going.add(part));
              if (result != null) {
                known.needs(
                    kept(present, result), t.table().schema(), (part, key) -> going.remove(part));
              }
              return !going.isEmpty();
            });
  }

  /** What goes before tables change. */
  List<String> goFirst() {
    List<String> out = new ArrayList<>();
    // what stands on a part of a table goes before that part, and what a table uses after it
    for (ObjectDelta o : order.goFirst()) {
      if (!usedByTables(o)) {
        // also what would go with its table: what it uses may go before the table does
        out.add(ObjectSql.drop(o.was()));
      }
    }
    detached(out, false);
    for (ObjectDelta o : order.going()) {
      String name = aside.get(o.key());
      if (name != null) {
        out.addAll(ObjectSql.rename(o.was(), name));
      } else if (usedByTables(o) && order.goFirst().contains(o)) {
        out.add(ObjectSql.drop(o.was()));
      }
    }
    return out;
  }

  private boolean usedByTables(ObjectDelta o) {
    return aside.containsKey(o.key()) || !o.columns().isEmpty();
  }

  /** Objects and tables in the order in which they come. */
  public List<ComponentKey> come() {
    return order.come();
  }

  /** What makes or alters one. */
  public List<String> comes(ComponentKey key) {
    ObjectDelta o = Objects.requireNonNull(all.get(key));
    return switch (o.act()) {
      case MAKE, REBUILD -> ObjectSql.make(o.becomes());
      case ALTER -> ObjectSql.alter(o.was(), o.becomes());
      case REFRESH -> List.of(ObjectSql.refresh(o.was()));
      case DROP -> List.of();
    };
  }

  /** Columns get the new type, and what was taken from their tables comes back. */
  List<String> exchanged() {
    List<String> out = new ArrayList<>();
    aside.keySet().stream()
        .filter(key -> key.kind() == Kind.TYPE)
        .map(key -> Objects.requireNonNull(all.get(key)))
        .forEach(o -> o.columns().forEach(c -> out.addAll(retyped(o, c.table(), column(c)))));
    detached(out, true);
    return out;
  }

  private static Column column(ObjectDelta.Column c) {
    return c.structure().column(c.column()).orElseThrow();
  }

  private List<String> retyped(ObjectDelta o, TableName table, Column c) {
    String alter = "ALTER TABLE " + Sql.name(table) + " ALTER COLUMN " + Sql.name(c.name()) + " ";
    List<String> out = new ArrayList<>();
    if (c.defaultExpression() != null
        || delta
            .find(table)
            .flatMap(t -> Optional.ofNullable(t.present()))
            .flatMap(p -> p.column(c.name()))
            .filter(p -> p.defaultExpression() != null)
            .isPresent()) {
      out.add(alter + "DROP DEFAULT");
    }
    out.add(alter + "TYPE " + c.type() + " USING " + ExchangedSql.value(o, c));
    if (c.defaultExpression() != null) {
      out.add(alter + "SET DEFAULT " + c.defaultExpression());
    }
    return out;
  }

  /** Parts of tables that name an exchanged type or a routine that goes and comes again. */
  private void detached(List<String> out, boolean back) {
    Set<ComponentKey> used = new TreeSet<>();
    Map<TableName, TableStructure> tables = new LinkedHashMap<>();
    for (ObjectDelta o : order.goFirst()) {
      if (usedByTables(o)) {
        used.add(o.key());
        o.columns().forEach(c -> tables.put(c.table(), c.structure()));
      }
    }
    KnownObjects types = new KnownObjects(used);
    tables.forEach(
        (name, result) -> {
          TableStructure present =
              delta.find(name).map(TablesDelta.TableDelta::present).orElse(result);
          // what the plan itself takes away or brings is none of this
          TableStructure both = kept(present, result);
          Set<String> parts = new java.util.TreeSet<>();
          types.needs(both, name.schema(), (part, key) -> parts.add(part));
          // both ends of a foreign key have the new type before it is looked at again
          both.foreignKeys().stream()
              .filter(k -> k.columns().stream().anyMatch(c -> exchangedIn(name, c)))
              .forEach(k -> parts.add("constraint/" + k.name()));
          TableStructure bare = without(both, parts, name);
          if (!back) {
            // one that the plan changes comes as it will be, with what else is set
            present.settings().stream()
                .filter(s -> holdsExchanged(s, name, present) && !both.settings().contains(s))
                .forEach(s -> out.add(StructureSql.dropRule(name, s)));
          }
          StructureChange.between(name, back ? bare : both, back ? both : bare)
              .forEach(c -> out.addAll(StructureSql.statements(c)));
        });
  }

  /** Whether it is a rule that holds a column whose type is exchanged. */
  private boolean holdsExchanged(Setting s, TableName table, TableStructure structure) {
    return s.name().startsWith(Setting.RULE)
        && structure.columns().stream()
            .filter(x -> exchangedIn(table, x.name()))
            .anyMatch(x -> Renaming.mentions(s.value(), x.name()));
  }

  /** A default of the new type comes with it; what else changes of the column changes now. */
  Optional<StructureChange> beforeExchange(StructureChange c) {
    if (!exchangedIn(c.table(), c.name())) {
      return Optional.of(c);
    }
    Column was = Objects.requireNonNull(c.before()).withoutDefault();
    Column is = Objects.requireNonNull(c.after()).withoutDefault();
    return was.equals(is)
        ? Optional.empty()
        : Optional.of(StructureChange.changed(c.table(), was, is));
  }

  private boolean exchangedIn(TableName table, String column) {
    return aside.keySet().stream()
        .flatMap(key -> Objects.requireNonNull(all.get(key)).columns().stream())
        .anyMatch(c -> c.table().equals(table) && c.column().equals(column));
  }

  private static TableStructure kept(TableStructure present, TableStructure result) {
    List<Constraint> constraints =
        result.constraints().stream().filter(present.constraints()::contains).toList();
    return new TableStructure(
        result.columns().stream()
            .filter(c -> !c.isComputed() || present.columns().contains(c))
            .toList(),
        constraints,
        result.indexes().stream().filter(present.indexes()::contains).toList(),
        result.comment(),
        result.settings().stream()
            .filter(s -> s.name().startsWith(Setting.RULE) && present.settings().contains(s))
            .toList());
  }

  private TableStructure without(TableStructure all, Set<String> parts, TableName table) {
    return new TableStructure(
        all.columns().stream()
            .filter(
                c ->
                    c.generated() == null
                        || !parts.contains("column/" + c.name())
                            && all.columns().stream()
                                .filter(x -> exchangedIn(table, x.name()))
                                .noneMatch(x -> Renaming.names(c.generated(), x.name())))
            .map(
                c ->
                    parts.contains("column/" + c.name()) && !exchangedIn(table, c.name())
                        ? c.withoutDefault()
                        : c)
            .toList(),
        all.constraints().stream().filter(c -> !parts.contains("constraint/" + c.name())).toList(),
        all.indexes().stream().filter(i -> !parts.contains("index/" + i.name())).toList(),
        all.comment(),
        all.settings().stream().filter(s -> !holdsExchanged(s, table, all)).toList());
  }

  /** What goes when tables have changed, and what comes when all is there. */
  public List<String> after() {
    List<String> out = new ArrayList<>();
    // rows have the values that they will have
    delta.objects().stream()
        .filter(o -> o.act() == ObjectDelta.Act.ALTER && o.was().sort() == SchemaObject.Sort.DOMAIN)
        .forEach(o -> out.addAll(ObjectSql.tightened(o.becomes(), o.was().parts())));
    // tables and columns that go had them until now
    for (ObjectDelta o : order.going()) {
      String name = aside.get(o.key());
      if (name != null) {
        out.add(ObjectSql.dropAside(o.was(), name));
      } else if (order.goLater().contains(o)) {
        out.add(ObjectSql.drop(o.was()));
      }
    }
    for (ObjectDelta o : order.comeLast()) {
      out.addAll(comes(o.key()));
    }
    return out;
  }
}
