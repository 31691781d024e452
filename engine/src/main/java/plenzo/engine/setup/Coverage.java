package plenzo.engine.setup;

import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.inventory.Uncarried;
import plenzo.core.target.TableCapture;
import plenzo.core.target.TablesLooking;
import plenzo.core.words.Words;

/**
 * How much of what a source holds a version has or would have, as a whole and kind by kind: so that
 * nothing is forgotten.
 */
public final class Coverage {
  private static final int NAMED = 5;

  private Coverage() {}

  /**
   * A line each; of a site with a database the whole of its schema first.
   *
   * @param held what the version has
   */
  public static List<String> of(SiteLook look, String space, Set<ComponentKey> held) {
    Map<Kind, Set<ComponentKey>> there = new EnumMap<>(Kind.class);
    look.itemsAndGrants(space).keySet().stream()
        .filter(k -> k.kind() != Kind.GRANT || held.contains(k))
        .forEach(k -> there.computeIfAbsent(k.kind(), x -> new TreeSet<>()).add(k));
    List<String> out = new ArrayList<>();
    look.findTables()
        .ifPresent(
            tables -> {
              out.add(schema(tables, space, there, held));
              tables(tables, space, there);
            });
    there.forEach((kind, all) -> out.add(line(kind, all, held)));
    return out;
  }

  /** "31 of 33 things in the schema fares; not: view fares.dear, routine fares.f()". */
  private static String schema(
      TablesLooking looking,
      String space,
      Map<Kind, Set<ComponentKey>> objects,
      Set<ComponentKey> held) {
    List<String> missing = new ArrayList<>();
    int all = 0;
    for (TableName name : looking.tables(space)) {
      all++;
      if (!held.contains(new ComponentKey(Kind.TABLE, name.componentName()))) {
        missing.add("table " + name);
      }
    }
    for (Map.Entry<Kind, Set<ComponentKey>> kind : objects.entrySet()) {
      if (kind.getKey().schemaObject() && kind.getKey() != Kind.GRANT) {
        all += kind.getValue().size();
        kind.getValue().stream()
            .filter(k -> !held.contains(k))
            .forEach(k -> missing.add(k.kind().code() + " " + k.name()));
      }
    }
    for (Uncarried u : looking.uncarried(space)) {
      all++;
      missing.add(u.shown());
    }
    return (all - missing.size())
        + " of "
        + Words.count(all, "thing")
        + (looking.schemas(space).size() == 1 ? " in the schema " : " in the schemas ")
        + Words.and(looking.schemas(space))
        + (missing.isEmpty() ? "" : "; not: " + named(missing));
  }

  private static void tables(
      TablesLooking looking, String space, Map<Kind, Set<ComponentKey>> there) {
    looking
        .tables(space)
        .forEach(
            name -> {
              there
                  .computeIfAbsent(Kind.TABLE, x -> new TreeSet<>())
                  .add(new ComponentKey(Kind.TABLE, name.componentName()));
              TableCapture table = looking.table(name).orElse(null);
              if (table != null && tellsRows(looking, table)) {
                there
                    .computeIfAbsent(Kind.RECORDS, x -> new TreeSet<>())
                    .add(new ComponentKey(Kind.RECORDS, name.componentName()));
              }
            });
  }

  private static boolean tellsRows(TablesLooking looking, TableCapture table) {
    List<String> key = RowKeys.proposed(table.structure());
    return (table.refusals().isEmpty()
            ? RowKeys.problem(looking, table, key)
            : RowKeys.problem(table.structure(), key))
        .isEmpty();
  }

  private static String line(Kind kind, Set<ComponentKey> all, Set<ComponentKey> held) {
    List<String> missing =
        all.stream().filter(k -> !held.contains(k)).map(ComponentKey::name).toList();
    String count =
        (all.size() - missing.size())
            + " of "
            + all.size()
            + " "
            + (kind == Kind.RECORDS
                ? "records components"
                : all.size() == 1
                    ? kind.code()
                    : kind == Kind.POLICY ? "policies" : kind.code() + "s");
    if (missing.isEmpty()) {
      return count;
    }
    return count
        + (kind == Kind.RECORDS ? ": content is not taken of " : ": not taken ")
        + named(missing);
  }

  private static String named(List<String> missing) {
    return missing.stream().limit(NAMED).collect(Collectors.joining(", "))
        + (missing.size() > NAMED ? " and " + (missing.size() - NAMED) + " more" : "");
  }
}
