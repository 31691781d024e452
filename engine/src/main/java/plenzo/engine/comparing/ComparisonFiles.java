package plenzo.engine.comparing;

import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.Difference;
import plenzo.core.json.Json;
import plenzo.core.keeping.Files;
import plenzo.core.records.CanonicalCsv;
import plenzo.core.records.Header;
import plenzo.core.records.RecordsComparison.RowDifference;
import plenzo.core.records.Row;
import plenzo.core.records.RowReader;

/**
 * The row differences of a comparison on disk: for each component and class a file of rows in key
 * order with an index of every hundredth, so that the last page of a million opens like the first.
 */
public final class ComparisonFiles {
  private static final int EVERY = 100;
  private static final Header FIELDS =
      new Header(List.of("base", "present", "incoming"), List.of("text", "text", "text"), 0);

  private final Files files;

  public ComparisonFiles(Files files) {
    this.files = files;
  }

  private static String folder(String comparison) {
    return "comparison/" + comparison;
  }

  private static String name(String comparison, int component, Difference d) {
    return folder(comparison) + "/" + component + "-" + d.code();
  }

  private static String headersName(String comparison, int component) {
    return folder(comparison) + "/" + component + "-headers";
  }

  /** Writes the differences of one component; of one that has none, nothing lies there. */
  public final class Writer implements AutoCloseable {
    private final String comparison;
    private final int component;
    private final Map<Difference, Part> parts = new EnumMap<>(Difference.class);
    private final Headers headers;

    Writer(
        String comparison,
        int component,
        @Nullable Header base,
        @Nullable Header present,
        @Nullable Header incoming) {
      this.comparison = comparison;
      this.component = component;
      this.headers = new Headers(base, present, incoming);
    }

    public void add(RowDifference row) {
      if (parts.isEmpty()) {
        files.write(headersName(comparison, component), out -> out.write(headers.canonical()));
      }
      parts
          .computeIfAbsent(row.difference(), d -> new Part(name(comparison, component, d)))
          .add(row);
    }

    @Override
    public void close() {
      parts.values().forEach(Part::close);
    }
  }

  /** One class of differences being written. */
  private final class Part {
    private final OutputStream rows;
    private final DataOutputStream index;
    private long written;
    private long at;

    Part(String name) {
      rows = files.create(name + ".csv");
      index = new DataOutputStream(files.create(name + ".index"));
    }

    void add(RowDifference row) {
      byte[] line =
          CanonicalCsv.line(
              Arrays.asList(text(row.base()), text(row.present()), text(row.incoming())));
      try {
        if (written++ % EVERY == 0) {
          index.writeLong(at);
        }
        rows.write(line);
        rows.write('\n');
        at += line.length + 1;
      } catch (IOException e) {
        throw new UncheckedIOException("The comparison could not be written", e);
      }
    }

    private static @Nullable String text(@Nullable Row row) {
      return row == null ? null : new String(row.raw(), StandardCharsets.UTF_8);
    }

    void close() {
      try {
        rows.close();
        index.close();
      } catch (IOException e) {
        throw new UncheckedIOException("The comparison could not be finished", e);
      }
    }
  }

  private static @Nullable Json json(@Nullable Header h) {
    return h == null
        ? null
        : Json.object("names", h.names(), "types", h.types(), "key", h.keyColumns());
  }

  Writer writer(
      String comparison,
      int component,
      @Nullable Header base,
      @Nullable Header present,
      @Nullable Header incoming) {
    return new Writer(comparison, component, base, present, incoming);
  }

  /** One side's headers; null where the side does not exist, or nothing differs. */
  public record Headers(
      @Nullable Header base, @Nullable Header present, @Nullable Header incoming) {
    static final Headers NONE = new Headers(null, null, null);

    /** Whether nothing differs. */
    boolean none() {
      return base == null && present == null && incoming == null;
    }

    byte[] canonical() {
      return Json.object("base", json(base), "present", json(present), "incoming", json(incoming))
          .canonical()
          .getBytes(StandardCharsets.UTF_8);
    }

    public Header any() {
      Header h = incoming != null ? incoming : present != null ? present : base;
      if (h == null) {
        throw new IllegalStateException("A comparison of nothing");
      }
      return h;
    }
  }

  public Headers headers(String comparison, int component) {
    if (!files.exists(headersName(comparison, component))) {
      return Headers.NONE;
    }
    try (InputStream in = files.open(headersName(comparison, component), 0)) {
      Json.Obj j = Json.parseObject(new String(in.readAllBytes(), StandardCharsets.UTF_8));
      return new Headers(
          header(j.find("base")), header(j.find("present")), header(j.find("incoming")));
    } catch (IOException e) {
      throw new UncheckedIOException("The comparison cannot be read", e);
    }
  }

  private static @Nullable Header header(@Nullable Json json) {
    if (!(json instanceof Json.Obj j)) {
      return null;
    }
    return new Header(
        j.texts("names"),
        j.texts("types"),
        (int) ((Json.Num) java.util.Objects.requireNonNull(j.find("key"))).value());
  }

  /** Puts rows aside with a comparison, to be read again while its target is asked other things. */
  void putAside(String comparison, String name, RowReader rows) {
    try (rows;
        OutputStream out = files.create(folder(comparison) + "/aside-" + name + ".csv")) {
      for (Row row = rows.next(); row != null; row = rows.next()) {
        out.write(row.raw());
        out.write('\n');
      }
    } catch (IOException e) {
      throw new UncheckedIOException("Rows could not be put aside", e);
    }
  }

  /** Rows that were put aside; the caller closes it. */
  RowReader aside(String comparison, String name, Header header) {
    return new RowReader(
        files.open(folder(comparison) + "/aside-" + name + ".csv", 0), header, /* ordered= */ true);
  }

  /** Reads the differences of one class from the {@code skip}-th on. */
  public Reader read(String comparison, int component, Difference d, long skip) {
    String name = name(comparison, component, d);
    Headers headers = headers(comparison, component);
    if (!files.exists(name + ".csv")) {
      return new Reader(null, headers, d);
    }
    long offset = 0;
    if (skip >= EVERY) {
      long entry = Math.min(skip / EVERY, files.size(name + ".index") / Long.BYTES - 1);
      try (DataInputStream in =
          new DataInputStream(files.open(name + ".index", entry * Long.BYTES))) {
        offset = in.readLong();
      } catch (IOException e) {
        throw new UncheckedIOException("The comparison cannot be read", e);
      }
    }
    Reader reader =
        new Reader(new RowReader(files.open(name + ".csv", offset), FIELDS, false), headers, d);
    for (long i = 0; i < (skip >= EVERY ? skip % EVERY : skip); i++) {
      reader.next();
    }
    return reader;
  }

  /** Row differences one at a time, in key order. */
  public static final class Reader implements AutoCloseable {
    private final @Nullable RowReader rows;
    private final Headers headers;
    private final Difference difference;

    Reader(@Nullable RowReader rows, Headers headers, Difference difference) {
      this.rows = rows;
      this.headers = headers;
      this.difference = difference;
    }

    public @Nullable RowDifference next() {
      Row line = rows == null ? null : rows.next();
      if (line == null) {
        return null;
      }
      return new RowDifference(
          difference,
          row(headers.base(), line.get(0)),
          row(headers.present(), line.get(1)),
          row(headers.incoming(), line.get(2)));
    }

    private static @Nullable Row row(@Nullable Header header, @Nullable String text) {
      return header == null || text == null
          ? null
          : Row.of(header, CanonicalCsv.fields(text.getBytes(StandardCharsets.UTF_8)));
    }

    @Override
    public void close() {
      if (rows != null) {
        rows.close();
      }
    }
  }

  /** The differences of several classes together, in key order. */
  public Merged merged(String comparison, int component, List<Difference> classes) {
    List<Reader> readers = new ArrayList<>();
    classes.forEach(d -> readers.add(read(comparison, component, d, 0)));
    return new Merged(readers, headers(comparison, component));
  }

  /** Several readers as one, in key order. */
  public static final class Merged implements AutoCloseable {
    private final List<Reader> readers;
    private final List<@Nullable RowDifference> heads = new ArrayList<>();
    private final Headers headers;

    Merged(List<Reader> readers, Headers headers) {
      this.readers = readers;
      this.headers = headers;
      readers.forEach(r -> heads.add(r.next()));
    }

    public Headers headers() {
      return headers;
    }

    public @Nullable RowDifference next() {
      int least = -1;
      for (int i = 0; i < heads.size(); i++) {
        RowDifference head = heads.get(i);
        if (head != null
            && (least < 0
                || head.any().compareKey(Objects.requireNonNull(heads.get(least)).any()) < 0)) {
          least = i;
        }
      }
      if (least < 0) {
        return null;
      }
      RowDifference out = heads.get(least);
      heads.set(least, readers.get(least).next());
      return out;
    }

    @Override
    public void close() {
      readers.forEach(Reader::close);
    }
  }

  /**
   * Whether rows of a comparison are still kept; records that were brought back may name others.
   */
  public boolean kept(String comparison, int component) {
    return files.exists(folder(comparison) + "/" + component + "-headers");
  }

  public void remove(@Nullable String comparison) {
    if (comparison != null) {
      files.remove(folder(comparison));
    }
  }

  /** The first rows of a class, at most {@code limit}. */
  public List<RowDifference> page(
      String comparison, int component, Difference d, long skip, int limit) {
    List<RowDifference> out = new ArrayList<>();
    try (Reader reader = read(comparison, component, d, skip)) {
      for (RowDifference row = reader.next();
          row != null && out.size() < limit;
          row = reader.next()) {
        out.add(row);
      }
    }
    return out;
  }
}
