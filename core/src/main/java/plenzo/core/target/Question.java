package plenzo.core.target;

import java.util.List;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.TableName;

/** A count that the impact check asks for; the target's own engine answers it. */
public record Question(
    Type type,
    TableName table,
    List<String> columns,
    @Nullable TableName other,
    List<String> otherColumns,
    String text,
    List<List<String>> keys) {
  public Question {
    columns = List.copyOf(columns);
    otherColumns = List.copyOf(otherColumns);
    keys = List.copyOf(keys);
  }

  /** What is asked. */
  public enum Type {
    /** Rows of the table. */
    ROWS,
    /** Rows whose column holds a value. */
    FILLED,
    /** Rows whose column is null. */
    NULLS,
    /** Rows whose value does not fit the type in {@code text}. */
    NOT_FITTING,
    /** Groups of rows that are equal in the columns. */
    DUPLICATES,
    /** Rows that point at nothing in the other table. */
    ORPHANS,
    /** Rows of the other table that point at rows with the keys. */
    POINTING,
    /** Views, rules and routines that depend on the column (or the table when none is named). */
    DEPENDENTS,
    /** Triggers and rules on the table that fire when it is written. */
    CODE,
    /** Bytes of the table with its indexes. */
    BYTES
  }

  public static Question of(Type type, TableName table, String... columns) {
    return new Question(type, table, List.of(columns), null, List.of(), "", List.of());
  }

  public static Question notFitting(TableName table, String column, String newType) {
    return new Question(
        Type.NOT_FITTING, table, List.of(column), null, List.of(), newType, List.of());
  }

  public static Question orphans(
      TableName table, List<String> columns, TableName other, List<String> otherColumns) {
    return new Question(Type.ORPHANS, table, columns, other, otherColumns, "", List.of());
  }

  /**
   * Which rows of {@code other} point through {@code otherColumns} at rows of {@code table} with
   * these keys in {@code columns}.
   */
  public static Question pointing(
      TableName table,
      List<String> columns,
      TableName other,
      List<String> otherColumns,
      List<List<String>> keys) {
    return new Question(Type.POINTING, table, columns, other, otherColumns, "", keys);
  }

  /** An answer with the query as it ran; examples are a few of what was counted. */
  public record Answer(long count, List<String> examples, String query) {
    public Answer {
      examples = List.copyOf(examples);
    }
  }
}
