package plenzo.core.locking;

import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.TableName;
import plenzo.core.table.Column;
import plenzo.core.table.Constraint;
import plenzo.core.table.Index;
import plenzo.core.table.Renaming;
import plenzo.core.table.Setting;
import plenzo.core.table.StructureChange;
import plenzo.core.table.StructureChange.Act;
import plenzo.core.table.TableStructure;
import plenzo.core.target.TablesDelta;

/**
 * What of a change need not be done while a table is held: an index that nothing waits for is built
 * before the switch, and whether a constraint holds for rows that were there is looked at after it.
 * Both only where the table is large enough to be worth it, by its size when the run does it.
 */
public final class Beside {
  /**
   * From this size on an index is built before (guess: a smaller one takes a tenth of a second).
   */
  public static final long INDEX_BYTES = 8L << 20;

  /**
   * From this size on rows are looked at after (guess: a smaller table takes a third of a second).
   */
  public static final long CHECK_BYTES = 32L << 20;

  /** From so many bytes to read for want of an index on, one is built (a second; see Locked). */
  public static final long SEARCHED_BYTES = 600L << 20;

  private static final Pattern HEAD =
      Pattern.compile("^CREATE INDEX (?:\"(?:[^\"]|\"\")+\"|[^ \"]+) ON (?!ONLY )");

  private Beside() {}

  /** An index of the version on a table that is there. */
  public record Early(TableName table, Index index) {
    /**
     * The statement that builds it beside running work.
     *
     * @param name quoted, under which it stands until the switch
     */
    public String statement(String name) {
      Matcher m = HEAD.matcher(index.definition());
      if (!m.find()) {
        throw new IllegalStateException("Not to be built before: " + index.definition());
      }
      return "CREATE INDEX CONCURRENTLY " + name + " ON " + index.definition().substring(m.end());
    }
  }

  /**
   * Indexes that can be built before: not unique, new, over columns that are there and stay as they
   * are, and naming nothing that the switch exchanges.
   */
  public static List<Early> indexes(TablesDelta delta) {
    List<Early> out = new ArrayList<>();
    for (TablesDelta.TableDelta t : delta.tables()) {
      TableStructure was = t.present();
      TableStructure is = t.result();
      // the server builds no index beside running work on a table with partitions
      if (was == null || is == null || was.isPartitioned() || delta.renaming().touches(t.table())) {
        continue;
      }
      List<String> moving =
          Stream.concat(was.columns().stream(), is.columns().stream())
              .filter(c -> moves(c, was, is))
              .map(Column::name)
              .toList();
      for (Index i : is.indexes()) {
        boolean fresh = was.indexes().stream().noneMatch(x -> x.name().equals(i.name()));
        if (fresh
            && !i.unique()
            && HEAD.matcher(i.definition()).find()
            && moving.stream().noneMatch(c -> Renaming.names(i.definition(), c))
            && delta.objects().stream()
                .noneMatch(o -> i.definition().contains(simple(o.key().name())))) {
          out.add(new Early(t.table(), i));
        }
      }
    }
    return out;
  }

  /** Whether what is done to the table is done to others with it, so that nothing of it waits. */
  private static boolean atOnce(TablesDelta.TableDelta t, TablesDelta delta) {
    TableStructure was = Objects.requireNonNull(t.present());
    return was.isPartitioned()
        || !was.inherits().isEmpty()
        || t.result() != null && !t.result().inherits().isEmpty()
        || delta.parents().contains(t.table());
  }

  private static boolean moves(Column c, TableStructure was, TableStructure is) {
    Column before = was.column(c.name()).orElse(null);
    Column after = is.column(c.name()).orElse(null);
    return before == null
        || after == null
        || !before.type().equals(after.type())
        || !Objects.equals(before.collation(), after.collation())
        || !Objects.equals(before.generated(), after.generated());
  }

  /** "crossing_price" of "fares.crossing_price(text)": what a definition would name it by. */
  private static String simple(String name) {
    int bracket = name.indexOf('(');
    String whole = bracket < 0 ? name : name.substring(0, bracket);
    return whole.substring(whole.lastIndexOf('.') + 1).replace("\"", "");
  }

  /** A column that is to have a value in every row from the switch on. */
  public record Filled(TableName table, Column column) {
    /** What says so without reading a row, until all were read. */
    public Constraint by(String name) {
      return new Constraint(
          name,
          Constraint.Type.CHECK,
          "CHECK ((" + Renaming.quoted(column.name()) + " IS NOT NULL))",
          List.of(column.name()),
          null,
          List.of());
    }
  }

  /**
   * Columns that need a value from now on, in tables that are there. Not those of a key or that
   * count by themselves: the server asks for the value at once then.
   */
  public static List<Filled> filled(TablesDelta delta) {
    List<Filled> out = new ArrayList<>();
    for (TablesDelta.TableDelta t : delta.tables()) {
      TableStructure is = t.result();
      if (t.present() == null || is == null || atOnce(t, delta)) {
        continue;
      }
      List<String> key = is.primaryKey().map(Constraint::columns).orElse(List.of());
      boolean told = is.setting(Setting.REPLICA_IDENTITY).isPresent();
      for (StructureChange c : StructureChange.between(t.table(), t.present(), is)) {
        Column after = c.after();
        if (c.act() == Act.SET_NOT_NULL
            && after != null
            && after.identity() == null
            && !key.contains(after.name())
            && !told) {
          out.add(new Filled(t.table(), after));
        }
      }
    }
    return out;
  }

  /**
   * A constraint that comes to a table that is there.
   *
   * @param filled the column that gets NOT NULL in its place once every row was looked at, null for
   *     a constraint of the version
   */
  public record Late(TableName table, Constraint constraint, @Nullable Column filled) {
    public Late(TableName table, Constraint constraint) {
      this(table, constraint, null);
    }

    /** Whose rows are read to look at it. */
    public List<TableName> reads() {
      TableName other = constraint.references();
      return other == null ? List.of(table) : List.of(table, other);
    }
  }

  /**
   * Constraints whose rows may be looked at after the switch: new rows are held against them from
   * the switch on.
   */
  public static List<Late> constraints(TablesDelta delta) {
    List<Late> out = new ArrayList<>();
    for (TablesDelta.TableDelta t : delta.tables()) {
      if (t.present() == null || t.result() == null || atOnce(t, delta)) {
        continue;
      }
      for (StructureChange c : delta.changes(t)) {
        Constraint k = c.constraint();
        boolean adds = c.act() == Act.ADD_FOREIGN_KEY || c.act() == Act.ADD_CONSTRAINT;
        if (k != null && adds && canWait(k)) {
          out.add(new Late(t.table(), k));
        }
      }
    }
    return out;
  }

  private static boolean canWait(Constraint k) {
    return (k.type() == Constraint.Type.FOREIGN || k.type() == Constraint.Type.CHECK)
        && !k.definition().endsWith(NOT_VALID)
        && !k.definition().endsWith(" NO INHERIT");
  }

  /** How the server says that a constraint was not held against the rows that were there. */
  public static final String NOT_VALID = " NOT VALID";

  /** The constraint while rows that were there are not looked at. */
  public static Constraint unproven(Constraint k) {
    return new Constraint(
        k.name(),
        k.type(),
        k.definition() + NOT_VALID,
        k.columns(),
        k.references(),
        k.referencedColumns());
  }
}
