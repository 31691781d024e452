package plenzo.connectors.database;

import java.sql.Array;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import plenzo.connectors.database.sql.EarlySql;
import plenzo.connectors.database.sql.SettingsSql;
import plenzo.core.component.TableName;
import plenzo.core.table.Column;
import plenzo.core.table.Constraint;
import plenzo.core.table.Index;
import plenzo.core.table.OwnedSequence;
import plenzo.core.table.Setting;
import plenzo.core.table.TableStructure;
import plenzo.core.target.TableCapture;

/** Reads structures from the server's own catalog, expressions as the server prints them. */
final class CatalogReader {
  private static final String TABLES =
      "SELECT c.relname FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace WHERE n.nspname = ? AND c.relkind IN ('r', 'p') ORDER BY c.relname COLLATE \"C\"";
  private static final String TABLE =
      "SELECT c.oid, c.relkind, c.relispartition, c.relrowsecurity, c.relpersistence, obj_description(c.oid, 'pg_class') AS comment,"
          + " EXISTS (SELECT 1 FROM pg_inherits i WHERE i.inhrelid = c.oid OR i.inhparent = c.oid) AS inherits"
          + " FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace WHERE n.nspname = ? AND c.relname = ? AND c.relkind IN ('r', 'p')";
  private static final String COLUMNS =
      "SELECT a.attnum, a.attname, format_type(a.atttypid, a.atttypmod) AS type, a.attnotnull, a.attidentity, a.attgenerated,"
          + " pg_get_expr(d.adbin, d.adrelid) AS default_text, col_description(a.attrelid, a.attnum) AS comment,"
          + " CASE WHEN a.attcollation <> 0 AND a.attcollation <> t.typcollation THEN quote_ident(cn.nspname) || '.' || quote_ident(co.collname) END AS collation"
          + " FROM pg_attribute a JOIN pg_type t ON t.oid = a.atttypid"
          + " LEFT JOIN pg_attrdef d ON d.adrelid = a.attrelid AND d.adnum = a.attnum"
          + " LEFT JOIN pg_collation co ON co.oid = a.attcollation LEFT JOIN pg_namespace cn ON cn.oid = co.collnamespace"
          + " WHERE a.attrelid = ? AND a.attnum > 0 AND NOT a.attisdropped ORDER BY a.attnum";
  private static final String SEQUENCES =
      "SELECT d.refobjsubid, c.relname, format_type(s.seqtypid, NULL) AS type, s.seqstart::text, s.seqincrement::text, s.seqmin::text, s.seqmax::text, s.seqcycle"
          + " FROM pg_depend d JOIN pg_class c ON c.oid = d.objid AND c.relkind = 'S' JOIN pg_sequence s ON s.seqrelid = c.oid"
          + " WHERE d.classid = 'pg_class'::regclass AND d.refclassid = 'pg_class'::regclass AND d.refobjid = ? AND d.deptype IN ('a', 'i') AND d.refobjsubid > 0";
  private static final String CONSTRAINTS =
      "SELECT c.conname, c.contype, pg_get_constraintdef(c.oid) AS definition,"
          + " ARRAY(SELECT a.attname::text FROM unnest(c.conkey) WITH ORDINALITY k(n, o) JOIN pg_attribute a ON a.attrelid = c.conrelid AND a.attnum = k.n ORDER BY k.o) AS columns,"
          + " fn.nspname AS other_schema, fc.relname AS other_table,"
          + " ARRAY(SELECT a.attname::text FROM unnest(c.confkey) WITH ORDINALITY k(n, o) JOIN pg_attribute a ON a.attrelid = c.confrelid AND a.attnum = k.n ORDER BY k.o) AS other_columns"
          + " FROM pg_constraint c LEFT JOIN pg_class fc ON fc.oid = c.confrelid LEFT JOIN pg_namespace fn ON fn.oid = fc.relnamespace"
          + " WHERE c.conrelid = ? AND c.contype IN ('p', 'u', 'f', 'c', 'x') ORDER BY c.conname";
  private static final String INDEXES =
      "SELECT c.relname, i.indisunique, pg_get_indexdef(i.indexrelid) AS definition FROM pg_index i JOIN pg_class c ON c.oid = i.indexrelid"
          + " WHERE i.indrelid = ? AND i.indisvalid AND c.relname !~ '"
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
    try (PreparedStatement s = connection.prepareStatement(TABLE)) {
      s.setString(1, table.schema());
      s.setString(2, table.table());
      try (ResultSet r = s.executeQuery()) {
        return r.next();
      }
    }
  }

  Optional<TableCapture> table(TableName table) throws SQLException {
    long oid;
    @Nullable String comment;
    List<String> refusals = new ArrayList<>();
    List<String> risks = new ArrayList<>();
    try (PreparedStatement s = connection.prepareStatement(TABLE)) {
      s.setString(1, table.schema());
      s.setString(2, table.table());
      try (ResultSet r = s.executeQuery()) {
        if (!r.next()) {
          return Optional.empty();
        }
        oid = r.getLong("oid");
        comment = r.getString("comment");
        if (r.getString("relkind").equals("p") || r.getBoolean("relispartition")) {
          refusals.add("it is partitioned");
        } else if (r.getBoolean("inherits")) {
          refusals.add("it inherits, or others inherit from it");
        }
        if (r.getBoolean("relrowsecurity")) {
          refusals.add("it has row security");
        }
      }
    }
    Map<Integer, OwnedSequence> sequences = sequences(oid);
    Map<String, Integer> attributes = new HashMap<>();
    List<Column> columns = columns(oid, sequences, attributes, refusals);
    List<Constraint> constraints = constraints(oid, refusals);
    List<Index> indexes = indexes(oid);
    return Optional.of(
        new TableCapture(
            table,
            oid,
            new TableStructure(
                columns,
                constraints,
                indexes,
                comment,
                columns.stream().map(Column::name).toList(),
                settings(oid)),
            attributes,
            refusals,
            risks));
  }

  private List<Setting> settings(long oid) throws SQLException {
    List<Setting> out = new ArrayList<>();
    try (PreparedStatement s = connection.prepareStatement(SettingsSql.SETTINGS)) {
      s.setLong(1, oid);
      try (ResultSet r = s.executeQuery()) {
        while (r.next()) {
          out.add(new Setting(r.getString(1), r.getString(2)));
        }
      }
    }
    return out;
  }

  private Map<Integer, OwnedSequence> sequences(long oid) throws SQLException {
    Map<Integer, OwnedSequence> out = new HashMap<>();
    try (PreparedStatement s = connection.prepareStatement(SEQUENCES)) {
      s.setLong(1, oid);
      try (ResultSet r = s.executeQuery()) {
        while (r.next()) {
          out.put(
              r.getInt(1),
              new OwnedSequence(
                  r.getString(2),
                  r.getString(3),
                  r.getString(4),
                  r.getString(5),
                  r.getString(6),
                  r.getString(7),
                  r.getBoolean(8)));
        }
      }
    }
    return out;
  }

  private List<Column> columns(
      long oid,
      Map<Integer, OwnedSequence> sequences,
      Map<String, Integer> attributes,
      List<String> refusals)
      throws SQLException {
    List<Column> out = new ArrayList<>();
    try (PreparedStatement s = connection.prepareStatement(COLUMNS)) {
      s.setLong(1, oid);
      try (ResultSet r = s.executeQuery()) {
        while (r.next()) {
          String name = r.getString("attname");
          attributes.put(name, r.getInt("attnum"));
          String generated = r.getString("attgenerated");
          boolean stored = generated.equals("s");
          if (!stored && !generated.isEmpty()) {
            refusals.add("its column " + name + " is computed whenever it is read");
          }
          String identity =
              switch (r.getString("attidentity")) {
                case "a" -> "always";
                case "d" -> "by default";
                default -> null;
              };
          out.add(
              new Column(
                  name,
                  r.getString("type"),
                  r.getBoolean("attnotnull"),
                  stored ? null : r.getString("default_text"),
                  identity,
                  r.getString("collation"),
                  sequences.get(r.getInt("attnum")),
                  r.getString("comment"),
                  stored ? r.getString("default_text") : null));
        }
      }
    }
    return out;
  }

  private List<Constraint> constraints(long oid, List<String> refusals) throws SQLException {
    List<Constraint> out = new ArrayList<>();
    try (PreparedStatement s = connection.prepareStatement(CONSTRAINTS)) {
      s.setLong(1, oid);
      try (ResultSet r = s.executeQuery()) {
        while (r.next()) {
          String name = r.getString("conname");
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
          out.add(
              new Constraint(
                  name,
                  type,
                  r.getString("definition"),
                  texts(r.getArray("columns")),
                  other,
                  texts(r.getArray("other_columns"))));
        }
      }
    }
    return out;
  }

  private List<Index> indexes(long oid) throws SQLException {
    List<Index> out = new ArrayList<>();
    try (PreparedStatement s = connection.prepareStatement(INDEXES)) {
      s.setLong(1, oid);
      try (ResultSet r = s.executeQuery()) {
        while (r.next()) {
          out.add(new Index(r.getString(1), r.getBoolean(2), r.getString(3)));
        }
      }
    }
    return out;
  }

  static List<String> texts(@Nullable Array array) throws SQLException {
    return array == null
        ? List.of()
        : Arrays.stream((Object[]) array.getArray()).map(String::valueOf).toList();
  }
}
