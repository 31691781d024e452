package plenzo.engine.backup;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.function.LongConsumer;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.TableName;
import plenzo.core.digest.Digest;
import plenzo.core.digest.RowSum;
import plenzo.core.json.Json;
import plenzo.core.keeping.Files;
import plenzo.core.records.CanonicalCsv;
import plenzo.core.records.Row;
import plenzo.core.records.RowReader;
import plenzo.core.run.Run;
import plenzo.core.table.Constraint;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Delta;
import plenzo.core.target.Looking;
import plenzo.core.target.TableCapture;
import plenzo.engine.setup.Adoption;

/**
 * A backup as files that can be used without Plenzo: a list of tables with their structures and
 * digests, each table's rows as CSV, and a sheet in words. Tables that did not exist are listed
 * too, so that going back takes them away.
 */
public final class BackupFile {
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
   */
  public record Table(
      TableName table,
      @Nullable TableStructure structure,
      List<String> key,
      long rows,
      String sum) {
    Json toJson() {
      return Json.object(
          "table",
          table.componentName(),
          "structure",
          structure == null ? null : structure.canonical(),
          "key",
          key,
          "rows",
          rows,
          "sum",
          sum);
    }

    static Table of(Json json) {
      Json.Obj j = (Json.Obj) json;
      String structure = j.findText("structure");
      return new Table(
          TableName.of(j.text("table")),
          structure == null ? null : TableStructure.of(structure),
          j.texts("key"),
          ((Json.Num) Objects.requireNonNull(j.find("rows"))).value(),
          j.text("sum"));
    }
  }

  /** Copies everything that the delta can touch, whole tables, at one instant. */
  public Run.Backup write(
      Looking looking, Delta delta, String name, Instant at, LongConsumer progress) {
    files.remove(folder);
    List<Table> tables = new ArrayList<>();
    long rows = 0;
    for (TableName table : delta.touched()) {
      Optional<TableCapture> capture = looking.table(table);
      if (capture.isEmpty()) {
        tables.add(new Table(table, null, List.of(), 0, Digest.of("").hex()));
        continue;
      }
      TableStructure structure = capture.get().structure();
      List<String> key =
          structure
              .primaryKey()
              .map(Constraint::columns)
              .filter(k -> Adoption.keyProblem(structure, k).isEmpty())
              .orElse(List.of());
      RowSum sum = new RowSum();
      long before = rows;
      try (RowReader reader = looking.allRows(table, key)) {
        files.write(
            rowsName(tables.size()),
            out -> {
              line(out, CanonicalCsv.line(reader.header().names()));
              line(out, CanonicalCsv.line(reader.header().types()));
              for (Row row = reader.next(); row != null; row = reader.next()) {
                line(out, row.raw());
                sum.add(row.raw());
                if (sum.count() % 10_000 == 0) {
                  progress.accept(before + sum.count());
                }
              }
            });
      }
      rows += sum.count();
      progress.accept(rows);
      tables.add(new Table(table, structure, key, sum.count(), sum.digest().hex()));
    }
    String list = new Json.Arr(tables.stream().map(Table::toJson).toList()).canonical();
    files.write(folder + "/tables.json", out -> out.write(list.getBytes(StandardCharsets.UTF_8)));
    files.write(
        folder + "/sheet.txt",
        out -> out.write(sheet(name, at, tables).getBytes(StandardCharsets.UTF_8)));
    long bytes = files.list(folder).stream().mapToLong(f -> files.size(folder + "/" + f)).sum();
    return new Run.Backup(
        name,
        folder,
        bytes,
        rows,
        tables.stream().map(t -> t.table().componentName()).toList(),
        Digest.of(list).hex(),
        "not proven yet",
        at);
  }

  private String rowsName(int n) {
    return folder + "/" + n + ".csv";
  }

  private static void line(java.io.OutputStream out, byte[] line) throws IOException {
    out.write(line);
    out.write('\n');
  }

  private static String sheet(String name, Instant at, List<Table> tables) {
    StringBuilder out =
        new StringBuilder(
            "Backup "
                + name
                + ", taken "
                + at
                + "\n\nHow to use it without Plenzo: every numbered file is one table as CSV (RFC 4180, UTF-8; empty and unquoted = null).\n"
                + "Line 1 has the column names, line 2 their types, the rows follow. Load one with psql:\n  \\copy SCHEMA.TABLE (COLUMNS OF LINE 1) FROM PROGRAM 'tail -n +3 N.csv' WITH (FORMAT csv)\n\n");
    for (int n = 0; n < tables.size(); n++) {
      Table t = tables.get(n);
      out.append(
          t.structure() == null
              ? "-      " + t.table() + " did not exist\n"
              : n + ".csv  " + t.table() + ", " + t.rows() + " rows, sum " + t.sum() + "\n");
    }
    return out.toString();
  }

  /**
   * @throws IllegalStateException when the list is not the one with this digest
   */
  public List<Table> tables(@Nullable String digest) {
    try (InputStream in = files.open(folder + "/tables.json", 0)) {
      String text = new String(in.readAllBytes(), StandardCharsets.UTF_8);
      if (digest != null && !Digest.of(text).hex().equals(digest)) {
        throw new IllegalStateException("The backup's list of tables is damaged");
      }
      return ((Json.Arr) Json.parse(text)).items().stream().map(Table::of).toList();
    } catch (IOException e) {
      throw new UncheckedIOException("The backup cannot be read", e);
    }
  }

  /** Rows of the n-th table, in key order when it has a key. */
  public RowReader rows(int n, Table table) {
    return new RowReader(files.open(rowsName(n), 0), table.key().size());
  }

  /**
   * Reads every row again.
   *
   * @throws IllegalStateException when a byte, a row or the list is not what was written
   */
  public void readBack(Run.Backup backup) {
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
                + sum.count()
                + " rows instead of "
                + t.rows()
                + ", or other content");
      }
    }
  }
}
