package plenzo.connectors.database;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;
import plenzo.connectors.database.sql.ObjectsSql;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.ObjectName;
import plenzo.core.component.TableName;
import plenzo.core.object.SchemaObject.Needed;

/** What schema objects depend on, as the server keeps it; its own things are left out. */
final class ObjectNeeds {
  private static final Set<String> OWN = Set.of("pg_catalog", "information_schema", "pg_toast");

  private final Connection connection;

  ObjectNeeds(Connection connection) {
    this.connection = connection;
  }

  /** Components and extensions. */
  record Found(List<Needed> components, List<String> extensions) {
    static final Found NONE = new Found(List.of(), List.of());
  }

  /** One dependency. */
  private record Edge(long from, String type, long id, int part) {}

  /** What is needed: a component, of a table perhaps one part. */
  private record Thing(ComponentKey key, @Nullable String part) {}

  Map<Long, Found> of(String schema, Set<Long> objects) throws SQLException {
    List<Edge> edges = edges(schema, objects);
    Map<String, Set<Long>> ids = new HashMap<>();
    edges.forEach(e -> ids.computeIfAbsent(e.type, c -> new TreeSet<>()).add(e.id));
    Map<String, Map<Long, Thing>> found = new HashMap<>();
    found.put("pg_class", read(ObjectsSql.RELATIONS, ids.get("pg_class"), ObjectNeeds::relation));
    found.put("pg_type", read(ObjectsSql.TYPES_BY_ID, ids.get("pg_type"), ObjectNeeds::type));
    found.put("pg_proc", read(ObjectsSql.ROUTINES_BY_ID, ids.get("pg_proc"), ObjectNeeds::routine));
    found.put(
        "pg_constraint",
        read(ObjectsSql.CONSTRAINTS_BY_ID, ids.get("pg_constraint"), ObjectNeeds::constraint));
    Map<Long, Map<Integer, String>> columns = columns(ids.get("pg_class"));
    Map<String, String> members = members(ids);
    Map<Long, Map<ComponentKey, Set<String>>> out = new HashMap<>();
    Map<Long, Set<String>> extensions = new HashMap<>();
    for (Edge e : edges) {
      String extension = members.get(e.type + " " + e.id);
      Thing thing = found.getOrDefault(e.type, Map.of()).get(e.id);
      if (extension != null) {
        extensions.computeIfAbsent(e.from, k -> new TreeSet<>()).add(extension);
      } else if (thing != null) {
        Set<String> parts =
            out.computeIfAbsent(e.from, k -> new TreeMap<>())
                .computeIfAbsent(thing.key, k -> new TreeSet<>());
        String column = columns.getOrDefault(e.id, Map.of()).get(e.part);
        if (thing.part != null) {
          parts.add(thing.part);
        } else if (e.type.equals("pg_class") && e.part > 0 && column != null) {
          parts.add("column/" + column);
        }
      }
    }
    Map<Long, Found> all = new HashMap<>();
    for (long oid : objects) {
      List<Needed> needed = new ArrayList<>();
      out.getOrDefault(oid, Map.of())
          .forEach(
              (key, parts) ->
                  needed.add(
                      new Needed(key, key.kind() == Kind.TABLE ? List.copyOf(parts) : List.of())));
      all.put(oid, new Found(needed, List.copyOf(extensions.getOrDefault(oid, Set.of()))));
    }
    return all;
  }

  private List<Edge> edges(String schema, Set<Long> objects) throws SQLException {
    List<Edge> out = new ArrayList<>();
    String sql = ObjectsSql.NEEDS;
    int places = sql.split("\\?1", -1).length - 1;
    try (PreparedStatement s = connection.prepareStatement(sql.replace("?1", "?"))) {
      for (int n = 1; n <= places; n++) {
        s.setString(n, schema);
      }
      try (ResultSet r = s.executeQuery()) {
        while (r.next()) {
          if (objects.contains(r.getLong("oid"))) {
            out.add(
                new Edge(
                    r.getLong("oid"), r.getString("class"), r.getLong("id"), r.getInt("part")));
          }
        }
      }
    }
    return out;
  }

  /** Makes a thing of a row; null of one that is the server's own or no component. */
  private interface Naming {
    @Nullable Thing of(ResultSet r) throws SQLException;
  }

  private Map<Long, Thing> read(String sql, @Nullable Set<Long> ids, Naming naming)
      throws SQLException {
    Map<Long, Thing> out = new HashMap<>();
    if (ids == null) {
      return out;
    }
    try (PreparedStatement s = connection.prepareStatement(sql)) {
      s.setArray(1, connection.createArrayOf("oid", ids.toArray()));
      try (ResultSet r = s.executeQuery()) {
        while (r.next()) {
          Thing thing = OWN.contains(r.getString("schema")) ? null : naming.of(r);
          if (thing != null) {
            out.put(r.getLong("oid"), thing);
          }
        }
      }
    }
    return out;
  }

  private static @Nullable Thing relation(ResultSet r) throws SQLException {
    String schema = r.getString("schema");
    String name = r.getString("name");
    return switch (r.getString("relkind")) {
      case "r", "p" -> new Thing(table(schema, name), null);
      case "v", "m" -> new Thing(ObjectName.of(schema, name).key(Kind.VIEW), null);
      case "S" ->
          r.getString("owner") == null
              ? new Thing(ObjectName.of(schema, name).key(Kind.SEQUENCE), null)
              : new Thing(table(r.getString("owner_schema"), r.getString("owner")), null);
      case "c" -> new Thing(ObjectName.of(schema, name).key(Kind.TYPE), null);
      default -> null;
    };
  }

  private static ComponentKey table(String schema, String name) {
    return new ComponentKey(Kind.TABLE, new TableName(schema, name).componentName());
  }

  private static @Nullable Thing type(ResultSet r) throws SQLException {
    String schema = r.getString("schema");
    String name = r.getString("name");
    String relation = r.getString("relkind");
    if (relation == null || relation.equals("c")) {
      return new Thing(ObjectName.of(schema, name).key(Kind.TYPE), null);
    }
    return switch (relation) {
      case "r", "p" -> new Thing(table(schema, name), null);
      case "v", "m" -> new Thing(ObjectName.of(schema, name).key(Kind.VIEW), null);
      default -> null;
    };
  }

  private static Thing routine(ResultSet r) throws SQLException {
    return new Thing(
        ObjectName.routine(r.getString("schema"), r.getString("name"), r.getString("types"))
            .key(Kind.ROUTINE),
        null);
  }

  private static Thing constraint(ResultSet r) throws SQLException {
    return new Thing(
        table(r.getString("schema"), r.getString("name")), "constraint/" + r.getString("conname"));
  }

  private Map<Long, Map<Integer, String>> columns(@Nullable Set<Long> relations)
      throws SQLException {
    Map<Long, Map<Integer, String>> out = new HashMap<>();
    if (relations == null) {
      return out;
    }
    try (PreparedStatement s = connection.prepareStatement(ObjectsSql.COLUMNS_BY_ID)) {
      s.setArray(1, connection.createArrayOf("oid", relations.toArray()));
      try (ResultSet r = s.executeQuery()) {
        while (r.next()) {
          out.computeIfAbsent(r.getLong("oid"), k -> new HashMap<>())
              .put(r.getInt("attnum"), r.getString("attname"));
        }
      }
    }
    return out;
  }

  private Map<String, String> members(Map<String, Set<Long>> ids) throws SQLException {
    Map<String, String> out = new HashMap<>();
    Set<Long> all = new TreeSet<>();
    ids.values().forEach(all::addAll);
    try (PreparedStatement s = connection.prepareStatement(ObjectsSql.EXTENSIONS_BY_ID)) {
      s.setArray(1, connection.createArrayOf("oid", all.toArray()));
      try (ResultSet r = s.executeQuery()) {
        while (r.next()) {
          out.put(r.getString("class") + " " + r.getLong("id"), r.getString("extname"));
        }
      }
    }
    return out;
  }
}
