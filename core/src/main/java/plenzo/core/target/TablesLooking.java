package plenzo.core.target;

import java.io.ByteArrayInputStream;
import java.io.InputStream;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.ObjectName;
import plenzo.core.component.TableName;
import plenzo.core.digest.Digest;
import plenzo.core.inventory.NamedThings;
import plenzo.core.inventory.Uncarried;
import plenzo.core.item.ItemSeen;
import plenzo.core.object.SchemaObject;
import plenzo.core.records.RecordsDefinition;
import plenzo.core.records.RowReader;
import plenzo.core.words.Words;

/**
 * A read-only look at a database at one instant: everything that it returns was true together. One
 * reader of rows may be open at a time. Every call throws {@link TargetFailed} when the target does
 * not answer.
 */
public interface TablesLooking extends Looking, WholesLooking {
  /**
   * The schemas of an application's name space; what is asked about the space is asked about each.
   */
  default List<String> schemas(String space) {
    return List.of(space);
  }

  List<TableName> tables(String schema);

  /**
   * Everything in the schema that is not carried; of what belongs to an extension the extension
   * alone.
   */
  List<Uncarried> uncarried(String schema);

  /**
   * Those of the names that nothing has here: no routine, type, operator, relation or collation.
   */
  default Set<NamedThings.Name> absent(Set<NamedThings.Name> names) {
    return Set.of();
  }

  /** Views, routines and whatever else the schema has by name and can be carried, by name. */
  default List<SchemaObject> objects(String schema) {
    return List.of();
  }

  /**
   * What roles may do with tables, views, sequences, routines and types of the schema, their owners
   * left out, by name. No part of {@link #objects} and of the {@link #inventory}: most roles are a
   * stage's own, so it is carried only where somebody asks for it.
   */
  default List<SchemaObject> granted(String schema) {
    return List.of();
  }

  /** Whether the account reads all rows, whatever row security says. */
  default boolean readsAllRows() {
    return false;
  }

  /** Those of the roles that the server does not have. */
  default Set<String> lackedRoles(Set<String> roles) {
    return Set.of();
  }

  /** Those of the roles that may not enter a schema; such as are not there are left out. */
  default Set<String> shutOut(String schema, Set<String> roles) {
    return Set.of();
  }

  /** A schema object as the {@link #inventory} has it. */
  static ItemSeen seen(SchemaObject o) {
    Digest content = o.digest();
    return new ItemSeen(
        o.key(), content, o.canonical().length, content.hex(), null, null, List.of(), "");
  }

  @Override
  default void inventory(String scope, Consumer<ItemSeen> sink) {
    objects(scope).forEach(o -> sink.accept(seen(o)));
  }

  @Override
  default InputStream read(ComponentKey key) {
    return new ByteArrayInputStream(object(key).canonical());
  }

  /**
   * @throws TargetFailed when it is not there (any more)
   */
  default SchemaObject object(ComponentKey key) {
    String schema = ObjectName.of(key).schema();
    return (key.kind() == Kind.GRANT ? granted(schema) : objects(schema))
        .stream()
            .filter(o -> o.key().equals(key))
            .findFirst()
            .orElseThrow(
                () ->
                    new TargetFailed(
                        key + " is not there",
                        /* notReachable= */ false,
                        new IllegalStateException(key.toString())));
  }

  /** Extensions that the database has. */
  default List<Extension> extensions() {
    return List.of();
  }

  /** Names of extensions whose types, routines or operators tables are made of. */
  default Set<String> extensionsOf(Set<TableName> tables) {
    return Set.of();
  }

  /** Who may use what is in a schema. */
  default Grants grants(String schema) {
    return Grants.NONE;
  }

  Optional<TableCapture> table(TableName table);

  /**
   * The rows in key order.
   *
   * @param columns only these, and only those that exist; null for all
   */
  RowReader rows(RecordsDefinition records, @Nullable Set<String> columns);

  /** All rows and columns of a table; in key order when {@code key} is not empty. */
  default RowReader allRows(TableName table, List<String> key) {
    return allRows(table, key, List.of());
  }

  /**
   * The same, each row with a column {@link #mark} for each question behind the others: "t" where
   * the question counts the row. Of rows that are equal where they must not be, the first by key is
   * not marked. A question along a path marks rows at its end.
   *
   * @param marks questions of the types ROWS, NULLS, NOT_FITTING, VIOLATING, DUPLICATES, ORPHANS,
   *     POINTING
   */
  RowReader allRows(TableName table, List<String> key, List<Question> marks);

  /**
   * The rows that a question counts, in key order when {@code key} is not empty.
   *
   * @param question of a type that marks rows
   */
  RowReader countedRows(TableName table, List<String> key, Question question);

  /** Name of the n-th question's column; no column can have it. */
  static String mark(int n) {
    return "\0" + n;
  }

  Question.Answer answer(Question question);

  /** Whether rows can be asked about; documents are only read. */
  default boolean answers() {
    return true;
  }

  /**
   * What a column is worked out to from given values, in their order and in canonical text; nothing
   * of the table is read but what the expression itself asks.
   *
   * @param rows values of the columns that it reads
   * @throws TargetFailed when it cannot be worked out for one of them
   */
  List<@Nullable String> worked(TableName table, Question.Made made, Question.Tuples rows);

  /** Who is in by one of these accounts now; an account without a session is left out. */
  List<Inside> sessions(List<String> accounts);

  /** Sessions of an account in the database. */
  record Inside(String account, long sessions) {
    /** "2 sessions of desk". */
    public String words() {
      return Words.count(sessions, "session") + " of " + account;
    }
  }

  /**
   * The answer to a query of a person's: read only, one statement, 50 rows and 20,000 characters at
   * most, 10 seconds.
   *
   * @return a row a line, values quoted as CSV; null is empty
   * @throws TargetFailed when it is refused, takes longer or answers more
   */
  String query(String sql);
}
