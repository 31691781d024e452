package plenzo.core.records;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** One row: its canonical bytes, and its fields once asked for. Not for threads. */
public final class Row {
  private final Header header;
  private final byte[] raw;
  private @Nullable List<@Nullable String> fields;
  private byte @Nullable [] @Nullable [] key;

  /** What the key begins with, where that is a whole number of up to eighteen digits. */
  private long number;

  private Number told = Number.UNKNOWN;

  private enum Number {
    UNKNOWN,
    KNOWN,
    NONE
  }

  Row(Header header, byte[] raw) {
    this.header = header;
    this.raw = raw;
  }

  public static Row of(Header header, List<@Nullable String> fields) {
    return new Row(header, CanonicalCsv.line(fields));
  }

  /**
   * @param raw canonical bytes without the line end; not copied
   */
  public static Row of(Header header, byte[] raw) {
    return new Row(header, raw);
  }

  public Header header() {
    return header;
  }

  /** Canonical bytes without the line end; not a copy. */
  public byte[] raw() {
    return raw;
  }

  public List<@Nullable String> fields() {
    if (fields == null) {
      fields = CanonicalCsv.fields(raw);
      if (fields.size() != header.names().size()) {
        throw new IllegalArgumentException(
            "A row has " + fields.size() + " fields, its header " + header.names().size());
      }
    }
    return fields;
  }

  public @Nullable String get(int position) {
    return fields().get(position);
  }

  /** Long values that it names. */
  public List<LongValue> longValues() {
    if (!namesLong()) {
      return List.of();
    }
    List<LongValue> out = new ArrayList<>();
    fields().forEach(f -> LongValue.of(f).ifPresent(out::add));
    return out;
  }

  /** Whether a mark stands anywhere: no value has one. */
  private boolean namesLong() {
    for (byte b : raw) {
      if (b == 0) {
        return true;
      }
    }
    return false;
  }

  /** Values of the key; null ones where rows are told apart by all their columns. */
  public List<@Nullable String> key() {
    List<@Nullable String> out = new ArrayList<>();
    for (int i = 0; i < header.keyColumns(); i++) {
      byte[] value = keyBytes(i);
      out.add(value == null ? null : new String(value, StandardCharsets.UTF_8));
    }
    return out;
  }

  /** The key alone is told from its bytes: most rows are never asked for more. */
  private byte @Nullable [] keyBytes(int position) {
    if (key == null) {
      key = CanonicalCsv.leading(raw, header.keyColumns());
    }
    return key[position];
  }

  /** The key as it names the row in removals and decisions: its canonical line. */
  public String keyLine() {
    return CanonicalCsv.text(key());
  }

  /** By the key; what is null comes last, as the server orders it. */
  public int compareKey(Row other) {
    int from = 0;
    if (isNumber() && other.isNumber()) {
      int c = Long.compare(number, other.number);
      if (c != 0) {
        return c;
      }
      from = 1;
    }
    for (int i = from; i < header.keyColumns(); i++) {
      byte[] mine = keyBytes(i);
      byte[] others = other.keyBytes(i);
      int c =
          mine == null || others == null
              ? Boolean.compare(mine == null, others == null)
              : header.keyType(i).compare(mine, others);
      if (c != 0) {
        return c;
      }
    }
    return 0;
  }

  /** Most keys are one number, which is read as it stands in the row, once. */
  private boolean isNumber() {
    if (told == Number.UNKNOWN) {
      told =
          header.keyColumns() > 0 && header.keyType(0) == KeyType.INTEGER && readsNumber()
              ? Number.KNOWN
              : Number.NONE;
    }
    return told == Number.KNOWN;
  }

  private boolean readsNumber() {
    int i = 1;
    boolean minus = raw.length > 1 && raw[1] == '-';
    if (minus) {
      i++;
    }
    int first = i;
    long out = 0;
    while (i < raw.length && i - first < 18 && raw[i] >= '0' && raw[i] <= '9') {
      out = out * 10 + raw[i++] - '0';
    }
    boolean ends =
        i > first && i < raw.length && raw[i] == '"' && (i + 1 == raw.length || raw[i + 1] == ',');
    number = minus ? -out : out;
    return ends && raw[0] == '"';
  }

  /**
   * True when both rows hold the same values in the columns of {@code header}; a column that one of
   * them does not have is equal only to a column that the other lacks too.
   */
  public boolean sameIn(Header columns, Row other) {
    if (header.equals(other.header) && header.equals(columns)) {
      // a long value may stand in one of them and beside the other
      return Arrays.equals(raw, other.raw)
          || ((namesLong() || other.namesLong()) && sameEach(columns, other));
    }
    return sameEach(columns, other);
  }

  private boolean sameEach(Header columns, Row other) {
    for (String name : columns.names()) {
      int a = header.position(name);
      int b = other.header.position(name);
      if ((a < 0) != (b < 0) || (a >= 0 && !same(a, other, b))) {
        return false;
      }
    }
    return true;
  }

  private boolean same(int at, Row other, int there) {
    return CanonicalValue.same(
        header.types().get(at), get(at), other.header.types().get(there), other.get(there));
  }

  /** Whether both rows have the column, with the same value. */
  public boolean sameAt(String column, Row other) {
    int a = header.position(column);
    int b = other.header.position(column);
    return a >= 0 && b >= 0 && same(a, other, b);
  }
}
