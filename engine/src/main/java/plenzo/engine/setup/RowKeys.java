package plenzo.engine.setup;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import plenzo.core.records.KeyType;
import plenzo.core.records.LongValue;
import plenzo.core.table.Column;
import plenzo.core.table.Constraint;
import plenzo.core.table.IndexKeys;
import plenzo.core.table.Renaming;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Question;
import plenzo.core.target.TableCapture;
import plenzo.core.target.TablesLooking;
import plenzo.core.words.Words;

/** By which columns rows of a table are told apart from site to site, and why some cannot be. */
public final class RowKeys {
  private static final String NO_KEY = "it has no primary or unique key";

  /** Rows that are held against one another: more are data of the application, not of a version. */
  private static final long MOST = 1_000_000;

  private RowKeys() {}

  /**
   * The columns that are proposed: a unique key that nothing generates is better than a generated
   * one; where the table keeps none, all its columns.
   *
   * @return none where rows cannot be told apart
   */
  public static List<String> proposed(TableStructure structure) {
    Optional<Constraint> primary = structure.primaryKey();
    boolean generated = primary.isPresent() && generated(structure, primary.get().columns());
    Optional<Constraint> natural =
        structure.constraints().stream()
            .filter(c -> c.type() == Constraint.Type.UNIQUE && !generated(structure, c.columns()))
            .filter(
                c ->
                    c.columns().stream()
                        .allMatch(n -> structure.column(n).map(Column::notNull).orElse(false)))
            .findFirst();
    if (generated && natural.isPresent()) {
      return natural.get().columns();
    }
    return primary
        .or(() -> natural)
        .map(Constraint::columns)
        .orElseGet(() -> isKeyless(structure) ? all(structure) : own(structure));
  }

  private static List<String> all(TableStructure structure) {
    return structure.inOrder().stream().filter(c -> !c.isComputed()).map(Column::name).toList();
  }

  /** A key that the table itself keeps: the primary one, or one that is unique and filled. */
  public static List<String> own(TableStructure structure) {
    return kept(structure).findFirst().orElse(List.of());
  }

  /** Every such key, the primary one first. */
  private static Stream<List<String>> kept(TableStructure structure) {
    return Stream.concat(
            structure.primaryKey().stream(),
            structure.constraints().stream().filter(c -> c.type() == Constraint.Type.UNIQUE))
        .map(Constraint::columns)
        .filter(k -> k.stream().allMatch(name -> isFilled(structure, name)));
  }

  private static boolean isFilled(TableStructure structure, String column) {
    return structure.column(column).filter(c -> c.notNull() && !c.isComputed()).isPresent();
  }

  /** Whether the table itself keeps no rows apart: then any of its columns may be null. */
  public static boolean isKeyless(TableStructure structure) {
    return own(structure).isEmpty();
  }

  /** Whether a constraint of the table keeps rows apart by these columns or some of them. */
  private static boolean isKept(TableStructure structure, List<String> key) {
    return kept(structure).anyMatch(key::containsAll);
  }

  /** Whether these are all columns of a table that has no key of its own. */
  public static boolean isWholeRow(TableStructure structure, List<String> key) {
    return Set.copyOf(key).equals(Set.copyOf(all(structure)))
        && structure.constraints().stream()
            .noneMatch(
                c ->
                    c.type() == Constraint.Type.PRIMARY
                        || c.type() == Constraint.Type.UNIQUE && key.containsAll(c.columns()));
  }

  /**
   * Whether a column tells a row apart after a change as it did before: its values print the same,
   * as they do in a wider type of whole numbers or texts. A computed one tells nothing of its own.
   */
  public static boolean tellsTheSame(Optional<Column> was, Optional<Column> is) {
    return was.isPresent()
        && is.isPresent()
        && !is.get().isComputed()
        && printed(was.get().type()).equals(printed(is.get().type()));
  }

  private static String printed(String type) {
    if (Set.of("smallint", "integer", "bigint").contains(type)) {
      return "whole number";
    }
    return type.equals("text") || type.matches("character varying(\\(\\d+\\))?") ? "text" : type;
  }

  static boolean generated(TableStructure structure, List<String> columns) {
    return columns.stream()
        .anyMatch(
            n ->
                structure
                    .column(n)
                    .map(c -> c.identity() != null || c.sequence() != null)
                    .orElse(false));
  }

  static String madeByTheDatabase(List<String> key) {
    return "the key "
        + String.join(", ", key)
        + " is made by each database, so the same row may have another key elsewhere";
  }

  /** What to think of before rows are taken by that key, or empty. */
  static String remark(TableStructure structure, List<String> key) {
    if (key.isEmpty()) {
      return "";
    }
    if (generated(structure, key)) {
      return madeByTheDatabase(key);
    }
    return isWholeRow(structure, key)
        ? "it has no key: rows are told apart by all columns, so a changed row is one that goes and one that comes"
        : "";
  }

  /** Why rows cannot be told apart by these columns in one shared order; empty when they can. */
  public static String problem(TableStructure structure, List<String> key) {
    if (key.isEmpty()) {
      return NO_KEY;
    }
    boolean keyless = isKeyless(structure);
    for (String name : key) {
      Column c = structure.column(name).orElse(null);
      if (c == null) {
        return "it has no column " + name;
      }
      if (c.isComputed()) {
        return "the key column " + name + " is computed";
      }
      if (!c.notNull() && !keyless) {
        return "the key column " + name + " may be null";
      }
    }
    return "";
  }

  /**
   * The same of what is there: rows that no constraint keeps apart are counted, as they may have
   * twins. Twins in a document are found when it is read.
   */
  public static String problem(TablesLooking looking, TableCapture table, List<String> key) {
    String problem = problem(table.structure(), key);
    if (!problem.isEmpty() || isKept(table.structure(), key) || !looking.answers()) {
      return problem;
    }
    List<String> maybeLong =
        table.longValues() ? key.stream().filter(c -> mayBeLong(table, c)).toList() : List.of();
    long longOnes =
        maybeLong.isEmpty()
            ? 0
            : looking
                .answer(
                    Question.longValues(
                        table.table(),
                        maybeLong,
                        maybeLong.stream().map(c -> type(table, c)).toList()))
                .count();
    if (longOnes > 0) {
      return NO_KEY
          + ", and "
          + Words.count(longOnes, "row")
          + (longOnes == 1 ? " has" : " have")
          + " a value of more than 8 MB, by which rows are not told apart";
    }
    if (isKeyless(table.structure())
        && looking.answer(Question.of(Question.Type.ROWS, table.table())).count() > MOST) {
      return NO_KEY + ", and more rows than are held against one another (1,000,000)";
    }
    long twins =
        looking.answer(Question.duplicatesBy(table.table(), told(table.structure(), key))).count();
    if (twins > 0 && !isWholeRow(table.structure(), key)) {
      return Words.count(twins, "value")
          + " of "
          + String.join(", ", key)
          + (twins == 1 ? " stands" : " stand")
          + " in more than one row";
    }
    return switch ((int) Math.min(twins, 2)) {
      case 0 -> "";
      case 1 -> NO_KEY + ", and one row stands there more than once";
      default -> NO_KEY + ", and " + twins + " rows stand there more than once";
    };
  }

  private static String type(TableCapture table, String column) {
    return table.structure().column(column).orElseThrow().type();
  }

  private static boolean mayBeLong(TableCapture table, String column) {
    return LongValue.mayBe(type(table, column));
  }

  /** What tells rows apart that have no key: values, or what they print where that is the order. */
  private static IndexKeys told(TableStructure structure, List<String> key) {
    return new IndexKeys(
        key.stream()
            .map(
                name -> {
                  String type = structure.column(name).orElseThrow().type();
                  String quoted = Renaming.quoted(name);
                  return KeyType.of(type) == KeyType.BY_TEXT || KeyType.of(type) == KeyType.SCALED
                      ? "(" + quoted + ")::pg_catalog.text"
                      : quoted;
                })
            .toList(),
        /* where= */ null,
        /* nullsAreEqual= */ true);
  }
}
