package plenzo.core.object;

import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import plenzo.core.component.Before;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.ComponentOrder;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.object.ObjectDelta.Act;
import plenzo.core.table.SequenceOwners;
import plenzo.core.table.TableStructure;
import plenzo.core.target.TablesDelta;

/**
 * One order of everything that a run does in a database. What nothing in a table uses goes first;
 * types, sequences and routines come with the tables that use them, each before what needs it; what
 * tables used goes once they use it no more; views, triggers, policies and grants come last, when
 * rows are written, so that a trigger that comes does not work on rows that come with it.
 *
 * @param going all objects that go, each before what it builds on
 * @param goFirst objects that go before any table changes, in this order
 * @param come objects that come and tables that are made or changed, in this order
 * @param goLater objects that go after all tables have changed
 * @param comeLast objects that come when rows and constraints are there
 */
public record ObjectsOrder(
    List<ObjectDelta> going,
    List<ObjectDelta> goFirst,
    List<ComponentKey> come,
    List<ObjectDelta> goLater,
    List<ObjectDelta> comeLast) {
  private static final Set<Kind> LATE = Set.of(Kind.VIEW, Kind.TRIGGER, Kind.POLICY, Kind.GRANT);

  public ObjectsOrder {
    going = List.copyOf(going);
    goFirst = List.copyOf(goFirst);
    come = List.copyOf(come);
    goLater = List.copyOf(goLater);
    comeLast = List.copyOf(comeLast);
  }

  public static ObjectsOrder of(TablesDelta delta) {
    Map<ComponentKey, ObjectDelta> all = new HashMap<>();
    delta.objects().forEach(o -> all.put(o.key(), o));
    List<ObjectDelta> going = new ArrayList<>();
    delta.objects().stream().filter(ObjectDelta::goes).forEach(going::add);
    Set<ComponentKey> used = usedByTables(delta, going);
    List<ObjectDelta> goFirst = new ArrayList<>();
    List<ObjectDelta> goLater = new ArrayList<>();
    List<ComponentKey> reversed =
        new ArrayList<>(
            ComponentOrder.of(
                    going.stream().map(ObjectDelta::key).toList(),
                    needs(going, true),
                    named(going, true),
                    List.of())
                .keys());
    java.util.Collections.reverse(reversed);
    for (ComponentKey key : reversed) {
      ObjectDelta o = java.util.Objects.requireNonNull(all.get(key));
      boolean waits =
          o.act() == Act.DROP
              && (key.kind() == Kind.TYPE || key.kind() == Kind.SEQUENCE || used.contains(key));
      (waits ? goLater : goFirst).add(o);
    }
    Set<ComponentKey> late = late(delta);
    List<ComponentKey> early = new ArrayList<>();
    Map<ComponentKey, Collection<ComponentKey>> needs =
        new HashMap<>(needs(delta.objects(), false));
    Map<ComponentKey, Collection<ComponentKey>> wished = named(delta.objects(), false);
    for (ObjectDelta o : delta.objects()) {
      if (o.result() != null && !late.contains(o.key())) {
        early.add(o.key());
      }
    }
    KnownObjects known = new KnownObjects(all.keySet());
    SequenceOwners owners = new SequenceOwners(delta.after(Map.of()));
    for (TablesDelta.TableDelta t : delta.tables()) {
      ComponentKey key = key(t.table());
      early.add(key);
      Set<ComponentKey> wanted = new TreeSet<>();
      TableStructure result = t.result();
      if (result != null) {
        known.needs(
            result,
            t.table().schema(),
            (part, needed) -> {
              if (part.startsWith("column/")) {
                wanted.add(needed);
              }
            });
        owners.of(t.table(), result).forEach(o -> wanted.add(key(o)));
      }
      needs.put(key, wanted);
    }
    List<ObjectDelta> comeLast =
        ComponentOrder.of(late, needs, wished, List.of()).keys().stream()
            .map(k -> java.util.Objects.requireNonNull(all.get(k)))
            .toList();
    return new ObjectsOrder(
        reversed.stream().map(k -> java.util.Objects.requireNonNull(all.get(k))).toList(),
        goFirst,
        ComponentOrder.of(early, needs, wished, moved(delta)).keys(),
        goLater,
        comeLast);
  }

  /** Tables stay in the order that was worked out for them. */
  private static List<Before> moved(TablesDelta delta) {
    List<Before> out = new ArrayList<>();
    for (int n = 1; n < delta.tables().size(); n++) {
      out.add(
          new Before(key(delta.tables().get(n - 1).table()), key(delta.tables().get(n).table())));
    }
    return out;
  }

  private static ComponentKey key(TableName table) {
    return new ComponentKey(Kind.TABLE, table.componentName());
  }

  private static Map<ComponentKey, Collection<ComponentKey>> needs(
      Collection<ObjectDelta> objects, boolean before) {
    Map<ComponentKey, Collection<ComponentKey>> out = new HashMap<>();
    for (ObjectDelta o : objects) {
      SchemaObject is = before ? o.present() : o.result();
      if (is != null) {
        Set<ComponentKey> needed = new TreeSet<>();
        is.needs().forEach(n -> needed.add(n.component()));
        out.put(o.key(), needed);
      }
    }
    return out;
  }

  /** What bodies seem to need: the server does not hold them to it, so it gives way in a circle. */
  private static Map<ComponentKey, Collection<ComponentKey>> named(
      Collection<ObjectDelta> objects, boolean before) {
    KnownObjects known = new KnownObjects(objects.stream().map(ObjectDelta::key).toList());
    Map<ComponentKey, Collection<ComponentKey>> out = new HashMap<>();
    for (ObjectDelta o : objects) {
      SchemaObject is = before ? o.present() : o.result();
      if (is != null) {
        out.put(o.key(), known.inBody(is));
      }
    }
    return out;
  }

  /** Objects that go and that a table, as it was, uses. */
  private static Set<ComponentKey> usedByTables(TablesDelta delta, Collection<ObjectDelta> going) {
    KnownObjects known = new KnownObjects(going.stream().map(ObjectDelta::key).toList());
    Set<ComponentKey> out = new TreeSet<>();
    for (TablesDelta.TableDelta t : delta.tables()) {
      TableStructure present = t.present();
      if (present != null) {
        known.needs(present, t.table().schema(), (part, key) -> out.add(key));
      }
    }
    return out;
  }

  /** Views, triggers, policies, grants, and whatever builds on one. */
  private static Set<ComponentKey> late(TablesDelta delta) {
    Set<ComponentKey> out = new HashSet<>();
    boolean more = true;
    while (more) {
      more = false;
      for (ObjectDelta o : delta.objects()) {
        SchemaObject result = o.result();
        if (result != null
            && !out.contains(o.key())
            && (LATE.contains(o.key().kind())
                || result.needs().stream().anyMatch(n -> out.contains(n.component())))) {
          out.add(o.key());
          more = true;
        }
      }
    }
    return out;
  }
}
