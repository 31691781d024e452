package plenzo.core.object;

import java.util.ArrayDeque;
import java.util.Collection;
import java.util.Deque;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeSet;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.table.TableStructure;

/**
 * What tables and schema objects of one database are built on: what must be there before they can
 * be made. A foreign key is none: it can be added later or left out.
 */
public final class Foundations {
  private final Map<TableName, TableStructure> tables;
  private final Map<ComponentKey, SchemaObject> objects;
  private final KnownObjects known;

  /** Of everything that is there. */
  public Foundations(
      Map<TableName, TableStructure> tables, Map<ComponentKey, SchemaObject> objects) {
    this.tables = tables;
    this.objects = objects;
    this.known = new KnownObjects(objects.keySet());
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

  private Set<ComponentKey> direct(ComponentKey key) {
    Set<ComponentKey> out = new TreeSet<>();
    if (key.kind() == Kind.TABLE) {
      TableName name = TableName.of(key.name());
      Objects.requireNonNull(tables.get(name)).inherits().stream()
          .map(p -> new ComponentKey(Kind.TABLE, p.componentName()))
          .forEach(out::add);
      known.needs(
          Objects.requireNonNull(tables.get(name)),
          name.schema(),
          (part, needed) -> out.add(needed));
    } else {
      Objects.requireNonNull(objects.get(key)).needs().forEach(n -> out.add(n.component()));
    }
    return out;
  }
}
