package plenzo.connectors.database.sql;

import plenzo.core.records.Header;
import plenzo.core.records.KeyType;

/**
 * The table in which rows stand beside the one that they are written to: the act, the new values,
 * and the expected present values as text. New values have their types, so that they are read once;
 * those of a type that the application or an extension made are staged as text: the type may come
 * with this very plan, or be exchanged by it. A table of very many columns stands in two lists of
 * texts, as a table has room for {@value #MOST} columns alone.
 */
public final class StageSql {
  /** As many columns as a table of the server may have. */
  private static final int MOST = 1600;

  private StageSql() {}

  /** Name of the staging table of a run's n-th table. */
  public static String name(long run, int n) {
    return "\"plenzo\".\"stage_" + run + "_" + n + "\"";
  }

  /** Name of the table in which parts of long values wait to be put together. */
  public static String parts(long run, int n) {
    return "\"plenzo\".\"stage_" + run + "_" + n + "_parts\"";
  }

  /** Whether the values stand in lists: two for each column and the act are more than fit. */
  public static boolean isPacked(Header columns) {
    return 2 * columns.names().size() + 1 > MOST;
  }

  public static String create(String stage, Header columns) {
    String head = "CREATE UNLOGGED TABLE " + stage + " (act text";
    if (isPacked(columns)) {
      return head + ", n text[], e text[])";
    }
    StringBuilder out = new StringBuilder(head);
    for (int i = 0; i < columns.names().size(); i++) {
      out.append(", n")
          .append(i)
          .append(' ')
          .append(isText(columns, i) ? "text" : columns.types().get(i))
          .append(", e")
          .append(i)
          .append(" text");
    }
    return out.append(")").toString();
  }

  /** Whether a new value stands as text: its type is none of the server's own, or it is packed. */
  private static boolean isText(Header columns, int i) {
    return isMade(columns, i) || isPacked(columns);
  }

  /** Types of the server's own stand without their schema. */
  private static boolean isMade(Header columns, int i) {
    return columns.types().get(i).indexOf('.') >= 0;
  }

  /** A new value as it stands. */
  private static String raw(Header columns, int i, String stage) {
    return isPacked(columns) ? stage + ".n[" + (i + 1) + "]" : stage + ".n" + i;
  }

  /** The expected present value, as text. */
  static String expected(Header columns, int i, String stage) {
    return isPacked(columns) ? stage + ".e[" + (i + 1) + "]" : stage + ".e" + i;
  }

  /** A new value in its type. */
  static String value(Header columns, int i, String stage) {
    String value = raw(columns, i, stage);
    return isText(columns, i) ? "(" + value + ")::" + columns.types().get(i) : value;
  }

  /** A new value as its type prints it. */
  static String printed(Header columns, int i, String stage) {
    return isText(columns, i) ? raw(columns, i, stage) : Sql.text(raw(columns, i, stage));
  }

  /** That a key column of a row is the new value. */
  static String is(String column, Header columns, int i, String stage) {
    String byText = Sql.text(column) + " = " + printed(columns, i, stage);
    String byValue = isMade(columns, i) ? byText : column + " = " + value(columns, i, stage);
    return switch (KeyType.of(columns.types().get(i))) {
      case BY_TEXT -> byText;
      case SCALED -> byValue + " AND " + byText;
      default -> byValue;
    };
  }

  /** The same where both may be null: arrays find nulls equal, and are joined by hash. */
  static String isOrNeither(String column, Header columns, int i, String stage) {
    return switch (KeyType.of(columns.types().get(i))) {
      case INTEGER, NUMERIC ->
          "ARRAY[" + column + "::numeric] = ARRAY[" + raw(columns, i, stage) + "::numeric]";
      default -> "ARRAY[" + Sql.text(column) + "] = ARRAY[" + printed(columns, i, stage) + "]";
    };
  }
}
