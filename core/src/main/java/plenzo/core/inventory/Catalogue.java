package plenzo.core.inventory;

import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.TreeSet;
import plenzo.core.component.TableName;
import plenzo.core.digest.Digest;
import plenzo.core.json.Json;
import plenzo.core.object.ObjectDelta;
import plenzo.core.object.SchemaObject;
import plenzo.core.table.TableStructure;
import plenzo.core.target.TablesDelta;

/**
 * Everything that stands in the looked-at schemas of a database, by name with a digest: every
 * table's structure, every schema object, and what is not carried. What a run should leave is
 * foreseen from what was there before and the plan; anything else that differs afterwards is named
 * (decision D24).
 */
public record Catalogue(SortedMap<String, String> parts) {
  public Catalogue {
    parts = java.util.Collections.unmodifiableSortedMap(new TreeMap<>(parts));
  }

  public static Catalogue of(
      Map<TableName, TableStructure> tables,
      Collection<SchemaObject> objects,
      Collection<Uncarried> uncarried) {
    SortedMap<String, String> out = new TreeMap<>();
    tables.forEach((name, structure) -> out.put("table " + name, digest(structure)));
    objects.forEach(o -> out.put(o.key().toString(), o.digest().hex()));
    uncarried.forEach(u -> out.put(u.shown(), u.digest()));
    return new Catalogue(out);
  }

  private static String digest(TableStructure structure) {
    return Digest.of(structure.canonical()).hex();
  }

  /**
   * What stands there when nothing but the plan happens.
   *
   * @param uncarried what of it is not carried
   */
  public Catalogue after(TablesDelta delta, Collection<Uncarried> uncarried) {
    SortedMap<String, String> out = new TreeMap<>(parts);
    out.keySet().removeAll(PartitionParts.names(delta, uncarried));
    for (TablesDelta.TableDelta t : delta.tables()) {
      if (t.result() != null) {
        out.put("table " + t.table(), digest(t.result()));
        continue;
      }
      out.remove("table " + t.table());
      // what works on a table goes with it
      out.keySet().removeIf(name -> name.endsWith(" of " + t.table()));
    }
    for (ObjectDelta o : delta.objects()) {
      SchemaObject result = o.result();
      if (result == null) {
        out.remove(o.key().toString());
      } else {
        out.put(o.key().toString(), result.digest().hex());
      }
    }
    return new Catalogue(out);
  }

  /** Stands for whatever the server makes of a definition that follows a new name. */
  private static final String FOLLOWS = "*";

  /**
   * What names a renamed table or column follows by itself, in words that are the server's own.
   *
   * @param objects every schema object as it is before
   */
  public Catalogue following(TablesDelta delta, Collection<SchemaObject> objects) {
    SortedMap<String, String> out = new TreeMap<>(parts);
    Set<String> planned = new TreeSet<>();
    delta.objects().forEach(o -> planned.add(o.key().toString()));
    for (TableName table : delta.renaming().touched()) {
      String name = "table/" + table;
      objects.stream()
          .filter(o -> !planned.contains(o.key().toString()))
          .filter(o -> o.needs().stream().anyMatch(n -> n.component().toString().equals(name)))
          .forEach(o -> out.put(o.key().toString(), FOLLOWS));
      parts.keySet().stream()
          .filter(p -> p.endsWith(" of " + table))
          .forEach(p -> out.put(p, FOLLOWS));
    }
    return new Catalogue(out);
  }

  /** What is there otherwise than foreseen, a line each. */
  public List<String> differing(Catalogue now) {
    List<String> out = new ArrayList<>();
    TreeSet<String> names = new TreeSet<>(parts.keySet());
    names.addAll(now.parts.keySet());
    for (String name : names) {
      String was = parts.get(name);
      String is = now.parts.get(name);
      if (was == null) {
        out.add(name + " is there and was not foreseen");
      } else if (is == null) {
        out.add(name + " is gone");
      } else if (!was.equals(is) && !was.equals(FOLLOWS)) {
        out.add(name + " is not as foreseen");
      }
    }
    return out;
  }

  public String canonical() {
    Map<String, Json> members = new TreeMap<>();
    parts.forEach((name, digest) -> members.put(name, new Json.Str(digest)));
    return Json.object(members).canonical();
  }

  /** Reads what {@link #canonical()} wrote. */
  public static Catalogue read(String canonical) {
    SortedMap<String, String> out = new TreeMap<>();
    (Json.parseObject(canonical))
        .members()
        .forEach((name, digest) -> out.put(name, ((Json.Str) digest).value()));
    return new Catalogue(out);
  }
}
