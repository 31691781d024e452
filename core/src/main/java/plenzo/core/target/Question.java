package plenzo.core.target;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.ObjectName;
import plenzo.core.component.TableName;
import plenzo.core.table.Conversion;
import plenzo.core.table.ExclusionKeys;
import plenzo.core.table.IndexKeys;
import plenzo.core.table.Renaming;

/**
 * A count that the impact check asks for; the target's own engine answers it.
 *
 * @param columns columns of {@code table} that are asked about
 * @param path foreign keys from {@code table} on, each from the table that it leads to
 * @param text the type that values should fit with the type they have behind it, the types of the
 *     columns, or a value that is not counted
 * @param given values that are asked about, or that count as there
 * @param without keys of rows of the asked table that are left out, because the run writes them
 * @param converted columns whose values are asked about as they will be
 */
public record Question(
    Type type,
    TableName table,
    List<String> columns,
    List<Hop> path,
    List<String> text,
    Tuples given,
    Tuples without,
    Converted converted) {
  /** Said of a table that is not there yet. */
  public static final String COMES = "comes";

  /** Said of values that can be held against each other by their texts alone. */
  public static final String AS_TEXT = "as text";

  /** Whose {@code text} is expressions over the columns. */
  private static final Set<Type> SQL =
      Set.of(Type.VIOLATING, Type.DUPLICATES_BY, Type.EXCLUDING, Type.OVERLAPPING);

  public Question {
    columns = List.copyOf(columns);
    path = List.copyOf(path);
    text = List.copyOf(text);
  }

  /** What is asked. */
  public enum Type {
    /** Rows of the table. */
    ROWS,
    /** Rows whose column holds a value. */
    FILLED,
    /**
     * Rows of the table; the examples are how many of them have a value in each of the columns, in
     * their order.
     */
    FILLED_EACH,
    /** Rows whose column is null. */
    NULLS,
    /** Rows whose value does not fit the type in {@code text}, or would come back otherwise. */
    NOT_FITTING,
    /** Groups of rows that are equal in the columns. */
    DUPLICATES,
    /**
     * Groups of rows that are equal by expressions: {@code text} has the condition of the rows that
     * are asked about, whether rows without a value count, and the expressions, as the server
     * prints them.
     */
    DUPLICATES_BY,
    /**
     * Rows beside which another one stands, of those that meet the first of {@code text}: by what
     * follows it, each expression with its operator, as the server prints them.
     */
    EXCLUDING,
    /**
     * Rows whose range overlaps another one's that is equal in all else, of those that meet the
     * first of {@code text}; its second is the range, and the rest are what else is equal.
     */
    OVERLAPPING,
    /** Rows for which the condition in {@code text} is false, as the server prints it. */
    VIOLATING,
    /** Rows whose value is none of the labels in {@code text}. */
    NO_LABEL,
    /** Rows that have a label of {@code text}; its first is the column's type. */
    LABELS,
    /** Rows for whose value the condition on VALUE in {@code text} is false. */
    VIOLATING_VALUE,
    /**
     * Rows that point at nothing in the table of the path, the given ones counting as there; at
     * none but those where {@code text} says that the table only comes.
     */
    ORPHANS,
    /** Rows at the end of the path that lead to rows with the given values. */
    POINTING,
    /** Rows that hold given values under another key; given are the columns, then the key. */
    CLASHING,
    /** Given values that no row holds. */
    UNKNOWN,
    /** Rows with a value over 64 MB in one of the columns. */
    OVERSIZE,

    /** Rows with a value in one of the columns that does not stand in its row. */
    LONG,

    /** Rows that hold the number of a large object that is there in one of the columns. */
    LARGE_OBJECTS,
    /** Views, rules and routines that depend on the column (or the table when none is named). */
    DEPENDENTS,
    /**
     * Whatever is built on a schema object and is not carried, or stands in a schema that is not
     * among {@code text}: its first is the kind of the object, the second its arguments.
     */
    BUILT_ON,
    /** Triggers and rules on the table that fire when it is written. */
    CODE,
    /** Bytes of the table with its indexes. */
    BYTES,
    /**
     * Bytes of tables that point at the table by columns with which no index of theirs begins; the
     * examples name them with the columns.
     */
    UNINDEXED,
    /** Rows for which the first converted column cannot be worked out; the examples say why. */
    CONVERSION_FAILS,
    /**
     * Rows that have a value in all that the first converted column is worked out from, and would
     * have none in it.
     */
    CONVERSION_EMPTIES
  }

  /** A column that is worked out. */
  public record Made(String column, String type, Conversion from) {}

  /**
   * Columns of the asked table as they will be.
   *
   * @param kept its other columns
   */
  public record Converted(List<String> kept, List<Made> made) {
    public static final Converted NONE = new Converted(List.of(), List.of());

    public Converted {
      kept = List.copyOf(kept);
      made = List.copyOf(made);
    }

    public boolean isEmpty() {
      return made.isEmpty();
    }

    private Converted renamed(Map<String, String> own, Renaming names) {
      return new Converted(
          Renaming.names(kept, own),
          made.stream()
              .map(
                  m ->
                      new Made(
                          own.getOrDefault(m.column(), m.column()),
                          m.type(),
                          m.from().renamed(own, names)))
              .toList());
    }
  }

  /**
   * One foreign key, from the table that has it.
   *
   * @param becoming columns of the table as they will be, where some come or become others
   * @param gone keys of its rows that will not be there, or not as they are
   */
  public record Hop(
      TableName table,
      List<String> columns,
      List<String> referenced,
      Converted becoming,
      Tuples gone) {
    public Hop {
      columns = List.copyOf(columns);
      referenced = List.copyOf(referenced);
    }

    /** To rows as they are. */
    public Hop(TableName table, List<String> columns, List<String> referenced) {
      this(table, columns, referenced, Converted.NONE, Tuples.NONE);
    }
  }

  /** Values of some columns, in their canonical text. */
  public record Tuples(
      List<String> columns, List<String> types, List<List<@Nullable String>> values) {
    public static final Tuples NONE = new Tuples(List.of(), List.of(), List.of());

    /** Rows asked about in one query (guess that keeps a query below some 5 MB). */
    public static final int MOST = 50_000;

    public Tuples {
      columns = List.copyOf(columns);
      types = List.copyOf(types);
      values = Collections.unmodifiableList(values);
    }

    public boolean isEmpty() {
      return values.isEmpty();
    }

    /** The same values under other names of their columns. */
    Tuples named(List<String> names) {
      return new Tuples(names, types, values);
    }

    /** A tuple whose values are all there. */
    public static List<String> certain(List<@Nullable String> tuple) {
      return tuple.stream().map(Objects::requireNonNull).toList();
    }
  }

  public static Question of(Type type, TableName table, String... columns) {
    return new Question(
        type,
        table,
        Arrays.asList(columns),
        List.of(),
        List.of(),
        Tuples.NONE,
        Tuples.NONE,
        Converted.NONE);
  }

  /**
   * @param unless a constant that nobody typed: such values are not counted; null for none
   */
  public static Question filled(TableName table, String column, @Nullable String unless) {
    return of(Type.FILLED, table, column).text(unless == null ? List.of() : List.of(unless));
  }

  public static Question notFitting(
      TableName table, String column, String newType, String oldType) {
    return of(Type.NOT_FITTING, table, column).text(List.of(newType, oldType));
  }

  public static Question oversize(TableName table, List<String> columns, List<String> types) {
    return of(Type.OVERSIZE, table, columns.toArray(String[]::new)).text(types);
  }

  /**
   * @param types of the columns, each of which may have long values
   */
  public static Question longValues(TableName table, List<String> columns, List<String> types) {
    return of(Type.LONG, table, columns.toArray(String[]::new)).text(types);
  }

  /**
   * @param columns whose values may be numbers of large objects
   */
  public static Question largeObjects(TableName table, List<String> columns) {
    return of(Type.LARGE_OBJECTS, table, columns.toArray(String[]::new));
  }

  public static Question violating(TableName table, String condition) {
    return of(Type.VIOLATING, table).text(List.of(condition));
  }

  /** Groups of rows that an index would find equal. */
  public static Question duplicatesBy(TableName table, IndexKeys keys) {
    List<String> text = new ArrayList<>();
    text.add(keys.where() == null ? "true" : keys.where());
    text.add(String.valueOf(keys.nullsAreEqual()));
    text.addAll(keys.keys());
    return of(Type.DUPLICATES_BY, table).text(text);
  }

  /**
   * Rows that an exclusion constraint would not hold beside one another.
   *
   * @param range which of the keys must not overlap where all others are equal; each row is held
   *     against each without one
   */
  public static Question excluding(TableName table, ExclusionKeys keys, Optional<String> range) {
    List<String> text = new ArrayList<>();
    text.add(keys.where());
    if (range.isPresent()) {
      text.add(range.get());
      keys.keys().stream().filter(k -> !k.equals(range.get())).forEach(text::add);
      return of(Type.OVERLAPPING, table).text(text);
    }
    for (int i = 0; i < keys.keys().size(); i++) {
      text.add(keys.keys().get(i));
      text.add(keys.operators().get(i));
    }
    return of(Type.EXCLUDING, table).text(text);
  }

  /**
   * What is built on a schema object and is not carried.
   *
   * @param schemas those of which everything else is known
   */
  public static Question builtOn(ComponentKey object, Collection<String> schemas) {
    ObjectName name = ObjectName.of(object);
    List<String> text = new ArrayList<>();
    text.add(object.kind().code());
    text.add(Objects.requireNonNullElse(name.arguments(), ""));
    text.addAll(schemas);
    return of(Type.BUILT_ON, new TableName(name.schema(), name.name())).text(text);
  }

  /** Rows whose value is none of the labels. */
  public static Question noLabel(TableName table, String column, List<String> labels) {
    return of(Type.NO_LABEL, table, column).text(labels);
  }

  /**
   * Rows that have one of the labels, in a column of that type or in one of its items.
   *
   * @param type as the server prints it
   */
  public static Question holdingLabels(
      TableName table, String column, String type, List<String> labels) {
    List<String> text = new ArrayList<>(List.of(type));
    text.addAll(labels);
    return of(Type.LABELS, table, column).text(text);
  }

  /**
   * Rows whose value in a column does not meet the condition of a domain.
   *
   * @param condition on VALUE, as the server prints it
   */
  public static Question violatingValue(TableName table, String column, String condition) {
    return of(Type.VIOLATING_VALUE, table, column).text(List.of(condition));
  }

  public Question text(List<String> types) {
    return new Question(type, table, columns, path, types, given, without, converted);
  }

  /** The same with other names of tables and columns, from those that it has. */
  public Question renamed(Renaming names) {
    if (names.isEmpty()) {
      return this;
    }
    Map<String, String> own = names.columns(names.named(table));
    List<Hop> hops = new ArrayList<>();
    for (int n = 0; n < path.size(); n++) {
      Hop h = path.get(n);
      // a hop of rows that point leads from the table before it; else from its own to the next
      TableName other =
          type == Type.POINTING ? (n == 0 ? table : path.get(n - 1).table()) : h.table();
      TableName from = type == Type.POINTING ? h.table() : table;
      hops.add(
          new Hop(
              names.named(h.table()),
              Renaming.names(h.columns(), names.columns(names.named(from))),
              Renaming.names(h.referenced(), names.columns(names.named(other))),
              h.becoming().renamed(names.columns(names.named(h.table())), names),
              h.gone()
                  .named(
                      Renaming.names(h.gone().columns(), names.columns(names.named(h.table()))))));
    }
    boolean sql = SQL.contains(type);
    return new Question(
        type,
        names.named(table),
        Renaming.names(columns, own),
        hops,
        sql ? text.stream().map(t -> Renaming.text(t, own)).toList() : text,
        given.named(Renaming.names(given.columns(), own)),
        without.named(Renaming.names(without.columns(), own)),
        converted.renamed(own, names));
  }

  public Question along(List<Hop> hops) {
    return new Question(type, table, columns, hops, text, given, without, converted);
  }

  public Question given(Tuples values) {
    return new Question(type, table, columns, path, text, values, without, converted);
  }

  public Question without(Tuples keys) {
    return new Question(type, table, columns, path, text, given, keys, converted);
  }

  /** The same about columns as they will be. */
  public Question converting(Converted next) {
    return new Question(type, table, columns, path, text, given, without, next);
  }

  /** An answer with the query as it ran; examples are a few of what was counted. */
  public record Answer(long count, List<String> examples, String query) {
    public Answer {
      examples = List.copyOf(examples);
    }

    /**
     * "operator fares.=== is", "operator fares.=== and 2 more are".
     *
     * @param one where no example is told
     */
    public String named(String one) {
      return (examples.isEmpty() ? one : examples.get(0))
          + (count == 1 ? " is" : " and " + (count - 1) + " more are");
    }
  }
}
