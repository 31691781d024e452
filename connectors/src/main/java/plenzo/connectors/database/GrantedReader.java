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
import plenzo.connectors.database.sql.GrantedSql;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.ObjectName;
import plenzo.core.component.TableName;
import plenzo.core.object.GrantedRights;
import plenzo.core.object.SchemaObject;
import plenzo.core.object.SchemaObject.Needed;
import plenzo.core.object.SchemaObject.Sort;

/** Reads what roles may do with the things of a schema, from the server's own catalogue. */
final class GrantedReader {
  private final Connection connection;
  private final Map<ComponentKey, Made> made = new LinkedHashMap<>();

  GrantedReader(Connection connection) {
    this.connection = connection;
  }

  /** One that is being read. */
  private record Made(String what, ComponentKey about, SortedMap<String, String> rights) {
    SchemaObject named(ComponentKey key) {
      List<String> parts = new ArrayList<>();
      if (about.kind() == Kind.TABLE) {
        rights.keySet().stream()
            .map(GrantedRights::column)
            .filter(java.util.Objects::nonNull)
            .distinct()
            .forEach(column -> parts.add("column/" + column));
      }
      return new SchemaObject(
          key,
          Sort.GRANT,
          List.of(what),
          rights,
          "",
          null,
          List.of(new Needed(about, parts)),
          List.of());
    }
  }

  /** In the order of their names. */
  List<SchemaObject> read(String schema) throws SQLException {
    try (PreparedStatement s = connection.prepareStatement(GrantedSql.READ.replace("?1", "?"))) {
      for (int n = 1; n <= GrantedSql.READ.split("\\?1", -1).length - 1; n++) {
        s.setString(n, schema);
      }
      try (ResultSet r = s.executeQuery()) {
        while (r.next()) {
          right(r);
        }
      }
    }
    List<SchemaObject> out = new ArrayList<>();
    made.forEach((key, m) -> out.add(m.named(key)));
    out.sort(java.util.Comparator.comparing(SchemaObject::key));
    return out;
  }

  private void right(ResultSet r) throws SQLException {
    String name = r.getString("name");
    String what = GrantedSql.word(r.getString("relkind"));
    ObjectName of = ObjectName.on(new TableName(r.getString("schema"), name), r.getString("role"));
    if (what == null || of.componentName().length() > ComponentKey.longest(Kind.GRANT)) {
      return;
    }
    ComponentKey key = of.key(Kind.GRANT);
    Made m = made.computeIfAbsent(key, k -> new Made(what, about(what, name, r), new TreeMap<>()));
    if (!m.what.equals(what)) {
      // another thing of that name, as a relation that is called like a routine with its arguments
      return;
    }
    String right = GrantedRights.right(r.getString("right"), r.getString("column"));
    m.rights.merge(
        right,
        how((Boolean) r.getObject("passed_on")),
        (a, b) -> a.equals(GrantedRights.PASSED_ON) ? a : b);
  }

  private static String how(@Nullable Boolean passedOn) {
    return passedOn == null
        ? GrantedRights.TAKEN
        : passedOn ? GrantedRights.PASSED_ON : GrantedRights.GIVEN;
  }

  private static ComponentKey about(String what, String name, ResultSet r) {
    try {
      String schema = r.getString("schema");
      String owner = r.getString("owner");
      return switch (what) {
        case "table" -> table(schema, name);
        case "view" -> ObjectName.of(schema, name).key(Kind.VIEW);
        case "type" -> ObjectName.of(schema, name).key(Kind.TYPE);
        case "sequence" ->
            owner == null
                ? ObjectName.of(schema, name).key(Kind.SEQUENCE)
                : table(r.getString("owner_schema"), owner);
        default -> {
          int at = name.indexOf('(');
          yield ObjectName.routine(
                  schema, name.substring(0, at), name.substring(at + 1, name.length() - 1))
              .key(Kind.ROUTINE);
        }
      };
    } catch (SQLException e) {
      throw new IllegalStateException(e);
    }
  }

  private static ComponentKey table(String schema, String name) {
    return new ComponentKey(Kind.TABLE, new TableName(schema, name).componentName());
  }
}
