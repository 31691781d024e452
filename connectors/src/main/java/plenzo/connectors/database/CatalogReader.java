package plenzo.connectors.database;

import java.sql.Array;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import plenzo.connectors.database.sql.EarlySql;
import plenzo.connectors.database.sql.SettingsSql;
import plenzo.connectors.database.sql.Sql;
import plenzo.core.component.TableName;
import plenzo.core.table.Column;
import plenzo.core.table.ColumnPlaces;
import plenzo.core.table.Constraint;
import plenzo.core.table.Index;
import plenzo.core.table.LargeObjects;
import plenzo.core.table.OwnedSequence;
import plenzo.core.table.Setting;
import plenzo.core.table.TableStructure;
import plenzo.core.target.TableCapture;

/** Reads structures from the server's own catalog, expressions as the server prints them. */
final class CatalogReader {
  private static final String TABLES =
      "SELECT c.relname FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace WHERE n.nspname = ? AND c.relkind IN ('r', 'p') AND NOT c.relispartition ORDER BY c.relname COLLATE \"C\"";

  /** Takes a schema and names, or no names for all. */
  private static final String TABLE =
      "SELECT c.oid, c.relname, CASE WHEN c.relrowsecurity AND row_security_active(c.oid) THEN current_user END AS kept_out, c.relpersistence, x.description AS comment,"
          + " c.relkind = 'r' AND EXISTS (SELECT 1 FROM pg_inherits i JOIN pg_class f ON f.oid IN (i.inhrelid, i.inhparent) WHERE c.oid IN (i.inhrelid, i.inhparent) AND f.relkind <> 'r') AS inherits,"
          + " c.relkind = 'p' AND EXISTS (SELECT 1 FROM pg_partition_tree(c.oid) x JOIN pg_class f ON f.oid = x.relid WHERE f.relkind = 'f') AS elsewhere,"
          + " CASE c.relkind WHEN 'r' THEN pg_relation_size(c.reltoastrelid) > 8192 ELSE EXISTS (SELECT 1 FROM pg_partition_tree(c.oid) x JOIN pg_class f ON f.oid = x.relid WHERE pg_relation_size(f.reltoastrelid) > 8192) END AS long_values"
          + " FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace LEFT JOIN pg_description x ON x.classoid = 'pg_class'::regclass AND x.objoid = c.oid AND x.objsubid = 0 WHERE n.nspname = ? AND (?::text[] IS NULL OR c.relname = ANY (?)) AND c.relkind IN ('r', 'p') AND NOT c.relispartition ORDER BY c.relname COLLATE \"C\"";

  private static final String COLUMNS =
      "SELECT a.attrelid, a.attnum, a.attname, format_type(a.atttypid, a.atttypmod) AS type, a.attnotnull, a.attidentity, a.attgenerated, a.attislocal,"
          + " pg_get_expr(d.adbin, d.adrelid) AS default_text, x.description AS comment,"
          + " CASE WHEN a.attcollation <> 0 AND a.attcollation <> t.typcollation THEN quote_ident(cn.nspname) || '.' || quote_ident(co.collname) END AS collation"
          + " FROM pg_attribute a JOIN pg_type t ON t.oid = a.atttypid"
          + " LEFT JOIN pg_attrdef d ON d.adrelid = a.attrelid AND d.adnum = a.attnum"
          + " LEFT JOIN pg_collation co ON co.oid = a.attcollation LEFT JOIN pg_namespace cn ON cn.oid = co.collnamespace"
          // the server's own function for it asks for each column anew: half of the whole time
          + " LEFT JOIN pg_description x ON x.classoid = 'pg_class'::regclass AND x.objoid = a.attrelid AND x.objsubid = a.attnum"
          + " WHERE a.attrelid = ANY (?) AND a.attnum > 0 AND NOT a.attisdropped ORDER BY a.attrelid, a.attnum";
  private static final String SEQUENCES =
      "SELECT d.refobjid, d.refobjsubid, c.relname, format_type(s.seqtypid, NULL) AS type, s.seqstart::text, s.seqincrement::text, s.seqmin::text, s.seqmax::text, s.seqcycle"
          + " FROM pg_depend d JOIN pg_class c ON c.oid = d.objid AND c.relkind = 'S' JOIN pg_sequence s ON s.seqrelid = c.oid"
          + " WHERE d.classid = 'pg_class'::regclass AND d.refclassid = 'pg_class'::regclass AND d.refobjid = ANY (?) AND d.deptype IN ('a', 'i') AND d.refobjsubid > 0";
  private static final String CONSTRAINTS =
      "SELECT c.conrelid, c.conname, c.contype, pg_get_constraintdef(c.oid) AS definition,"
          + " ARRAY(SELECT a.attname::text FROM unnest(c.conkey) WITH ORDINALITY k(n, o) JOIN pg_attribute a ON a.attrelid = c.conrelid AND a.attnum = k.n ORDER BY k.o) AS columns,"
          + " fn.nspname AS other_schema, fc.relname AS other_table,"
          + " ARRAY(SELECT a.attname::text FROM unnest(c.confkey) WITH ORDINALITY k(n, o) JOIN pg_attribute a ON a.attrelid = c.confrelid AND a.attnum = k.n ORDER BY k.o) AS other_columns"
          + " FROM pg_constraint c LEFT JOIN pg_class fc ON fc.oid = c.confrelid LEFT JOIN pg_namespace fn ON fn.oid = fc.relnamespace"
          + " WHERE c.conrelid = ANY (?) AND c.contype IN ('p', 'u', 'f', 'c', 'x') AND c.conparentid = 0 ORDER BY c.conname";
  private static final String INDEXES =
      "SELECT i.indrelid, c.relname, i.indisunique, pg_get_indexdef(i.indexrelid) AS definition FROM pg_index i JOIN pg_class c ON c.oid = i.indexrelid"
          + " WHERE i.indrelid = ANY (?) AND i.indisvalid AND c.relname !~ '"
          + EarlySql.NAME
          + "' AND NOT EXISTS (SELECT 1 FROM pg_constraint k WHERE k.conindid = i.indexrelid AND k.conrelid = i.indrelid) ORDER BY c.relname";
  private final Connection connection;

  CatalogReader(Connection connection) {
    this.connection = connection;
  }

  List<TableName> tables(String schema) throws SQLException {
    List<TableName> out = new ArrayList<>();
    try (PreparedStatement s = connection.prepareStatement(TABLES)) {
      s.setString(1, schema);
      try (ResultSet r = s.executeQuery()) {
        while (r.next()) {
          out.add(new TableName(schema, r.getString(1)));
        }
      }
    }
    return out;
  }

  /** Whether it is a table, and no view. */
  boolean isTable(TableName table) throws SQLException {
    return !heads(table.schema(), List.of(table.table())).isEmpty();
  }

  Optional<TableCapture> table(TableName table) throws SQLException {
    return captures(table.schema(), List.of(table.table())).stream().findFirst();
  }

  /** Those of some tables that are there, in as few questions as one of each schema takes. */
  Map<TableName, TableCapture> some(Collection<TableName> tables) throws SQLException {
    Map<String, List<String>> names = new TreeMap<>();
    tables.forEach(t -> names.computeIfAbsent(t.schema(), s -> new ArrayList<>()).add(t.table()));
    Map<TableName, TableCapture> out = new HashMap<>();
    for (Map.Entry<String, List<String>> n : names.entrySet()) {
      captures(n.getKey(), n.getValue()).forEach(t -> out.put(t.table(), t));
    }
    return out;
  }

  /** Every table of a schema, in as few questions as one table takes. */
  List<TableCapture> all(String schema) throws SQLException {
    return captures(schema, null);
  }

  /** A table while its parts are read. */
  private record Head(
      TableName name,
      @Nullable String comment,
      List<String> refusals,
      Parts parts,
      boolean longValues) {
    TableCapture capture(long oid) {
      TableStructure structure =
          new TableStructure(
              parts.columns(),
              parts.constraints(),
              parts.indexes(),
              comment,
              parts.places(),
              parts.settings());
      List<String> numbers = LargeObjects.columns(structure);
      return new TableCapture(
          name,
          oid,
          structure,
          parts.attributes(),
          refusals,
          numbers.isEmpty() ? List.of() : List.of(LargeObjects.said(numbers)),
          longValues);
    }
  }

  private record Parts(
      Map<Integer, OwnedSequence> sequences,
      Map<String, Integer> attributes,
      List<Column> columns,
      Set<String> handed,
      List<Constraint> constraints,
      List<Index> indexes,
      List<Setting> settings) {
    /** What only those that inherit have is told of them alone. */
    ColumnPlaces places() {
      return new ColumnPlaces(
          columns.stream().map(Column::name).toList(),
          settings.stream().anyMatch(Setting::inherits) ? handed : null,
          settings.stream().map(Setting::name).filter(n -> n.startsWith(Setting.OPTION)).toList());
    }

    Parts() {
      this(
          new HashMap<>(),
          new HashMap<>(),
          new ArrayList<>(),
          new HashSet<>(),
          new ArrayList<>(),
          new ArrayList<>(),
          new ArrayList<>());
    }
  }

  private List<TableCapture> captures(String schema, @Nullable List<String> names)
      throws SQLException {
    Map<Long, Head> heads = heads(schema, names);
    if (heads.isEmpty()) {
      return List.of();
    }
    each(SEQUENCES, heads, "refobjid", CatalogReader::sequence);
    each(COLUMNS, heads, "attrelid", CatalogReader::column);
    each(CONSTRAINTS, heads, "conrelid", CatalogReader::constraint);
    each(INDEXES, heads, "indrelid", CatalogReader::index);
    each(
        SettingsSql.settings(connection.getMetaData().getDatabaseMajorVersion()),
        heads,
        "oid",
        (h, r) -> h.parts().settings().add(new Setting(r.getString(2), r.getString(3))));
    List<TableCapture> out = new ArrayList<>();
    heads.forEach((oid, h) -> out.add(h.capture(oid)));
    return out;
  }

  private Map<Long, Head> heads(String schema, @Nullable List<String> names) throws SQLException {
    Map<Long, Head> out = new LinkedHashMap<>();
    try (PreparedStatement s = connection.prepareStatement(TABLE)) {
      Array asked = names == null ? null : connection.createArrayOf("text", names.toArray());
      s.setString(1, schema);
      s.setArray(2, asked);
      s.setArray(3, asked);
      try (ResultSet r = s.executeQuery()) {
        while (r.next()) {
          List<String> refusals = new ArrayList<>();
          if (r.getBoolean("elsewhere")) {
            refusals.add("a partition of it is a foreign table");
          }
          if (r.getBoolean("inherits")) {
            refusals.add("it inherits from a foreign table, or one inherits from it");
          }
          String keptOut = r.getString("kept_out");
          if (keptOut != null) {
            refusals.add(
                "its row security keeps rows from "
                    + keptOut
                    + ": an administrator lets it read all of them by ALTER ROLE "
                    + Sql.name(keptOut)
                    + " BYPASSRLS");
          }
          out.put(
              r.getLong("oid"),
              new Head(
                  new TableName(schema, r.getString("relname")),
                  r.getString("comment"),
                  refusals,
                  new Parts(),
                  r.getBoolean("long_values")));
        }
      }
    }
    return out;
  }

  /** Takes one row of a part. */
  private interface Part {
    void of(Head head, ResultSet r) throws SQLException;
  }

  private void each(String sql, Map<Long, Head> heads, String table, Part part)
      throws SQLException {
    try (PreparedStatement s = connection.prepareStatement(sql)) {
      s.setArray(1, connection.createArrayOf("oid", heads.keySet().toArray()));
      try (ResultSet r = s.executeQuery()) {
        while (r.next()) {
          part.of(Objects.requireNonNull(heads.get(r.getLong(table))), r);
        }
      }
    }
  }

  private static void sequence(Head h, ResultSet r) throws SQLException {
    h.parts()
        .sequences()
        .put(
            r.getInt(2),
            new OwnedSequence(
                r.getString(3),
                r.getString(4),
                r.getString(5),
                r.getString(6),
                r.getString(7),
                r.getString(8),
                r.getBoolean(9)));
  }

  private static void column(Head h, ResultSet r) throws SQLException {
    String name = r.getString("attname");
    h.parts().attributes().put(name, r.getInt("attnum"));
    if (!r.getBoolean("attislocal")) {
      h.parts().handed().add(name);
    }
    String generated = r.getString("attgenerated");
    boolean stored = generated.equals("s");
    if (!stored && !generated.isEmpty()) {
      h.refusals().add("its column " + name + " is computed whenever it is read");
    }
    String identity =
        switch (r.getString("attidentity")) {
          case "a" -> "always";
          case "d" -> "by default";
          default -> null;
        };
    h.parts()
        .columns()
        .add(
            new Column(
                name,
                r.getString("type"),
                r.getBoolean("attnotnull"),
                stored ? null : r.getString("default_text"),
                identity,
                r.getString("collation"),
                h.parts().sequences().get(r.getInt("attnum")),
                r.getString("comment"),
                stored ? r.getString("default_text") : null));
  }

  private static void constraint(Head h, ResultSet r) throws SQLException {
    Constraint.Type type =
        switch (r.getString("contype")) {
          case "p" -> Constraint.Type.PRIMARY;
          case "u" -> Constraint.Type.UNIQUE;
          case "f" -> Constraint.Type.FOREIGN;
          case "c" -> Constraint.Type.CHECK;
          default -> Constraint.Type.EXCLUDE;
        };
    TableName other =
        r.getString("other_table") == null
            ? null
            : new TableName(r.getString("other_schema"), r.getString("other_table"));
    h.parts()
        .constraints()
        .add(
            new Constraint(
                r.getString("conname"),
                type,
                r.getString("definition"),
                texts(r.getArray("columns")),
                other,
                texts(r.getArray("other_columns"))));
  }

  private static void index(Head h, ResultSet r) throws SQLException {
    // of a table with partitions the server prints that it stands on the table only
    String definition = r.getString(4).replaceFirst(" ON ONLY ", " ON ");
    h.parts().indexes().add(new Index(r.getString(2), r.getBoolean(3), definition));
  }

  static List<String> texts(@Nullable Array array) throws SQLException {
    return array == null
        ? List.of()
        : Arrays.stream((Object[]) array.getArray()).map(String::valueOf).toList();
  }
}
