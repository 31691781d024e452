package plenzo.core.object;

import java.util.ArrayDeque;
import java.util.Collection;
import java.util.Deque;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Stream;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.inventory.NamedThings;
import plenzo.core.table.SequenceOwners;
import plenzo.core.table.Setting;
import plenzo.core.table.TableStructure;

/**
 * What tables and schema objects of one database are built on: what must be there before they can
 * be made. A foreign key is none: it can be added later or left out.
 */
public final class Foundations {
  private final Map<TableName, TableStructure> tables;
  private final Map<ComponentKey, SchemaObject> objects;
  private final KnownObjects known;
  private final KnownObjects all;
  private final SequenceOwners owners;

  /** Of everything that is there. */
  public Foundations(
      Map<TableName, TableStructure> tables, Map<ComponentKey, SchemaObject> objects) {
    this.tables = tables;
    this.objects = objects;
    this.known = new KnownObjects(objects.keySet());
    Set<ComponentKey> keys = new TreeSet<>(objects.keySet());
    tables.keySet().forEach(t -> keys.add(key(t)));
    this.all = new KnownObjects(keys);
    this.owners = new SequenceOwners(tables);
  }

  /** These and everything that they are built on, as far as it is there. */
  public Set<ComponentKey> of(Collection<ComponentKey> keys) {
    Set<ComponentKey> out = new TreeSet<>();
    Deque<ComponentKey> open = new ArrayDeque<>(keys);
    while (!open.isEmpty()) {
      ComponentKey key = open.poll();
      boolean there =
          key.kind() == Kind.TABLE
              ? tables.containsKey(TableName.of(key.name()))
              : objects.containsKey(key);
      if (there && out.add(key)) {
        open.addAll(direct(key));
      }
    }
    return out;
  }

  /**
   * Schemas in which something stands that some of them are built on, and of which none is known.
   */
  public Set<String> elsewhere(Collection<ComponentKey> keys) {
    Set<String> out = new TreeSet<>();
    for (ComponentKey key : keys) {
      if (key.kind() == Kind.TABLE) {
        TableStructure structure =
            tables.getOrDefault(TableName.of(key.name()), TableStructure.EMPTY);
        structure.inherits().forEach(t -> out.add(t.schema()));
        NamedThings.of(structure).byPart().values().stream()
            .flatMap(Collection::stream)
            .forEach(n -> out.add(n.schema()));
      } else if (objects.containsKey(key)) {
        Objects.requireNonNull(objects.get(key))
            .needs()
            .forEach(n -> out.add(n.component().schema()));
      }
    }
    tables.keySet().forEach(t -> out.remove(t.schema()));
    objects.keySet().forEach(k -> out.remove(k.schema()));
    out.removeIf(n -> n.isEmpty() || n.startsWith("pg_") || n.equals("information_schema"));
    return out;
  }

  private static ComponentKey key(TableName table) {
    return new ComponentKey(Kind.TABLE, table.componentName());
  }

  private Set<ComponentKey> direct(ComponentKey key) {
    Set<ComponentKey> out = new TreeSet<>();
    if (key.kind() == Kind.TABLE) {
      TableName name = TableName.of(key.name());
      TableStructure structure = Objects.requireNonNull(tables.get(name));
      Stream.concat(structure.inherits().stream(), owners.of(name, structure).stream())
          .map(Foundations::key)
          .forEach(out::add);
      // a rule writes to other tables
      structure.settings().stream()
          .filter(s -> s.name().startsWith(Setting.RULE))
          .flatMap(s -> NamedThings.in(s.value()).stream())
          .forEach(n -> out.addAll(all.named(n)));
      known.needs(structure, name.schema(), (part, needed) -> out.add(needed));
    } else {
      Objects.requireNonNull(objects.get(key)).needs().forEach(n -> out.add(n.component()));
    }
    return out;
  }
}
