package plenzo.core.records;

import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.util.Arrays;
import java.util.Iterator;
import plenzo.core.component.ContentDigest;
import plenzo.core.component.Kind;
import plenzo.core.digest.Digest;

/**
 * The digest of stored rows, out of all bytes of their file: that of its rows, where what stands
 * behind them is what they name. Where it is not, the digest is none that rows have.
 */
public final class RowsDigest extends MessageDigest {
  private enum In {
    ROWS,
    NAME,
    MARK,
    VALUE,
    LIST,
    NONE
  }

  private final MessageDigest rows = ContentDigest.begin(Kind.RECORDS);
  private final BehindRows behind = new BehindRows();
  private final ByteArrayOutputStream name = new ByteArrayOutputStream();
  private final ByteArrayOutputStream list = new ByteArrayOutputStream();
  private Iterator<LongValue> values = behind.values();
  private MessageDigest value = Digest.sha256();
  private LongValue expected = new LongValue(Digest.of(""), 0);
  private long left;
  private long length;
  private byte last = '\n';
  private In at = In.ROWS;

  private RowsDigest() {
    super("SHA-256");
  }

  /** A digest for content of a kind that comes from elsewhere, byte by byte. */
  public static MessageDigest of(Kind kind) {
    return kind == Kind.RECORDS ? new RowsDigest() : ContentDigest.begin(kind);
  }

  @Override
  protected void engineUpdate(byte one) {
    engineUpdate(new byte[] {one}, 0, 1);
  }

  @Override
  protected void engineUpdate(byte[] some, int offset, int count) {
    int i = offset;
    int end = offset + count;
    while (i < end) {
      i =
          switch (at) {
            case ROWS -> rows(some, i, end);
            case NAME -> name(some, i, end);
            case MARK -> mark(some, i);
            case VALUE -> value(some, i, end);
            case LIST -> list(some, i, end);
            case NONE -> end;
          };
    }
  }

  private int rows(byte[] some, int from, int end) {
    int i = from;
    while (i < end && some[i] != 0) {
      i++;
    }
    rows.update(some, from, i - from);
    length += i - from;
    last = i > from ? some[i - 1] : last;
    if (i < end) {
      at = last == '\n' ? In.MARK : In.NAME;
      name.reset();
    }
    return i;
  }

  /** What follows the mark in a value. */
  private int name(byte[] some, int from, int end) {
    int i = from;
    while (i < end && some[i] != '"' && name.size() < 100) {
      name.write(some[i++]);
    }
    rows.update(some, from, i - from);
    length += i - from;
    if (i < end) {
      LongValue.of(name.toString(StandardCharsets.US_ASCII))
          .ifPresentOrElse(behind::add, this::damaged);
      last = '"';
      at = at == In.NONE ? at : In.ROWS;
    }
    return i;
  }

  /** The line of the mark alone. */
  private int mark(byte[] some, int from) {
    list.write(some[from]);
    if (list.size() == 2) {
      boolean whole = Arrays.equals(list.toByteArray(), new byte[] {0, '\n'});
      list.reset();
      values = behind.values();
      at = In.VALUE;
      if (!whole || !values.hasNext()) {
        damaged();
      } else {
        next();
      }
    }
    return from + 1;
  }

  private void next() {
    if (values.hasNext()) {
      expected = values.next();
      left = expected.bytes();
      value = Digest.sha256();
    } else {
      at = In.LIST;
    }
  }

  private int value(byte[] some, int from, int end) {
    int n = (int) Math.min(end - from, left);
    value.update(some, from, n);
    left -= n;
    if (left == 0) {
      if (Digest.of(value).equals(expected.digest())) {
        next();
      } else {
        damaged();
      }
    }
    return from + n;
  }

  private int list(byte[] some, int from, int end) {
    if (list.size() + end - from > BehindRows.LONGEST_LIST) {
      damaged();
    } else {
      list.write(some, from, end - from);
    }
    return end;
  }

  private void damaged() {
    at = In.NONE;
  }

  @Override
  protected byte[] engineDigest() {
    boolean whole =
        switch (at) {
          case ROWS -> !behind.values().hasNext();
          case LIST ->
              Arrays.equals(
                  list.toByteArray(), behind.list(length).getBytes(StandardCharsets.UTF_8));
          default -> false;
        };
    if (!whole) {
      rows.update((byte) 0); // no rows end so
    }
    return rows.digest();
  }

  @Override
  protected void engineReset() {
    throw new UnsupportedOperationException("It is used once");
  }
}
