package plenzo.connectors.database;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.connectors.database.sql.GrantsSql;
import plenzo.connectors.database.sql.GrantsSql.Grant;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.ObjectName;
import plenzo.core.component.TableName;
import plenzo.core.object.GrantedRights;
import plenzo.core.object.ObjectDelta;
import plenzo.core.object.SchemaObject;
import plenzo.core.target.TablesDelta;

/**
 * What a switch does with schema objects beside its statements: they are what the plan read, who
 * may use them and whose they are outlives their being made again, and they are what was planned.
 */
final class ObjectsKept {
  private final Connection connection;
  private final TablesDelta delta;

  /** An object that is made again, with who may use it and whose it is. */
  private record Again(SchemaObject object, Set<Grant> grants, String owner) {}

  private final List<Again> again = new ArrayList<>();

  ObjectsKept(Connection connection, TablesDelta delta) {
    this.connection = connection;
    this.delta = delta;
  }

  /** What is not as the plan read it; to be asked before anything gets its new name. */
  List<String> moved() throws SQLException {
    List<String> out = new ArrayList<>();
    Map<ComponentKey, SchemaObject> there = new HashMap<>();
    there()
        .values()
        .forEach(o -> there.put(delta.renaming().named(o.key()), o.renamed(delta.renaming())));
    for (ObjectDelta o : delta.objects()) {
      if (!same(there.get(o.key()), o.present())) {
        out.add(o.key() + ": it is not the one that the plan read");
      }
    }
    return out;
  }

  /** What is not as it was planned. */
  List<String> notAsPlanned() throws SQLException {
    List<String> out = new ArrayList<>();
    Map<ComponentKey, SchemaObject> there = there();
    for (ObjectDelta o : delta.objects()) {
      SchemaObject now = there.get(o.key());
      if (!same(now, o.result())) {
        out.add(o.key() + ": it is not the planned one" + differing(now, o.result()));
      }
    }
    return out;
  }

  private static boolean same(@Nullable SchemaObject a, @Nullable SchemaObject b) {
    return Objects.equals(a == null ? null : a.digest(), b == null ? null : b.digest());
  }

  private static String differing(@Nullable SchemaObject now, @Nullable SchemaObject planned) {
    return now == null
        ? " (it is not there)"
        : planned == null
            ? " (it is there still)"
            : SwitchTransaction.around(
                new String(now.canonical(), java.nio.charset.StandardCharsets.UTF_8),
                new String(planned.canonical(), java.nio.charset.StandardCharsets.UTF_8));
  }

  private Map<ComponentKey, SchemaObject> there() throws SQLException {
    Set<String> schemas = new LinkedHashSet<>();
    for (ObjectDelta o : delta.objects()) {
      schemas.add(ObjectName.of(o.key()).schema());
      schemas.add(ObjectName.of(delta.renaming().inverse().named(o.key())).schema());
    }
    Map<ComponentKey, SchemaObject> out = new HashMap<>();
    for (String schema : schemas) {
      new ObjectsReader(connection).read(schema).forEach(o -> out.put(o.key(), o));
      if (delta.objects().stream().anyMatch(o -> o.key().kind() == Kind.GRANT)) {
        new GrantedReader(connection).read(schema).forEach(o -> out.put(o.key(), o));
      }
    }
    return out;
  }

  /** Remembers who may use what is made again. */
  void remember() throws SQLException {
    for (ObjectDelta o : delta.objects()) {
      if (o.act() == ObjectDelta.Act.REBUILD && !GrantsSql.read(o.was()).isEmpty()) {
        again.add(new Again(o.becomes(), grants(o.was()), owner(o.was())));
      }
    }
  }

  private Set<Grant> grants(SchemaObject o) throws SQLException {
    Set<Grant> out = new LinkedHashSet<>();
    try (Statement s = connection.createStatement();
        ResultSet r = s.executeQuery(GrantsSql.read(o))) {
      while (r.next()) {
        out.add(new Grant(r.getString(1), r.getString(2), r.getBoolean(3), r.getString(4)));
      }
    }
    return out;
  }

  private String owner(SchemaObject o) throws SQLException {
    try (Statement s = connection.createStatement();
        ResultSet r = s.executeQuery(GrantsSql.owner(o))) {
      r.next();
      return r.getString(1);
    }
  }

  /** Whoever could use what was made again can use it as before, and nobody else. */
  List<String> restore() throws SQLException {
    List<String> out = new ArrayList<>();
    for (Again a : again) {
      Set<Grant> now = grants(a.object);
      now.removeIf(g -> isPlanned(g, a.object));
      a.grants.removeIf(g -> isPlanned(g, a.object));
      Map<Grant, Boolean> wanted = new LinkedHashMap<>();
      a.grants.forEach(g -> wanted.put(g, !now.contains(g)));
      for (Grant g : now) {
        if (!wanted.containsKey(g)) {
          execute(g.revoke(a.object), out);
        }
      }
      for (Map.Entry<Grant, Boolean> g : wanted.entrySet()) {
        if (g.getValue()) {
          execute(g.getKey().grant(a.object), out);
        }
      }
      if (!owner(a.object).equals(a.owner)) {
        execute(GrantsSql.own(a.object, a.owner), out);
      }
    }
    return out;
  }

  /** Whether the plan itself says what this role may do with it. */
  private boolean isPlanned(Grant g, SchemaObject object) {
    ObjectName is = object.name();
    String what = is.arguments() == null ? is.name() : is.name() + "(" + is.arguments() + ")";
    ComponentKey key =
        ObjectName.on(
                new TableName(is.schema(), what),
                Objects.requireNonNullElse(g.grantee(), GrantedRights.EVERYBODY))
            .key(Kind.GRANT);
    return delta.objects().stream().anyMatch(o -> o.key().equals(key));
  }

  private void execute(String sql, List<String> said) throws SQLException {
    try (Statement s = connection.createStatement()) {
      s.execute(sql);
    }
    said.add(sql);
  }
}
