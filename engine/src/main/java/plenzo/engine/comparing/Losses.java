package plenzo.engine.comparing;

import java.util.ArrayList;
import java.util.Collection;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.Decision;
import plenzo.core.comparison.Difference;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.digest.Digest;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.records.CanonicalCsv;
import plenzo.core.records.Header;
import plenzo.core.records.LongValue;
import plenzo.core.records.RecordsComparison;
import plenzo.core.records.RecordsComparison.RowDifference;
import plenzo.core.records.Row;
import plenzo.core.records.RowReader;
import plenzo.core.table.ConstantDefault;
import plenzo.core.table.Renaming;
import plenzo.core.table.StructureChange;
import plenzo.core.table.TableStructure;
import plenzo.core.target.ItemsDelta;
import plenzo.core.target.Question;
import plenzo.core.target.Question.Made;
import plenzo.core.target.TablesDelta;
import plenzo.core.target.TablesLooking;
import plenzo.core.version.SemVer;
import plenzo.core.words.Words;
import plenzo.engine.setup.SiteLook;

/**
 * Counts what people wrote that a way back would take away, and names it value by value. What a run
 * wrote itself is told from what people wrote by a merge in key order, in constant memory.
 */
public final class Losses {
  private final ComparisonFiles files;

  public Losses(ComparisonFiles files) {
    this.files = files;
  }

  /**
   * A way back that is looked at.
   *
   * @param leaving the version that is left, for what it brought itself
   * @param run the promotion whose run is being undone, to tell its own rows from others'
   * @param fitting how rows are made to fit an earlier structure; null for a backup
   */
  public record Way(
      Promotion promotion,
      Compared compared,
      TablesDelta delta,
      Collection<ItemsDelta> pieces,
      SiteLook look,
      Incoming leaving,
      @Nullable Promotion run,
      @Nullable Fitting fitting) {
    TablesLooking looking() {
      return look.tables();
    }
  }

  /**
   * What would be lost: rows and values together, and in words.
   *
   * @param items the same, place by place
   */
  public record Lost(long rows, String sentence, @Nullable String query, List<Item> items) {
    public static final Lost NONE = new Lost(0, "Nothing is lost.", null, List.of());

    public Lost {
      items = List.copyOf(items);
    }
  }

  /** What is lost at a place. */
  public enum Sort {
    WRITTEN_SINCE("rows written since", "row", "written since"),
    ROWS("rows", "row", ""),
    VALUES("values", "value", ""),
    DROPPED("values dropped before", "value", "that only the backup still has"),
    DROPPED_ROWS("rows dropped before", "row", "that only the backup still has"),
    NO_ROOM("values that do not fit", "value", "that %s cannot hold"),
    NO_ROOM_ROWS("rows that do not fit", "row", "that %s cannot hold"),
    HANGING("values that point at rows that go", "value", "pointing at rows that go"),
    HANGING_ROWS("rows that point at rows that go", "row", "pointing at rows that go"),
    CHANGES("changes made since", "change", "made since");

    private final String shown;
    private final String one;
    private final String behind;

    Sort(String shown, String one, String behind) {
      this.shown = shown;
      this.one = one;
      this.behind = behind;
    }

    /** As lists and the API name it. */
    public String shown() {
      return shown;
    }
  }

  /** One place that loses something. */
  public record Item(String place, Sort sort, long count) {
    /** "1 value of fares.band.note that 2.6.0 cannot hold". */
    String words(SemVer to) {
      String behind = sort.behind.formatted(to);
      return Words.count(count, sort.one) + " of " + place + (behind.isEmpty() ? "" : " " + behind);
    }
  }

  public Lost count(Way way) {
    List<Item> items = new ArrayList<>();
    String query = null;
    for (int n = 0; n < way.compared().components().size(); n++) {
      long here = overwritten(way, n, row -> {});
      if (here > 0) {
        String table = way.compared().components().get(n).key().name();
        items.add(new Item(table, Sort.WRITTEN_SINCE, here));
      }
    }
    for (StructureChange c : dropped(way.delta())) {
      Question q =
          c.act() == StructureChange.Act.DROP_TABLE
              ? Question.of(Question.Type.ROWS, c.table())
              : Question.filled(c.table(), c.name(), ConstantDefault.of(c.before()).text());
      Question.Answer a = way.looking().answer(q);
      long lost = Math.max(0, a.count() - own(way, c) - asWorked(way, c));
      if (lost > 0) {
        query = a.query();
        items.add(
            c.name().isEmpty()
                ? new Item(c.table().toString(), Sort.ROWS, lost)
                : new Item(c.table() + "." + c.name(), Sort.VALUES, lost));
      }
    }
    way.compared().fitted().forEach(f -> items.addAll(f.lost()));
    for (ItemsDelta.Change c : changedSince(way)) {
      items.add(new Item(c.key().toString(), Sort.CHANGES, 1));
    }
    return new Lost(
        items.stream().mapToLong(Item::count).sum(),
        items.isEmpty()
            ? "Nothing is lost."
            : items.stream()
                    .map(i -> i.words(way.promotion().version()))
                    .collect(Collectors.joining(" and "))
                + " would be lost.",
        query,
        items);
  }

  /** Files and definitions that people changed since the version that is left brought them. */
  private static List<ItemsDelta.Change> changedSince(Way way) {
    return way.pieces().stream()
        .flatMap(d -> d.changes().stream())
        .filter(c -> c.present() != null && !c.present().equals(way.leaving().item(c.key())))
        .toList();
  }

  /** Each lost value as a CSV line: table, key, column, value. */
  public void each(Way way, Consumer<String> line) {
    line.accept(CanonicalCsv.text(List.of("table", "key", "column", "value")));
    for (int n = 0; n < way.compared().components().size(); n++) {
      String table = way.compared().components().get(n).key().name();
      overwritten(way, n, row -> values(table, row, line));
    }
    for (StructureChange c : dropped(way.delta())) {
      dropped(way, c, line);
    }
    if (way.fitting() != null) {
      way.fitting()
          .lost((table, key, column, value) -> line(line, table.toString(), key, column, value));
    }
    for (ItemsDelta.Change c : changedSince(way)) {
      line(line, c.key().toString(), "", "content", "digest " + c.present());
    }
  }

  private static void values(String table, RowDifference row, Consumer<String> line) {
    Row present = row.present();
    if (present == null) {
      line(line, table, row.any().keyLine(), "", "(removed since; it would come back)");
      return;
    }
    for (String name : present.header().names()) {
      line(line, table, present.keyLine(), name, present.get(present.header().position(name)));
    }
  }

  private static void line(
      Consumer<String> to, String table, String key, String column, @Nullable String value) {
    List<@Nullable String> fields = new ArrayList<>(List.of(table, key, column));
    fields.add(LongValue.shown(value)); // it stands in the backup that the way back takes
    to.accept(CanonicalCsv.text(fields));
  }

  private static List<StructureChange> dropped(TablesDelta delta) {
    List<StructureChange> out = new ArrayList<>();
    for (TablesDelta.TableDelta t : delta.tables()) {
      StructureChange.between(t.table(), t.present(), t.result()).stream()
          // what was worked out from others is told row by row
          .filter(c -> !t.fitted().settled().contains("column/" + c.name()))
          .filter(
              c ->
                  c.act() == StructureChange.Act.DROP_COLUMN
                      || c.act() == StructureChange.Act.DROP_TABLE)
          .forEach(out::add);
    }
    return out;
  }

  private static ComponentKey records(TableName table) {
    return new ComponentKey(Kind.RECORDS, table.componentName());
  }

  private static boolean brought(Way way, TableName table) {
    return way.leaving().components().contains(records(table));
  }

  /**
   * Values (or rows, for a dropped table) that are still as the version being left brought them.
   */
  private static long own(Way way, StructureChange c) {
    if (!brought(way, c.table())) {
      return 0;
    }
    ConstantDefault fallback = ConstantDefault.of(c.before());
    long[] own = {0};
    try (RowReader was = way.leaving().rows(records(c.table()));
        RowReader is =
            was == null
                ? null
                : way.looking()
                    .rows(
                        way.leaving().records(records(c.table())),
                        Set.copyOf(was.header().names()))) {
      RecordsComparison.pairs(
          was, is, (a, b) -> own[0] += same(a, b, c.name()) && counts(b, c, fallback) ? 1 : 0);
    }
    return own[0];
  }

  /**
   * Rows of the backup that is put back, with what versions since worked out of them; no rows where
   * they worked out nothing. The earlier version has them looked at as it makes rows fit.
   */
  private Alongside worked(Way way, TableName table) {
    Incoming backup = way.compared().items().incoming();
    ComponentKey key = new ComponentKey(Kind.TABLE, table.componentName());
    TableStructure was =
        way.promotion().way() == Plan.Way.BACKUP && backup.components().contains(records(table))
            ? backup.structure(key)
            : null;
    TableStructure is = way.delta().find(table).map(TablesDelta.TableDelta::present).orElse(null);
    if (was == null || is == null) {
      return Alongside.of(null);
    }
    List<Made> made = WorkedRows.made(backup.workedSince().of(table), was, is);
    RowReader rows = made.isEmpty() ? null : backup.rows(records(table));
    if (rows == null) {
      return Alongside.of(null);
    }
    RowReader with = WorkedRows.of(rows, way.looking(), table, made, List.of());
    String name = Digest.of(table.toString()).hex() + "-loss";
    files.putAside(way.compared().id(), name, with);
    return Alongside.of(files.aside(way.compared().id(), name, with.header()));
  }

  /** Whether a row differs from that of the backup in what was worked out of it alone. */
  private static boolean isExplained(RowDifference row, @Nullable Row was) {
    Row is = row.present();
    return is != null
        && was != null
        && is.header().names().stream()
            .filter(n -> was.header().position(n) >= 0)
            .allMatch(
                n ->
                    WorkedRows.isAsWorked(is, was, n)
                        || Objects.equals(
                            is.get(is.header().position(n)), was.get(was.header().position(n))));
  }

  /** Values of a column that goes which were worked out of rows that come back, and not written. */
  private long asWorked(Way way, StructureChange c) {
    if (c.name().isEmpty() || brought(way, c.table())) {
      return 0;
    }
    long[] as = {0};
    eachWithBackup(
        way,
        c.table(),
        (row, was) ->
            as[0] +=
                row.get(row.header().position(c.name())) != null
                        && WorkedRows.isAsWorked(row, was, c.name())
                    ? 1
                    : 0);
    return as[0];
  }

  /** Takes a row of now beside that of the backup. */
  private interface Beside {
    void take(Row row, @Nullable Row was);
  }

  /** Nothing where versions since worked out nothing of the backup's rows. */
  private void eachWithBackup(Way way, TableName table, Beside use) {
    try (Alongside was = worked(way, table)) {
      if (was.isEmpty()) {
        return;
      }
      List<String> key = way.compared().items().incoming().records(records(table)).key();
      try (RowReader is = way.looking().allRows(table, key)) {
        for (Row row = is.next(); row != null; row = is.next()) {
          use.take(row, was.at(row));
        }
      }
    }
  }

  /** Whether the question counted the row. */
  private static boolean counts(Row row, StructureChange c, ConstantDefault fallback) {
    if (c.name().isEmpty()) {
      return true;
    }
    String value = row.get(row.header().position(c.name()));
    return value != null && !fallback.is(value);
  }

  private static boolean same(Row was, Row is, String column) {
    if (column.isEmpty()) {
      return was.sameIn(was.header(), is);
    }
    int a = was.header().position(column);
    int b = is.header().position(column);
    return a >= 0 && b >= 0 && was.get(a) != null && Objects.equals(was.get(a), is.get(b));
  }

  /**
   * Names the values of a column that goes which people wrote, where it was worked out.
   *
   * @return false where it was not
   */
  private boolean namedBesideBackup(Way way, StructureChange c, Consumer<String> line) {
    boolean[] told = {false};
    eachWithBackup(
        way,
        c.table(),
        (row, was) -> {
          told[0] = true;
          String value = row.get(row.header().position(c.name()));
          if (value != null && !WorkedRows.isAsWorked(row, was, c.name())) {
            line(line, c.table().toString(), row.keyLine(), c.name(), value);
          }
        });
    return told[0];
  }

  /** Names what a dropped column or table takes along. */
  private void dropped(Way way, StructureChange c, Consumer<String> line) {
    if (!c.name().isEmpty() && !brought(way, c.table()) && namedBesideBackup(way, c, line)) {
      return;
    }
    boolean brought = brought(way, c.table());
    List<String> key = brought ? way.leaving().records(records(c.table())).key() : List.of();
    ConstantDefault fallback = ConstantDefault.of(c.before());
    try (RowReader present = way.looking().allRows(c.table(), key);
        RowReader was = brought ? way.leaving().rows(records(c.table())) : null) {
      Row old = was == null ? null : was.next();
      for (Row row = present.next(); row != null; row = present.next()) {
        while (old != null && old.compareKey(row) < 0) {
          old = Objects.requireNonNull(was).next();
        }
        boolean own = old != null && old.compareKey(row) == 0 && same(old, row, c.name());
        if (!own && counts(row, c, fallback)) {
          String name = key.isEmpty() ? "" : row.keyLine();
          for (String column : c.name().isEmpty() ? row.header().names() : List.of(c.name())) {
            line(line, c.table().toString(), name, column, row.get(row.header().position(column)));
          }
        }
      }
    }
  }

  /** Rows of one component that people wrote since and that the way overwrites. */
  private long overwritten(Way way, int n, Consumer<RowDifference> use) {
    if (way.compared().components().get(n).key().kind() != Kind.RECORDS) {
      return 0;
    }
    return way.promotion().way() == Plan.Way.BACKUP ? written(way, n, use) : taken(way, n, use);
  }

  /** Rows that people wrote since and of which somebody decided that they are overwritten. */
  private long taken(Way way, int n, Consumer<RowDifference> use) {
    ComponentKey key = way.compared().components().get(n).key();
    Map<String, Decision> decided = way.promotion().decisions();
    long count = 0;
    try (ComparisonFiles.Reader rows = files.read(way.compared().id(), n, Difference.CONFLICT, 0)) {
      for (RowDifference row = rows.next(); row != null; row = rows.next()) {
        Decision d =
            decided.getOrDefault(key + "#row/" + row.any().keyLine(), decided.get(key.toString()));
        if (d == Decision.TAKE_INCOMING && row.present() != null) {
          count++;
          use.accept(row);
        }
      }
    }
    return count;
  }

  /** Rows of one component that a restore would overwrite and that the run did not write. */
  private long written(Way way, int n, Consumer<RowDifference> use) {
    ComponentKey key = way.compared().components().get(n).key();
    long here = 0;
    try (ComparisonFiles.Merged rows =
            files.merged(
                way.compared().id(),
                n,
                List.of(Difference.REMOVED, Difference.CHANGED, Difference.ADDED));
        Own own = own(way, key, rows);
        Alongside worked = worked(way, TableName.of(key.name()))) {
      for (RowDifference row = rows.next(); row != null; row = rows.next()) {
        if (!own.wrote(row)
            && !onlyItsColumnsDiffer(row)
            && !isExplained(row, worked.at(row.any()))) {
          here++;
          use.accept(row);
        }
      }
    }
    return here;
  }

  /** What the run itself wrote to one table; asked in key order. */
  private interface Own extends AutoCloseable {
    boolean wrote(RowDifference row);

    @Override
    default void close() {}
  }

  private Own own(Way way, ComponentKey key, ComparisonFiles.Merged rows) {
    Promotion run = way.run();
    Renaming back = way.compared().renaming();
    ComponentKey then = back.inverse().named(key); // as the run called it
    int n =
        run == null
            ? -1
            : run.components().stream().map(Promotion.ComponentResult::key).toList().indexOf(then);
    if (run == null || run.comparison() == null || n < 0) {
      return row -> false;
    }
    ComparisonFiles.Merged written =
        files.merged(
            run.comparison(),
            n,
            List.of(Difference.ADDED, Difference.CHANGED, Difference.CONFLICT, Difference.REMOVED));
    if (written.headers().none() || rows.headers().none()) {
      written.close();
      return row -> false;
    }
    Map<String, String> names = back.columns(TableName.of(key.name()));
    Header mine = Renaming.header(written.headers().any(), names);
    Header theirs = rows.headers().any();
    return mine.keyColumns() == theirs.keyColumns()
            && mine.names()
                .subList(0, mine.keyColumns())
                .equals(theirs.names().subList(0, theirs.keyColumns()))
        ? new Merging(written, names)
        : new Remembering(written, theirs, names);
  }

  /**
   * @param names of columns, from those that the run wrote by to those of the row
   */
  private static boolean wrote(RowDifference own, RowDifference row, Map<String, String> names) {
    Row is = row.present();
    Row wrote = own.incoming();
    return wrote == null ? is == null : is != null && sameShared(wrote, is, names);
  }

  /**
   * A version added or dropped columns, and nobody wrote the row; lost columns are counted alone.
   */
  private static boolean onlyItsColumnsDiffer(RowDifference row) {
    Row is = row.present();
    Row was = row.incoming();
    return is != null && was != null && sameShared(was, is, Map.of());
  }

  /** A column that only one of them has was added or dropped by a version, and says nothing. */
  private static boolean sameShared(Row a, Row b, Map<String, String> names) {
    for (int n = 0; n < a.header().names().size(); n++) {
      String name = a.header().names().get(n);
      int at = b.header().position(names.getOrDefault(name, name));
      if (at >= 0 && !Objects.equals(a.get(n), b.get(at))) {
        return false;
      }
    }
    return true;
  }

  /** Both sides have the same key: one merge. */
  private static final class Merging implements Own {
    private final ComparisonFiles.Merged written;
    private final Map<String, String> names;
    private @Nullable RowDifference at;

    Merging(ComparisonFiles.Merged written, Map<String, String> names) {
      this.names = names;
      this.written = written;
      this.at = written.next();
    }

    @Override
    public boolean wrote(RowDifference row) {
      while (at != null && at.any().compareKey(row.any()) < 0) {
        at = written.next();
      }
      return at != null && at.any().compareKey(row.any()) == 0 && Losses.wrote(at, row, names);
    }

    @Override
    public void close() {
      written.close();
    }
  }

  /** The sides have different keys: rows are remembered by digest, 64 characters each. */
  private static final class Remembering implements Own {
    private final List<String> theirs;
    private final Set<String> rows = new HashSet<>();

    Remembering(ComparisonFiles.Merged written, Header theirs, Map<String, String> names) {
      try (written) {
        List<String> mine =
            written.headers().any().names().stream()
                .filter(n -> theirs.position(names.getOrDefault(n, n)) >= 0)
                .toList();
        this.theirs = Renaming.names(mine, names);
        for (RowDifference row = written.next(); row != null; row = written.next()) {
          if (row.incoming() != null) {
            rows.add(digest(row.incoming(), mine));
          } else if (row.present() != null) {
            rows.add("-" + digest(row.present(), mine));
          }
        }
      }
    }

    @Override
    public boolean wrote(RowDifference row) {
      return row.present() != null
          ? rows.contains(digest(row.present(), theirs))
          : rows.contains("-" + digest(Objects.requireNonNull(row.incoming()), theirs));
    }

    private static String digest(Row row, List<String> names) {
      List<@Nullable String> values = new ArrayList<>();
      for (String name : names) {
        int at = row.header().position(name);
        values.add(at < 0 ? null : row.get(at));
      }
      return Digest.of(CanonicalCsv.text(values)).hex();
    }
  }
}
