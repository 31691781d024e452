package plenzo.core.impact;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.TableName;
import plenzo.core.inventory.NamedThings;
import plenzo.core.object.KnownObjects;
import plenzo.core.object.ObjectDelta;
import plenzo.core.object.ObjectDelta.Act;
import plenzo.core.object.SchemaObject;
import plenzo.core.object.SchemaObject.Sort;
import plenzo.core.table.Column;
import plenzo.core.table.Conversion;
import plenzo.core.table.Renaming;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Question;
import plenzo.core.target.TablesDelta;

/**
 * A question about values of a column whose type becomes another one of the same name, which that
 * one would not hold.
 *
 * @param rule what is said of an answer
 * @param what of the values, as it stands behind "2 rows of fares.band have"
 * @param marks whether the question can be asked of single rows
 */
record Unsuited(
    ObjectDelta type, Column column, String rule, String what, Question question, boolean marks) {
  private static final String NO_FIT = "value-does-not-fit";
  private static final String CHECK = "check-violated";

  /** Every such question about one table. */
  static List<Unsuited> of(TablesDelta delta, TableName table, TableStructure is) {
    List<Unsuited> out = new ArrayList<>();
    delta.objects().forEach(o -> of(delta, o, table, is, out));
    return out;
  }

  private static void of(
      TablesDelta delta, ObjectDelta o, TableName table, TableStructure is, List<Unsuited> out) {
    if (o.act() == Act.ALTER && o.was().sort() == Sort.DOMAIN) {
      Map<String, String> checks = checks(o.was(), o.becomes());
      for (Column c : having(o, is)) {
        checks.forEach((name, condition) -> out.add(check(o, table, c, name, condition)));
      }
      return;
    }
    o.columns().stream()
        .filter(c -> c.table().equals(table))
        .flatMap(c -> is.column(c.column()).stream())
        .forEach(c -> exchanged(delta, o, table, c, out));
  }

  private static void exchanged(
      TablesDelta delta, ObjectDelta o, TableName table, Column c, List<Unsuited> out) {
    switch (o.was().sort()) {
      case ENUM -> labels(o, table, c, out);
      case COMPOSITE -> attributes(delta, o, table, c, out);
      case DOMAIN -> base(delta, o, table, c, out);
      case RANGE -> bounds(delta, o, table, c, out);
      default -> {}
    }
  }

  private static void labels(ObjectDelta o, TableName table, Column c, List<Unsuited> out) {
    List<String> gone = new ArrayList<>(o.was().shape());
    gone.removeAll(o.becomes().shape());
    if (!gone.isEmpty()) {
      out.add(
          new Unsuited(
              o,
              c,
              NO_FIT,
              "a label in "
                  + c.name()
                  + " that "
                  + o.key()
                  + " has no more ("
                  + String.join(", ", gone)
                  + ")",
              Question.holdingLabels(table, c.name(), c.type(), gone),
              true));
    }
  }

  private static void attributes(
      TablesDelta delta, ObjectDelta o, TableName table, Column c, List<Unsuited> out) {
    Map<String, String> was = o.was().attributes();
    Map<String, String> is = o.becomes().attributes();
    if (isArray(c)) {
      if (!List.copyOf(was.keySet()).equals(List.copyOf(is.keySet()))) {
        out.add(
            new Unsuited(
                o,
                c,
                NO_FIT,
                "values in "
                    + c.name()
                    + ", an array of "
                    + o.key()
                    + " whose attributes are others or stand in another order",
                Question.violatingValue(
                    table, c.name(), "(coalesce(pg_catalog.cardinality(VALUE), 0) = 0)"),
                true));
      }
      return;
    }
    List<String> gone = was.keySet().stream().filter(a -> !is.containsKey(a)).toList();
    if (!gone.isEmpty()) {
      out.add(
          new Unsuited(
              o,
              c,
              NO_FIT,
              "a value in "
                  + String.join(", ", gone)
                  + " of "
                  + c.name()
                  + ", which "
                  + o.key()
                  + " has no more",
              Question.violatingValue(
                  table,
                  c.name(),
                  gone.stream()
                      .map(a -> "(VALUE)." + a + " IS NULL")
                      .collect(Collectors.joining(" AND ", "(", ")"))),
              true));
    }
    String values =
        was.entrySet().stream()
            .filter(a -> is.containsKey(a.getKey()) && !a.getValue().equals(is.get(a.getKey())))
            .map(
                a ->
                    read(c)
                        + "."
                        + a.getKey()
                        + "::text::"
                        + SchemaObject.withoutCollation(Objects.requireNonNull(is.get(a.getKey()))))
            .collect(Collectors.joining(", "));
    if (!values.isEmpty() && !Coming.names(delta, values)) {
      out.add(converts(o, table, c, "ROW(" + values + ")", "record"));
    }
  }

  private static void base(
      TablesDelta delta, ObjectDelta o, TableName table, Column c, List<Unsuited> out) {
    String base = SchemaObject.withoutCollation(o.becomes().shape().get(0));
    if (Coming.names(delta, base)) {
      return;
    }
    String type = base + (isArray(c) ? "[]" : "");
    String value = read(c) + "::text::" + type;
    out.add(converts(o, table, c, value, type));
    if (!isArray(c)) {
      checks(null, o.becomes())
          .forEach(
              (name, condition) ->
                  out.add(
                      new Unsuited(
                          o,
                          c,
                          CHECK,
                          name,
                          Question.violatingValue(table, c.name(), condition)
                              .converting(converted(c, value, type)),
                          false)));
    }
  }

  private static void bounds(
      TablesDelta delta, ObjectDelta o, TableName table, Column c, List<Unsuited> out) {
    String of =
        o.becomes().shape().stream()
            .filter(s -> s.startsWith("SUBTYPE = "))
            .map(s -> s.substring("SUBTYPE = ".length()))
            .findFirst()
            .orElse("");
    if (!isArray(c) && !of.isEmpty() && !Coming.names(delta, of)) {
      String bounds =
          "ROW(pg_catalog.lower("
              + read(c)
              + ")::text::"
              + of
              + ", pg_catalog.upper("
              + read(c)
              + ")::text::"
              + of
              + ")";
      out.add(converts(o, table, c, bounds, "record"));
    }
  }

  private static Unsuited converts(
      ObjectDelta o, TableName table, Column c, String expression, String type) {
    return new Unsuited(
        o,
        c,
        NO_FIT,
        "a value in " + c.name() + " that " + o.key() + " cannot hold as it will be",
        Question.of(Question.Type.CONVERSION_FAILS, table)
            .converting(converted(c, expression, type)),
        false);
  }

  private static Question.Converted converted(Column c, String expression, String type) {
    Conversion by = new Conversion(expression, Map.of(c.name(), c.type()));
    return new Question.Converted(List.of(), List.of(new Question.Made(c.name(), type, by)));
  }

  private static Unsuited check(
      ObjectDelta o, TableName table, Column c, String name, String condition) {
    return new Unsuited(
        o,
        c,
        CHECK,
        name,
        Question.violatingValue(table, c.name(), condition),
        !name.equals("not null"));
  }

  /** Whether values of an exchanged type are held against what it will be by no question. */
  static boolean isUncounted(TablesDelta delta, ObjectDelta o, Column c) {
    return switch (o.was().sort()) {
      case COMPOSITE ->
          isArray(c) && !o.was().attributes().equals(o.becomes().attributes())
              || o.becomes().attributes().values().stream().anyMatch(t -> Coming.names(delta, t));
      case DOMAIN ->
          Coming.names(delta, o.becomes().shape().get(0))
              || isArray(c) && !checks(null, o.becomes()).isEmpty();
      case RANGE ->
          isArray(c) || o.becomes().shape().stream().anyMatch(s -> Coming.names(delta, s));
      default -> false;
    };
  }

  /** Tables that have a column about which there is such a question. */
  static Set<TableName> tables(TablesDelta delta, Map<TableName, TableStructure> all) {
    return all.entrySet().stream()
        .filter(t -> of(delta, t.getKey(), t.getValue()).stream().anyMatch(Unsuited::marks))
        .map(Map.Entry::getKey)
        .collect(Collectors.toCollection(LinkedHashSet::new));
  }

  private static List<Column> having(ObjectDelta o, TableStructure is) {
    KnownObjects type = new KnownObjects(Set.of(o.key()));
    return is.columns().stream()
        .filter(c -> !isArray(c))
        .filter(c -> NamedThings.in(c.type()).stream().anyMatch(n -> !type.named(n).isEmpty()))
        .toList();
  }

  /** Checks that come, by their names, as conditions on VALUE. */
  private static Map<String, String> checks(@Nullable SchemaObject was, SchemaObject is) {
    Map<String, String> had = was == null ? Map.of() : was.parts();
    Map<String, String> out = new TreeMap<>();
    is.parts()
        .forEach(
            (name, definition) -> {
              if (name.startsWith("constraint/")
                  && !definition.equals(had.get(name))
                  && definition.startsWith("CHECK ")
                  && !definition.endsWith("NOT VALID")) {
                out.put(
                    name.substring("constraint/".length()),
                    definition.substring("CHECK ".length()));
              }
            });
    if ("yes".equals(is.parts().get("not null")) && !"yes".equals(had.get("not null"))) {
      out.put("not null", "VALUE IS NOT NULL");
    }
    return out;
  }

  private static boolean isArray(Column c) {
    return c.type().endsWith("]");
  }

  private static String read(Column c) {
    return "(" + Renaming.quoted(c.name()) + ")";
  }
}
