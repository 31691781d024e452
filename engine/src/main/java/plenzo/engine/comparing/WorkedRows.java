package plenzo.engine.comparing;

import java.io.InputStream;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Deque;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.TableName;
import plenzo.core.records.Header;
import plenzo.core.records.LongValues;
import plenzo.core.records.Row;
import plenzo.core.records.RowReader;
import plenzo.core.table.Conversion;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Question.Made;
import plenzo.core.target.Question.Tuples;
import plenzo.core.target.TablesLooking;
import plenzo.core.target.TargetFailed;

/**
 * Rows of before with what a later version worked out of them, each in a column {@link #column}
 * behind the others, and with what is worked back out of that, in {@link #back}. The target works
 * it out, a thousand rows at a time.
 */
final class WorkedRows extends RowReader {
  private static final int TOGETHER = 1_000;

  /** Where the target could not work it out; no value holds it. */
  private static final String UNKNOWN = "\0unknown";

  private final RowReader of;
  private final TablesLooking looking;
  private final TableName table;
  private final List<Made> made;
  private final List<Made> back;
  private final Deque<Row> ready = new ArrayDeque<>();

  private WorkedRows(
      RowReader of,
      Header header,
      TablesLooking looking,
      TableName table,
      List<Made> made,
      List<Made> back) {
    super(InputStream.nullInputStream(), header, /* ordered= */ false);
    this.of = of;
    this.looking = looking;
    this.table = table;
    this.made = made;
    this.back = back;
  }

  /**
   * @param of closed with the reader
   * @param made all of which read columns that the rows have
   * @param back all of which read columns that are made
   */
  static RowReader of(
      RowReader of, TablesLooking looking, TableName table, List<Made> made, List<Made> back) {
    List<String> names = new ArrayList<>(of.header().names());
    List<String> types = new ArrayList<>(of.header().types());
    for (Made m : made) {
      names.add(column(m.column()));
      types.add(m.type());
    }
    for (Made m : back) {
      names.add(back(m.column()));
      types.add(m.type());
    }
    Header header = new Header(names, types, of.header().keyColumns());
    return new WorkedRows(of, header, looking, table, made, back);
  }

  /** Name of the column in which what was worked out for another one stands; none can have it. */
  static String column(String of) {
    return "\0worked " + of;
  }

  /** The same of what is worked back for one. */
  static String back(String of) {
    return "\0back " + of;
  }

  /** Whether a row of now has in a column what was worked out for it of the row of before. */
  static boolean isAsWorked(Row row, @Nullable Row was, String column) {
    int then = was == null ? -1 : was.header().position(column(column));
    int now = row.header().position(column);
    return was != null && then >= 0 && now >= 0 && Objects.equals(was.get(then), row.get(now));
  }

  /**
   * What can be worked out of rows of before once more. What it asked elsewhere may be another by
   * now.
   */
  static List<Made> made(Map<String, Conversion> since, TableStructure was, TableStructure now) {
    return since.entrySet().stream()
        .filter(w -> !w.getValue().asksElsewhere() && w.getValue().isFor(was))
        .flatMap(
            w ->
                now.column(w.getKey()).stream()
                    .map(c -> new Made(c.name(), c.type(), w.getValue())))
        .toList();
  }

  @Override
  public @Nullable Row next() {
    if (ready.isEmpty()) {
      fill();
    }
    return ready.poll();
  }

  private void fill() {
    List<Row> some = new ArrayList<>();
    for (Row row = of.next(); row != null; row = some.size() < TOGETHER ? of.next() : null) {
      some.add(row);
    }
    if (some.isEmpty()) {
      return;
    }
    List<List<@Nullable String>> forth = new ArrayList<>();
    for (Made m : made) {
      List<String> columns = List.copyOf(m.from().reads().keySet());
      List<List<@Nullable String>> rows = new ArrayList<>();
      for (Row row : some) {
        List<@Nullable String> read = new ArrayList<>();
        columns.forEach(c -> read.add(row.get(row.header().position(c))));
        rows.add(read);
      }
      forth.add(worked(m, rows));
    }
    List<String> known = made.stream().map(Made::column).toList();
    List<List<@Nullable String>> values = new ArrayList<>(forth);
    for (Made m : back) {
      List<Integer> at = m.from().reads().keySet().stream().map(known::indexOf).toList();
      List<List<@Nullable String>> rows = new ArrayList<>();
      for (int n = 0; n < some.size(); n++) {
        List<@Nullable String> row = new ArrayList<>();
        for (int column : at) {
          row.add(forth.get(column).get(n));
        }
        rows.add(row);
      }
      values.add(workedBack(m, rows));
    }
    for (int n = 0; n < some.size(); n++) {
      List<@Nullable String> fields = new ArrayList<>(some.get(n).fields());
      for (List<@Nullable String> column : values) {
        fields.add(column.get(n));
      }
      ready.add(Row.of(header(), fields));
    }
  }

  /** What is worked back may fail for a row: then it is not known what the way back makes of it. */
  private List<@Nullable String> workedBack(Made m, List<List<@Nullable String>> rows) {
    try {
      return worked(m, rows);
    } catch (TargetFailed e) {
      return Collections.nCopies(rows.size(), UNKNOWN);
    }
  }

  private List<@Nullable String> worked(Made m, List<List<@Nullable String>> rows) {
    List<String> columns = List.copyOf(m.from().reads().keySet());
    List<String> types =
        columns.stream().map(c -> String.valueOf(m.from().reads().get(c))).toList();
    List<List<@Nullable String>> known = rows.stream().filter(r -> !isUnknown(r)).toList();
    if (known.size() == rows.size()) {
      return looking.worked(table, m, new Tuples(columns, types, rows));
    }
    Iterator<@Nullable String> worked =
        known.isEmpty()
            ? Collections.emptyIterator()
            : looking.worked(table, m, new Tuples(columns, types, known)).iterator();
    List<@Nullable String> out = new ArrayList<>();
    rows.forEach(r -> out.add(isUnknown(r) ? UNKNOWN : worked.next()));
    return out;
  }

  /** Whether one of the values does not stand in its row, or was not worked out itself. */
  private static boolean isUnknown(List<@Nullable String> values) {
    return values.stream().anyMatch(v -> v != null && !v.isEmpty() && v.charAt(0) == '\0');
  }

  @Override
  public long count() {
    return of.count();
  }

  @Override
  public LongValues longValues() {
    return of.longValues();
  }

  @Override
  public void close() {
    of.close();
  }
}
