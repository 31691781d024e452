package plenzo.connectors.database;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.postgresql.PGConnection;
import plenzo.connectors.database.sql.Alone;
import plenzo.connectors.database.sql.MarkerSql;
import plenzo.connectors.database.sql.ObjectsSwitch;
import plenzo.connectors.database.sql.RowsSql;
import plenzo.connectors.database.sql.Sql;
import plenzo.connectors.database.sql.StructureSql;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.digest.RowSum;
import plenzo.core.object.ObjectDelta;
import plenzo.core.object.SchemaObject;
import plenzo.core.records.CanonicalCsv;
import plenzo.core.records.Header;
import plenzo.core.records.KeyType;
import plenzo.core.records.LongValue;
import plenzo.core.records.Row;
import plenzo.core.records.RowReader;
import plenzo.core.table.Constraint;
import plenzo.core.table.Setting;
import plenzo.core.table.TableOrder;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Access;
import plenzo.core.target.Extension;
import plenzo.core.target.Leftover;
import plenzo.core.target.Scratch;
import plenzo.core.target.TableCapture;
import plenzo.core.target.TablesDelta;
import plenzo.core.target.TargetFailed;

/**
 * A database of its own, {@code plenzo_scratch_<run>} or {@code plenzo_rehearsal_<number>}, made
 * and dropped by an account that may create databases.
 */
final class PostgresScratch implements Scratch {
  /** The server's state for "object in use". */
  private static final String IN_USE = "55006";

  /** How long a database in use is tried, a little more than the server itself waits five times. */
  private static final Duration PATIENCE = Duration.ofSeconds(30);

  private static final Duration PAUSE = Duration.ofMillis(250);

  private final Access access;
  private final Connection server;
  private volatile @Nullable Connection place;
  private @Nullable Access opened;
  private volatile boolean cut;
  private final List<String> lacking = new ArrayList<>();

  PostgresScratch(Access access) {
    this.access = access;
    this.server = Sessions.open(access, "scratch", "10min");
  }

  private static String database(Place place) {
    return (place.sort() == Leftover.Sort.REHEARSAL ? "plenzo_rehearsal_" : "plenzo_scratch_")
        + place.number();
  }

  private TargetFailed failed(String what, SQLException e) {
    return Sessions.failed(what + " at " + access, e);
  }

  @Override
  public void open(Place named, Collection<String> schemas, List<Extension> extensions) {
    drop(named);
    lacking.clear();
    try {
      patiently(MarkerSql.making(database(named)) + " ENCODING 'UTF8' TEMPLATE " + template());
    } catch (SQLException e) {
      throw failed("Cannot make a scratch database", e);
    }
    opened = access.of(database(named));
    Connection inside = Sessions.open(opened, "scratch", "1h");
    place = inside;
    if (cut) { // while it was opened: then nobody could cut it
      Sessions.cut(inside);
    }
    try (Statement s = inside.createStatement()) {
      for (String schema : schemas) {
        s.execute("CREATE SCHEMA IF NOT EXISTS " + Sql.name(schema));
      }
      for (Extension extension : extensions) {
        make(extension, s);
      }
    } catch (SQLException e) {
      throw failed("Cannot make the schemas of a scratch database", e);
    }
  }

  /** The one that an administrator laid, with what the account may not make itself. */
  private String template() throws SQLException {
    try (Statement s = server.createStatement();
        ResultSet r = s.executeQuery(MarkerSql.HAS_TEMPLATE)) {
      return r.next() ? MarkerSql.TEMPLATE : "template0";
    }
  }

  @Override
  public List<String> lacking() {
    return List.copyOf(lacking);
  }

  /**
   * A worker of the server itself (autovacuum, a parallel query that ends) may hold a database for
   * a moment. This account may not end it; the server does, where a database is made of it or
   * dropped without force, and waits up to five seconds for that.
   */
  private void patiently(String... statements) throws SQLException {
    long began = System.nanoTime();
    while (true) {
      try (Statement s = server.createStatement()) {
        for (String sql : statements) {
          s.execute(sql);
        }
        return;
      } catch (SQLException e) {
        if (!IN_USE.equals(e.getSQLState()) || System.nanoTime() - began > PATIENCE.toNanos()) {
          throw e;
        }
        pause();
      }
    }
  }

  private static void pause() {
    try {
      Thread.sleep(PAUSE.toMillis());
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new IllegalStateException("Interrupted", e);
    }
  }

  @Override
  public Access inside() {
    Access here = opened;
    if (here == null) {
      throw new IllegalStateException("The scratch place is not open");
    }
    return here;
  }

  private Connection place() {
    Connection inside = place;
    if (inside == null) {
      throw new IllegalStateException("The scratch place is not open");
    }
    return inside;
  }

  @Override
  public List<SchemaObject> objects(String schema) {
    try {
      List<SchemaObject> out = new ArrayList<>(new ObjectsReader(place()).read(schema));
      out.addAll(new GrantedReader(place()).read(schema));
      return out;
    } catch (SQLException e) {
      throw failed("What was restored cannot be read", e);
    }
  }

  /** What it may do itself is nothing of the place, which it owns. */
  @Override
  public List<ComponentKey> otherwise(Collection<SchemaObject> objects) {
    return Scratch.super.otherwise(having(objects));
  }

  @Override
  public List<SchemaObject> having(Collection<SchemaObject> objects) {
    String own = inside().account();
    return objects.stream()
        .filter(o -> o.sort() != SchemaObject.Sort.GRANT || !o.name().name().equals(own))
        .toList();
  }

  @Override
  public List<Restored> restore(List<Source> tables, Collection<SchemaObject> all) {
    List<SchemaObject> objects = having(all);
    Connection c = place();
    Map<TableName, Header> columns = new HashMap<>();
    Alone alone =
        Alone.of(tables.stream().flatMap(t -> t.structure().inherits().stream()).toList());
    try (Statement s = c.createStatement()) {
      Set<String> schemas = new LinkedHashSet<>();
      tables.forEach(t -> schemas.add(t.table().schema()));
      objects.forEach(o -> schemas.add(o.name().schema()));
      for (String schema : schemas) {
        s.execute("CREATE SCHEMA IF NOT EXISTS " + Sql.name(schema));
      }
      Map<ComponentKey, Source> sources = new LinkedHashMap<>();
      tables.forEach(t -> sources.put(new ComponentKey(Kind.TABLE, t.table().componentName()), t));
      ObjectsSwitch order = new ObjectsSwitch(fromNothing(tables, objects));
      // a body may name what comes later, and is looked up by whoever runs it
      s.execute("SET check_function_bodies = off");
      for (ComponentKey key : order.come()) {
        Source t = sources.get(key);
        for (String sql :
            t == null
                ? order.comes(key)
                : StructureSql.create(t.table(), t.structure().inheriting(List.of()), false)) {
          s.execute(sql);
        }
      }
      String mark = LongLoading.mark(c);
      for (Source t : tables) {
        columns.put(t.table(), copyIn(c, t, mark));
        for (String sql : StructureSql.constraints(t.table(), t.structure(), false)) {
          s.execute(alone.in(sql));
        }
      }
      for (Source t : tables) {
        for (String sql :
            StructureSql.constraints(t.table(), carried(t.structure(), tables), true)) {
          s.execute(alone.in(sql));
        }
      }
      // what works on rows comes when they are there
      for (String sql : order.after()) {
        s.execute(sql);
      }
      return readAgain(c, tables, columns);
    } catch (SQLException e) {
      TargetFailed failed = failed("The backup could not be restored", e);
      if (lacking.isEmpty() || failed.notReachable()) {
        throw failed;
      }
      throw new TargetFailed(
          failed.getMessage() + "; " + String.join("; ", lacking), /* notReachable= */ false, e);
    }
  }

  private static TablesDelta fromNothing(List<Source> tables, Collection<SchemaObject> objects) {
    Map<TableName, TableStructure> all = new LinkedHashMap<>();
    tables.forEach(t -> all.put(t.table(), t.structure()));
    return new TablesDelta(
        TableOrder.parentsFirst(all, List.of()).stream()
            .map(t -> TablesDelta.TableDelta.of(t, null, all.get(t), null))
            .toList(),
        List.of(),
        objects.stream()
            .map(o -> new ObjectDelta(o.key(), ObjectDelta.Act.MAKE, null, o, List.of()))
            .toList());
  }

  /** Members of an extension are used, and cannot be carried. */
  private void make(Extension extension, Statement inside) throws SQLException {
    if (!extension.schema().startsWith("pg_")) {
      inside.execute("CREATE SCHEMA IF NOT EXISTS " + Sql.name(extension.schema()));
    }
    try {
      inside.execute(
          "CREATE EXTENSION IF NOT EXISTS "
              + Sql.name(extension.name())
              + " SCHEMA "
              + Sql.name(extension.schema()));
    } catch (SQLException e) {
      // an account that may not: what uses a member of it fails, and says so
      lacking.add(
          "extension "
              + extension.name()
              + ", which this site has, cannot be made in a scratch place: "
              + String.valueOf(e.getMessage()).strip());
    }
  }

  /** Foreign keys to rows outside the backup cannot be met in the scratch place. */
  private static TableStructure carried(TableStructure structure, List<Source> tables) {
    List<Constraint> kept =
        structure.constraints().stream()
            .filter(
                c ->
                    c.references() == null
                        || tables.stream()
                            .anyMatch(t -> !t.beside() && t.table().equals(c.references())))
            .toList();
    return new TableStructure(
        structure.columns(),
        kept,
        structure.indexes(),
        structure.comment(),
        structure.places(),
        structure.settings().stream()
            .filter(s -> isAboutOne(s, kept) && !inheritsFromOther(s, tables))
            .toList());
  }

  private static boolean inheritsFromOther(Setting s, List<Source> tables) {
    return s.inherits() && tables.stream().noneMatch(t -> s.isFrom(t.table()));
  }

  /** Whether a setting is no comment on a foreign key that was left out. */
  private static boolean isAboutOne(Setting s, List<Constraint> kept) {
    return !s.name().startsWith(Setting.CONSTRAINT_COMMENT)
        || kept.stream()
            .anyMatch(
                k -> k.name().equals(s.name().substring(Setting.CONSTRAINT_COMMENT.length())));
  }

  /** A source is read once: it may be a site. */
  private static Header copyIn(Connection c, Source t, String mark) throws SQLException {
    try (RowReader rows = t.rows().open()) {
      LongLoading longOnes = new LongLoading(c, "pg_temp.\"parts\"", mark);
      try (CopyLines lines =
          new CopyLines(
              c.unwrap(PGConnection.class)
                  .getCopyAPI()
                  .copyIn(RowsSql.restore(t.table(), rows.header().names())))) {
        for (Row row = rows.next(); row != null; row = rows.next()) {
          lines.add(row.longValues().isEmpty() ? row.raw() : standingFor(row, longOnes));
        }
        lines.end();
      }
      longOnes.fill(Sql.name(t.table()), rows.longValues());
      return rows.header();
    }
  }

  private static byte[] standingFor(Row row, LongLoading longOnes) {
    List<@Nullable String> fields = new ArrayList<>(row.fields());
    Header header = row.header();
    for (int i = 0; i < fields.size(); i++) {
      int at = i;
      LongValue.of(fields.get(i))
          .ifPresent(
              v ->
                  fields.set(
                      at, longOnes.placeholder(v, header.names().get(at), header.types().get(at))));
    }
    return CanonicalCsv.line(fields);
  }

  /**
   * How many columns are read back as a key's, which costs a sort: none, unless a key of numbers
   * was written without the zeros that its type prints.
   */
  private static int printed(Header read) {
    boolean numbers =
        read.types().subList(0, read.keyColumns()).stream()
            .anyMatch(type -> KeyType.of(type) == KeyType.NUMERIC);
    return numbers ? read.keyColumns() : 0;
  }

  private List<Restored> readAgain(
      Connection c, List<Source> tables, Map<TableName, Header> columns) throws SQLException {
    List<Restored> out = new ArrayList<>();
    CatalogReader catalog = new CatalogReader(c);
    Alone alone = Sessions.alone(c);
    for (Source t : tables) {
      TableName table = t.table();
      TableCapture capture =
          catalog
              .table(table)
              .orElseThrow(() -> new IllegalStateException("Restored, and not there: " + table));
      Header read = Objects.requireNonNull(columns.get(table));
      if (capture.structure().setting(Setting.OWNERS_ROW_SECURITY).isPresent()) {
        // the structure has been read: nobody else is here
        try (Statement s = c.createStatement()) {
          s.execute("ALTER TABLE " + Sql.name(table) + " NO FORCE ROW LEVEL SECURITY");
        }
      }
      RowSum sum = new RowSum();
      try (RowReader rows =
          PostgresLooking.copyOut(
              c, alone, capture, names -> read.names(), printed(read), null, List.of(), null)) {
        for (Row row = rows.next(); row != null; row = rows.next()) {
          sum.add(row.raw());
        }
      }
      TableStructure expectedOutside =
          new TableStructure(
              capture.structure().columns(),
              java.util.stream.Stream.concat(
                      capture.structure().constraints().stream(),
                      t.structure().constraints().stream()
                          .filter(k -> !carried(t.structure(), tables).constraints().contains(k)))
                  .toList(),
              capture.structure().indexes(),
              capture.structure().comment(),
              capture.structure().places(),
              java.util.stream.Stream.concat(
                      capture.structure().settings().stream(),
                      t.structure().settings().stream()
                          .filter(s -> !carried(t.structure(), tables).settings().contains(s)))
                  .toList());
      out.add(new Restored(table, expectedOutside, sum.count(), sum.digest()));
    }
    return out;
  }

  @Override
  public List<Leftover> leftovers() {
    try {
      return Leftovers.databases(server);
    } catch (SQLException e) {
      throw failed("Scratch databases cannot be listed", e);
    }
  }

  @Override
  public void drop(Place named) {
    try {
      if (place != null) {
        place.close();
        place = null;
      }
      try (Statement s = server.createStatement()) {
        // one that was cut off while it was made would appear after it was dropped
        s.execute(MarkerSql.endMaking(database(named)));
      }
      patiently(
          MarkerSql.endSessions(database(named)),
          "DROP DATABASE IF EXISTS " + Sql.name(database(named)));
    } catch (SQLException e) {
      throw failed("The scratch database could not be dropped", e);
    }
  }

  @Override
  public void cut() {
    cut = true;
    Connection inside = place;
    if (inside != null) {
      Sessions.cut(inside);
    }
    Sessions.cut(server);
  }

  @Override
  public void close() {
    try {
      if (place != null) {
        place.close();
      }
      server.close();
    } catch (SQLException e) {
      throw failed("Cannot close the session", e);
    }
  }
}
