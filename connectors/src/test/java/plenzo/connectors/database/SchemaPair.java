package plenzo.connectors.database;

import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.TableName;
import plenzo.core.object.ObjectsPlan;
import plenzo.core.object.SchemaObject;
import plenzo.core.table.Renaming;
import plenzo.core.table.TableOrder;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Access;
import plenzo.core.target.Changing;
import plenzo.core.target.Extension;
import plenzo.core.target.Grants;
import plenzo.core.target.Question;
import plenzo.core.target.RunMark;
import plenzo.core.target.Scratch;
import plenzo.core.target.TableCapture;
import plenzo.core.target.TablesDelta;
import plenzo.core.target.TablesLooking;
import plenzo.core.target.TargetIdentity;

/**
 * Two databases of one server with a schema "fares" each: what the one has is brought to the other
 * by the connector, and a judge of its own says whether they are alike.
 */
final class SchemaPair {
  private static final PostgresConnector CONNECTOR = new PostgresConnector();

  private final int port;
  private long run;
  private boolean made;

  SchemaPair(int port) {
    this.port = port;
  }

  /** Both databases as if they were new. */
  void begin() throws SQLException {
    for (String name : List.of("site", "wanted")) {
      if (!made) {
        sql("postgres", "CREATE DATABASE " + name + " TEMPLATE template0");
      }
      sql(
          name,
          "DROP SCHEMA IF EXISTS fares CASCADE",
          "DROP SCHEMA IF EXISTS plenzo CASCADE",
          "CREATE SCHEMA fares",
          "CREATE SCHEMA plenzo");
    }
    made = true;
  }

  void sql(String database, String... statements) throws SQLException {
    try (Connection c = connect(database);
        Statement s = c.createStatement()) {
      for (String sql : statements) {
        s.execute(sql);
      }
    }
  }

  String query(String database, String sql) throws SQLException {
    List<String> out = new ArrayList<>();
    try (Connection c = connect(database);
        Statement s = c.createStatement();
        ResultSet r = s.executeQuery(sql)) {
      while (r.next()) {
        out.add(String.valueOf(r.getString(1)));
      }
    }
    return String.join(" ", out);
  }

  private Connection connect(String database) throws SQLException {
    return DriverManager.getConnection(
        "jdbc:postgresql://127.0.0.1:" + port + "/" + database, "postgres", "postgres");
  }

  private Access access(String database) {
    return new Access("127.0.0.1", port, database, "postgres", "disable", "postgres");
  }

  /** What a database has in the schema, as the connector reads it. */
  record Held(Map<TableName, TableStructure> tables, Map<ComponentKey, SchemaObject> objects) {}

  Held held(String database) {
    try (TablesLooking look = CONNECTOR.look(access(database))) {
      Map<TableName, TableStructure> tables = new LinkedHashMap<>();
      for (TableName t : look.tables("fares")) {
        look.table(t).map(TableCapture::structure).ifPresent(s -> tables.put(t, s));
      }
      Map<ComponentKey, SchemaObject> objects = new TreeMap<>();
      look.objects("fares").forEach(o -> objects.put(o.key(), o));
      return new Held(tables, objects);
    }
  }

  /** Names of what is not carried. */
  List<String> uncarried(String database) {
    try (TablesLooking look = CONNECTOR.look(access(database))) {
      return look.uncarried("fares").stream().map(u -> u.shown()).toList();
    }
  }

  /** What would break without a table of the schema. */
  List<String> dependents(String database, String table) {
    return answer(database, Question.of(Question.Type.DEPENDENTS, new TableName("fares", table)))
        .examples();
  }

  Grants grants(String database) {
    try (TablesLooking look = CONNECTOR.look(access(database))) {
      return look.grants("fares");
    }
  }

  Question.Answer answer(String database, Question question) {
    try (TablesLooking look = CONNECTOR.look(access(database))) {
      return look.answer(question);
    }
  }

  /** Everything that differs, with everything that is too much taken away. */
  static TablesDelta difference(Held is, Held wanted) {
    return difference(is, wanted, Renaming.NONE);
  }

  /**
   * @param renaming tables and columns that have another name in what is wanted
   */
  static TablesDelta difference(Held found, Held wanted, Renaming renaming) {
    Map<TableName, TableStructure> renamed = new LinkedHashMap<>();
    found.tables().forEach((name, s) -> renamed.put(renaming.named(name), renaming.of(name, s)));
    Map<ComponentKey, SchemaObject> objects = new TreeMap<>();
    found
        .objects()
        .values()
        .forEach(o -> objects.put(renaming.named(o.key()), o.renamed(renaming)));
    Held is = new Held(renamed, objects);
    Set<TableName> names = new TreeSet<>(java.util.Comparator.comparing(TableName::toString));
    names.addAll(is.tables().keySet());
    names.addAll(wanted.tables().keySet());
    Map<TableName, TablesDelta.TableDelta> changed = new LinkedHashMap<>();
    Map<TableName, TableStructure> results = new LinkedHashMap<>();
    for (TableName t : names) {
      TablesDelta.TableDelta d =
          TablesDelta.TableDelta.of(t, is.tables().get(t), wanted.tables().get(t), null);
      if (d.structureChanges() || renaming.touches(t)) {
        changed.put(t, d);
        results.put(t, d.result() == null ? is.tables().get(t) : d.result());
      }
    }
    TablesDelta tables =
        new TablesDelta(
            TableOrder.parentsFirst(results, List.of()).stream().map(changed::get).toList(),
            List.of(),
            List.of(),
            renaming);
    Set<ComponentKey> keys = new TreeSet<>(is.objects().keySet());
    keys.addAll(wanted.objects().keySet());
    List<ObjectsPlan.Change> changes = new ArrayList<>();
    for (ComponentKey key : keys) {
      SchemaObject a = is.objects().get(key);
      SchemaObject b = wanted.objects().get(key);
      if (a == null || b == null || !a.digest().equals(b.digest())) {
        changes.add(new ObjectsPlan.Change(key, a, b));
      }
    }
    return new TablesDelta(
        tables.tables(),
        List.of(),
        ObjectsPlan.of(changes, is.objects(), is.tables(), tables, wanted.objects().keySet()),
        renaming);
  }

  /** Brings what "wanted" has to "site"; returns what was said. */
  List<String> bring() {
    return apply("site", difference(held("site"), held("wanted")));
  }

  List<String> apply(String database, TablesDelta delta) {
    List<String> said = new ArrayList<>();
    Changing.Watch watch =
        new Changing.Watch() {
          @Override
          public void say(String line) {
            said.add(line);
          }

          @Override
          public void rows(long done) {}

          @Override
          public void beforeCommit() {}

          @Override
          public java.util.function.BooleanSupplier abortAsked() {
            return () -> false;
          }
        };
    try (Changing changing = CONNECTOR.change(access(database))) {
      changing.declare(
          new TargetIdentity("s", "test", "main", "database", Instant.EPOCH), "postgres");
      changing.prepare(++run, delta, watch);
      changing.switchOver(new RunMark(run, "switch", 1, "2.4.0", "f", "ines", null), delta, watch);
      changing.discard(run);
    }
    return said;
  }

  /** Restores everything of a database in a place of its own; returns what came out otherwise. */
  List<ComponentKey> restored(String database) {
    Held held = held(database);
    List<Scratch.Source> tables = new ArrayList<>();
    held.tables().forEach((name, structure) -> tables.add(Scratch.Source.empty(name, structure)));
    List<Extension> extensions;
    try (TablesLooking look = CONNECTOR.look(access(database))) {
      extensions = look.extensions();
    }
    // by an account that works elsewhere, as it mostly does
    try (Scratch scratch = CONNECTOR.scratch(access("postgres"))) {
      scratch.open(Scratch.Place.proof(1), List.of(), extensions);
      try {
        scratch.restore(tables, held.objects().values());
        return scratch.otherwise(held.objects().values());
      } finally {
        scratch.drop(Scratch.Place.proof(1));
      }
    }
  }

  /** Those of some objects that the place in which backups are proven can have. */
  List<SchemaObject> provable(List<SchemaObject> objects) {
    try (Scratch scratch = CONNECTOR.scratch(access("postgres"))) {
      scratch.open(Scratch.Place.proof(1), List.of(), List.of());
      try {
        return scratch.having(objects);
      } finally {
        scratch.drop(Scratch.Place.proof(1));
      }
    }
  }

  /** The judge: everything of the schema, in the server's own words, by plain SQL. */
  String judged(String database) throws SQLException {
    return Judge.lines(query(database, Judge.EVERYTHING));
  }
}
