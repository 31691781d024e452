package plenzo.core.records;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/**
 * Reads canonical rows one at a time in constant memory and checks that their keys ascend strictly.
 * Not for threads; closing it closes the stream.
 */
public class RowReader implements AutoCloseable {
  /** Larger rows are refused; what is longer by itself stands beside its row. */
  public static final int MAX_ROW_BYTES = 64 << 20;

  private final InputStream in;
  private final byte[] buffer = new byte[1 << 16];
  private int at;
  private int end;
  private final Header header;
  private final boolean ordered;
  private @Nullable Row previous;
  private long count;

  /** Commas between the fields of the line that was read last. */
  private int separators;

  /**
   * Reads rows whose first two lines are names and types.
   *
   * @throws IllegalArgumentException here and later, where what is read is no rows; {@link
   *     TwinRows} where two have the same key
   */
  public RowReader(InputStream in, int keyColumns) {
    this.in = in;
    this.ordered = keyColumns > 0;
    List<@Nullable String> names = CanonicalCsv.fields(required());
    List<@Nullable String> types = CanonicalCsv.fields(required());
    if (names.contains(null) || types.contains(null)) {
      throw new IllegalArgumentException("A column without a name, or without a type");
    }
    this.header =
        new Header(
            names.stream().map(Objects::requireNonNull).toList(),
            types.stream().map(Objects::requireNonNull).toList(),
            keyColumns);
  }

  /**
   * Reads rows without a header, as a server streams them; {@code ordered} asks for the key check.
   */
  public RowReader(InputStream in, Header header, boolean ordered) {
    this.in = in;
    this.header = header;
    this.ordered = ordered;
  }

  public Header header() {
    return header;
  }

  public long count() {
    return count;
  }

  private byte[] required() {
    byte[] line = line();
    if (line == null) {
      throw new IllegalArgumentException("Rows without their typed header");
    }
    return line;
  }

  /** The next row, or null at the end. */
  public @Nullable Row next() {
    byte[] raw = line();
    if (raw == null) {
      ended(count);
      return null;
    }
    if (separators + 1 != fields()) {
      throw new IllegalArgumentException(
          "A row has " + (separators + 1) + " fields, its header " + fields());
    }
    Row row = read(new Row(header, raw));
    int step = ordered && previous != null ? previous.compareKey(row) : -1;
    if (step == 0) {
      throw new TwinRows(row);
    }
    if (step > 0) {
      throw new IllegalArgumentException(
          "Rows do not ascend by key: "
              + Objects.requireNonNull(previous).keyLine()
              + " before "
              + row.keyLine());
    }
    previous = row;
    count++;
    return row;
  }

  /**
   * Where the bytes of long values are that rows name, as long as this is open; a server has them
   * once all rows were read.
   */
  public LongValues longValues() {
    return LongValues.NONE;
  }

  /** Whether a row may name a long value: what a server says without, none does. */
  public boolean mayNameLong() {
    return true;
  }

  /** Fields that a line has. */
  protected int fields() {
    return header.names().size();
  }

  /** A row as it was written becomes one as it is given on. */
  protected Row read(Row row) {
    return row;
  }

  /**
   * Called at the end with the rows read; a reader that knows how many there must be checks it
   * here.
   */
  protected void ended(long rows) {}

  private byte @Nullable [] line() {
    try {
      ByteArrayOutputStream long_ = null;
      boolean quoted = false;
      int commas = 0;
      int start = at;
      int i = at;
      while (true) {
        if (i == end) {
          if (i > start) {
            long_ = long_ == null ? new ByteArrayOutputStream(1 << 12) : long_;
            long_.write(buffer, start, i - start);
            if (long_.size() > MAX_ROW_BYTES) {
              throw new IllegalArgumentException(
                  "A row of more than 64 MB, without values that stand beside their rows");
            }
          }
          end = Math.max(0, in.read(buffer));
          at = 0;
          start = 0;
          i = 0;
          if (end > 0) {
            continue;
          }
          if (long_ == null) {
            return null;
          }
          throw new IllegalArgumentException("The last row does not end with a line end");
        }
        if (quoted) {
          i = quote(i);
          if (i == end) {
            continue;
          }
        }
        byte b = buffer[i++];
        if (b == 0 && long_ == null && i - 1 == start) {
          at = start; // long values stand behind the rows
          return null;
        } else if (b == '"') {
          quoted = !quoted;
        } else if (b == ',') {
          commas++;
        } else if (b != '\n') {
          throw new IllegalArgumentException("A value that is not quoted");
        } else {
          at = i;
          separators = commas;
          if (long_ == null) {
            return java.util.Arrays.copyOfRange(buffer, start, i - 1);
          }
          long_.write(buffer, start, i - 1 - start);
          return long_.toByteArray();
        }
      }
    } catch (IOException e) {
      throw new UncheckedIOException("Rows could not be read", e);
    }
  }

  /** Where the next quote stands, or the end: most bytes are inside of values. */
  private int quote(int from) {
    byte[] bytes = buffer;
    int to = end;
    int i = from;
    while (i < to && bytes[i] != '"') {
      i++;
    }
    return i;
  }

  @Override
  public void close() {
    try {
      in.close();
    } catch (IOException e) {
      throw new UncheckedIOException("Rows could not be closed", e);
    }
  }
}
