package plenzo.connectors.database.sql;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.TableName;
import plenzo.core.table.Column;
import plenzo.core.table.Constraint;
import plenzo.core.table.Conversion;
import plenzo.core.table.OwnedSequence;
import plenzo.core.table.Setting;
import plenzo.core.table.StructureChange;
import plenzo.core.table.TableStructure;

/**
 * Statements that change structure. Types and expressions are the server's own text, shown before
 * they run.
 */
public final class StructureSql {
  /** The table that begins what something is a partition of, as the server prints it. */
  private static final Pattern PARENT =
      Pattern.compile("^(?:\"(?:[^\"]|\"\")+\"|[^\" .]+)\\.(?:\"(?:[^\"]|\"\")+\"|[^\" .]+)");

  private StructureSql() {}

  public static List<String> statements(StructureChange c) {
    String table = Sql.name(c.table());
    String alter = "ALTER TABLE " + table + " ";
    return switch (c.act()) {
      case LEAVE_PARENT -> List.of(alter + "NO INHERIT " + Sql.name(TableName.of(c.name())));
      case JOIN_PARENT -> List.of(alter + "INHERIT " + Sql.name(TableName.of(c.name())));
      case DROP_FOREIGN_KEY, DROP_CONSTRAINT ->
          List.of(alter + "DROP CONSTRAINT " + whereLeft(c) + Sql.name(c.name()));
      case DROP_INDEX ->
          List.of("DROP INDEX " + Sql.name(c.table().schema()) + "." + Sql.name(c.name()));
      case CREATE_TABLE -> create(c.table(), Objects.requireNonNull(c.structure()), true);
      case ADD_COLUMN, ADD_COMPUTED -> addColumn(c.table(), Objects.requireNonNull(c.after()));
      case CHANGE_COLUMN ->
          changeColumn(
              c.table(), Objects.requireNonNull(c.before()), Objects.requireNonNull(c.after()));
      case DROP_COLUMN, DROP_COMPUTED ->
          List.of(alter + "DROP COLUMN " + whereLeft(c) + Sql.name(c.name()));
      case SET_NOT_NULL -> List.of(filling(c.table(), c.name()));
      case ADD_INDEX -> List.of(Objects.requireNonNull(c.index()).definition());
      case ADD_CONSTRAINT, ADD_FOREIGN_KEY ->
          List.of(adding(c.table(), Objects.requireNonNull(c.constraint())));
      case SET_COMMENT -> List.of("COMMENT ON TABLE " + table + " IS " + nullable(c.comment()));
      case DROP_RULE -> List.of(dropRule(c.table(), c.name()));
      case SET_SETTING -> SettingsSql.set(c.table(), c.name(), c.comment());
      case ADD_PARTITION -> List.of(partition(c.name(), Objects.requireNonNull(c.comment())));
      case DROP_PARTITION -> dropPartition(c.name(), Objects.requireNonNull(c.comment()));
      case DROP_TABLE -> List.of("DROP TABLE " + table);
    };
  }

  private static String whereLeft(StructureChange c) {
    return c.isWhereLeft() ? "IF EXISTS " : "";
  }

  /** One that is pointed at by way of its table goes only when it is none of its partitions. */
  private static List<String> dropPartition(String name, String of) {
    String partition = Sql.name(TableName.of(name));
    Matcher parent = PARENT.matcher(of);
    if (!parent.find()) {
      throw new IllegalStateException("Not what something is a partition of: " + of);
    }
    return List.of(
        "ALTER TABLE " + parent.group() + " DETACH PARTITION " + partition,
        "DROP TABLE " + partition);
  }

  private static String partition(String name, String of) {
    return "CREATE TABLE " + Sql.name(TableName.of(name)) + " PARTITION OF " + of;
  }

  /** It may have gone already with a type that is exchanged. */
  private static String dropRule(TableName table, String name) {
    return "DROP RULE IF EXISTS " + Sql.name(name) + " ON " + Sql.name(table);
  }

  static String dropRule(TableName table, Setting rule) {
    return dropRule(table, rule.name().substring(Setting.RULE.length()));
  }

  /** The statement that gives a table a constraint. */
  public static String filling(TableName table, String column) {
    return "ALTER TABLE " + Sql.name(table) + " ALTER COLUMN " + Sql.name(column) + " SET NOT NULL";
  }

  public static String adding(TableName table, Constraint k) {
    return "ALTER TABLE "
        + Sql.name(table)
        + " ADD CONSTRAINT "
        + Sql.name(k.name())
        + " "
        + k.definition();
  }

  private static String nullable(@Nullable String text) {
    return text == null ? "NULL" : Sql.literal(text).strip();
  }

  /**
   * Creates sequences, the table with nullable columns, and comments on columns; no constraints.
   */
  public static List<String> create(TableName table, TableStructure structure, boolean nullable) {
    List<String> out = new ArrayList<>();
    List<String> columns = new ArrayList<>();
    List<String> after = new ArrayList<>();
    for (Column c : structure.inOrder()) {
      serial(table, c, out, after);
      columns.add(column(table, nullable && c.identity() == null ? c.withoutNotNull() : c));
      comment(table, c, after);
    }
    out.add(
        "CREATE TABLE "
            + Sql.name(table)
            + " ("
            + String.join(", ", columns)
            + ")"
            + structure
                .setting(Setting.PARTITIONED)
                .map(s -> " PARTITION BY " + s.value())
                .orElse("")
            + (structure.inherits().isEmpty()
                ? ""
                : structure.inherits().stream()
                    .map(Sql::name)
                    .collect(Collectors.joining(", ", " INHERITS (", ")"))));
    structure
        .partitions()
        .forEach(
            s -> out.add(partition(s.name().substring(Setting.PARTITION.length()), s.value())));
    out.addAll(after);
    return out;
  }

  private static List<String> addColumn(TableName table, Column c) {
    List<String> out = new ArrayList<>();
    List<String> after = new ArrayList<>();
    serial(table, c, out, after);
    out.add(
        "ALTER TABLE "
            + Sql.name(table)
            + " ADD COLUMN "
            + column(table, c.identity() == null ? c.withoutNotNull() : c));
    out.addAll(after);
    comment(table, c, out);
    return out;
  }

  private static void comment(TableName table, Column c, List<String> out) {
    if (c.comment() != null) {
      out.add(
          "COMMENT ON COLUMN "
              + Sql.name(table)
              + "."
              + Sql.name(c.name())
              + " IS "
              + nullable(c.comment()));
    }
  }

  private static void serial(TableName table, Column c, List<String> before, List<String> after) {
    OwnedSequence s = c.sequence();
    if (s != null && c.identity() == null) {
      String name = Sql.name(table.schema()) + "." + Sql.name(s.name());
      before.add("CREATE SEQUENCE " + name + " AS " + s.type() + " " + options(s));
      after.add(
          "ALTER SEQUENCE " + name + " OWNED BY " + Sql.name(table) + "." + Sql.name(c.name()));
    }
  }

  private static String options(OwnedSequence s) {
    return "INCREMENT BY "
        + s.increment()
        + " MINVALUE "
        + s.min()
        + " MAXVALUE "
        + s.max()
        + " START WITH "
        + s.start()
        + (s.cycle() ? " CYCLE" : " NO CYCLE");
  }

  private static String column(TableName table, Column c) {
    StringBuilder out = new StringBuilder(Sql.name(c.name())).append(' ').append(c.type());
    if (c.collation() != null) {
      out.append(" COLLATE ").append(c.collation());
    }
    OwnedSequence s = c.sequence();
    if (c.identity() != null && s != null) {
      out.append(" GENERATED ")
          .append(c.identity().toUpperCase(java.util.Locale.ROOT))
          .append(" AS IDENTITY (SEQUENCE NAME ")
          .append(Sql.name(table.schema()))
          .append('.')
          .append(Sql.name(s.name()))
          .append(' ')
          .append(options(s))
          .append(')');
    } else if (c.defaultExpression() != null) {
      out.append(" DEFAULT ").append(c.defaultExpression());
    } else if (c.generated() != null) {
      out.append(" GENERATED ALWAYS AS (").append(c.generated()).append(") STORED");
    }
    return c.notNull() ? out.append(" NOT NULL").toString() : out.toString();
  }

  /**
   * Gives new columns the values that are worked out for them, all in one pass over the rows; no
   * trigger of the table fires.
   *
   * @param columns the new columns, as they will be
   */
  static List<String> fill(
      TableName table, TableStructure present, List<Column> columns, Map<String, Conversion> by) {
    List<String> out = new ArrayList<>();
    List<String> actions = new ArrayList<>();
    List<String> after = new ArrayList<>();
    for (Column c : columns) {
      actions.add(
          "ALTER COLUMN "
              + Sql.name(c.name())
              + " "
              + typed(table, present, c.type(), c, by.get(c.name()), out, after));
    }
    String alter = "ALTER TABLE " + Sql.name(table) + " ";
    out.add(alter + String.join(", ", actions));
    out.addAll(after);
    for (Column c : columns) {
      if (c.defaultExpression() != null) {
        out.add(
            alter + "ALTER COLUMN " + Sql.name(c.name()) + " SET DEFAULT " + c.defaultExpression());
      }
    }
    return out;
  }

  /** The new type of a column with what its values are worked out from. */
  private static String typed(
      TableName table,
      TableStructure present,
      String was,
      Column after,
      @Nullable Conversion by,
      List<String> before,
      List<String> later) {
    String type =
        "TYPE " + after.type() + (after.collation() == null ? "" : " COLLATE " + after.collation());
    if (by == null) {
      return type + " USING " + Casts.of(Sql.name(after.name()), was, after.type());
    }
    String expression = "(" + by.expression() + ")::" + after.type();
    if (!by.asksElsewhere()) {
      return type + " USING " + expression;
    }
    // a new type may ask nothing elsewhere by itself, but by a function, which goes again
    String name = Sql.name("plenzo") + "." + Sql.name(table.table());
    List<Column> reads =
        present.columns().stream().filter(c -> by.reads().containsKey(c.name())).toList();
    String arguments =
        reads.stream()
            .map(c -> Sql.name(c.name()) + " " + c.type())
            .collect(Collectors.joining(", ", "(", ")"));
    before.add(
        "CREATE FUNCTION "
            + name
            + arguments
            + " RETURNS "
            + after.type()
            + " LANGUAGE sql STABLE AS "
            + Sql.literal("SELECT " + expression).strip());
    later.add(
        "DROP FUNCTION "
            + name
            + reads.stream().map(Column::type).collect(Collectors.joining(", ", "(", ")")));
    return type
        + " USING "
        + name
        + reads.stream().map(c -> Sql.name(c.name())).collect(Collectors.joining(", ", "(", ")"));
  }

  /** A column that is added without a value, to be worked out next. */
  static List<String> bare(StructureChange c) {
    return addColumn(c.table(), Objects.requireNonNull(c.after()).withoutDefault());
  }

  /** A column whose values are worked out for its new type. */
  static List<String> convert(StructureChange c, TableStructure present, Conversion by) {
    return changeColumn(
        c.table(),
        Objects.requireNonNull(c.before()),
        Objects.requireNonNull(c.after()),
        present,
        by);
  }

  private static List<String> changeColumn(TableName table, Column before, Column after) {
    return changeColumn(table, before, after, TableStructure.EMPTY, null);
  }

  private static List<String> changeColumn(
      TableName table,
      Column before,
      Column after,
      TableStructure present,
      @Nullable Conversion by) {
    List<String> out = new ArrayList<>();
    String column =
        "ALTER TABLE " + Sql.name(table) + " ALTER COLUMN " + Sql.name(after.name()) + " ";
    String itself =
        "ALTER TABLE " + Sql.alone(table) + " ALTER COLUMN " + Sql.name(after.name()) + " ";
    if (before.isComputed() && !after.isComputed()) {
      out.add(column + "DROP EXPRESSION");
    }
    boolean type =
        !before.type().equals(after.type())
            || !Objects.equals(before.collation(), after.collation());
    boolean expression = !Objects.equals(before.defaultExpression(), after.defaultExpression());
    if (before.identity() != null && after.identity() == null) {
      out.add(column + "DROP IDENTITY");
    }
    if (before.notNull() && !after.notNull()) {
      out.add(column + "DROP NOT NULL");
    }
    if (before.defaultExpression() != null && (expression || type)) {
      out.add((type ? column : itself) + "DROP DEFAULT");
    }
    OwnedSequence s = after.sequence();
    if (before.sequence() != null
        && s != null
        && (before.identity() == null) == (after.identity() == null)
        && !before.sequence().name().equals(s.name())) {
      String name = Sql.name(new TableName(table.schema(), before.sequence().name()));
      out.add("ALTER SEQUENCE " + name + " RENAME TO " + Sql.name(s.name()));
    }
    if (before.sequence() != null
        && before.identity() == null
        && (after.sequence() == null || after.identity() != null)) {
      out.add("DROP SEQUENCE " + Sql.name(new TableName(table.schema(), before.sequence().name())));
    }
    if (before.identity() != null
        && after.identity() != null
        && !before.identity().equals(after.identity())) {
      out.add(column + "SET GENERATED " + after.identity().toUpperCase(java.util.Locale.ROOT));
    }
    if (type) {
      List<String> later = new ArrayList<>();
      String typed = typed(table, present, before.type(), after, by, out, later);
      out.add(column + typed);
      out.addAll(later);
    }
    boolean serialNow = before.sequence() == null || before.identity() != null;
    if (serialNow && s != null && after.identity() == null) {
      serial(table, after, out, out);
    }
    if (after.defaultExpression() != null && (expression || type)) {
      out.add(itself + "SET DEFAULT " + after.defaultExpression());
    }
    if (before.identity() == null && after.identity() != null && s != null) {
      if (!after.notNull() || !before.notNull()) {
        out.add(column + "SET NOT NULL");
      }
      out.add(
          column
              + "ADD GENERATED "
              + after.identity().toUpperCase(java.util.Locale.ROOT)
              + " AS IDENTITY (SEQUENCE NAME "
              + Sql.name(table.schema())
              + "."
              + Sql.name(s.name())
              + " "
              + options(s)
              + ")");
    } else if (before.sequence() != null
        && s != null
        && (before.identity() == null) == (after.identity() == null)
        && !before.sequence().equals(s)) {
      String name = Sql.name(new TableName(table.schema(), s.name()));
      out.add("ALTER SEQUENCE " + name + " AS " + s.type() + " " + options(s));
    }
    if (!Objects.equals(before.comment(), after.comment())) {
      out.add(
          "COMMENT ON COLUMN "
              + Sql.name(table)
              + "."
              + Sql.name(after.name())
              + " IS "
              + nullable(after.comment()));
    }
    return out;
  }

  /**
   * Adds the constraints and indexes that {@link #create} left out; foreign keys, and settings,
   * which may speak of one, only when asked.
   */
  public static List<String> constraints(
      TableName table, TableStructure structure, boolean foreign) {
    List<String> out = new ArrayList<>();
    StructureChange.between(table, TableStructure.EMPTY, structure).stream()
        .filter(
            c ->
                switch (c.act()) {
                  case ADD_CONSTRAINT, ADD_INDEX, SET_NOT_NULL, SET_COMMENT -> !foreign;
                  case ADD_FOREIGN_KEY, JOIN_PARENT, SET_SETTING -> foreign;
                  default -> false;
                })
        .forEach(c -> out.addAll(statements(c)));
    return out;
  }
}
