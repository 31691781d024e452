package plenzo.engine.sealing;

import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.table.TableStructure;
import plenzo.core.target.TableCapture;
import plenzo.core.target.TablesLooking;
import plenzo.core.version.Draft;
import plenzo.core.version.Version;
import plenzo.engine.setup.Adoption;
import plenzo.engine.setup.SiteLook;

/**
 * Kind by kind, how much of what a source holds a version would have: so that none is forgotten.
 */
final class Coverage {
  private static final int NAMED = 5;

  private Coverage() {}

  static List<String> of(SiteLook look, String space, Version parent, List<Draft.Pick> picks) {
    Set<ComponentKey> held = new TreeSet<>();
    parent.entries().forEach(e -> held.add(e.key()));
    picks.forEach(p -> held.add(p.key()));
    Map<Kind, Set<ComponentKey>> there = new EnumMap<>(Kind.class);
    Sources.items(look, space)
        .keySet()
        .forEach(k -> there.computeIfAbsent(k.kind(), x -> new TreeSet<>()).add(k));
    look.findTables().ifPresent(tables -> tables(tables, space, there));
    List<String> out = new ArrayList<>();
    there.forEach((kind, all) -> out.add(line(kind, all, held)));
    return out;
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
              TableStructure structure =
                  looking.table(name).map(TableCapture::structure).orElse(TableStructure.EMPTY);
              if (Adoption.keyProblem(structure, Adoption.proposedKey(structure)).isEmpty()) {
                there
                    .computeIfAbsent(Kind.RECORDS, x -> new TreeSet<>())
                    .add(new ComponentKey(Kind.RECORDS, name.componentName()));
              }
            });
  }

  private static String line(Kind kind, Set<ComponentKey> all, Set<ComponentKey> held) {
    List<String> missing =
        all.stream().filter(k -> !held.contains(k)).map(ComponentKey::name).toList();
    String count =
        (all.size() - missing.size())
            + " of "
            + all.size()
            + " "
            + kind.code()
            + (kind == Kind.RECORDS ? " components" : all.size() == 1 ? "" : "s");
    if (missing.isEmpty()) {
      return count;
    }
    return count
        + (kind == Kind.RECORDS ? ": content is not taken of " : ": not taken ")
        + missing.stream().limit(NAMED).collect(Collectors.joining(", "))
        + (missing.size() > NAMED ? " and " + (missing.size() - NAMED) + " more" : "");
  }
}
