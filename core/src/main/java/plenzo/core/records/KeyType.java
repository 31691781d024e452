package plenzo.core.records;

import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.Locale;
import java.util.Set;
import java.util.UUID;

/** Types a records key may have, each with the one total order that Plenzo and the server share. */
public enum KeyType {
  INTEGER,
  TEXT,
  UUID,
  DATE,
  TIMESTAMP,
  BOOLEAN,
  /** Of a stated scale: read without zeros at its end, which the column gives it again. */
  NUMERIC,
  /** Of any scale: by value, then by what it prints, as 1.5 and 1.50 are not the same row. */
  SCALED,
  /** By what the type prints, byte by byte: where equal values print alike. */
  PRINTED,
  /** Told apart and ordered by what the type prints: equal values may print differently. */
  BY_TEXT;

  private static final Set<String> PRINTED_TYPES =
      Set.of(
          "bytea",
          "inet",
          "cidr",
          "macaddr",
          "macaddr8",
          "\"char\"",
          "name",
          "oid",
          "time without time zone");

  /** Types of extensions whose equal values may print differently. */
  private static final Set<String> BLURRED = Set.of("citext", "ltree", "cube", "seg", "isn");

  /** The order of a type as the server names it. */
  public static KeyType of(String type) {
    String t = type.toLowerCase(Locale.ROOT);
    if (t.equals("smallint") || t.equals("integer") || t.equals("bigint")) {
      return INTEGER;
    }
    if (t.equals("text") || t.startsWith("character varying")) {
      return TEXT;
    }
    if (t.equals("uuid")) {
      return UUID;
    }
    if (t.equals("date")) {
      return DATE;
    }
    if (t.startsWith("timestamp")) {
      return TIMESTAMP;
    }
    if (t.equals("boolean")) {
      return BOOLEAN;
    }
    if (t.startsWith("numeric")) {
      return t.equals("numeric") ? SCALED : NUMERIC;
    }
    if (PRINTED_TYPES.contains(t)
        || t.equals("character")
        || t.startsWith("character(")
        || t.startsWith("bit(")
        || t.startsWith("bit varying")
        || ofTheApplication(t)) {
      return PRINTED;
    }
    return BY_TEXT;
  }

  /** An enum or domain, as the server prints it with its schema. */
  private static boolean ofTheApplication(String type) {
    int dot = type.lastIndexOf('.');
    return dot > 0 && !type.endsWith("]") && !BLURRED.contains(type.substring(dot + 1));
  }

  /** Compares two canonical texts as the server orders the values. */
  public int compare(String a, String b) {
    return switch (this) {
      case INTEGER -> Long.compare(Long.parseLong(a), Long.parseLong(b));
      case NUMERIC -> numeric(a, b);
      case SCALED -> {
        int value = numeric(a, b);
        yield value == 0 ? a.compareTo(b) : value;
      }
      case TEXT, PRINTED, BY_TEXT ->
          Arrays.compareUnsigned(
              a.getBytes(StandardCharsets.UTF_8), b.getBytes(StandardCharsets.UTF_8));
      case UUID, BOOLEAN -> a.compareTo(b);
      case DATE, TIMESTAMP -> year(a) != year(b) ? Long.compare(year(a), year(b)) : a.compareTo(b);
    };
  }

  /** The same of the texts' own bytes. */
  int compare(byte[] a, byte[] b) {
    return switch (this) {
      case INTEGER -> Long.compare(number(a), number(b));
      case TEXT, UUID, BOOLEAN, PRINTED, BY_TEXT -> Arrays.compareUnsigned(a, b);
      case NUMERIC, SCALED, DATE, TIMESTAMP ->
          compare(new String(a, StandardCharsets.UTF_8), new String(b, StandardCharsets.UTF_8));
    };
  }

  /** A whole number of up to eighteen digits is read as it stands. */
  private static long number(byte[] text) {
    boolean minus = text.length > 0 && text[0] == '-';
    int from = minus ? 1 : 0;
    if (text.length == from || text.length > 18) {
      return Long.parseLong(new String(text, StandardCharsets.UTF_8));
    }
    long out = 0;
    for (int i = from; i < text.length; i++) {
      if (text[i] < '0' || text[i] > '9') {
        return Long.parseLong(new String(text, StandardCharsets.UTF_8));
      }
      out = out * 10 + text[i] - '0';
    }
    return minus ? -out : out;
  }

  private static int numeric(String a, String b) {
    int kinds = Integer.compare(kind(a), kind(b));
    return kinds != 0 || kind(a) != 0 ? kinds : new BigDecimal(a).compareTo(new BigDecimal(b));
  }

  /** Where the server has what is no number: around all numbers, with NaN last. */
  private static int kind(String value) {
    return switch (value) {
      case "-Infinity" -> -1;
      case "Infinity" -> 1;
      case "NaN" -> 2;
      default -> 0;
    };
  }

  private static long year(String value) {
    if (value.equals("infinity")) {
      return Long.MAX_VALUE;
    }
    if (value.equals("-infinity")) {
      return Long.MIN_VALUE;
    }
    if (value.endsWith("BC")) {
      throw new IllegalArgumentException("A key before the year 1 cannot be ordered: " + value);
    }
    return Long.parseLong(value.substring(0, value.indexOf('-')));
  }
}
