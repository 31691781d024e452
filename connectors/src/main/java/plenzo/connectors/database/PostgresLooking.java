package plenzo.connectors.database;

import java.sql.Connection;
import java.sql.DatabaseMetaData;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.time.OffsetDateTime;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.postgresql.PGConnection;
import plenzo.connectors.database.sql.Alone;
import plenzo.connectors.database.sql.DoorSql;
import plenzo.connectors.database.sql.FactsSql;
import plenzo.connectors.database.sql.GrantedSql;
import plenzo.connectors.database.sql.MarkerSql;
import plenzo.connectors.database.sql.ObjectsSql;
import plenzo.connectors.database.sql.ProbeSql;
import plenzo.connectors.database.sql.RowsSql;
import plenzo.connectors.database.sql.Sql;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.TableName;
import plenzo.core.history.Anchor;
import plenzo.core.inventory.NamedThings;
import plenzo.core.inventory.Uncarried;
import plenzo.core.object.SchemaObject;
import plenzo.core.records.Header;
import plenzo.core.records.LongValue;
import plenzo.core.records.RecordsDefinition;
import plenzo.core.records.RowCondition;
import plenzo.core.records.RowReader;
import plenzo.core.table.Column;
import plenzo.core.target.Access;
import plenzo.core.target.Extension;
import plenzo.core.target.Grants;
import plenzo.core.target.LastChange;
import plenzo.core.target.Leftover;
import plenzo.core.target.Question;
import plenzo.core.target.RunSeen;
import plenzo.core.target.TableCapture;
import plenzo.core.target.TablesLooking;
import plenzo.core.target.TargetFailed;
import plenzo.core.target.TargetIdentity;
import plenzo.core.version.SemVer;

/** A look in one REPEATABLE READ, READ ONLY transaction. */
final class PostgresLooking implements TablesLooking {
  /** Characters of a query that are kept for people to read (guess). */
  private static final int MOST_SHOWN = 2000;

  /** Characters of the answer to a person's query. */
  private static final int MOST_ANSWERED = 20_000;

  /** A silent server is given up after this (guess: no sort of rows takes longer). */
  private static final Duration LONGEST = Duration.ofMinutes(15);

  /** From so many tables of a schema on, all of them are read at once (guess). */
  private static final int MANY = 4;

  private final Access access;
  private final Connection connection;
  private final CatalogReader catalog;

  /** What is read once is true for the whole look. */
  private final Map<String, List<SchemaObject>> objects = new HashMap<>();

  private @Nullable Alone alone;
  private final Map<String, List<SchemaObject>> granted = new HashMap<>();

  private final Map<String, Map<TableName, TableCapture>> wholes = new HashMap<>();
  private final Map<String, Map<TableName, Optional<TableCapture>>> singles = new HashMap<>();

  PostgresLooking(Access access) {
    this.access = access;
    this.connection = Sessions.open(access, "looking", "2h");
    this.catalog = new CatalogReader(connection);
    try {
      Sessions.patience(connection, LONGEST);
      connection.setTransactionIsolation(Connection.TRANSACTION_REPEATABLE_READ);
      connection.setReadOnly(true);
      connection.setAutoCommit(false);
    } catch (SQLException e) {
      throw Sessions.failed("Cannot begin to look at " + access, e);
    }
  }

  private TargetFailed failed(SQLException e) {
    return Sessions.failed("Cannot read from " + access, e);
  }

  @Override
  public Optional<TargetIdentity> identity() {
    try {
      Sessions.patience(connection, Duration.ofSeconds(10));
      Optional<TargetIdentity> found = identity(connection, access);
      Sessions.patience(connection, LONGEST);
      return found;
    } catch (SQLException e) {
      throw failed(e);
    }
  }

  static Optional<TargetIdentity> identity(Connection connection, Access access) {
    try (Statement s = connection.createStatement()) {
      try (ResultSet r = s.executeQuery(MarkerSql.EXISTS)) {
        r.next();
        if (!r.getBoolean(1)) {
          return Optional.empty();
        }
      }
      try (ResultSet r = s.executeQuery(MarkerSql.READ)) {
        return r.next()
            ? Optional.of(
                new TargetIdentity(
                    r.getString(1),
                    r.getString(2),
                    r.getString(3),
                    r.getString(4),
                    r.getObject(5, OffsetDateTime.class).toInstant()))
            : Optional.empty();
      }
    } catch (SQLException e) {
      throw Sessions.failed("Cannot read the marker of " + access, e);
    }
  }

  /** PostgreSQL counts in two numbers since release 10: 170002 is 17.2. */
  @Override
  public Optional<SemVer> release() {
    try (Statement s = connection.createStatement();
        ResultSet r = s.executeQuery("SELECT current_setting('server_version_num')::int")) {
      r.next();
      int number = r.getInt(1);
      return Optional.of(new SemVer(number / 10_000 + "." + number % 10_000 + ".0"));
    } catch (SQLException e) {
      throw failed(e);
    }
  }

  @Override
  public List<Leftover> leftovers() {
    try {
      return Leftovers.tables(connection);
    } catch (SQLException e) {
      throw failed(e);
    }
  }

  @Override
  public List<RunSeen> runs(int limit) {
    try (Statement s = connection.createStatement()) {
      try (ResultSet r = s.executeQuery(MarkerSql.RUNS_EXIST)) {
        r.next();
        if (!r.getBoolean(1)) {
          return List.of();
        }
      }
      List<RunSeen> out = new ArrayList<>();
      try (ResultSet r = s.executeQuery(MarkerSql.RUNS + limit)) {
        while (r.next()) {
          String anchor = r.getString(4);
          out.add(
              new RunSeen(
                  r.getLong(1),
                  r.getString(2),
                  r.getString(3),
                  anchor == null ? null : Anchor.of(anchor)));
        }
      }
      return out;
    } catch (SQLException e) {
      throw failed(e);
    }
  }

  @Override
  public LastChange lastChange(ComponentKey key) {
    return LastChange.UNKNOWN;
  }

  @Override
  public String instance() {
    try (Statement s = connection.createStatement();
        ResultSet r =
            s.executeQuery(
                "SELECT (SELECT system_identifier FROM pg_control_system())::text || '/' || (SELECT oid FROM pg_database WHERE datname = current_database())")) {
      r.next();
      return r.getString(1);
    } catch (SQLException e) {
      throw failed(e);
    }
  }

  @Override
  public List<TableName> tables(String schema) {
    try {
      return catalog.tables(schema);
    } catch (SQLException e) {
      throw failed(e);
    }
  }

  @Override
  public List<SchemaObject> objects(String schema) {
    return once(objects, schema, () -> new ObjectsReader(connection).read(schema));
  }

  @Override
  public List<SchemaObject> granted(String schema) {
    return once(granted, schema, () -> new GrantedReader(connection).read(schema));
  }

  /** Reads what a schema has. */
  private interface Reading {
    List<SchemaObject> read() throws SQLException;
  }

  private List<SchemaObject> once(
      Map<String, List<SchemaObject>> known, String schema, Reading reading) {
    List<SchemaObject> all = known.get(schema);
    if (all == null) {
      try {
        all = List.copyOf(reading.read());
      } catch (SQLException e) {
        throw failed(e);
      }
      known.put(schema, all);
    }
    return all;
  }

  @Override
  public boolean readsAllRows() {
    try (Statement s = connection.createStatement();
        ResultSet r =
            s.executeQuery(
                "SELECT rolsuper OR rolbypassrls FROM pg_catalog.pg_roles WHERE rolname = current_user")) {
      return r.next() && r.getBoolean(1);
    } catch (SQLException e) {
      throw failed(e);
    }
  }

  @Override
  public Set<String> lackedRoles(Set<String> roles) {
    return roles(GrantedSql.LACKED_ROLES, roles, null);
  }

  @Override
  public Set<String> shutOut(String schema, Set<String> roles) {
    return roles(GrantedSql.SHUT_OUT, roles, schema);
  }

  private Set<String> roles(String sql, Set<String> roles, @Nullable String schema) {
    Set<String> out = new TreeSet<>();
    try (PreparedStatement s = connection.prepareStatement(sql)) {
      s.setArray(1, connection.createArrayOf("text", roles.toArray()));
      if (schema != null) {
        s.setString(2, schema);
      }
      try (ResultSet r = s.executeQuery()) {
        while (r.next()) {
          out.add(r.getString(1));
        }
      }
      return out;
    } catch (SQLException e) {
      throw failed(e);
    }
  }

  @Override
  public List<Uncarried> uncarried(String schema) {
    try {
      return new UncarriedReader(connection).read(schema, objects(schema));
    } catch (SQLException e) {
      throw failed(e);
    }
  }

  @Override
  public Set<String> extensionsOf(Set<TableName> tables) {
    Set<String> out = new TreeSet<>();
    try (PreparedStatement s = connection.prepareStatement(ObjectsSql.EXTENSIONS_OF_TABLES)) {
      s.setArray(1, connection.createArrayOf("text", tables.stream().map(Sql::name).toArray()));
      try (ResultSet r = s.executeQuery()) {
        while (r.next()) {
          out.add(r.getString(1));
        }
      }
      return out;
    } catch (SQLException e) {
      throw failed(e);
    }
  }

  @Override
  public List<Extension> extensions() {
    List<Extension> out = new ArrayList<>();
    try (Statement s = connection.createStatement();
        ResultSet r = s.executeQuery(ObjectsSql.EXTENSIONS)) {
      while (r.next()) {
        out.add(new Extension(r.getString(1), r.getString(2), r.getString(3)));
      }
      return out;
    } catch (SQLException e) {
      throw failed(e);
    }
  }

  /** Of tables and views: grantee, right, on how many, accounts whose new ones have it. */
  private static final String GRANTS =
      "WITH t AS (SELECT c.relowner, c.relacl FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace WHERE n.nspname = ? AND c.relkind IN ('r', 'p', 'v', 'm')),"
          + " g AS (SELECT a.grantee, a.privilege_type, count(*) AS n FROM t, aclexplode(t.relacl) a WHERE a.grantee <> t.relowner GROUP BY 1, 2),"
          + " d AS (SELECT x.defaclrole, a.grantee, a.privilege_type FROM pg_default_acl x, aclexplode(x.defaclacl) a WHERE x.defaclobjtype = 'r' AND x.defaclnamespace IN (0, (SELECT oid FROM pg_namespace WHERE nspname = ?)))"
          + " SELECT CASE g.grantee WHEN 0 THEN 'PUBLIC' ELSE quote_ident(pg_get_userbyid(g.grantee)) END, g.privilege_type, g.n, (SELECT count(*) FROM t),"
          + " array(SELECT pg_get_userbyid(d.defaclrole)::text FROM d WHERE d.grantee = g.grantee AND d.privilege_type = g.privilege_type)"
          + " FROM g ORDER BY 1, 2";

  @Override
  public Grants grants(String schema) {
    List<Grants.Grant> out = new ArrayList<>();
    long tables = 0;
    try (PreparedStatement s = connection.prepareStatement(GRANTS)) {
      s.setString(1, schema);
      s.setString(2, schema);
      try (ResultSet r = s.executeQuery()) {
        while (r.next()) {
          tables = r.getLong(4);
          Set<String> of = Set.of((String[]) r.getArray(5).getArray());
          out.add(new Grants.Grant(r.getString(1), r.getString(2), r.getLong(3), of));
        }
      }
      return new Grants(tables, out);
    } catch (SQLException e) {
      throw failed(e);
    }
  }

  private static final String ABSENT =
      "SELECT w.n FROM unnest(?::text[], ?::text[]) WITH ORDINALITY AS w(schema, name, n) WHERE NOT EXISTS (SELECT 1 FROM pg_namespace s WHERE s.nspname = w.schema AND ("
          + "EXISTS (SELECT 1 FROM pg_proc x WHERE x.pronamespace = s.oid AND x.proname = w.name)"
          + " OR EXISTS (SELECT 1 FROM pg_type x WHERE x.typnamespace = s.oid AND x.typname = w.name)"
          + " OR EXISTS (SELECT 1 FROM pg_class x WHERE x.relnamespace = s.oid AND x.relname = w.name)"
          + " OR EXISTS (SELECT 1 FROM pg_operator x WHERE x.oprnamespace = s.oid AND x.oprname = w.name)"
          + " OR EXISTS (SELECT 1 FROM pg_opclass x WHERE x.opcnamespace = s.oid AND x.opcname = w.name)"
          + " OR EXISTS (SELECT 1 FROM pg_collation x WHERE x.collnamespace = s.oid AND x.collname = w.name)"
          + " OR EXISTS (SELECT 1 FROM pg_ts_config x WHERE x.cfgnamespace = s.oid AND x.cfgname = w.name)"
          + " OR EXISTS (SELECT 1 FROM pg_ts_dict x WHERE x.dictnamespace = s.oid AND x.dictname = w.name)))";

  @Override
  public Set<NamedThings.Name> absent(Set<NamedThings.Name> names) {
    List<NamedThings.Name> asked = List.copyOf(names);
    Set<NamedThings.Name> out = new TreeSet<>();
    try (PreparedStatement s = connection.prepareStatement(ABSENT)) {
      s.setArray(
          1,
          connection.createArrayOf("text", asked.stream().map(NamedThings.Name::schema).toArray()));
      s.setArray(
          2,
          connection.createArrayOf("text", asked.stream().map(NamedThings.Name::name).toArray()));
      try (ResultSet r = s.executeQuery()) {
        while (r.next()) {
          out.add(asked.get(r.getInt(1) - 1));
        }
      }
      return out;
    } catch (SQLException e) {
      throw failed(e);
    }
  }

  @Override
  public Optional<TableCapture> table(TableName table) {
    try {
      Map<TableName, TableCapture> whole = wholes.get(table.schema());
      if (whole != null) {
        return Optional.ofNullable(whole.get(table));
      }
      Map<TableName, Optional<TableCapture>> single =
          singles.computeIfAbsent(table.schema(), s -> new HashMap<>());
      Optional<TableCapture> known = single.get(table);
      if (known == null && single.size() < MANY) {
        known = catalog.table(table);
        single.put(table, known);
      }
      if (known != null) {
        return known;
      }
      Map<TableName, TableCapture> all = new HashMap<>();
      catalog.all(table.schema()).forEach(t -> all.put(t.table(), t));
      wholes.put(table.schema(), all);
      return Optional.ofNullable(all.get(table));
    } catch (SQLException e) {
      throw failed(e);
    }
  }

  @Override
  public RowReader rows(RecordsDefinition records, @Nullable Set<String> columns) {
    return read(
        records.table(),
        names ->
            records.ordered(
                names.stream()
                    .filter(
                        n -> columns == null || columns.contains(n) || records.key().contains(n))
                    .toList()),
        records.key().size(),
        records.condition(),
        List.of(),
        null);
  }

  @Override
  public RowReader allRows(TableName table, List<String> key, List<Question> marks) {
    int server = server();
    return read(
        table,
        names -> keyFirst(key, names),
        key.size(),
        null,
        marks.stream().map(q -> FactsSql.mark(q, key, server)).toList(),
        null);
  }

  @Override
  public RowReader countedRows(TableName table, List<String> key, Question question) {
    String only = FactsSql.counts(question, key, server());
    return read(table, names -> keyFirst(key, names), key.size(), null, List.of(), only);
  }

  private static List<String> keyFirst(List<String> key, List<String> names) {
    List<String> out = new ArrayList<>(key);
    names.stream().filter(n -> !key.contains(n)).sorted().forEach(out::add);
    return out;
  }

  /** The server's version number, 150004 for 15.4. */
  private int server() {
    try {
      DatabaseMetaData server = connection.getMetaData();
      return server.getDatabaseMajorVersion() * 10_000 + server.getDatabaseMinorVersion();
    } catch (SQLException e) {
      throw failed(e);
    }
  }

  private RowReader read(
      TableName table,
      Function<List<String>, List<String>> order,
      int keyColumns,
      @Nullable RowCondition condition,
      List<String> marks,
      @Nullable String only) {
    TableCapture capture =
        table(table)
            .orElseThrow(
                () -> new IllegalArgumentException("There is no table " + table + " in " + access));
    return copyOut(connection, alone(), capture, order, keyColumns, condition, marks, only);
  }

  /** Tables from which others inherit, asked once. */
  private Alone alone() {
    Alone known = alone;
    if (known == null) {
      try {
        known = Sessions.alone(connection);
      } catch (SQLException e) {
        throw failed(e);
      }
      alone = known;
    }
    return known;
  }

  static RowReader copyOut(
      Connection connection,
      Alone alone,
      TableCapture capture,
      Function<List<String>, List<String>> order,
      int keyColumns,
      @Nullable RowCondition condition,
      List<String> marks,
      @Nullable String only) {
    // the server computes the others from these
    Map<String, String> types =
        capture.structure().columns().stream()
            .filter(c -> !c.isComputed())
            .collect(Collectors.toMap(Column::name, Column::type));
    List<String> names = order.apply(List.copyOf(types.keySet()));
    if (!types.keySet().containsAll(names)) {
      throw new IllegalArgumentException(
          "The table "
              + capture.table()
              + " has no column for the whole key "
              + names.subList(0, keyColumns));
    }
    List<String> columnTypes = names.stream().map(types::get).toList();
    boolean longValues =
        capture.longValues() && columnTypes.stream().skip(keyColumns).anyMatch(LongValue::mayBe);
    String sql =
        alone.in(
            RowsSql.copyOut(
                capture.table(),
                names,
                columnTypes,
                keyColumns,
                condition,
                marks,
                only,
                longValues));
    List<String> all = new ArrayList<>(names);
    List<String> allTypes = new ArrayList<>(columnTypes);
    for (int n = 0; n < marks.size(); n++) {
      all.add(TablesLooking.mark(n));
      allTypes.add("boolean");
    }
    Header header = new Header(all, allTypes, keyColumns);
    try {
      CopyStream stream =
          new CopyStream(connection.unwrap(PGConnection.class).getCopyAPI().copyOut(sql));
      LongInRows longOnes =
          longValues ? new LongInRows(connection, alone, capture.table(), header) : null;
      return new CheckedReader(stream, header, keyColumns > 0, longOnes);
    } catch (SQLException e) {
      throw Sessions.failed("Cannot read the rows of " + capture.table(), e);
    }
  }

  @Override
  public Question.Answer answer(Question question) {
    try (Statement s = connection.createStatement()) {
      String sql = alone().in(FactsSql.query(question, server()));
      s.execute("SAVEPOINT asked");
      try (ResultSet r = s.executeQuery(sql)) {
        r.next();
        return new Question.Answer(r.getLong(1), CatalogReader.texts(r.getArray(2)), shown(sql));
      } catch (SQLException e) {
        s.execute("ROLLBACK TO SAVEPOINT asked");
        if (question.type() == Question.Type.CONVERSION_FAILS
            || question.type() == Question.Type.NOT_FITTING) {
          return failing(s, alone().in(FactsSql.failing(question, server())), sql, e);
        }
        throw e;
      }
    } catch (SQLException e) {
      throw failed(e);
    }
  }

  /** Row by row, for how many a column cannot be worked out; where that is refused, that it is. */
  private static Question.Answer failing(Statement s, String rowByRow, String sql, SQLException why)
      throws SQLException {
    try {
      s.execute(rowByRow);
    } catch (SQLException e) {
      s.execute("ROLLBACK TO SAVEPOINT asked");
      return new Question.Answer(1, List.of(String.valueOf(why.getMessage())), shown(sql));
    }
    try (ResultSet r =
        s.executeQuery("SELECT pg_catalog.current_setting('" + FactsSql.FAILED + "', true)")) {
      r.next();
      List<String> lines = r.getString(1).lines().toList();
      long count = Long.parseLong(lines.get(0));
      // what stands in the way without a row is the expression itself
      return count == 0
          ? new Question.Answer(1, List.of(String.valueOf(why.getMessage())), shown(sql))
          : new Question.Answer(count, lines.subList(1, lines.size()), shown(sql));
    }
  }

  @Override
  public List<@Nullable String> worked(TableName table, Question.Made made, Question.Tuples rows) {
    List<@Nullable String> out = new ArrayList<>();
    try (Statement s = connection.createStatement()) {
      s.execute("SAVEPOINT asked");
      try (ResultSet r = s.executeQuery(alone().in(FactsSql.worked(table, made, rows)))) {
        while (r.next()) {
          out.add(r.getString(1));
        }
      } catch (SQLException e) {
        s.execute("ROLLBACK TO SAVEPOINT asked");
        throw e;
      }
    } catch (SQLException e) {
      throw failed(e);
    }
    return out;
  }

  @Override
  public List<Inside> sessions(List<String> accounts) {
    List<Inside> out = new ArrayList<>();
    if (accounts.isEmpty()) {
      return out;
    }
    try (Statement s = connection.createStatement();
        ResultSet r = s.executeQuery(DoorSql.sessions(accounts))) {
      while (r.next()) {
        out.add(new Inside(r.getString(1), r.getLong(2)));
      }
    } catch (SQLException e) {
      throw failed(e);
    }
    return out;
  }

  @Override
  public String query(String sql) {
    try (Statement s = connection.createStatement()) {
      s.execute(ProbeSql.SAVEPOINT);
      try {
        s.execute(ProbeSql.PATIENCE);
        s.execute(ProbeSql.cursor(sql));
        try (ResultSet r = s.executeQuery(ProbeSql.FETCH)) {
          return text(r);
        }
      } catch (SQLException | IllegalArgumentException e) {
        throw new TargetFailed(
            "The query was refused: " + e.getMessage(), /* notReachable= */ false, e);
      } finally {
        s.execute(ProbeSql.BACK);
      }
    } catch (SQLException e) {
      throw failed(e);
    }
  }

  private static String text(ResultSet r) throws SQLException {
    StringBuilder out = new StringBuilder();
    int columns = r.getMetaData().getColumnCount();
    for (int row = 0; r.next(); row++) {
      if (row == ProbeSql.ROWS) {
        throw tooMuch("more than " + ProbeSql.ROWS + " rows");
      }
      for (int n = 1; n <= columns; n++) {
        String value = r.getString(n);
        out.append(n > 1 ? "," : "")
            .append(value == null ? "" : "\"" + value.replace("\"", "\"\"") + "\"");
      }
      out.append('\n');
      if (out.length() > MOST_ANSWERED) {
        throw tooMuch("more than " + MOST_ANSWERED + " characters");
      }
    }
    return out.toString();
  }

  private static TargetFailed tooMuch(String what) {
    return new TargetFailed(
        "The query answers " + what, /* notReachable= */ false, new IllegalStateException(what));
  }

  /** The query for people: long lists of values are cut. */
  private static String shown(String sql) {
    return sql.length() <= MOST_SHOWN
        ? sql
        : sql.substring(0, MOST_SHOWN) + " … (" + sql.length() + " characters in all)";
  }

  @Override
  public void cut() {
    Sessions.cut(connection);
  }

  @Override
  public void close() {
    try {
      connection.close();
    } catch (SQLException e) {
      throw failed(e);
    }
  }
}
