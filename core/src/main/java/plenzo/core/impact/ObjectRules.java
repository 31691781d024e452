package plenzo.core.impact;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.impact.Finding.Severity;
import plenzo.core.object.KnownObjects;
import plenzo.core.object.ObjectDelta;
import plenzo.core.object.ObjectDelta.Act;
import plenzo.core.object.SchemaObject;
import plenzo.core.object.SchemaObject.Needed;
import plenzo.core.object.SchemaObject.Sort;
import plenzo.core.table.Column;
import plenzo.core.table.Constraint;
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
          Rule.of("value-does-not-fit", Severity.BLOCKER, ObjectRules::labels),
          Rule.of("check-violated", Severity.BLOCKER, ObjectRules::domains),
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
                      "It uses " + what + ", which is not at the site and does not come.",
                      "Take it into the version, or create it at the site first")
                  // it stands there as it is: what it lacks then goes with this plan
                  : Finding.said(
                      "dependent-breaks",
                      Severity.BLOCKER,
                      o.key().toString(),
                      "It stands at the site and uses " + what + ", which goes.",
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
      return List.of(n.component().toString());
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

  private static Finding breaks(String place, ComponentKey goes, String what) {
    return Finding.said(
        "dependent-breaks",
        Severity.BLOCKER,
        place,
        goes + " goes, and " + what + " is built on it.",
        "Remove that in the version too, or leave the removal out");
  }

  /** Values of an enumeration that lacks their label afterwards. */
  private static void labels(ImpactCase impact, Consumer<Finding> found) {
    for (ObjectDelta o : impact.delta().objects()) {
      if (!o.columns().isEmpty() && o.was().sort() != Sort.ENUM) {
        if (o.key().kind() == Kind.ROUTINE) {
          continue; // it only goes and comes again
        }
        found.accept(otherwiseTyped(o));
        continue;
      }
      for (ObjectDelta.Column c : o.columns()) {
        List<String> gone =
            o.was().shape().stream().filter(l -> !o.becomes().shape().contains(l)).toList();
        Column column = c.structure().column(c.column()).orElseThrow();
        if (gone.isEmpty()
            || impact.delta(c.table()).filter(t -> t.present() == null).isPresent()) {
          continue;
        }
        Question.Answer a =
            impact
                .target()
                .answer(
                    Question.holdingLabels(c.table(), column.name(), column.type(), gone)
                        .without(written(impact, c)));
        if (a.count() > 0) {
          found.accept(
              Finding.of(
                      "value-does-not-fit",
                      Severity.BLOCKER,
                      "table/" + c.table() + "#column/" + c.column(),
                      Words.count(a.count(), "row")
                          + " of "
                          + c.table()
                          + (a.count() == 1 ? " has" : " have")
                          + " a label in "
                          + c.column()
                          + " that "
                          + o.key()
                          + " has no more ("
                          + String.join(", ", gone)
                          + ").",
                      a.count(),
                      "Give those rows another value at the site first, then compare again",
                      a.query())
                  .with(a.examples()));
        }
      }
    }
  }

  /** Rows that go with the plan, or get another value. */
  private static Question.Tuples written(ImpactCase impact, ObjectDelta.Column c) {
    return impact
        .delta(c.table())
        .flatMap(t -> Unheld.filled(t, c.column()))
        .orElse(Question.Tuples.NONE);
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

  /** Values that a check of a domain, which comes, does not allow. */
  private static void domains(ImpactCase impact, Consumer<Finding> found) {
    for (ObjectDelta o : impact.delta().objects()) {
      SchemaObject result = o.result();
      if (o.act() != Act.ALTER || result == null || result.sort() != Sort.DOMAIN) {
        continue;
      }
      KnownObjects type = new KnownObjects(Set.of(o.key()));
      for (Map.Entry<TableName, TableStructure> t : impact.tables().entrySet()) {
        for (Column c : t.getValue().columns()) {
          if (plenzo.core.inventory.NamedThings.in(c.type()).stream()
                  .allMatch(n -> type.named(n).isEmpty())
              || c.type().endsWith("]")) {
            continue;
          }
          conditions(o.was(), result)
              .forEach(
                  (name, condition) -> {
                    Question.Answer a =
                        impact
                            .target()
                            .answer(Question.violatingValue(t.getKey(), c.name(), condition));
                    if (a.count() > 0) {
                      found.accept(
                          Finding.of(
                              "check-violated",
                              Severity.BLOCKER,
                              "table/" + t.getKey() + "#column/" + c.name(),
                              Words.count(a.count(), "row")
                                  + (a.count() == 1 ? " does" : " do")
                                  + " not meet "
                                  + name
                                  + " of "
                                  + o.key()
                                  + ".",
                              a.count(),
                              "Correct the rows at the site first, then compare again",
                              a.query()));
                    }
                  });
        }
      }
    }
  }

  /** Checks that come, by their names, as conditions on VALUE. */
  private static Map<String, String> conditions(SchemaObject was, SchemaObject is) {
    Map<String, String> out = new java.util.TreeMap<>();
    is.parts()
        .forEach(
            (name, definition) -> {
              if (name.startsWith("constraint/")
                  && !definition.equals(was.parts().get(name))
                  && definition.startsWith("CHECK ")
                  && !definition.endsWith("NOT VALID")) {
                out.put(
                    name.substring("constraint/".length()),
                    definition.substring("CHECK ".length()));
              }
            });
    if ("yes".equals(is.parts().get("not null")) && !"yes".equals(was.parts().get("not null"))) {
      out.put("not null", "VALUE IS NOT NULL");
    }
    return out;
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
