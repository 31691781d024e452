package plenzo.core.records;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.security.DigestInputStream;
import java.security.MessageDigest;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import plenzo.core.digest.Digest;

/**
 * Long values in a file of rows, behind the last of them: a line of the mark alone, the bytes of
 * each value, a line for each with its name and where its bytes begin, and a last line with where
 * these lines begin. A file without a long value ends with its last row. Each value is there once,
 * in the order of their digests, so that equal rows make equal files.
 */
public final class BehindRows {
  private static final char MARK = '\0';

  /** The mark, twenty digits and the end of the line. */
  private static final int LAST = 22;

  /** Bytes of lines that are believed: some hundred thousand values. */
  static final long LONGEST_LIST = 16L << 20;

  private final Map<Digest, LongValue> values = new TreeMap<>();

  /** A row that is written to the file: what it names has to come behind. */
  public void add(Row row) {
    row.longValues().forEach(v -> values.put(v.digest(), v));
  }

  void add(LongValue value) {
    values.put(value.digest(), value);
  }

  /** In the order in which they stand. */
  Iterator<LongValue> values() {
    return values.values().iterator();
  }

  /**
   * Writes them, after the last row.
   *
   * @param at bytes of the rows and their header
   * @param from has them all
   * @throws IllegalStateException when one is not what its name says
   */
  public void write(OutputStream out, long at, LongValues from) throws IOException {
    if (values.isEmpty()) {
      return;
    }
    out.write(new byte[] {MARK, '\n'});
    for (LongValue v : values.values()) {
      copy(v, from, out);
    }
    out.write(list(at).getBytes(StandardCharsets.UTF_8));
  }

  /** What ends the file: each value and its place. */
  String list(long rows) {
    long place = rows + 2;
    StringBuilder list = new StringBuilder();
    for (LongValue v : values.values()) {
      list.append(v.name()).append(':').append(place).append('\n');
      place += v.bytes();
    }
    return list.append(MARK).append(String.format("%020d", place)).append('\n').toString();
  }

  /**
   * Copies the bytes of one, held against its name.
   *
   * @throws IllegalStateException when it is not there, or is another
   */
  public static void copy(LongValue value, LongValues from, OutputStream to) throws IOException {
    try (InputStream in =
        from.open(value)
            .orElseThrow(() -> new IllegalStateException(value + " is not where it should be"))) {
      MessageDigest sum = Digest.sha256();
      long n = new DigestInputStream(in, sum).transferTo(to);
      if (n != value.bytes() || !Digest.of(sum).equals(value.digest())) {
        throw new IllegalStateException(
            value + " is another by now: " + n + " bytes came, or other ones");
      }
    }
  }

  /** Opens a file at a place. */
  public interface Opening {
    InputStream open(long offset);
  }

  /**
   * The values behind the rows of a file.
   *
   * @param size bytes of the file
   */
  public static LongValues in(Opening file, long size) {
    return new LongValues() {
      private @Nullable Map<LongValue, Long> places;

      @Override
      public Optional<InputStream> open(LongValue value) {
        if (places == null) {
          places = places(file, size);
        }
        Long place = places.get(value);
        return place == null
            ? Optional.empty()
            : Optional.of(new Bounded(file.open(place), value.bytes()));
      }
    };
  }

  private static Map<LongValue, Long> places(Opening file, long size) {
    Map<LongValue, Long> out = new LinkedHashMap<>();
    if (size < LAST) {
      return out;
    }
    String last = text(file, size - LAST, LAST);
    if (!last.matches(MARK + "[0-9]{20}\n")) {
      return out;
    }
    try {
      long list = Long.parseLong(last.substring(1, LAST - 1));
      if (list > size - LAST || size - LAST - list > LONGEST_LIST) {
        throw damaged(null);
      }
      for (String line : text(file, list, (int) (size - LAST - list)).lines().toList()) {
        int colon = line.lastIndexOf(':');
        LongValue value = LongValue.of(line.substring(0, colon)).orElseThrow();
        long place = Long.parseLong(line.substring(colon + 1));
        if (place < 0 || place + value.bytes() > list) {
          throw damaged(null);
        }
        out.put(value, place);
      }
    } catch (RuntimeException e) {
      throw damaged(e);
    }
    return out;
  }

  private static IllegalStateException damaged(@Nullable Exception e) {
    return new IllegalStateException(
        "Long values behind rows cannot be found: the file is damaged", e);
  }

  private static String text(Opening file, long at, int length) {
    try (InputStream in = file.open(at)) {
      return new String(in.readNBytes(length), StandardCharsets.UTF_8);
    } catch (IOException e) {
      throw new UncheckedIOException("Long values cannot be read", e);
    }
  }

  /**
   * Bytes of a file up to its last row.
   *
   * @param size bytes of the file
   */
  public static long rows(Opening file, long size) {
    return places(file, size).values().stream().mapToLong(Long::longValue).min().orElse(size + 2)
        - 2;
  }

  /** The rows of a file alone. */
  public static InputStream rowsOf(Opening file, long size) {
    return new Bounded(file.open(0), rows(file, size));
  }

  /**
   * Reads every value behind the rows of a file.
   *
   * @param size bytes of the file
   * @throws IllegalStateException when one is damaged
   */
  public static void check(Opening file, long size) {
    LongValues values = in(file, size);
    try {
      for (LongValue v : places(file, size).keySet()) {
        copy(v, values, OutputStream.nullOutputStream());
      }
    } catch (IOException e) {
      throw new UncheckedIOException("Long values cannot be read", e);
    }
  }

  /** The first bytes of a stream. */
  private static final class Bounded extends InputStream {
    private final InputStream in;
    private long left;

    Bounded(InputStream in, long length) {
      this.in = in;
      this.left = length;
    }

    @Override
    public int read() throws IOException {
      int b = left == 0 ? -1 : in.read();
      left -= b < 0 ? 0 : 1;
      return b;
    }

    @Override
    public int read(byte[] to, int offset, int length) throws IOException {
      if (left == 0 && length > 0) {
        return -1;
      }
      int n = in.read(to, offset, (int) Math.min(length, left));
      left -= Math.max(0, n);
      return n;
    }

    @Override
    public void close() throws IOException {
      in.close();
    }
  }
}
