package plenzo.core.impact;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.ObjectName;
import plenzo.core.component.TableName;
import plenzo.core.impact.Finding.Severity;
import plenzo.core.inventory.NamedThings;
import plenzo.core.inventory.NamedThings.Name;
import plenzo.core.inventory.PartitionParts;
import plenzo.core.inventory.Uncarried;
import plenzo.core.object.ObjectDelta;
import plenzo.core.promotion.Promotion.ComponentResult;
import plenzo.core.table.LargeObjects;
import plenzo.core.table.NeededSequences;
import plenzo.core.table.Setting;
import plenzo.core.table.TableStructure;
import plenzo.core.target.TablesDelta;
import plenzo.core.words.Words;

/**
 * What stands in the application's schemas and is not carried is named: a blocker where a part that
 * comes needs it and it is not there, a risk where it changes what rows mean, a note else.
 */
final class UncarriedRules {
  static final List<Rule<ImpactCase>> ALL =
      List.of(
          Rule.of("sequence-missing", Severity.BLOCKER, UncarriedRules::sequences),
          Rule.of("needed-missing", Severity.BLOCKER, UncarriedRules::needed),
          Rule.of("row-policy", Severity.RISK, UncarriedRules::secured),
          Rule.of("row-policy", Severity.RISK, UncarriedRules::policies),
          Rule.of("joins-table", Severity.RISK, UncarriedRules::joined),
          Rule.of("large-objects", Severity.RISK, UncarriedRules::largeObjects),
          Rule.of("not-carried", Severity.RISK, UncarriedRules::others));

  private static final int MOST_SHOWN = 5;

  private UncarriedRules() {}

  private static void sequences(ImpactCase impact, Consumer<Finding> found) {
    for (TablesDelta.TableDelta t : impact.delta().tables()) {
      if (t.result() == null) {
        continue;
      }
      NeededSequences.of(t.result())
          .missing(impact.after().values(), sequencesAfter(impact))
          .forEach(
              (column, sequence) ->
                  found.accept(
                      Finding.said(
                          "sequence-missing",
                          Severity.BLOCKER,
                          "table/" + t.table() + "#column/" + column,
                          "The default of "
                              + column
                              + " draws from the sequence "
                              + sequence
                              + ", which is not at the site and does not come.",
                          "Take it into the version, or create it at the site first")));
    }
  }

  /** Names of the sequences that no column owns, as they will be. */
  private static Set<String> sequencesAfter(ImpactCase impact) {
    Set<ComponentKey> keys = new TreeSet<>(impact.objects().keySet());
    for (ObjectDelta o : impact.delta().objects()) {
      if (o.result() == null) {
        keys.remove(o.key());
      } else {
        keys.add(o.key());
      }
    }
    Set<String> out = new TreeSet<>();
    keys.stream()
        .filter(k -> k.kind() == Kind.SEQUENCE)
        .map(ObjectName::of)
        .forEach(n -> out.add(n.schema() + "." + n.name()));
    impact.uncarried().stream()
        .filter(u -> u.sort() == Uncarried.Sort.SEQUENCE)
        .forEach(u -> out.add(u.name()));
    return out;
  }

  /**
   * What a part names and nothing at the site has: the database would refuse it at the switch, or a
   * user's insert afterwards. Tables that are there, or come with the plan, are asked for
   * elsewhere.
   */
  private static void needed(ImpactCase impact, Consumer<Finding> found) {
    Map<TableName, NamedThings> all = new LinkedHashMap<>();
    Set<NamedThings.Name> asked = new TreeSet<>();
    for (TablesDelta.TableDelta t : impact.delta().tables()) {
      if (t.result() != null) {
        NamedThings named = NamedThings.of(t.result());
        all.put(t.table(), named);
        named.byPart().values().forEach(asked::addAll);
      }
    }
    impact.after().keySet().forEach(t -> asked.remove(new Name(t.schema(), t.table())));
    impact.delta().objects().stream()
        .filter(o -> o.result() != null)
        .map(o -> o.becomes().name())
        .forEach(n -> asked.remove(new Name(n.schema(), n.name())));
    if (asked.isEmpty()) {
      return;
    }
    Map<NamedThings.Name, List<String>> users = new TreeMap<>();
    for (NamedThings.Name name : impact.target().absent(asked)) {
      all.forEach(
          (table, named) ->
              named
                  .byPart()
                  .forEach(
                      (part, names) -> {
                        if (names.contains(name)) {
                          users
                              .computeIfAbsent(name, n -> new ArrayList<>())
                              .add("table/" + table + "#" + part);
                        }
                      }));
    }
    users.forEach((name, parts) -> found.accept(missing(name, parts)));
  }

  /** One finding for each thing that is missing, however many use it. */
  private static Finding missing(NamedThings.Name name, List<String> parts) {
    String first = parts.get(0);
    return Finding.of(
            "needed-missing",
            Severity.BLOCKER,
            first,
            parts.size() == 1
                ? first + " uses " + name + ", which is not at the site and does not come."
                : first
                    + " uses "
                    + name
                    + ", which is not at the site and does not come; "
                    + (parts.size() == 2
                        ? "1 more place uses it too."
                        : parts.size() - 1 + " more places use it too."),
            parts.size(),
            "Take it into the version, or create it at the site first; what an extension brings comes with CREATE EXTENSION … SCHEMA "
                + name.schema(),
            null)
        .with(parts.subList(0, Math.min(MOST_SHOWN, parts.size())));
  }

  private static boolean isSecured(@Nullable TableStructure table) {
    return table != null && table.setting(Setting.ROW_SECURITY).isPresent();
  }

  /**
   * Row security that comes: what is new has it from its first row on, and who reads what is there
   * may see less of it afterwards.
   */
  private static void secured(ImpactCase impact, Consumer<Finding> found) {
    List<TablesDelta.TableDelta> comes =
        impact.delta().tables().stream()
            .filter(t -> isSecured(t.result()) && !isSecured(t.present()))
            .toList();
    if (comes.isEmpty()) {
      return;
    }
    boolean all = impact.target().readsAllRows();
    for (TablesDelta.TableDelta t : comes) {
      if (t.present() != null || !all) {
        found.accept(
            secured(
                Severity.RISK,
                t,
                t.table().toString(),
                all
                    ? "See that whoever reads or writes the table has a policy that gives the rows"
                    : "See that Plenzo's account for looking reads all rows (ALTER ROLE … BYPASSRLS), or the table cannot be compared any more"));
      }
    }
    List<TablesDelta.TableDelta> made = comes.stream().filter(t -> t.present() == null).toList();
    if (all && !made.isEmpty()) {
      found.accept(
          secured(
              Severity.NOTE,
              made.get(0),
              Words.and(made.stream().map(t -> t.table().toString()).toList(), MOST_SHOWN),
              "See that whoever uses what is new has a policy that gives the rows"));
    }
  }

  private static Finding secured(
      Severity severity, TablesDelta.TableDelta t, String what, String advice) {
    return Finding.said(
        "row-policy",
        severity,
        "table/" + t.table() + "#setting/" + Setting.ROW_SECURITY,
        "Row security comes with "
            + what
            + ": accounts that it holds for see only the rows that a policy gives them.",
        advice);
  }

  /** Triggers and rewrite rules are asked for by "foreign-code", when rows are written. */
  private static void policies(ImpactCase impact, Consumer<Finding> found) {
    Set<ComponentKey> carried =
        impact.components().stream().map(ComponentResult::key).collect(Collectors.toSet());
    for (TablesDelta.TableDelta t : impact.delta().tables()) {
      impact.objects().values().stream()
          .filter(o -> o.key().kind() == Kind.POLICY && !carried.contains(o.key()))
          .filter(o -> t.table().equals(o.name().on()))
          .forEach(
              o ->
                  found.accept(
                      Finding.said(
                          "row-policy",
                          Severity.RISK,
                          "table/" + t.table() + "#policy/" + o.name().name(),
                          "The policy "
                              + o.name().name()
                              + " of "
                              + t.table()
                              + " is not in the version and decides which rows people see and write.",
                          "See that it suits the rows that come")));
      impact.uncarried().stream()
          .filter(u -> u.sort() == Uncarried.Sort.POLICY && t.table().equals(u.on()))
          .forEach(
              u ->
                  found.accept(
                      Finding.said(
                          "row-policy",
                          Severity.RISK,
                          "table/" + t.table() + "#policy/" + u.bare(),
                          "The "
                              + u.shown()
                              + " is not carried and decides which rows people see and write.",
                          "See that it suits the rows that come")));
    }
  }

  /** What a partition has by itself goes with that of its table, once it is part of it. */
  private static void joined(ImpactCase impact, Consumer<Finding> found) {
    for (PartitionParts.Joined j : PartitionParts.joined(impact.delta(), impact.uncarried())) {
      String part = j.part().name().substring(0, j.part().name().indexOf(" of partition "));
      found.accept(
          Finding.said(
              "joins-table",
              Severity.RISK,
              "table/" + j.to().table() + "#partition/" + j.partition(),
              "The "
                  + part
                  + " that the partition "
                  + j.partition()
                  + " has by itself becomes part of "
                  + j.to().name()
                  + " of "
                  + j.to().table()
                  + ": going back takes it from the partition too.",
              "After going back, make it there again by hand"));
    }
  }

  /** Rows come with numbers of objects that stay where the rows come from. */
  private static void largeObjects(ImpactCase impact, Consumer<Finding> found) {
    for (TablesDelta.TableDelta t : impact.delta().tables()) {
      TablesDelta.RowsDelta rows = t.rows();
      if (rows == null || t.result() == null || rows.added() + rows.changed() == 0) {
        continue;
      }
      List<String> columns = new ArrayList<>(LargeObjects.columns(t.result()));
      columns.retainAll(rows.columns().names());
      if (!columns.isEmpty()) {
        found.accept(
            Finding.said(
                "large-objects",
                Severity.RISK,
                "records/" + t.table(),
                "Of the rows that come, " + LargeObjects.said(columns) + ".",
                LargeObjects.ADVICE));
      }
    }
  }

  private static void others(ImpactCase impact, Consumer<Finding> found) {
    TreeSet<String> names = new TreeSet<>();
    impact.uncarried().forEach(u -> names.add(u.shown()));
    if (!names.isEmpty()) {
      found.accept(
          Finding.said(
              "not-carried",
              Severity.NOTE,
              "the site",
              Words.count(names.size(), "thing")
                  + " at the site "
                  + (names.size() == 1 ? "is" : "are")
                  + " not carried: not compared, not backed up, left as "
                  + (names.size() == 1 ? "it is" : "they are")
                  + ": "
                  + listed(List.copyOf(names))
                  + ".",
              "Change them by hand where the version needs it"));
    }
  }

  /** So many are named in a sentence (guess); the rest is counted. */
  private static final int NAMED = 20;

  private static String listed(List<String> names) {
    return names.stream().limit(NAMED).collect(Collectors.joining(", "))
        + (names.size() > NAMED ? " and " + (names.size() - NAMED) + " more" : "");
  }
}
