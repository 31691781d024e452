package plenzo.core.impact;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.function.Predicate;
import java.util.function.UnaryOperator;
import java.util.stream.Collectors;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.ObjectName;
import plenzo.core.component.TableName;
import plenzo.core.impact.Finding.Severity;
import plenzo.core.promotion.Promotion.ComponentResult;
import plenzo.core.records.RowsPolicy;
import plenzo.core.table.Exchanges;
import plenzo.core.table.Renaming;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Grants;
import plenzo.core.target.TablesDelta;
import plenzo.core.words.Words;

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

  /** Something is to get a name that another thing of the site has. */
  private static void taken(ImpactCase c, Consumer<Finding> found) {
    each(
        c.told(),
        (place, was, is, names) -> {
          boolean both = names.has(was) && names.has(is) && !names.atHand().containsKey(was);
          if (!both || names.isExchanged(was)) {
            return;
          }
          if (names.exchanged().containsKey(was)) {
            found.accept(unknown(place.apply(is), names.shown(was), is, names));
          } else if (!names.wasGiven(was)) {
            found.accept(
                Finding.said(
                    "name-taken",
                    Severity.BLOCKER,
                    place.apply(is),
                    names.shown(was) + " is to be called " + is + ", and both are at the site.",
                    "Look which of them has the "
                        + names.content()
                        + " that count, and take the other away there"));
          }
        });
  }

  /** Names that change places, and nothing that was remembered tells which of them is which. */
  private static Finding unknown(String place, String was, String is, Names names) {
    return Finding.said(
        "name-taken",
        Severity.BLOCKER,
        place,
        was
            + " and "
            + is
            + " change places, and nothing that was remembered of the site tells whether they did.",
        "Look which "
            + names.sort()
            + " is which there, then say what the site holds: plenzo app match");
  }

  /**
   * Something else of the version takes the name, and nothing tells that it is new; or what is to
   * have it again is not there, and something that came later has it.
   */
  private static void reused(ImpactCase c, Consumer<Finding> found) {
    kept(c, found);
    each(
        c.told(),
        (place, was, is, names) -> {
          if (Renaming.givesWay(was, is) && names.has(was) && !names.atHand().containsKey(was)) {
            String other = names.namedInBetween(was);
            if (names.isDone(other, was)) {
              return;
            }
            found.accept(
                Renaming.isGoing(is)
                    ? Finding.said(
                        "name-reused",
                        Severity.BLOCKER,
                        place.apply(was),
                        names.shown(other)
                            + " is to be called "
                            + was
                            + " and is not at the site: the "
                            + was
                            + " that is there would be taken for it.",
                        "Look which "
                            + names.sort()
                            + " that is, and give it the name there that it had")
                    : Finding.said(
                        "name-reused",
                        Severity.BLOCKER,
                        place.apply(was),
                        names.shown(was)
                            + " is another "
                            + names.sort()
                            + " than the one to have that name, which was called "
                            + other
                            + " in between and is not at the site.",
                        "Go first to a version that has "
                            + names.shown(other)
                            + ", and from there on"));
          }
          if (names.atHand().containsKey(was)
              && names.comes(was)
              && !names.atHand().containsValue(was)) {
            found.accept(
                Finding.said(
                    "name-reused",
                    Severity.BLOCKER,
                    place.apply(was),
                    names.shown(was)
                        + " is to be called "
                        + is
                        + ", and another "
                        + names.sort()
                        + " then takes its name: one run cannot do both.",
                    "Bring the version between them first"));
          }
        });
  }

  /** What gives its name to another cannot stay, whatever was decided of it. */
  private static void kept(ImpactCase c, Consumer<Finding> found) {
    for (TablesDelta.TableDelta t : c.delta().tables()) {
      TableStructure result = t.result();
      if (result == null) {
        continue;
      }
      String table = "table/" + t.table();
      if (Renaming.isGoing(ComponentKey.of(table))) {
        found.accept(stays(table, c.delta().renaming().before(t.table()).toString()));
      }
      result.columns().stream()
          .filter(x -> Renaming.isGoing(x.name()))
          .forEach(
              x ->
                  found.accept(
                      stays(
                          table + "#column/" + x.name(),
                          c.delta()
                                  .renaming()
                                  .inverse()
                                  .columns(c.delta().renaming().before(t.table()))
                                  .get(x.name())
                              + " of "
                              + t.table())));
    }
  }

  private static Finding stays(String place, String what) {
    return Finding.said(
        "name-reused",
        Severity.BLOCKER,
        place,
        what + " cannot stay: another takes its name.",
        "Decide for what comes, or give it another name at the site");
  }

  /** Names of tables, or of the columns of one, that change at once. */
  private record Names(
      String sort,
      String content,
      String of,
      Map<String, String> all,
      Predicate<String> there,
      Predicate<String> coming,
      Map<String, String> atHand,
      Map<String, Exchanges.Progress> exchanged,
      Function<Map<String, String>, Exchanges.Progress> progress) {
    /** Whether the server's own numbers tell that one has the other's name by now. */
    boolean isDone(String was, String is) {
      return progress.apply(Map.of(was, is)) == Exchanges.Progress.DONE;
    }

    /** Whether names that change places did so. */
    boolean isExchanged(String name) {
      return exchanged.get(name) == Exchanges.Progress.DONE;
    }

    /** Whether what has the name may be what took it: nothing has the one that it had. */
    boolean wasGiven(String name) {
      return all.entrySet().stream().anyMatch(n -> n.getValue().equals(name) && !has(n.getKey()));
    }

    /** What is to have the name has this one in the version between. */
    String namedInBetween(String name) {
      return all.entrySet().stream()
          .filter(n -> n.getValue().equals(name))
          .map(Map.Entry::getKey)
          .findFirst()
          .orElseThrow();
    }

    String shown(String name) {
      return name + of;
    }

    boolean has(String name) {
      return there.test(name);
    }

    boolean comes(String name) {
      return coming.test(name);
    }
  }

  private interface Renamed {
    void of(UnaryOperator<String> place, String was, String is, Names names);
  }

  private static void each(ImpactCase.Told told, Renamed renamed) {
    Renaming wanted = told.renaming();
    Renaming found = wanted.atHand(told.there(), told.exchanges());
    Map<String, String> tables = componentNames(wanted.tables());
    Names names =
        new Names(
            "table",
            "rows",
            "",
            tables,
            t -> told.there().apply(TableName.of(t)).isPresent(),
            t -> told.comes().apply(TableName.of(t)).isPresent(),
            componentNames(found.tables()),
            exchanged(wanted.tables(), TableName::componentName, told.exchanges()::tables),
            pairs -> told.exchanges().tables(tables(pairs)));
    tables.forEach((was, is) -> renamed.of(n -> "table/" + n, was, is, names));
    wanted
        .columns()
        .forEach(
            (table, columns) -> {
              TableName now = found.before(table);
              Function<Map<String, String>, Exchanges.Progress> progress =
                  pairs -> told.exchanges().columns(wanted.before(table), now, pairs);
              Names own =
                  new Names(
                      "column",
                      "values",
                      " of " + table,
                      columns,
                      n -> told.there().apply(now).flatMap(t -> t.column(n)).isPresent(),
                      n -> told.comes().apply(table).flatMap(t -> t.column(n)).isPresent(),
                      found.columns(table),
                      exchanged(columns, n -> n, progress),
                      progress);
              columns.forEach(
                  (was, is) -> renamed.of(n -> "table/" + table + "#column/" + n, was, is, own));
            });
  }

  /** Of each name that changes places with others, whether it did. */
  private static <N> Map<String, Exchanges.Progress> exchanged(
      Map<N, N> names, Function<N, String> told, Function<Map<N, N>, Exchanges.Progress> progress) {
    Map<String, Exchanges.Progress> out = new TreeMap<>();
    for (Map<N, N> cycle : Renaming.cycles(names)) {
      Exchanges.Progress did = progress.apply(cycle);
      cycle.keySet().forEach(n -> out.put(told.apply(n), did));
    }
    return out;
  }

  private static Map<String, String> componentNames(Map<TableName, TableName> tables) {
    Map<String, String> out = new LinkedHashMap<>();
    tables.forEach((was, is) -> out.put(was.componentName(), is.componentName()));
    return out;
  }

  private static Map<TableName, TableName> tables(Map<String, String> componentNames) {
    Map<TableName, TableName> out = new LinkedHashMap<>();
    componentNames.forEach((was, is) -> out.put(TableName.of(was), TableName.of(is)));
    return out;
  }

  private static void mirrored(ImpactCase c, Consumer<Finding> found) {
    for (ComponentResult r : under(c, RowsPolicy.MIRROR)) {
      long removed = r.counts().removed();
      if (removed > 0) {
        found.accept(
            Finding.of(
                "mirror-removes",
                Severity.RISK,
                r.key().toString(),
                r.key()
                    + " is a mirror: "
                    + Words.count(removed, "row")
                    + (removed == 1
                        ? " that only the site has goes."
                        : " that only the site has go."),
                removed,
                "Look at them, and take into development what is to stay; by the earlier version they come back where rows are told apart by the primary key, by the backup always",
                null));
      }
    }
  }

  private static void staying(ImpactCase c, Consumer<Finding> found) {
    for (ComponentResult r : under(c, RowsPolicy.ADD_ONLY)) {
      long kept = r.counts().kept();
      if (kept > 0) {
        found.accept(
            Finding.of(
                "rows-stay",
                Severity.NOTE,
                r.key().toString(),
                r.key()
                    + " is add only: "
                    + Words.count(kept, "row")
                    + " that the site has otherwise, or alone, "
                    + (kept == 1 ? "stays as it is." : "stay as they are."),
                kept,
                "Nothing, unless the site should have what the version has",
                null));
      }
    }
  }

  private static List<ComponentResult> under(ImpactCase c, RowsPolicy policy) {
    return c.components().stream().filter(r -> c.told().policies().get(r.key()) == policy).toList();
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
          lacking.forEach(
              (who, rights) -> {
                List<TableName> without =
                    tables.stream().filter(t -> !given(c, t, who, rights)).toList();
                if (!without.isEmpty()) {
                  found.accept(lacks(schema, who, rights, without));
                }
              });
        });
  }

  /** Whether the version itself gives all of these rights. */
  private static boolean given(ImpactCase c, TableName table, String who, Set<String> rights) {
    String role =
        who.startsWith("\"") ? who.substring(1, who.length() - 1).replace("\"\"", "\"") : who;
    ComponentKey key = ObjectName.on(table, role).key(Kind.GRANT);
    return c.delta().objects().stream()
        .filter(o -> o.key().equals(key) && o.result() != null)
        .anyMatch(o -> o.becomes().parts().keySet().containsAll(rights));
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
            + " new: the version carries no such grant.",
        tables.size(),
        "Pick the grants of "
            + who
            + " in the draft (a search for grants lists them), or as their owner, once the run is done: GRANT "
            + all
            + " ON "
            + on
            + " TO "
            + who
            + "; for all that come, before it: ALTER DEFAULT PRIVILEGES IN SCHEMA "
            + Renaming.quoted(schema)
            + " GRANT "
            + all
            + " ON TABLES TO "
            + who,
        null);
  }

  private static String quoted(TableName t) {
    return Renaming.quoted(t.schema()) + "." + Renaming.quoted(t.table());
  }
}
