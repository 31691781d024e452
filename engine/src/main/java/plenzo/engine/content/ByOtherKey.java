package plenzo.engine.content;

import java.io.BufferedOutputStream;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.PriorityQueue;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import plenzo.core.keeping.Files;
import plenzo.core.records.Header;
import plenzo.core.records.LongValues;
import plenzo.core.records.Row;
import plenzo.core.records.RowReader;

/**
 * Rows that were recorded in the order of one key, in that of another: a version may tell the rows
 * of a table apart by other columns than the one before. Memory is bounded: more rows than one part
 * holds are sorted part by part on the disk. Rows that the other key does not tell apart are left
 * out, as it is not known which of them is meant.
 */
public final class ByOtherKey {
  /** Bytes of rows that are sorted at once (guess: their objects take some four times as many). */
  private static final int PART = 8 << 20;

  private final Files files;
  private final Header header;
  private final String folder;
  private final List<Row> held = new ArrayList<>();
  private long bytes;
  private int parts;

  private ByOtherKey(Files files, String folder, Header header) {
    this.files = files;
    this.folder = folder;
    this.header = header;
  }

  /**
   * @param aside where parts lie while they are sorted; nobody else's
   * @param rows in the order of the key that begins their header; closed here unless given back
   * @return the rows as they are when that is their key; null when they lack a column of it
   */
  public static @Nullable RowReader of(
      Files files, String aside, RowReader rows, List<String> key) {
    Header is = rows.header();
    if (is.names().subList(0, is.keyColumns()).equals(key)) {
      return rows;
    }
    try (rows) {
      if (!is.names().containsAll(key)) {
        return null;
      }
      List<String> names = new ArrayList<>(key);
      is.names().stream().filter(n -> !key.contains(n)).sorted().forEach(names::add);
      List<String> types = names.stream().map(n -> is.types().get(is.position(n))).toList();
      return new ByOtherKey(files, aside, new Header(names, types, key.size())).sorted(rows);
    }
  }

  private RowReader sorted(RowReader rows) {
    LongValues longValues = rows.longValues();
    for (Row row = rows.next(); row != null; row = rows.next()) {
      List<@Nullable String> fields = new ArrayList<>();
      for (String name : header.names()) {
        fields.add(row.get(row.header().position(name)));
      }
      Row other = Row.of(header, fields);
      held.add(other);
      bytes += other.raw().length;
      if (bytes > PART) {
        spill();
      }
    }
    if (parts == 0) {
      ByteArrayOutputStream out = new ByteArrayOutputStream();
      Apart apart = new Apart(row -> write(out, row));
      held.stream().sorted(Row::compareKey).forEach(apart::next);
      apart.end();
      return new RowReader(
          new ByteArrayInputStream(out.toByteArray()), header, /* ordered= */ true) {
        @Override
        public LongValues longValues() {
          return longValues;
        }
      };
    }
    spill();
    merge();
    String all = folder + "/all";
    InputStream in = files.open(all, 0);
    return new RowReader(in, header, /* ordered= */ true) {
      @Override
      public LongValues longValues() {
        return longValues;
      }

      @Override
      public void close() {
        super.close();
        files.remove(folder);
      }
    };
  }

  private void spill() {
    held.sort(Row::compareKey);
    try (OutputStream out = new BufferedOutputStream(files.create(part(parts++)))) {
      held.forEach(row -> write(out, row));
    } catch (IOException e) {
      throw new UncheckedIOException("Rows could not be sorted", e);
    }
    held.clear();
    bytes = 0;
  }

  private String part(int n) {
    return folder + "/" + n;
  }

  private record Next(Row row, RowReader of) {}

  private void merge() {
    PriorityQueue<Next> next =
        new PriorityQueue<>(Comparator.comparing(Next::row, Row::compareKey));
    List<RowReader> all = new ArrayList<>();
    try (OutputStream out = new BufferedOutputStream(files.create(folder + "/all"))) {
      for (int n = 0; n < parts; n++) {
        RowReader reader = new RowReader(files.open(part(n), 0), header, /* ordered= */ false);
        all.add(reader);
        add(next, reader);
      }
      Apart apart = new Apart(row -> write(out, row));
      for (Next least = next.poll(); least != null; least = next.poll()) {
        apart.next(least.row);
        add(next, least.of);
      }
      apart.end();
    } catch (IOException e) {
      throw new UncheckedIOException("Rows could not be sorted", e);
    } finally {
      all.forEach(RowReader::close);
      for (int n = 0; n < parts; n++) {
        files.remove(part(n));
      }
    }
  }

  private static void add(PriorityQueue<Next> to, RowReader reader) {
    Row row = reader.next();
    if (row != null) {
      to.add(new Next(row, reader));
    }
  }

  private static void write(OutputStream out, Row row) {
    try {
      out.write(row.raw());
      out.write('\n');
    } catch (IOException e) {
      throw new UncheckedIOException("Rows could not be sorted", e);
    }
  }

  /** Gives on what has a key of its own. */
  private static final class Apart {
    private final Consumer<Row> to;
    private @Nullable Row last;
    private boolean twin;

    Apart(Consumer<Row> to) {
      this.to = to;
    }

    void next(Row row) {
      boolean same = last != null && last.compareKey(row) == 0;
      if (!same) {
        end();
      }
      last = row;
      twin = same;
    }

    void end() {
      if (last != null && !twin) {
        to.accept(last);
      }
    }
  }
}
