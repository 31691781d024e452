package plenzo.core.impact;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import plenzo.core.component.TableName;
import plenzo.core.impact.Finding.Severity;
import plenzo.core.promotion.Promotion.ComponentResult;
import plenzo.core.records.RowsPolicy;
import plenzo.core.target.Grants;
import plenzo.core.target.TablesDelta;

/** What a version tells of names and rows, and who may use what it brings. */
final class VersionRules {
  static final List<Rule<ImpactCase>> ALL =
      List.of(
          Rule.of("name-taken", Severity.BLOCKER, VersionRules::taken),
          Rule.of("name-reused", Severity.BLOCKER, VersionRules::reused),
          Rule.of("mirror-removes", Severity.RISK, VersionRules::mirrored),
          Rule.of("rows-stay", Severity.RISK, VersionRules::staying),
          Rule.of("not-granted", Severity.RISK, VersionRules::granted));

  private static final int MOST_SHOWN = 5;

  private VersionRules() {}

  private static void taken(ImpactCase c, Consumer<Finding> found) {
    names(c, "name-taken", found);
  }

  private static void reused(ImpactCase c, Consumer<Finding> found) {
    names(c, "name-reused", found);
  }

  private static void names(ImpactCase c, String rule, Consumer<Finding> found) {
    NamesTaken.of(c.told().renaming(), c.told().there(), c.told().comes()).stream()
        .filter(f -> f.rule().equals(rule))
        .forEach(found);
  }

  private static void mirrored(ImpactCase c, Consumer<Finding> found) {
    rows(c, RowsPolicy.MIRROR, found);
  }

  private static void staying(ImpactCase c, Consumer<Finding> found) {
    rows(c, RowsPolicy.ADD_ONLY, found);
  }

  private static void rows(ImpactCase c, RowsPolicy policy, Consumer<Finding> found) {
    for (ComponentResult r : c.components()) {
      if (c.told().policies().get(r.key()) == policy) {
        RowsUnderPolicy.of(r.key(), policy, r.counts()).ifPresent(found);
      }
    }
  }

  /** Tables that come and that somebody may not use who may use most others of their schema. */
  private static void granted(ImpactCase c, Consumer<Finding> found) {
    Map<String, List<TableName>> fresh = new TreeMap<>();
    for (TablesDelta.TableDelta t : c.delta().tables()) {
      if (t.present() == null && t.result() != null) {
        fresh.computeIfAbsent(t.table().schema(), s -> new ArrayList<>()).add(t.table());
      }
    }
    fresh.forEach(
        (schema, tables) -> {
          Grants grants = c.target().grants(schema);
          Map<String, TreeSet<String>> lacking = new TreeMap<>();
          for (Grants.Grant g : grants.all()) {
            boolean most = grants.tables() > 1 && g.on() * 2 > grants.tables();
            boolean byDefault =
                c.target().maker().isEmpty()
                    ? !g.of().isEmpty()
                    : g.of().contains(c.target().maker());
            if (most && !byDefault) {
              lacking.computeIfAbsent(g.grantee(), n -> new TreeSet<>()).add(g.right());
            }
          }
          lacking.forEach((who, rights) -> found.accept(lacks(schema, who, rights, tables)));
        });
  }

  private static Finding lacks(
      String schema, String who, TreeSet<String> rights, List<TableName> tables) {
    String all = String.join(", ", rights);
    String shown =
        tables.stream().limit(MOST_SHOWN).map(TableName::toString).collect(Collectors.joining(", "))
            + (tables.size() > MOST_SHOWN ? " and " + (tables.size() - MOST_SHOWN) + " more" : "");
    String on = tables.stream().map(VersionRules::quoted).collect(Collectors.joining(", "));
    return Finding.of(
        "not-granted",
        Severity.RISK,
        "schema " + schema + " for " + who,
        who
            + " may "
            + all
            + " most tables of "
            + schema
            + ", and not "
            + shown
            + ", which "
            + (tables.size() == 1 ? "is" : "are")
            + " new: rights are not carried.",
        tables.size(),
        "As their owner, once the run is done: GRANT "
            + all
            + " ON "
            + on
            + " TO "
            + who
            + "; for all that come, before it: ALTER DEFAULT PRIVILEGES IN SCHEMA "
            + part(schema)
            + " GRANT "
            + all
            + " ON TABLES TO "
            + who,
        null);
  }

  private static String quoted(TableName t) {
    return part(t.schema()) + "." + part(t.table());
  }

  private static String part(String name) {
    return name.matches("[a-z_][a-z0-9_]*") ? name : "\"" + name.replace("\"", "\"\"") + "\"";
  }
}
