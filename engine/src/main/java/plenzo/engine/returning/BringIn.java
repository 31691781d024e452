package plenzo.engine.returning;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.TableName;
import plenzo.core.digest.Digest;
import plenzo.core.drift.PutBack;
import plenzo.core.drift.SavedLines;
import plenzo.core.drift.SavedRows;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.records.CanonicalCsv;
import plenzo.core.records.CanonicalValue;
import plenzo.core.records.Header;
import plenzo.core.records.LongValue;
import plenzo.core.records.RecordsDefinition;
import plenzo.core.records.Row;
import plenzo.core.records.RowReader;
import plenzo.core.stage.SiteKey;
import plenzo.core.table.Column;
import plenzo.core.table.Constraint;
import plenzo.core.table.TableStructure;
import plenzo.core.target.TableCapture;
import plenzo.core.target.TablesLooking;
import plenzo.engine.content.Contents;
import plenzo.engine.people.Rights;
import plenzo.engine.promoting.Promotions;
import plenzo.engine.setup.SiteLook;
import plenzo.engine.setup.Targets;

/**
 * Brings in again what a way back lost and somebody saved, row by row, where it fits: by a plan
 * with comparison, gates, backup and run, like every other write to a stage.
 */
public final class BringIn {
  private final Targets targets;
  private final Contents contents;
  private final Promotions promotions;

  public BringIn(Targets targets, Contents contents, Promotions promotions) {
    this.targets = targets;
    this.contents = contents;
    this.promotions = promotions;
  }

  /**
   * A plan that was opened.
   *
   * @param notTaken what does not fit, row by row with the reason
   */
  public record Opened(Promotion promotion, List<String> notTaken) {}

  /**
   * @param text lines as they were saved; those that were taken out of the file are left out
   * @throws Problem when it is no such file, or nothing of it fits; then nothing is opened
   */
  public Opened open(Person by, String application, SiteKey site, String text, String notes) {
    Rights.require(by, Right.PREPARE, site.stage(), application);
    Map<TableName, Map<String, Map<String, @Nullable String>>> lines;
    try {
      lines = SavedLines.of(text);
    } catch (IllegalArgumentException e) {
      throw Problem.invalid("SAVED", e.getMessage() + ".", "/lines");
    }
    List<SavedRows> saved = new ArrayList<>();
    List<String> notTaken = new ArrayList<>();
    try (SiteLook look = targets.look(site)) {
      TablesLooking tables =
          look.findTables()
              .orElseThrow(() -> Problem.stopped("NO_DATABASE", site + " has no database."));
      lines.forEach(
          (table, rows) -> {
            TableCapture capture = tables.table(table).orElse(null);
            List<String> key =
                capture == null
                    ? List.of()
                    : capture.structure().primaryKey().map(Constraint::columns).orElse(List.of());
            if (capture == null || key.isEmpty()) {
              notTaken.add(
                  table + ": " + (capture == null ? "it is not there" : "it has no primary key"));
            } else {
              new OneTable(tables, table, capture.structure(), key, notTaken)
                  .of(rows)
                  .ifPresent(saved::add);
            }
          });
    }
    if (saved.isEmpty()) {
      throw Problem.stopped(
          "NOTHING_FITS",
          "Nothing of the file can be brought in at "
              + site
              + (notTaken.isEmpty() ? "." : ": " + String.join("; ", notTaken) + "."));
    }
    return new Opened(
        promotions.putBack(by, application, site, PutBack.saved(saved), notes), notTaken);
  }

  /** Rows of one table, held against what is there now. */
  private final class OneTable {
    private final TablesLooking looking;
    private final TableName table;
    private final TableStructure structure;
    private final List<String> key;
    private final List<String> notTaken;
    private final Header header;

    OneTable(
        TablesLooking looking,
        TableName table,
        TableStructure structure,
        List<String> key,
        List<String> notTaken) {
      this.looking = looking;
      this.table = table;
      this.structure = structure;
      this.key = key;
      this.notTaken = notTaken;
      List<String> names =
          new RecordsDefinition(table, key, null)
              .ordered(structure.columns().stream().map(Column::name).toList());
      this.header =
          new Header(
              names,
              names.stream().map(n -> structure.column(n).orElseThrow().type()).toList(),
              key.size());
    }

    Optional<SavedRows> of(Map<String, Map<String, @Nullable String>> rows) {
      Map<String, Row> there = there(rows);
      List<Row> out = new ArrayList<>();
      new TreeMap<>(rows)
          .forEach(
              (line, values) -> {
                try {
                  Row row = row(line, values, there.get(line));
                  if (row != null) {
                    out.add(row);
                  }
                } catch (IllegalArgumentException e) {
                  notTaken.add(table + " " + line.replace("\"", "") + ": " + e.getMessage());
                }
              });
      if (out.isEmpty()) {
        return Optional.empty();
      }
      out.sort(Row::compareKey);
      return Optional.of(new SavedRows(table, key, put(out), out.size()));
    }

    /** Of the rows that are saved those that are there. */
    private Map<String, Row> there(Map<String, Map<String, @Nullable String>> rows) {
      Map<String, Row> out = new HashMap<>();
      try (RowReader all = looking.allRows(table, key)) {
        for (Row row = all.next(); row != null; row = all.next()) {
          if (rows.containsKey(row.keyLine())) {
            out.put(row.keyLine(), row);
          }
        }
      }
      return out;
    }

    /**
     * The row as it is to be; null when it is so already.
     *
     * @throws IllegalArgumentException when it does not fit, with the reason
     */
    private @Nullable Row row(String line, Map<String, @Nullable String> values, @Nullable Row is) {
      boolean whole = values.keySet().containsAll(key);
      if (is == null && !whole) {
        throw new IllegalArgumentException("the row is gone, and only some of it was saved");
      }
      if (is != null && whole) {
        boolean same =
            values.entrySet().stream()
                .allMatch(
                    v ->
                        is.header().position(v.getKey()) < 0
                            || Objects.equals(
                                v.getValue(), is.get(is.header().position(v.getKey()))));
        if (same) {
          return null;
        }
        throw new IllegalArgumentException("it is there by now, with other values");
      }
      List<@Nullable String> fields = new ArrayList<>();
      for (String name : header.names()) {
        fields.add(value(structure.column(name).orElseThrow(), values, is));
      }
      Row row = Row.of(header, fields);
      if (!row.keyLine().equals(line)) {
        throw new IllegalArgumentException("its key is no longer written so");
      }
      return row;
    }

    private @Nullable String value(
        Column c, Map<String, @Nullable String> values, @Nullable Row is) {
      String value =
          values.containsKey(c.name())
              ? values.get(c.name())
              : is == null ? null : is.get(is.header().position(c.name()));
      if (LongValue.isShown(value) || LongValue.of(value).isPresent()) {
        throw new IllegalArgumentException(
            c.name()
                + " is a long value, which such a file names and does not hold; backups hold it");
      }
      if (value == null) {
        if (c.notNull()) {
          throw new IllegalArgumentException(
              "no value of " + c.name() + " was saved, and it must have one");
        }
        return null;
      }
      try {
        return CanonicalValue.of(c.type(), value);
      } catch (IllegalArgumentException e) {
        throw new IllegalArgumentException(c.name() + ": " + e.getMessage(), e);
      }
    }

    private Digest put(List<Row> rows) {
      ByteArrayOutputStream out = new ByteArrayOutputStream();
      line(out, CanonicalCsv.text(header.names()));
      line(out, CanonicalCsv.text(header.types()));
      rows.forEach(r -> line(out, new String(r.raw(), StandardCharsets.UTF_8)));
      try (RowReader reader =
          new RowReader(new ByteArrayInputStream(out.toByteArray()), key.size())) {
        return contents.put(reader).digest();
      }
    }

    private static void line(ByteArrayOutputStream out, String text) {
      out.writeBytes((text + "\n").getBytes(StandardCharsets.UTF_8));
    }
  }
}
