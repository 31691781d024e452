package plenzo.core.records;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.util.HexFormat;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import plenzo.core.digest.Digest;

/**
 * A value that is too long to stand in its row: the row names it by its digest, and its bytes are
 * read and written by themselves, some at a time. No value of a database can be such a name, as it
 * begins with a character that the server refuses in every text.
 *
 * @param digest of its bytes: those of a bytea, the UTF-8 of what any other type prints
 * @param bytes how many they are, {@value #MOST} at most
 */
public record LongValue(Digest digest, long bytes) {
  /** Bytes of text that still stand in a row (guess: some of them fit into any heap). */
  public static final int INSIDE = 8 << 20;

  /** What a server can hold in one value. */
  public static final long MOST = 1L << 30;

  private static final char MARK = '\0';

  private static final Pattern NAME = Pattern.compile(MARK + "([0-9a-f]{64}):([0-9]{1,10})");

  private static final Pattern SHOWN =
      Pattern.compile("\\(a long value of [0-9]+\\.[0-9] MB, SHA-256 [0-9a-f]{12}…\\)");

  public LongValue {
    if (bytes < 0 || bytes > MOST) {
      throw new IllegalArgumentException("A value of " + bytes + " bytes");
    }
  }

  /** What stands in a row in its stead. */
  public String name() {
    return MARK + digest.hex() + ":" + bytes;
  }

  /** The one of a name without its mark, such as {@code 9f12…:70000000}. */
  public static LongValue named(String name) {
    return of(MARK + name)
        .orElseThrow(() -> new IllegalArgumentException("No long value is named " + name));
  }

  /** The one that a field names; empty where the value itself stands there. */
  public static Optional<LongValue> of(@Nullable String field) {
    if (field == null || field.isEmpty() || field.charAt(0) != MARK) {
      return Optional.empty();
    }
    Matcher m = NAME.matcher(field);
    return m.matches()
        ? Optional.of(new LongValue(new Digest(m.group(1)), Long.parseLong(m.group(2))))
        : Optional.empty();
  }

  /** Whether values of a type can stand beside their rows. */
  public static boolean mayBe(String type) {
    return switch (type) {
      case "text", "bytea", "json", "jsonb", "xml", "character varying" -> true;
      default -> type.startsWith("character varying(") && type.endsWith(")");
    };
  }

  /** Whether a value that stands in a row is this one: where the line is drawn may have moved. */
  boolean is(String type, String value) {
    byte[] whole = value.getBytes(StandardCharsets.UTF_8);
    if (type.equals("bytea") && value.startsWith("\\x")) {
      if (value.length() != 2 * bytes + 2) {
        return false;
      }
      whole = HexFormat.of().parseHex(value, 2, value.length());
    }
    if (whole.length != bytes) {
      return false;
    }
    MessageDigest sum = Digest.sha256();
    sum.update(whole);
    return Digest.of(sum).equals(digest);
  }

  /** A field as people read it: one that stands beside its row by its size and digest. */
  public static @Nullable String shown(@Nullable String field) {
    return of(field).map(LongValue::toString).orElse(field);
  }

  /** Rows as they are written, each long value that they name as people read it. */
  public static String shownIn(String rows) {
    return rows.indexOf(MARK) < 0
        ? rows
        : NAME.matcher(rows).replaceAll(m -> named(m.group().substring(1)).toString());
  }

  /** Whether a text is what {@link #shown} makes of one. */
  public static boolean isShown(@Nullable String text) {
    return text != null && SHOWN.matcher(text).matches();
  }

  /** "(a long value of 210.4 MB, SHA-256 9f12ab34cd56…)". */
  @Override
  public String toString() {
    long tenths = Math.round(bytes / 100_000.0);
    return "(a long value of "
        + tenths / 10
        + "."
        + tenths % 10
        + " MB, SHA-256 "
        + digest.brief()
        + "…)";
  }
}
