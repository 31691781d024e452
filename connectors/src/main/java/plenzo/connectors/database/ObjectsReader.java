package plenzo.connectors.database;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.SortedMap;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import plenzo.connectors.database.sql.ObjectsSql;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.ObjectName;
import plenzo.core.component.TableName;
import plenzo.core.object.SchemaObject;
import plenzo.core.object.SchemaObject.Sort;

/**
 * Reads views, routines, sequences that no column owns, triggers, types and policies of a schema
 * from the server's own catalogue. Members of extensions are left out. What is not of a form that
 * can be made again alone (a base type, an aggregate with its own moving state, a range with a
 * canonical function) is not read here and stays named as not carried.
 */
final class ObjectsReader {
  private final Connection connection;
  private final Map<Long, Made> byOid = new LinkedHashMap<>();

  ObjectsReader(Connection connection) {
    this.connection = connection;
  }

  /** One that is being read. */
  private record Made(
      ComponentKey key,
      Sort sort,
      List<String> shape,
      SortedMap<String, String> parts,
      String body,
      @Nullable String comment) {
    SchemaObject needing(ObjectNeeds.Found needs) {
      return new SchemaObject(
          key, sort, shape, parts, body, comment, needs.components(), needs.extensions());
    }
  }

  /** In the order of their names. */
  List<SchemaObject> read(String schema) throws SQLException {
    each(ObjectsSql.VIEWS, schema, this::view);
    each(ObjectsSql.VIEW_COLUMNS, schema, this::viewColumn);
    each(ObjectsSql.VIEW_INDEXES, schema, this::viewIndex);
    each(ObjectsSql.VIEW_RULES, schema, this::viewRule);
    each(ObjectsSql.ROUTINES, schema, this::routine);
    each(ObjectsSql.AGGREGATES, schema, this::routine);
    each(ObjectsSql.SEQUENCES, schema, this::sequence);
    each(ObjectsSql.TRIGGERS, schema, this::trigger);
    each(ObjectsSql.TYPES, schema, this::type);
    each(ObjectsSql.ENUM_LABELS, schema, r -> shape(r, r.getString("label")));
    each(ObjectsSql.ATTRIBUTES, schema, this::attribute);
    each(ObjectsSql.DOMAIN_CHECKS, schema, this::domainCheck);
    each(ObjectsSql.POLICIES, schema, this::policy);
    Map<Long, ObjectNeeds.Found> needs = new ObjectNeeds(connection).of(schema, byOid.keySet());
    List<SchemaObject> out = new ArrayList<>();
    byOid.forEach(
        (oid, made) -> out.add(made.needing(needs.getOrDefault(oid, ObjectNeeds.Found.NONE))));
    out.sort(java.util.Comparator.comparing(SchemaObject::key));
    return out;
  }

  /** Takes one row. */
  private interface Taking {
    void row(ResultSet r) throws SQLException;
  }

  private void each(String sql, String schema, Taking taking) throws SQLException {
    try (PreparedStatement s = connection.prepareStatement(sql)) {
      s.setString(1, schema);
      try (ResultSet r = s.executeQuery()) {
        while (r.next()) {
          taking.row(r);
        }
      }
    }
  }

  private @Nullable Made put(
      ResultSet r, Kind kind, ObjectName name, Sort sort, List<String> shape, String body)
      throws SQLException {
    if (name.componentName().length() > ComponentKey.longest(kind)) {
      return null;
    }
    Made made =
        new Made(
            name.key(kind),
            sort,
            new ArrayList<>(shape),
            new TreeMap<>(),
            body,
            r.getString("comment"));
    byOid.put(r.getLong("oid"), made);
    return made;
  }

  private @Nullable Made of(ResultSet r) throws SQLException {
    return byOid.get(r.getLong("oid"));
  }

  private void shape(ResultSet r, String more) throws SQLException {
    Made made = of(r);
    if (made != null) {
      made.shape.add(more);
    }
  }

  private static void part(@Nullable Made made, String name, @Nullable String value) {
    if (made != null && value != null) {
      made.parts.put(name, value);
    }
  }

  private static ObjectName plain(ResultSet r) throws SQLException {
    return ObjectName.of(r.getString("schema"), r.getString("name"));
  }

  private static ObjectName onTable(ResultSet r) throws SQLException {
    return ObjectName.on(
        new TableName(r.getString("schema"), r.getString("on_table")), r.getString("name"));
  }

  private void view(ResultSet r) throws SQLException {
    boolean materialized = r.getString("relkind").equals("m");
    String text = r.getString("body").strip();
    Made made =
        put(
            r,
            Kind.VIEW,
            plain(r),
            materialized ? Sort.MATERIALIZED_VIEW : Sort.VIEW,
            List.of(),
            text.endsWith(";") ? text.substring(0, text.length() - 1) : text);
    for (String option : CatalogReader.texts(r.getArray("reloptions"))) {
      int at = option.indexOf('=');
      part(made, "option/" + option.substring(0, at), option.substring(at + 1));
    }
  }

  private void viewColumn(ResultSet r) throws SQLException {
    String name = r.getString("name");
    shape(r, r.getString("quoted") + " " + r.getString("type"));
    part(of(r), SchemaObject.COMMENT + "column/" + name, r.getString("comment"));
    part(of(r), "default/" + name, r.getString("default_text"));
  }

  private void viewIndex(ResultSet r) throws SQLException {
    part(of(r), "index/" + r.getString("name"), r.getString("definition"));
  }

  private void viewRule(ResultSet r) throws SQLException {
    part(of(r), "rule/" + r.getString("name"), r.getString("definition"));
  }

  private void routine(ResultSet r) throws SQLException {
    List<String> shape = new ArrayList<>(List.of("(" + r.getString("arguments") + ")"));
    String result = r.getString("result");
    if (result != null) {
      shape.add("returns " + result);
    }
    put(
        r,
        Kind.ROUTINE,
        ObjectName.routine(r.getString("schema"), r.getString("name"), r.getString("types")),
        switch (r.getString("prokind")) {
          case "p" -> Sort.PROCEDURE;
          case "a" -> Sort.AGGREGATE;
          default -> Sort.FUNCTION;
        },
        shape,
        r.getString("body").strip());
  }

  private void sequence(ResultSet r) throws SQLException {
    Made made = put(r, Kind.SEQUENCE, plain(r), Sort.SEQUENCE, List.of(), "");
    part(made, "type", r.getString("type"));
    part(made, "start", r.getString("seqstart"));
    part(made, "increment", r.getString("seqincrement"));
    part(made, "min", r.getString("seqmin"));
    part(made, "max", r.getString("seqmax"));
    part(made, "cache", r.getString("seqcache"));
    part(made, "cycle", r.getBoolean("seqcycle") ? "yes" : "no");
  }

  private void trigger(ResultSet r) throws SQLException {
    Made made =
        put(r, Kind.TRIGGER, onTable(r), Sort.TRIGGER, List.of(), r.getString("body").strip());
    part(
        made,
        "enabled",
        switch (r.getString("tgenabled")) {
          case "D" -> "no";
          case "R" -> "replica";
          case "A" -> "always";
          default -> "yes";
        });
  }

  private void type(ResultSet r) throws SQLException {
    String sort = r.getString("typtype");
    List<String> shape = new ArrayList<>();
    if (sort.equals("d")) {
      String collation = r.getString("collation");
      shape.add(r.getString("base") + (collation == null ? "" : " COLLATE " + collation));
    } else if (sort.equals("r")) {
      shape.addAll(CatalogReader.texts(r.getArray("range")));
    }
    Made made =
        put(
            r,
            Kind.TYPE,
            plain(r),
            switch (sort) {
              case "d" -> Sort.DOMAIN;
              case "r" -> Sort.RANGE;
              case "e" -> Sort.ENUM;
              default -> Sort.COMPOSITE;
            },
            shape,
            "");
    if (sort.equals("d")) {
      part(made, "default", r.getString("default_text"));
      part(made, "not null", r.getBoolean("typnotnull") ? "yes" : "no");
    }
  }

  private void attribute(ResultSet r) throws SQLException {
    String collation = r.getString("collation");
    shape(
        r,
        r.getString("quoted")
            + " "
            + r.getString("type")
            + (collation == null ? "" : " COLLATE " + collation));
    part(of(r), SchemaObject.COMMENT + "column/" + r.getString("name"), r.getString("comment"));
  }

  private void domainCheck(ResultSet r) throws SQLException {
    part(of(r), "constraint/" + r.getString("name"), r.getString("definition"));
  }

  private void policy(ResultSet r) throws SQLException {
    Made made = put(r, Kind.POLICY, onTable(r), Sort.POLICY, List.of(), "");
    part(
        made,
        "command",
        switch (r.getString("polcmd")) {
          case "r" -> "SELECT";
          case "a" -> "INSERT";
          case "w" -> "UPDATE";
          case "d" -> "DELETE";
          default -> "ALL";
        });
    part(made, "permissive", r.getBoolean("polpermissive") ? "yes" : "no");
    part(made, "roles", r.getString("roles"));
    part(made, "using", r.getString("using_text"));
    part(made, "check", r.getString("check_text"));
  }
}
