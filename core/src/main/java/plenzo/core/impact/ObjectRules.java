package plenzo.core.impact;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.ObjectName;
import plenzo.core.component.TableName;
import plenzo.core.impact.Finding.Severity;
import plenzo.core.inventory.NamedThings.Name;
import plenzo.core.object.KnownObjects;
import plenzo.core.object.ObjectDelta;
import plenzo.core.object.ObjectDelta.Act;
import plenzo.core.object.SchemaObject;
import plenzo.core.object.SchemaObject.Needed;
import plenzo.core.table.Constraint;
import plenzo.core.table.Renaming;
import plenzo.core.table.StructureChange;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Question;
import plenzo.core.target.TablesDelta;
import plenzo.core.words.Words;

/** Rules about views, routines, types and whatever else a schema has by name. */
final class ObjectRules {
  static final List<Rule<ImpactCase>> ALL =
      List.of(
          Rule.of("needed-missing", Severity.BLOCKER, ObjectRules::needed),
          Rule.of("dependent-breaks", Severity.BLOCKER, ObjectRules::going),
          Rule.of("dependent-breaks", Severity.BLOCKER, ObjectRules::builtBeyond),
          Rule.of("value-does-not-fit", Severity.BLOCKER, ObjectRules::values),
          Rule.of("not-counted", Severity.RISK, ObjectRules::uncounted),
          Rule.of("check-violated", Severity.BLOCKER, ExclusionRules::check),
          Rule.of("long-lock", Severity.RISK, ObjectRules::exchanged),
          Rule.of("made-again", Severity.RISK, ObjectRules::again));

  private ObjectRules() {}

  /** What an object that comes needs and nothing at the site has, or will have. */
  private static void needed(ImpactCase impact, Consumer<Finding> found) {
    Set<ComponentKey> after = after(impact);
    // of what goes with this plan "dependent-breaks" speaks
    impact.delta().objects().stream()
        .filter(o -> o.act() == Act.DROP)
        .forEach(o -> after.add(o.key()));
    Set<String> extensions = new TreeSet<>();
    for (ObjectDelta o : impact.delta().objects()) {
      SchemaObject result = o.result();
      if (result == null || !o.comes() && o.act() != Act.ALTER) {
        continue;
      }
      extensions.addAll(result.extensions());
      for (Needed n : result.needs()) {
        List<String> missing = missing(impact, after, n);
        if (!missing.isEmpty()) {
          String what = String.join(", ", missing);
          found.accept(
              o.changes()
                  ? Finding.said(
                      "needed-missing",
                      Severity.BLOCKER,
                      o.key().toString(),
                      o.key() + " uses " + what + ", which is not at the site and does not come.",
                      "Take it into the version, or create it at the site first")
                  // it stands there as it is: what it lacks then goes with this plan
                  : Finding.said(
                      "dependent-breaks",
                      Severity.BLOCKER,
                      o.key().toString(),
                      o.key() + " stands at the site and uses " + what + ", which goes.",
                      "Keep what it uses, or bring with the version what it is then"));
        }
      }
    }
    if (extensions.isEmpty()) {
      return;
    }
    extensions.removeAll(impact.target().extensions());
    for (String name : extensions) {
      found.accept(
          Finding.said(
              "needed-missing",
              Severity.BLOCKER,
              "extension " + name,
              "The version needs the extension " + name + ", which the site's database lacks.",
              "An administrator of the database creates it: CREATE EXTENSION " + name));
    }
  }

  private static List<String> missing(ImpactCase impact, Set<ComponentKey> after, Needed n) {
    if (!after.contains(n.component())) {
      Name name = name(n.component());
      boolean elsewhere =
          !schemas(impact).contains(name.schema())
              && impact.target().absent(Set.of(name)).isEmpty();
      return elsewhere ? List.of() : List.of(n.component().toString());
    }
    if (n.component().kind() != Kind.TABLE) {
      return List.of();
    }
    TableStructure table = impact.after().get(TableName.of(n.component().name()));
    List<String> out = new ArrayList<>();
    for (String part : n.parts()) {
      int at = part.indexOf('/');
      String name = part.substring(at + 1);
      boolean there =
          table != null
              && (part.startsWith("column/")
                  ? table.column(name).isPresent()
                  : table.constraint(name).isPresent());
      if (!there) {
        out.add(n.component() + "#" + part);
      }
    }
    return out;
  }

  private static Name name(ComponentKey key) {
    if (key.kind() == Kind.TABLE) {
      TableName table = TableName.of(key.name());
      return new Name(table.schema(), table.table());
    }
    ObjectName name = ObjectName.of(key);
    return new Name(name.schema(), name.name());
  }

  /** Those of which everything is known; of others the target is asked. */
  private static Set<String> schemas(ImpactCase impact) {
    Set<String> out = new TreeSet<>();
    impact.tables().keySet().forEach(t -> out.add(t.schema()));
    impact.objects().keySet().forEach(k -> out.add(k.schema()));
    impact.delta().tables().forEach(t -> out.add(t.table().schema()));
    impact.delta().objects().forEach(o -> out.add(o.key().schema()));
    return out;
  }

  /** Everything as it will be, as keys. */
  private static Set<ComponentKey> after(ImpactCase impact) {
    Set<ComponentKey> out = new TreeSet<>(impact.objects().keySet());
    for (ObjectDelta o : impact.delta().objects()) {
      if (o.result() == null) {
        out.remove(o.key());
      } else {
        out.add(o.key());
      }
    }
    impact.after().keySet().forEach(t -> out.add(new ComponentKey(Kind.TABLE, t.componentName())));
    return out;
  }

  /** What goes, while something that stays is built on it. */
  private static void going(ImpactCase impact, Consumer<Finding> found) {
    Set<ComponentKey> going =
        impact.delta().objects().stream()
            .filter(o -> o.act() == Act.DROP)
            .map(ObjectDelta::key)
            .collect(Collectors.toSet());
    Map<ComponentKey, ObjectDelta> planned = new HashMap<>();
    impact.delta().objects().forEach(o -> planned.put(o.key(), o));
    if (going.isEmpty()) {
      return;
    }
    KnownObjects known = new KnownObjects(going);
    impact
        .after()
        .forEach(
            (table, structure) ->
                known.needs(
                    structure,
                    table.schema(),
                    (part, key) -> found.accept(breaks("table/" + table + "#" + part, key, "it"))));
    for (SchemaObject o : impact.objects().values()) {
      ObjectDelta plan = planned.get(o.key());
      SchemaObject stays = plan == null ? o : plan.result();
      if (stays != null) {
        stays.needs().stream()
            .map(Needed::component)
            .filter(going::contains)
            .forEach(key -> found.accept(breaks(o.key().toString(), key, stays.shown())));
      }
    }
  }

  /** What is not carried, or stands elsewhere, keeps the database from taking an object away. */
  private static void builtBeyond(ImpactCase impact, Consumer<Finding> found) {
    Set<String> schemas = schemas(impact);
    for (ObjectDelta o : impact.delta().objects()) {
      Kind kind = o.key().kind();
      if (!o.goes() || kind.worksOnOne()) {
        continue;
      }
      Question.Answer a = impact.target().answer(Question.builtOn(o.was().key(), schemas));
      if (a.count() > 0) {
        boolean one = a.count() == 1;
        found.accept(
            Finding.of(
                    "dependent-breaks",
                    Severity.BLOCKER,
                    o.key().toString(),
                    a.named("Something")
                        + " built on "
                        + o.was().shown()
                        + ", which goes"
                        + (o.comes() ? " before it is made again" : "")
                        + ": the database refuses that, and "
                        + (one ? "it is" : "they are")
                        + " not carried.",
                    a.count(),
                    "Drop "
                        + (one ? "it" : "them")
                        + " at the site first, and make "
                        + (one ? "it" : "them")
                        + " again afterwards",
                    a.query())
                .with(a.examples()));
      }
    }
  }

  private static Finding breaks(String place, ComponentKey goes, String what) {
    return Finding.said(
        "dependent-breaks",
        Severity.BLOCKER,
        place,
        goes + " goes, and " + what + " is built on it.",
        "Remove that in the version too, or leave the removal out");
  }

  /** Values that a type would not hold as it will be. */
  private static void values(ImpactCase impact, Consumer<Finding> found) {
    for (Map.Entry<TableName, TableStructure> t : impact.tables().entrySet()) {
      TableStructure is =
          impact
              .delta(t.getKey())
              .map(TablesDelta.TableDelta::result)
              .filter(Objects::nonNull)
              .orElse(t.getValue());
      boolean refused = false;
      for (Unsuited u : Unsuited.of(impact.delta(), t.getKey(), is)) {
        if (t.getValue().column(u.column().name()).isPresent() && !refused) {
          Question.Answer a =
              impact
                  .target()
                  .answer(
                      u.marks()
                          ? u.question().without(written(impact, t.getKey(), u.column().name()))
                          : u.question());
          if (a.count() > 0) {
            found.accept(unsuited(t.getKey(), u, a));
            // what cannot become the type is held against none of its checks
            refused = !u.marks() && u.rule().equals("value-does-not-fit");
          }
        }
      }
    }
    impact.delta().objects().stream()
        .filter(
            o ->
                o.columns().stream()
                    .flatMap(c -> c.structure().column(c.column()).stream())
                    .anyMatch(c -> Unsuited.isUncounted(impact.delta(), o, c)))
        .forEach(o -> found.accept(otherwiseTyped(o)));
  }

  private static Finding unsuited(TableName table, Unsuited u, Question.Answer a) {
    String rows = Words.count(a.count(), "row");
    String sentence =
        u.rule().equals("check-violated")
            ? rows
                + " of "
                + table
                + (a.count() == 1 ? " does" : " do")
                + " not meet, in "
                + u.column().name()
                + ", "
                + u.what()
                + " of "
                + u.type().key()
                + "."
            : rows + " of " + table + (a.count() == 1 ? " has " : " have ") + u.what() + ".";
    return Finding.of(
            u.rule(),
            Severity.BLOCKER,
            "table/" + table + "#column/" + u.column().name(),
            sentence,
            a.count(),
            otherNames(u.type())
                .map(
                    names ->
                        "If attributes only got other names, give them those at the site first, where they keep their values ("
                            + names
                            + "); else give those rows another value; then compare again")
                .orElse("Give those rows another value at the site first, then compare again"),
            a.query())
        .with(a.examples());
  }

  /** Attributes that may have other names: one goes where another of its type comes. */
  private static Optional<String> otherNames(ObjectDelta type) {
    if (type.was().sort() != SchemaObject.Sort.COMPOSITE) {
      return Optional.empty();
    }
    Map<String, String> was = type.was().attributes();
    Map<String, String> is = type.becomes().attributes();
    List<String> comes = List.copyOf(is.keySet());
    List<String> out = new ArrayList<>();
    int at = 0;
    for (Map.Entry<String, String> a : was.entrySet()) {
      String next = at < comes.size() ? comes.get(at) : a.getKey();
      if (!is.containsKey(a.getKey())
          && !was.containsKey(next)
          && a.getValue().equals(is.get(next))) {
        out.add(
            "ALTER TYPE "
                + Renaming.quoted(type.was().name().schema())
                + "."
                + Renaming.quoted(type.was().name().name())
                + " RENAME ATTRIBUTE "
                + a.getKey()
                + " TO "
                + next
                + " CASCADE");
      }
      at++;
    }
    return out.isEmpty() ? Optional.empty() : Optional.of(String.join("; ", out));
  }

  /** Rows that go with the plan, or get another value. */
  private static Question.Tuples written(ImpactCase impact, TableName table, String column) {
    return impact.delta(table).flatMap(t -> Unheld.filled(t, column)).orElse(Question.Tuples.NONE);
  }

  private static Finding otherwiseTyped(ObjectDelta o) {
    return Finding.said(
        "not-counted",
        Severity.RISK,
        o.key().toString(),
        "Whether every value of "
            + o.columns().stream()
                .map(c -> c.table() + " " + c.column())
                .collect(Collectors.joining(", "))
            + " suits the "
            + o.becomes().sort().word()
            + " as it will be was not counted.",
        "Look at the values yourself; the run is refused unchanged when one does not");
  }

  /** Rows cannot be held against what is not there yet. */
  private static void uncounted(ImpactCase impact, Consumer<Finding> found) {
    for (TablesDelta.TableDelta t : impact.delta().tables()) {
      if (t.present() == null) {
        continue;
      }
      for (StructureChange c : StructureChange.between(t.table(), t.present(), t.result())) {
        Constraint k = c.constraint();
        boolean check =
            c.act() == StructureChange.Act.ADD_CONSTRAINT
                && k != null
                && k.type() == Constraint.Type.CHECK
                && Coming.names(impact.delta(), k.definition());
        boolean type =
            c.act() == StructureChange.Act.CHANGE_COLUMN
                && Coming.uncounted(impact.delta(), Objects.requireNonNull(c.after()).type());
        boolean drawn =
            k != null
                && (c.act() == StructureChange.Act.ADD_FOREIGN_KEY
                    || c.act() == StructureChange.Act.ADD_CONSTRAINT
                        && k.type() == Constraint.Type.CHECK)
                && !k.definition().endsWith("NOT VALID")
                && !check
                && !Unheld.canCount(impact.delta(), t, c, impact.tables())
                && impact.target().answer(Question.of(Question.Type.ROWS, t.table())).count() > 0;
        if (drawn) {
          found.accept(
              Finding.said(
                  "not-counted",
                  Severity.RISK,
                  "table/" + t.table() + "#constraint/" + c.name(),
                  "Whether the rows of "
                      + t.table()
                      + " suit "
                      + c.name()
                      + " could not be counted: what it reads is known of each row only when it has come.",
                  "Look at the rows yourself; the run is refused unchanged when they do not"));
        }
        if (check || type) {
          found.accept(
              Finding.said(
                  "not-counted",
                  Severity.RISK,
                  "table/" + t.table() + "#" + (check ? "constraint/" : "column/") + c.name(),
                  "Whether the rows of "
                      + t.table()
                      + " suit "
                      + c.name()
                      + " could not be counted: it uses what comes with this plan.",
                  "Look at the rows yourself; the run is refused unchanged when they do not"));
        }
      }
    }
  }

  /** A table whose column gets an exchanged type is written anew. */
  private static void exchanged(ImpactCase impact, Consumer<Finding> found) {
    Set<TableName> tables = new java.util.LinkedHashSet<>();
    impact.delta().objects().forEach(o -> o.columns().forEach(c -> tables.add(c.table())));
    for (TableName t : tables) {
      if (impact.tables().containsKey(t)) {
        StructureRules.longLock(impact, t, found);
      }
    }
  }

  private static void again(ImpactCase impact, Consumer<Finding> found) {
    List<String> names =
        impact.delta().againObjects().stream()
            .filter(o -> o.act() == Act.REBUILD)
            .map(o -> o.was().shown())
            .toList();
    if (!names.isEmpty()) {
      found.accept(
          Finding.said(
              "made-again",
              Severity.NOTE,
              "the site",
              String.join(", ", names)
                  + (names.size() == 1 ? " goes and is" : " go and are")
                  + " made again in the same transaction, with who may use "
                  + (names.size() == 1 ? "it" : "them")
                  + ": something below changes.",
              "Nothing; the statements of the plan show it"));
    }
  }
}
