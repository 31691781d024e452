package plenzo.connectors.database.sql;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.SortedMap;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.Kind;
import plenzo.core.component.ObjectName;
import plenzo.core.object.SchemaObject;

/**
 * Statements that make, alter and take away schema objects. What is SQL by nature is the server's
 * own text, part of the version and shown before it runs.
 */
public final class ObjectSql {
  private static final String OPTION = "option/";
  private static final String CONSTRAINT = "constraint/";
  private static final String INDEX = "index/";
  private static final String DEFAULT = "default/";
  private static final String RULE = "rule/";

  private ObjectSql() {}

  /** The object as statements name it, with what it is: {@code VIEW "fares"."tariff"}. */
  public static String named(SchemaObject o) {
    ObjectName name = o.name();
    String plain = plain(o);
    return switch (o.sort()) {
      case VIEW -> "VIEW " + plain;
      case MATERIALIZED_VIEW -> "MATERIALIZED VIEW " + plain;
      case FUNCTION -> "FUNCTION " + plain + "(" + name.arguments() + ")";
      case PROCEDURE -> "PROCEDURE " + plain + "(" + name.arguments() + ")";
      case AGGREGATE ->
          "AGGREGATE "
              + plain
              + "("
              + (Objects.requireNonNullElse(name.arguments(), "").isEmpty()
                  ? "*"
                  : name.arguments())
              + ")";
      case SEQUENCE -> "SEQUENCE " + plain;
      case TRIGGER -> "TRIGGER " + Sql.name(name.name()) + " ON " + on(o);
      case POLICY -> "POLICY " + Sql.name(name.name()) + " ON " + on(o);
      case DOMAIN -> "DOMAIN " + plain;
      case GRANT -> GrantedSql.what(o);
      case ENUM, COMPOSITE, RANGE -> "TYPE " + plain;
    };
  }

  /** Schema and name, quoted. */
  private static String plain(SchemaObject o) {
    return Sql.name(o.name().schema()) + "." + Sql.name(o.name().name());
  }

  private static String on(SchemaObject o) {
    return Sql.name(Objects.requireNonNull(o.name().on()));
  }

  public static String drop(SchemaObject o) {
    return o.sort() == SchemaObject.Sort.GRANT ? GrantedSql.drop(o) : "DROP " + named(o);
  }

  /** Everything that makes it, its comments too. */
  public static List<String> make(SchemaObject o) {
    List<String> out = new ArrayList<>();
    switch (o.sort()) {
      case VIEW -> view(o, "CREATE VIEW ", out);
      case MATERIALIZED_VIEW -> {
        out.add("CREATE MATERIALIZED VIEW " + plain(o) + options(o) + " AS " + o.body());
        of(o.parts(), INDEX).values().forEach(out::add);
      }
      case FUNCTION, PROCEDURE, AGGREGATE -> out.add(o.body());
      case SEQUENCE -> out.add("CREATE SEQUENCE " + plain(o) + " " + sequence(o));
      case TRIGGER -> {
        out.add(o.body());
        if (!enabled(o).equals("yes")) {
          out.add(enable(o));
        }
      }
      case ENUM ->
          out.add(
              "CREATE TYPE "
                  + plain(o)
                  + " AS ENUM ("
                  + String.join(", ", o.shape().stream().map(l -> Sql.literal(l).strip()).toList())
                  + ")");
      case COMPOSITE ->
          out.add("CREATE TYPE " + plain(o) + " AS (" + String.join(", ", o.shape()) + ")");
      case RANGE ->
          out.add("CREATE TYPE " + plain(o) + " AS RANGE (" + String.join(", ", o.shape()) + ")");
      case DOMAIN -> {
        out.add("CREATE DOMAIN " + plain(o) + " AS " + o.shape().get(0));
        loosened(o, Map.of(), o.parts(), out);
        out.addAll(tightened(o, Map.of()));
      }
      case POLICY -> out.add(policy(o));
      case GRANT -> out.addAll(GrantedSql.make(o));
    }
    comments(o, null, o, out);
    return out;
  }

  private static void view(SchemaObject o, String verb, List<String> out) {
    out.add(verb + plain(o) + options(o) + " AS " + o.body());
    of(o.parts(), DEFAULT)
        .forEach(
            (column, value) ->
                out.add(
                    "ALTER VIEW "
                        + plain(o)
                        + " ALTER COLUMN "
                        + Sql.name(column)
                        + " SET DEFAULT "
                        + value));
    out.addAll(of(o.parts(), RULE).values());
  }

  private static String options(SchemaObject o) {
    Map<String, String> options = of(o.parts(), OPTION);
    return options.isEmpty()
        ? ""
        : " WITH ("
            + String.join(
                ", ",
                options.entrySet().stream()
                    .map(e -> Sql.name(e.getKey()) + " = " + Sql.literal(e.getValue()).strip())
                    .toList())
            + ")";
  }

  private static String sequence(SchemaObject o) {
    SortedMap<String, String> p = o.parts();
    return "AS "
        + p.get("type")
        + " INCREMENT BY "
        + p.get("increment")
        + " MINVALUE "
        + p.get("min")
        + " MAXVALUE "
        + p.get("max")
        + " START WITH "
        + p.get("start")
        + " CACHE "
        + p.get("cache")
        + ("yes".equals(p.get("cycle")) ? " CYCLE" : " NO CYCLE");
  }

  private static String enabled(SchemaObject o) {
    return o.parts().getOrDefault("enabled", "yes");
  }

  private static String enable(SchemaObject o) {
    return "ALTER TABLE "
        + on(o)
        + switch (enabled(o)) {
          case "no" -> " DISABLE TRIGGER ";
          case "replica" -> " ENABLE REPLICA TRIGGER ";
          case "always" -> " ENABLE ALWAYS TRIGGER ";
          default -> " ENABLE TRIGGER ";
        }
        + Sql.name(o.name().name());
  }

  private static String policy(SchemaObject o) {
    SortedMap<String, String> p = o.parts();
    String using = p.get("using");
    String check = p.get("check");
    return "CREATE "
        + named(o)
        + ("no".equals(p.get("permissive")) ? " AS RESTRICTIVE" : " AS PERMISSIVE")
        + " FOR "
        + p.get("command")
        + " TO "
        + p.get("roles")
        + (using == null ? "" : " USING (" + using + ")")
        + (check == null ? "" : " WITH CHECK (" + check + ")");
  }

  private static SortedMap<String, String> of(SortedMap<String, String> parts, String prefix) {
    SortedMap<String, String> out = new java.util.TreeMap<>();
    parts.forEach(
        (name, value) -> {
          if (name.startsWith(prefix)) {
            out.put(name.substring(prefix.length()), value);
          }
        });
    return out;
  }

  /** From one to the other where it stands; the two are of one sort. */
  public static List<String> alter(SchemaObject was, SchemaObject is) {
    List<String> out = new ArrayList<>();
    switch (is.sort()) {
      case VIEW -> alterView(was, is, out);
      case MATERIALIZED_VIEW -> {
        materialized(was, is, out);
      }
      case FUNCTION, PROCEDURE -> {
        if (!was.body().equals(is.body())) {
          out.add(is.body());
        }
      }
      case SEQUENCE -> {
        if (!was.parts().equals(is.parts())) {
          out.add("ALTER SEQUENCE " + plain(is) + " " + sequence(is));
        }
      }
      case TRIGGER -> {
        if (!enabled(was).equals(enabled(is))) {
          out.add(enable(is));
        }
      }
      case ENUM -> labels(was, is, out);
      case COMPOSITE -> attributes(was, is, out);
      case DOMAIN -> loosened(is, was.parts(), is.parts(), out);
      case GRANT -> out.addAll(GrantedSql.alter(was, is));
      case AGGREGATE, RANGE, POLICY -> {
        // only its comment can be another
      }
    }
    comments(is, was, is, out);
    return out;
  }

  private static void alterView(SchemaObject was, SchemaObject is, List<String> out) {
    SortedMap<String, String> ruled = of(was.parts(), RULE);
    SortedMap<String, String> rules = of(is.parts(), RULE);
    ruled.forEach(
        (name, definition) -> {
          if (!definition.equals(rules.get(name))) {
            out.add("DROP RULE " + Sql.name(name) + " ON " + plain(is));
          }
        });
    boolean same =
        was.body().equals(is.body())
            && of(was.parts(), OPTION).equals(of(is.parts(), OPTION))
            && was.shape().equals(is.shape());
    if (!same) {
      out.add("CREATE OR REPLACE VIEW " + plain(is) + options(is) + " AS " + is.body());
    }
    SortedMap<String, String> had = of(was.parts(), DEFAULT);
    SortedMap<String, String> has = of(is.parts(), DEFAULT);
    Set<String> columns = new TreeSet<>(had.keySet());
    columns.addAll(has.keySet());
    for (String column : columns) {
      String value = has.get(column);
      if (!Objects.equals(had.get(column), value)) {
        out.add(
            "ALTER VIEW "
                + plain(is)
                + " ALTER COLUMN "
                + Sql.name(column)
                + (value == null ? " DROP DEFAULT" : " SET DEFAULT " + value));
      }
    }
    rules.forEach(
        (name, definition) -> {
          if (!definition.equals(ruled.get(name))) {
            out.add(definition);
          }
        });
  }

  private static void materialized(SchemaObject was, SchemaObject is, List<String> out) {
    SortedMap<String, String> had = of(was.parts(), INDEX);
    SortedMap<String, String> has = of(is.parts(), INDEX);
    had.forEach(
        (name, definition) -> {
          if (!definition.equals(has.get(name))) {
            out.add("DROP INDEX " + Sql.name(is.name().schema()) + "." + Sql.name(name));
          }
        });
    has.forEach(
        (name, definition) -> {
          if (!definition.equals(had.get(name))) {
            out.add(definition);
          }
        });
    SortedMap<String, String> options = of(is.parts(), OPTION);
    of(was.parts(), OPTION)
        .keySet()
        .forEach(
            name -> {
              if (!options.containsKey(name)) {
                out.add("ALTER " + named(is) + " RESET (" + Sql.name(name) + ")");
              }
            });
    options.forEach(
        (name, value) -> {
          if (!value.equals(was.parts().get(OPTION + name))) {
            out.add(
                "ALTER "
                    + named(is)
                    + " SET ("
                    + Sql.name(name)
                    + " = "
                    + Sql.literal(value).strip()
                    + ")");
          }
        });
  }

  private static void labels(SchemaObject was, SchemaObject is, List<String> out) {
    for (int n = 0; n < is.shape().size(); n++) {
      String label = is.shape().get(n);
      if (!was.shape().contains(label)) {
        String place =
            n > 0
                ? " AFTER " + Sql.literal(is.shape().get(n - 1)).strip()
                : is.shape().size() > 1 ? " BEFORE " + Sql.literal(was.shape().get(0)).strip() : "";
        out.add("ALTER TYPE " + plain(is) + " ADD VALUE " + Sql.literal(label).strip() + place);
      }
    }
  }

  private static void attributes(SchemaObject was, SchemaObject is, List<String> out) {
    for (String attribute : is.shape()) {
      if (!was.shape().contains(attribute)) {
        out.add("ALTER TYPE " + plain(is) + " ADD ATTRIBUTE " + attribute);
      }
    }
  }

  /** What is asked of values of a domain no more, and its default. */
  private static void loosened(
      SchemaObject o, Map<String, String> was, Map<String, String> is, List<String> out) {
    String alter = "ALTER DOMAIN " + plain(o) + " ";
    for (String name : others(was, is)) {
      String has = is.get(name);
      if (name.equals("default")) {
        out.add(alter + (has == null ? "DROP DEFAULT" : "SET DEFAULT " + has));
      } else if (name.equals("not null") && "yes".equals(was.get(name))) {
        out.add(alter + "DROP NOT NULL");
      } else if (name.startsWith(CONSTRAINT) && was.containsKey(name)) {
        out.add(alter + "DROP CONSTRAINT " + Sql.name(name.substring(CONSTRAINT.length())));
      }
    }
  }

  /**
   * What is asked of values of a domain from then on; of a domain that is there, of all of them.
   */
  static List<String> tightened(SchemaObject is, Map<String, String> was) {
    List<String> out = new ArrayList<>();
    String alter = "ALTER DOMAIN " + plain(is) + " ";
    for (String name : others(was, is.parts())) {
      String has = is.parts().get(name);
      if (name.equals("not null") && "yes".equals(has)) {
        out.add(alter + "SET NOT NULL");
      } else if (name.startsWith(CONSTRAINT) && has != null) {
        String constraint = Sql.name(name.substring(CONSTRAINT.length()));
        out.add(alter + "ADD CONSTRAINT " + constraint + " " + has);
      }
    }
    return out;
  }

  private static Set<String> others(Map<String, String> was, Map<String, String> is) {
    Set<String> out = new TreeSet<>(was.keySet());
    out.addAll(is.keySet());
    out.removeIf(name -> Objects.equals(was.get(name), is.get(name)));
    return out;
  }

  private static void comments(
      SchemaObject o, @Nullable SchemaObject was, SchemaObject is, List<String> out) {
    if (!Objects.equals(was == null ? null : was.comment(), is.comment())) {
      out.add("COMMENT ON " + named(o) + " IS " + text(is.comment()));
    }
    SortedMap<String, String> had = new java.util.TreeMap<>();
    if (was != null) {
      had.putAll(of(was.parts(), SchemaObject.COMMENT + "column/"));
    }
    SortedMap<String, String> has = of(is.parts(), SchemaObject.COMMENT + "column/");
    Set<String> columns = new TreeSet<>(had.keySet());
    columns.addAll(has.keySet());
    for (String column : columns) {
      if (!Objects.equals(had.get(column), has.get(column))) {
        out.add(
            "COMMENT ON COLUMN "
                + plain(o)
                + "."
                + Sql.name(column)
                + " IS "
                + text(has.get(column)));
      }
    }
  }

  private static String text(@Nullable String text) {
    return text == null ? "NULL" : Sql.literal(text).strip();
  }

  /** What a table is called on its way to another schema and name. */
  static final String MOVING = "plenzo_moving";

  /** Another name for a type or routine that is exchanged, until nothing has it any more. */
  public static String aside(int n) {
    return "plenzo_before_" + n;
  }

  /** Gives it another name; a range type comes with a type of many ranges and with functions. */
  static List<String> rename(SchemaObject o, String name) {
    List<String> out = new ArrayList<>();
    if (o.sort() == SchemaObject.Sort.RANGE) {
      String many = option(o, "MULTIRANGE_TYPE_NAME");
      String of = option(o, "SUBTYPE");
      if (!many.isEmpty()) {
        String next = " RENAME TO " + Sql.name(name + "_many");
        out.add("ALTER FUNCTION " + many + "()" + next);
        out.add("ALTER TYPE " + many + next);
      }
      for (String given : List.of(of + ", " + of, of + ", " + of + ", text")) {
        out.add("ALTER FUNCTION " + plain(o) + "(" + given + ") RENAME TO " + Sql.name(name));
      }
    }
    out.add("ALTER " + named(o) + " RENAME TO " + Sql.name(name));
    return out;
  }

  private static String option(SchemaObject range, String name) {
    return range.shape().stream()
        .filter(s -> s.startsWith(name + " = "))
        .map(s -> s.substring(name.length() + 3))
        .findFirst()
        .orElse("");
  }

  /** Takes away a type or routine that was renamed so; no other routine has that name. */
  public static String dropAside(SchemaObject o, String name) {
    return "DROP "
        + (o.key().kind() == Kind.ROUTINE
            ? "ROUTINE "
            : o.sort() == SchemaObject.Sort.DOMAIN ? "DOMAIN " : "TYPE ")
        + Sql.name(o.name().schema())
        + "."
        + Sql.name(name);
  }

  public static String refresh(SchemaObject o) {
    return "REFRESH MATERIALIZED VIEW " + plain(o);
  }
}
