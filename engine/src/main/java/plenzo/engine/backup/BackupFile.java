package plenzo.engine.backup;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.function.LongConsumer;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.TableName;
import plenzo.core.digest.Digest;
import plenzo.core.digest.RowSum;
import plenzo.core.json.Json;
import plenzo.core.keeping.Files;
import plenzo.core.records.BehindRows;
import plenzo.core.records.CanonicalCsv;
import plenzo.core.records.LongValues;
import plenzo.core.records.Row;
import plenzo.core.records.RowReader;
import plenzo.core.records.TwinRows;
import plenzo.core.run.Run;
import plenzo.core.table.ColumnPlaces;
import plenzo.core.table.TableStructure;
import plenzo.core.target.SiteDelta;
import plenzo.core.target.TableCapture;
import plenzo.core.target.TablesDelta;
import plenzo.core.target.TablesLooking;
import plenzo.core.words.Words;
import plenzo.engine.setup.RowKeys;
import plenzo.engine.setup.SiteLook;

/**
 * A backup as files that can be used without Plenzo: a list of tables with their structures and
 * digests, each table's rows as CSV, and a sheet in words. Tables that did not exist are listed
 * too, so that going back takes them away.
 */
public final class BackupFile {
  private static final String LIST = "tables";

  private final Files files;
  private final String folder;

  /**
   * @param folder such as {@code backup/R-12}
   */
  public BackupFile(Files files, String folder) {
    this.files = files;
    this.folder = folder;
  }

  /**
   * One table.
   *
   * @param structure null when it did not exist
   * @param key columns by which rows are ordered and told apart; empty when there are none
   * @param file where its rows are, when it is not the numbered one
   */
  public record Table(
      TableName table,
      @Nullable TableStructure structure,
      List<String> key,
      long rows,
      String sum,
      @Nullable String file) {
    Table(
        TableName table,
        @Nullable TableStructure structure,
        List<String> key,
        long rows,
        String sum) {
      this(table, structure, key, rows, sum, null);
    }

    /** The file of its rows as the n-th of a list. */
    String file(int n) {
      return file == null ? n + ".csv" : file;
    }

    Json toJson() {
      List<@Nullable Object> out = new ArrayList<>();
      Collections.addAll(out, "table", table.componentName());
      Collections.addAll(out, "structure", structure == null ? null : structure.canonical());
      if (structure != null) {
        Collections.addAll(out, "places", structure.places().toJson());
      }
      Collections.addAll(out, "key", key, "rows", rows, "sum", sum);
      if (file != null) {
        Collections.addAll(out, "file", file);
      }
      return Json.object(out.toArray());
    }

    static Table of(Json json) {
      Json.Obj j = (Json.Obj) json;
      String structure = j.findText("structure");
      return new Table(
          TableName.of(j.text("table")),
          structure == null ? null : TableStructure.of(structure).placed(placesOf(j)),
          j.texts("key"),
          ((Json.Num) Objects.requireNonNull(j.find("rows"))).value(),
          j.text("sum"),
          j.findText("file"));
    }

    /** Backups of before this was kept have none. */
    private static ColumnPlaces placesOf(Json.Obj table) {
      return table.find("places") instanceof Json.Obj places
          ? ColumnPlaces.of(places)
          : ColumnPlaces.NOT_KNOWN;
    }
  }

  /**
   * Copies everything that the delta can touch: whole tables at one instant, and every piece that
   * is replaced or goes.
   */
  public Run.Backup write(
      SiteLook look, SiteDelta delta, String name, Instant at, LongConsumer progress) {
    files.remove(folder);
    List<Table> tables = new ArrayList<>();
    long rows =
        delta.tables().tables().isEmpty()
            ? 0
            : tables(look.tables(), delta.tables(), tables, progress);
    PiecesFile.Written pieces = new PiecesFile(files, folder).write(look, delta, progress);
    String list = write(LIST, tables);
    writeSheet(name, at, tables, pieces.pieces());
    return new Run.Backup(
        name,
        folder,
        pieces.bytes() + size(),
        rows,
        tables.stream().map(t -> t.table().componentName()).toList(),
        pieces.pieces().stream()
            .filter(p -> p.content() != null && !p.beside())
            .map(p -> p.key().toString())
            .toList(),
        list,
        pieces.digest(),
        "not proven yet",
        at);
  }

  private long tables(
      TablesLooking looking, TablesDelta delta, List<Table> tables, LongConsumer progress) {
    long rows = 0;
    for (TableName is : delta.touched()) {
      TableName table = delta.renaming().before(is);
      Optional<TableCapture> capture = looking.table(table);
      if (capture.isEmpty()) {
        tables.add(new Table(table, null, List.of(), 0, Digest.of("").hex()));
        continue;
      }
      TableStructure structure = capture.get().structure();
      List<String> key =
          delta
              .find(is)
              .map(t -> key(looking, capture.get(), t, delta.renaming().columns(is)))
              .orElseGet(() -> RowKeys.own(structure));
      RowSum sum = new RowSum();
      long before = rows;
      try (RowReader reader = looking.allRows(table, key)) {
        write(
            tables.size() + ".csv",
            reader,
            row -> {
              sum.add(row.raw());
              if (sum.count() % 10_000 == 0) {
                progress.accept(before + sum.count());
              }
            });
      } catch (TwinRows e) {
        throw twins(table, e);
      }
      rows += sum.count();
      progress.accept(rows);
      tables.add(new Table(table, structure, key, sum.count(), sum.digest().hex()));
    }
    return rows;
  }

  /**
   * Columns by which a backup tells a table's rows apart: those of a key of its own; else those by
   * which rows of the version are told apart; else those that stay and hold then what they hold now
   * (all of them where the table goes), where no two rows are alike in them. Empty when there are
   * none.
   *
   * @param there the table as it is
   * @param names of its columns as they are to the ones that they get
   */
  public static List<String> key(
      TablesLooking looking,
      TableCapture there,
      TablesDelta.TableDelta table,
      Map<String, String> names) {
    TableStructure structure = there.structure();
    List<String> own = RowKeys.own(structure);
    if (!own.isEmpty()) {
      return own;
    }
    TablesDelta.RowsDelta rows = table.rows();
    if (rows != null) {
      List<String> key = rows.columns().names().subList(0, rows.columns().keyColumns());
      return RowKeys.problem(structure, key).isEmpty() ? key : List.of();
    }
    List<String> stay = new ArrayList<>(RowKeys.proposed(structure));
    TableStructure result = table.result();
    if (result != null) {
      stay.removeIf(
          c -> {
            String is = names.getOrDefault(c, c);
            return table.conversions().containsKey(is)
                || !RowKeys.tellsTheSame(structure.column(c), result.column(is));
          });
    }
    return RowKeys.problem(looking, there, stay).isEmpty() ? List.copyOf(stay) : List.of();
  }

  /** Told without their values, which not everybody may see who reads why a run stopped. */
  static IllegalStateException twins(TableName table, TwinRows e) {
    return new IllegalStateException(
        "Rows of "
            + table
            + " stand there twice by now, so that a backup cannot tell them apart; compare again",
        e);
  }

  public PiecesFile pieces() {
    return new PiecesFile(files, folder);
  }

  /** Bytes that were written. */
  private static long line(java.io.OutputStream out, byte[] line) throws IOException {
    out.write(line);
    out.write('\n');
    return line.length + 1L;
  }

  private boolean hasLongValues(List<Table> tables) {
    for (int n = 0; n < tables.size(); n++) {
      Table t = tables.get(n);
      String file = folder + "/" + t.file(n);
      if (t.structure() != null
          && BehindRows.rows(at -> files.open(file, at), files.size(file)) < files.size(file)) {
        return true;
      }
    }
    return false;
  }

  private static String sheet(
      String name,
      Instant at,
      List<Table> tables,
      boolean longValues,
      List<PiecesFile.Piece> pieces) {
    StringBuilder out =
        new StringBuilder(
            "Backup "
                + name
                + ", taken "
                + at
                + "\n\nHow to use it without Plenzo: every numbered file is one table as CSV (RFC 4180, UTF-8; empty and unquoted = null).\n"
                + "Line 1 has the column names, line 2 their types, the rows follow. Load one with psql:\n  \\copy SCHEMA.TABLE (COLUMNS OF LINE 1) FROM PROGRAM 'tail -n +3 N.csv' WITH (FORMAT csv)\n\n");
    if (longValues) {
      out.append(
          "Some rows have a zero byte, a SHA-256 and a length where a value of more than 8 MB stands: the value is in the same file.\n"
              + "Behind the rows come a line with a zero byte alone, the values, a line for each (its name and the byte at which it begins), and where these lines begin.\n\n");
    }
    for (int n = 0; n < tables.size(); n++) {
      Table t = tables.get(n);
      out.append(
          t.structure() == null
              ? "-      " + t.table() + " did not exist\n"
              : t.file(n)
                  + "  "
                  + t.table()
                  + ", "
                  + Words.count(t.rows(), "row")
                  + ", sum "
                  + t.sum()
                  + "\n");
    }
    if (!pieces.isEmpty()) {
      out.append(
          "\nFiles, definitions and schema objects lie under pieces/, one numbered file each. The first line of a file says\n"
              + "whether it is executable or a link; its bytes follow: tail -n +2 pieces/N > NAME.\n\n");
    }
    for (int n = 0; n < pieces.size(); n++) { // what others are built on is for restoring alone
      PiecesFile.Piece p = pieces.get(n);
      if (p.beside()) {
        continue;
      }
      out.append(
          p.content() == null
              ? "-         " + p.key() + " did not exist\n"
              : "pieces/"
                  + n
                  + "  "
                  + p.key()
                  + ", "
                  + p.size()
                  + " bytes, "
                  + p.content().hex()
                  + "\n");
    }
    return out.toString();
  }

  /**
   * @throws IllegalStateException when no list is the one with this digest
   */
  public List<Table> tables(String digest) {
    // killed after a later list was written, a backup is what the records say: a list of before
    for (String suffix = ""; files.exists(folder + "/" + LIST + suffix + ".json"); ) {
      String list = list(LIST + suffix + ".json");
      if (Digest.of(list).hex().equals(digest)) {
        return ((Json.Arr) Json.parse(list)).items().stream().map(Table::of).toList();
      }
      suffix = after(suffix);
    }
    throw new IllegalStateException("The backup's list of tables is damaged");
  }

  /** What the names of a next list and of the rows that it brings end with. */
  private static String after(String suffix) {
    return switch (suffix) {
      case "" -> "-later";
      case "-later" -> "-later-2";
      default -> "-later-" + (Integer.parseInt(suffix.substring("-later-".length())) + 1);
    };
  }

  private String free() {
    String suffix = "";
    while (files.exists(folder + "/" + LIST + suffix + ".json")) {
      suffix = after(suffix);
    }
    return suffix;
  }

  private String list(String name) {
    try (InputStream in = files.open(folder + "/" + name, 0)) {
      return new String(in.readAllBytes(), StandardCharsets.UTF_8);
    } catch (IOException e) {
      throw new UncheckedIOException("The backup cannot be read", e);
    }
  }

  /**
   * Reads once more what the backup holds and adds what moved since it was written: the rows of a
   * table that moved are written anew beside the earlier ones, and a further list of tables names
   * them. Nothing that an earlier list names is written over: until the records know the new list's
   * digest the backup is as it was, however often this is done.
   *
   * @return the same when nothing moved
   * @throws IllegalStateException when a structure moved
   */
  public Run.Backup addMoved(
      TablesLooking looking, Run.Backup backup, Instant at, LongConsumer progress) {
    List<Table> before = tables(backup.digest());
    List<Table> now = new ArrayList<>();
    String suffix = free();
    long held = size();
    long moved = 0;
    for (int n = 0; n < before.size(); n++) {
      Table t = before.get(n);
      MovedRows rows = new MovedRows(this, looking, t, n, suffix, progress);
      now.add(rows.table());
      moved += rows.moved();
    }
    if (now.equals(before)) {
      return backup;
    }
    String list = write(LIST + suffix, now);
    writeSheet(backup.name(), at, now, pieces().pieces(backup.piecesDigest()));
    long all = now.stream().mapToLong(Table::rows).sum();
    long bytes = backup.bytes() + size() - held;
    return backup.with(list, all, bytes, Words.count(moved, "row") + " that moved", at);
  }

  private void writeSheet(
      String name, Instant at, List<Table> tables, List<PiecesFile.Piece> pieces) {
    String sheet = sheet(name, at, tables, hasLongValues(tables), pieces);
    files.write(folder + "/sheet.txt", out -> out.write(sheet.getBytes(StandardCharsets.UTF_8)));
  }

  private String write(String name, List<Table> tables) {
    String list = new Json.Arr(tables.stream().map(Table::toJson).toList()).canonical();
    files.write(
        folder + "/" + name + ".json", out -> out.write(list.getBytes(StandardCharsets.UTF_8)));
    return Digest.of(list).hex();
  }

  private long size() {
    return files.list(folder).stream()
        .filter(f -> !f.equals("pieces"))
        .mapToLong(f -> files.size(folder + "/" + f))
        .sum();
  }

  /** Writes a table's rows and shows each to the other. */
  void write(String name, RowReader reader, Consumer<Row> each) {
    files.write(
        folder + "/" + name,
        out -> {
          BehindRows behind = new BehindRows();
          boolean longOnes = reader.mayNameLong();
          long length =
              line(out, CanonicalCsv.line(reader.header().names()))
                  + line(out, CanonicalCsv.line(reader.header().types()));
          for (Row row = reader.next(); row != null; row = reader.next()) {
            length += line(out, row.raw());
            if (longOnes) {
              behind.add(row);
            }
            each.accept(row);
          }
          behind.write(out, length, reader.longValues());
        });
  }

  /** Rows of the n-th table, in key order when it has a key. */
  public RowReader rows(int n, Table table) {
    return new RowReader(files.open(folder + "/" + table.file(n), 0), table.key().size()) {
      @Override
      public LongValues longValues() {
        return BackupFile.this.longValues(table.file(n));
      }
    };
  }

  private LongValues longValues(String file) {
    String name = folder + "/" + file;
    return BehindRows.in(offset -> files.open(name, offset), files.size(name));
  }

  /** Long values that rows of the tables name. */
  LongValues longValues(List<Table> tables) {
    return value -> {
      for (int n = 0; n < tables.size(); n++) {
        Optional<InputStream> found =
            tables.get(n).structure() == null
                ? Optional.empty()
                : longValues(tables.get(n).file(n)).open(value);
        if (found.isPresent()) {
          return found;
        }
      }
      return Optional.empty();
    };
  }

  /**
   * Reads every row again.
   *
   * @throws IllegalStateException when a byte, a row or the list is not what was written
   */
  public void readBack(Run.Backup backup) {
    readBackPieces(backup);
    readBackRows(backup);
  }

  /**
   * Reads again what is no row.
   *
   * @throws IllegalStateException when it is not what was written
   */
  public void readBackPieces(Run.Backup backup) {
    pieces().readBack(backup.piecesDigest());
    tables(backup.digest());
  }

  /**
   * @throws IllegalStateException when a row is not what was written
   */
  private void readBackRows(Run.Backup backup) {
    List<Table> tables = tables(backup.digest());
    for (int n = 0; n < tables.size(); n++) {
      Table t = tables.get(n);
      if (t.structure() == null) {
        continue;
      }
      RowSum sum = new RowSum();
      try (RowReader rows = rows(n, t)) {
        for (Row row = rows.next(); row != null; row = rows.next()) {
          sum.add(row.raw());
        }
      }
      if (sum.count() != t.rows() || !sum.digest().hex().equals(t.sum())) {
        throw new IllegalStateException(
            "The backup of "
                + t.table()
                + " is damaged: "
                + Words.count(sum.count(), "row")
                + " instead of "
                + t.rows()
                + ", or other content");
      }
      String name = folder + "/" + t.file(n);
      BehindRows.check(offset -> files.open(name, offset), files.size(name));
    }
  }
}
