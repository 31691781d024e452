package plenzo.core.records;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * Canonical rows: UTF-8, every value quoted, null unquoted and empty; the bytes of PostgreSQL's
 * {@code COPY … (FORMAT csv, FORCE_QUOTE *)}.
 */
public final class CanonicalCsv {
  private CanonicalCsv() {}

  public static byte[] line(List<? extends @Nullable String> fields) {
    return text(fields).getBytes(StandardCharsets.UTF_8);
  }

  public static String text(List<? extends @Nullable String> fields) {
    StringBuilder out = new StringBuilder();
    for (int i = 0; i < fields.size(); i++) {
      if (i > 0) {
        out.append(',');
      }
      String value = fields.get(i);
      if (value != null) {
        out.append('"').append(value.replace("\"", "\"\"")).append('"');
      }
    }
    return out.toString();
  }

  /**
   * The first fields of a line as their own bytes, null as null.
   *
   * @throws IllegalArgumentException when the line has fewer, or is not canonical so far
   */
  static byte @Nullable [][] leading(byte[] raw, int count) {
    byte @Nullable [][] out = new byte[count][];
    int i = 0;
    for (int n = 0; n < count; n++) {
      if (n > 0) {
        if (i >= raw.length || raw[i] != ',') {
          throw new IllegalArgumentException("A row has " + n + " fields, its key alone " + count);
        }
        i++;
      }
      if (i < raw.length && raw[i] == '"') {
        int start = ++i;
        boolean doubled = false;
        while (i < raw.length && (raw[i] != '"' || i + 1 < raw.length && raw[i + 1] == '"')) {
          doubled |= raw[i] == '"';
          i += raw[i] == '"' ? 2 : 1;
        }
        if (i >= raw.length) {
          throw new IllegalArgumentException("A quoted value does not end");
        }
        byte[] value = Arrays.copyOfRange(raw, start, i);
        out[n] = doubled ? single(value) : value;
        i++;
      }
    }
    return out;
  }

  /** Each doubled quote once. */
  private static byte[] single(byte[] value) {
    byte[] out = new byte[value.length];
    int length = 0;
    for (int i = 0; i < value.length; i++) {
      out[length++] = value[i];
      i += value[i] == '"' ? 1 : 0;
    }
    return Arrays.copyOf(out, length);
  }

  /**
   * @throws IllegalArgumentException when the line is not canonical
   */
  public static List<@Nullable String> fields(byte[] raw) {
    List<@Nullable String> out = new ArrayList<>();
    int i = 0;
    while (true) {
      if (i < raw.length && raw[i] == '"') {
        int start = ++i;
        boolean doubled = false;
        while (true) {
          if (i >= raw.length) {
            throw new IllegalArgumentException("A quoted value does not end");
          }
          if (raw[i] != '"') {
            i++;
          } else if (i + 1 < raw.length && raw[i + 1] == '"') {
            doubled = true;
            i += 2;
          } else {
            break;
          }
        }
        String value = new String(raw, start, i - start, StandardCharsets.UTF_8);
        out.add(doubled ? value.replace("\"\"", "\"") : value);
        i++;
      } else {
        out.add(null);
      }
      if (i >= raw.length) {
        return out;
      }
      if (raw[i] != ',') {
        throw new IllegalArgumentException("A value that is not quoted");
      }
      i++;
    }
  }
}
