package plenzo.core.carrying;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.json.Json;
import plenzo.core.table.Column;
import plenzo.core.table.Conversion;
import plenzo.core.table.TableStructure;
import plenzo.core.target.TablesDelta;
import plenzo.core.version.Removal;
import plenzo.core.words.Codes;

/**
 * What becomes of the values of every column of the tables whose structure a plan changes, with how
 * many there are. Tables whose structure stays are not in it: their rows stay but for those that
 * the comparison names.
 */
public record CarryOver(List<Line> lines) {
  public static final CarryOver NONE = new CarryOver(List.of());

  public CarryOver {
    lines = List.copyOf(lines);
  }

  /** What becomes of values. */
  public enum Fate {
    CARRIED("carried"),
    CONVERTED("converted"),
    /** The server computes them from others. */
    COMPUTED("computed"),
    NOT_CARRIED("not carried"),
    /** There are none yet. */
    NEW("new");

    private final String word;

    Fate(String word) {
      this.word = word;
    }

    public String word() {
      return word;
    }

    static Fate of(String word) {
      return Codes.find("what becomes of values", values(), Fate::word, word);
    }
  }

  /**
   * One column.
   *
   * @param column its name now; empty of one that is new
   * @param becomes its name afterwards; empty of one that goes
   * @param rows of the table, as it was counted
   * @param filled rows that have a value there
   * @param reason in words; empty where there is nothing to say
   */
  public record Line(
      TableName table,
      String column,
      String becomes,
      Fate fate,
      long rows,
      long filled,
      String reason) {
    Json toJson() {
      return Json.object(
          "table",
          table.componentName(),
          "column",
          column,
          "becomes",
          becomes,
          "fate",
          fate.word(),
          "rows",
          rows,
          "filled",
          filled,
          "reason",
          reason);
    }

    static Line of(Json json) {
      Json.Obj j = json.asObject();
      return new Line(
          TableName.of(j.text("table")),
          j.text("column"),
          j.text("becomes"),
          Fate.of(j.text("fate")),
          ((Json.Num) Objects.requireNonNull(j.find("rows"))).value(),
          ((Json.Num) Objects.requireNonNull(j.find("filled"))).value(),
          j.text("reason"));
    }
  }

  /** How many rows a table has, and how many have a value in each of the columns. */
  public record Counted(long rows, List<Long> filled) {
    public Counted {
      filled = List.copyOf(filled);
    }
  }

  /** Asks the target once a table. */
  public interface Counting {
    Counted count(TableName table, List<String> columns);
  }

  /**
   * @param removals what the version removes; null where an earlier version comes back
   */
  public static CarryOver of(
      TablesDelta delta, @Nullable Set<Removal> removals, Counting counting) {
    List<Line> out = new ArrayList<>();
    for (TablesDelta.TableDelta t : delta.tables()) {
      TableName was = delta.renaming().before(t.table());
      Map<String, String> old = delta.renaming().inverse().columns(was);
      TableStructure present = t.present();
      if (present == null || !t.structureChanges() && !delta.renaming().touches(t.table())) {
        continue;
      }
      List<Column> columns = present.inOrder();
      Counted counted = counting.count(t.table(), columns.stream().map(Column::name).toList());
      for (int n = 0; n < columns.size(); n++) {
        Column is = columns.get(n);
        out.add(
            line(
                t,
                was,
                is,
                old.getOrDefault(is.name(), is.name()),
                removals,
                counted.rows(),
                counted.filled().get(n)));
      }
      TableStructure result = t.result();
      if (result != null) {
        result.inOrder().stream()
            .filter(c -> present.column(c.name()).isEmpty())
            .forEach(c -> out.add(fresh(t, c, counted.rows())));
      }
    }
    return new CarryOver(out);
  }

  private static Line line(
      TablesDelta.TableDelta t,
      TableName from,
      Column is,
      String was,
      @Nullable Set<Removal> removals,
      long rows,
      long filled) {
    TableStructure result = t.result();
    Column next = result == null ? null : result.column(is.name()).orElse(null);
    if (next == null) {
      return new Line(
          t.table(),
          was,
          "",
          Fate.NOT_CARRIED,
          rows,
          filled,
          gone(t.table(), is, result, removals) + t.alsoReadBy(is.name(), "it"));
    }
    boolean renamed = !was.equals(is.name());
    String reason =
        (t.table().equals(from) ? "" : "from " + from + (renamed ? ", " : ""))
            + (renamed ? "under its new name" : "");
    Fate fate = Fate.CARRIED;
    if (next.isComputed()) {
      fate = is.isComputed() ? Fate.COMPUTED : Fate.NOT_CARRIED;
      reason = "computed from " + next.generated();
    } else if (!is.type().equals(next.type())) {
      fate = Fate.CONVERTED;
      Conversion by = t.workedOut().get(is.name());
      reason =
          is.type()
              + " becomes "
              + next.type()
              + (by == null ? "" : ", worked out by " + by.expression())
              + (reason.isEmpty() ? "" : ", " + reason);
    }
    return new Line(t.table(), was, is.name(), fate, rows, filled, reason);
  }

  private static String gone(
      TableName table,
      Column column,
      @Nullable TableStructure result,
      @Nullable Set<Removal> removals) {
    if (column.isComputed()) {
      return "it was computed from " + column.generated();
    }
    if (removals == null) {
      return result == null
          ? "the earlier version does not have the table"
          : "the earlier version does not have it";
    }
    ComponentKey key = new ComponentKey(Kind.TABLE, table.componentName());
    boolean whole = removals.contains(new Removal(key, ""));
    boolean intended = whole || removals.contains(new Removal(key, "column/" + column.name()));
    return intended
        ? whole ? "the version removes the table" : "the version removes it"
        : "no version says that it goes";
  }

  private static Line fresh(TablesDelta.TableDelta t, Column c, long rows) {
    Conversion by = t.workedOut().get(c.name());
    String said =
        by != null
            ? "worked out by " + by.expression()
            : c.generated() != null
                ? "computed from " + c.generated()
                : c.defaultExpression() != null
                    ? "each row gets " + c.defaultExpression()
                    : c.sequence() != null ? "each row gets a number" : "empty";
    return new Line(t.table(), "", c.name(), Fate.NEW, rows, 0, said);
  }

  public String canonical() {
    return new Json.Arr(lines.stream().map(Line::toJson).toList()).canonical();
  }

  /** Reads what {@link #canonical()} wrote. */
  public static CarryOver read(String canonical) {
    return Json.parse(canonical) instanceof Json.Arr all
        ? new CarryOver(all.items().stream().map(Line::of).toList())
        : NONE;
  }
}
