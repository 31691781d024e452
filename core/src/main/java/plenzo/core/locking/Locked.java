package plenzo.core.locking;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Predicate;
import java.util.function.ToLongFunction;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.TableName;
import plenzo.core.table.Column;
import plenzo.core.table.Constraint;
import plenzo.core.table.StructureChange;
import plenzo.core.target.TablesDelta;

/**
 * Whom a switch keeps waiting, as far as the sizes of tables and earlier switches tell.
 *
 * @param tables what is held until it is committed
 * @param millis for about how long; the factor of two either way is usual
 * @param before what is built before, beside running work
 * @param after what is looked at after, beside running work
 * @param bySize for how long by sizes alone; null where that is what {@code millis} says
 * @param switches how many earlier switches of the site correct it; null where none do
 */
public record Locked(
    List<TableLock> tables,
    long millis,
    List<String> before,
    List<String> after,
    @Nullable Long bySize,
    @Nullable Integer switches) {
  public static final Locked NONE = new Locked(List.of(), 0, List.of(), List.of());

  public Locked(List<TableLock> tables, long millis, List<String> before, List<String> after) {
    this(tables, millis, before, after, null, null);
  }

  /** Earlier switches that are taken, and how many there must be of them (guesses). */
  private static final int LAST = 5;

  private static final int ENOUGH = 3;

  /** Shorter ones say little of sizes: what each switch takes anyway is most of them (guess). */
  private static final long LONG_ENOUGH = 500;

  /** A machine is hardly slower or quicker than this beside the one that was measured (guess). */
  private static final double MOST = 20;

  /**
   * A switch that came through.
   *
   * @param foreseen for how long by sizes alone
   * @param millis how long it took
   */
  public record Took(long foreseen, long millis) {}

  /**
   * The same with how long the last switches of the site took beside what sizes told of them: the
   * median of the last five that were foreseen to be felt; of fewer than three nothing follows.
   *
   * @param last the newest first
   */
  public Locked corrected(List<Took> last) {
    List<Double> ratios =
        last.stream()
            .filter(t -> t.foreseen() >= LONG_ENOUGH)
            .limit(LAST)
            .map(t -> (double) t.millis() / t.foreseen())
            .sorted()
            .toList();
    if (tables.isEmpty() || ratios.size() < ENOUGH) {
      return this;
    }
    double ratio = Math.max(1 / MOST, Math.min(MOST, ratios.get(ratios.size() / 2)));
    return new Locked(
        tables,
        REST_MILLIS + Math.round(Math.max(0, millis - REST_MILLIS) * ratio),
        before,
        after,
        millis,
        ratios.size());
  }

  /** For how long by sizes alone. */
  public long foreseen() {
    return bySize == null ? millis : bySize;
  }

  /** What it is worked out from, in words. */
  public String basis() {
    return "by the size of what is there"
        + (switches == null ? "" : " and how long the last " + switches + " switches here took");
  }

  /** Bytes a second (measured on two cores by bench/Locking; a guess for any other machine). */
  private static final long REWRITES = 40L << 20;

  private static final long SCANS = 400L << 20;
  private static final long BUILDS = 40L << 20;
  private static final long JOINS = 100L << 20;

  /** Of a table that lies in memory, once for each row that goes. */
  private static final long SEARCHES = Beside.SEARCHED_BYTES;

  /** Rows a second (bench/WriteRows: a hundredth of a million in half a second). */
  private static final long WRITES = 20_000;

  private static final long REST_MILLIS = 100;

  /** What is another for each row that is asked for it; anything else is kept once for all. */
  private static final Pattern EACH_ANOTHER =
      Pattern.compile("\\b(?:nextval|random|\\w*uuid\\w*|clock_timestamp|timeofday)\\(");

  public Locked {
    tables = List.copyOf(tables);
    before = List.copyOf(before);
    after = List.copyOf(after);
  }

  /**
   * @param isTable whether a name is a table's there
   * @param bytes of a table that is there, with its indexes
   */
  public static Locked of(
      TablesDelta delta, Predicate<TableName> isTable, ToLongFunction<TableName> bytes) {
    if (delta.isEmpty()) {
      return NONE;
    }
    Map<TableName, Long> known = new HashMap<>();
    ToLongFunction<TableName> size =
        t -> isTable.test(t) ? known.computeIfAbsent(t, bytes::applyAsLong) : 0;
    List<String> before = new ArrayList<>();
    List<String> built = new ArrayList<>();
    for (Beside.Early e : Beside.indexes(delta)) {
      if (size.applyAsLong(e.table()) >= Beside.INDEX_BYTES) {
        built.add(e.table() + " " + e.index().name());
        before.add("the index " + e.index().name() + " of " + e.table());
      }
    }
    List<String> after = new ArrayList<>();
    List<Constraint> waiting = new ArrayList<>();
    for (Beside.Late l : Beside.constraints(delta)) {
      if (l.reads().stream().mapToLong(size).sum() >= Beside.CHECK_BYTES) {
        waiting.add(l.constraint());
        after.add("whether " + l.constraint().name() + " holds for all rows of " + l.table());
      }
    }
    List<String> filled = new ArrayList<>();
    for (Beside.Filled f : Beside.filled(delta)) {
      if (size.applyAsLong(f.table()) >= Beside.CHECK_BYTES) {
        filled.add(f.table() + " " + f.column().name());
        after.add("whether " + f.column().name() + " has a value in all rows of " + f.table());
      }
    }
    long millis = REST_MILLIS + delta.rows() * 1000 / WRITES;
    for (TablesDelta.TableDelta t : delta.tables()) {
      if (t.present() == null || t.result() == null) {
        continue;
      }
      for (StructureChange c : delta.changes(t)) {
        boolean beside =
            built.contains(t.table() + " " + c.name())
                || c.act() == StructureChange.Act.SET_NOT_NULL
                    && filled.contains(t.table() + " " + c.name())
                || c.constraint() != null && waiting.contains(c.constraint());
        boolean worked = t.workedOut().containsKey(c.name());
        if (!beside && !(worked && isOfColumn(c))) {
          millis += millis(c, size);
        }
      }
      millis += worked(t, size);
    }
    return new Locked(Locks.of(delta, isTable).words(), millis, before, after);
  }

  private static boolean isOfColumn(StructureChange c) {
    return c.act() == StructureChange.Act.ADD_COLUMN
        || c.act() == StructureChange.Act.CHANGE_COLUMN;
  }

  /** Columns that are worked out: new ones are written in one pass, each new type in its own. */
  private static long worked(TablesDelta.TableDelta t, ToLongFunction<TableName> size) {
    if (t.workedOut().isEmpty()) {
      return 0;
    }
    long retyped =
        t.workedOut().keySet().stream()
            .filter(c -> t.present() != null && t.present().column(c).isPresent())
            .count();
    long passes = retyped + (retyped < t.workedOut().size() ? 1 : 0);
    return passes * at(size.applyAsLong(t.table()), REWRITES);
  }

  /** How long rows are looked for in a table that has no index for that. */
  public static long searching(long rows, long bytes) {
    return Math.multiplyHigh(rows, bytes) != 0 ? Long.MAX_VALUE : rows * bytes / SEARCHES * 1000;
  }

  private static long millis(StructureChange c, ToLongFunction<TableName> size) {
    long own = size.applyAsLong(c.table());
    return switch (c.act()) {
      case ADD_COMPUTED -> at(own, REWRITES);
      case ADD_COLUMN -> isNumbered(c.after()) ? at(own, REWRITES) : 0;
      case CHANGE_COLUMN -> isWrittenAnew(c.before(), c.after()) ? at(own, REWRITES) : 0;
      case SET_NOT_NULL -> at(own, SCANS);
      case ADD_INDEX -> at(own, BUILDS);
      case ADD_FOREIGN_KEY -> {
        Constraint k = c.constraint();
        TableName other = k == null ? null : k.references();
        yield at(own + (other == null ? 0 : size.applyAsLong(other)), JOINS);
      }
      case ADD_CONSTRAINT -> {
        Constraint k = c.constraint();
        yield at(own, k != null && k.type() == Constraint.Type.CHECK ? SCANS : BUILDS);
      }
      default -> 0;
    };
  }

  private static long at(long bytes, long aSecond) {
    return bytes * 1000 / aSecond;
  }

  /** A value of its own for each row that is there. */
  private static boolean isNumbered(@Nullable Column c) {
    String expression = c == null ? null : c.defaultExpression();
    return c != null
        && (c.identity() != null || expression != null && EACH_ANOTHER.matcher(expression).find());
  }

  /** Whether values are another afterwards; a text of more room stays as it lies there. */
  private static boolean isWrittenAnew(@Nullable Column before, @Nullable Column after) {
    if (before == null || after == null || before.type().equals(after.type())) {
      return false;
    }
    boolean texts = before.type().startsWith("character varying") || before.type().equals("text");
    return !(texts && (after.type().equals("text") || after.type().equals("character varying")));
  }
}
