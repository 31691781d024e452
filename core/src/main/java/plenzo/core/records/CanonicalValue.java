package plenzo.core.records;

import java.math.BigDecimal;
import java.math.BigInteger;
import java.time.DateTimeException;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.time.format.DateTimeFormatterBuilder;
import java.time.temporal.ChronoField;
import java.util.Locale;
import java.util.Objects;
import java.util.Set;
import java.util.UUID;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/**
 * The text in which PostgreSQL prints a value of a type (session settings as in the connector: UTC,
 * ISO dates), from a text that a person wrote into a document. A value that the type cannot hold
 * exactly is refused, never rounded. Types without a rule here keep their text: it has to be
 * written as the server prints it.
 */
public final class CanonicalValue {
  private static final Pattern TYPE =
      Pattern.compile("([a-z ]+?)(?:\\((\\d+)(?:,(-?\\d+))?\\))?( with(?:out)? time zone)?");
  private static final Pattern UUID =
      Pattern.compile(
          "\\{?([0-9a-f]{8})-?([0-9a-f]{4})-?([0-9a-f]{4})-?([0-9a-f]{4})-?([0-9a-f]{12})\\}?");
  private static final Pattern BYTES = Pattern.compile("\\\\x((?:[0-9a-f]{2})*)");
  private static final Pattern NUMBER =
      Pattern.compile("[+-]?(?:\\d+\\.?\\d*|\\.\\d+)(?:e[+-]?\\d{1,5})?");
  private static final Set<String> EXACT = Set.of("smallint", "integer", "bigint", "numeric");
  private static final Set<String> TRUE = Set.of("t", "true", "y", "yes", "on", "1");
  private static final Set<String> FALSE = Set.of("f", "false", "n", "no", "off", "0");
  private static final Set<String> ENDLESS = Set.of("infinity", "-infinity");
  private static final int MICROSECONDS = 6;

  private static final DateTimeFormatter TIME =
      new DateTimeFormatterBuilder()
          .appendPattern("HH:mm:ss")
          .appendFraction(ChronoField.NANO_OF_SECOND, 0, MICROSECONDS, true)
          .toFormatter(Locale.ROOT);

  private CanonicalValue() {}

  /**
   * @param type as the server prints it, such as {@code numeric(6,2)}
   * @throws IllegalArgumentException when the type cannot hold the value exactly; the message says
   *     why
   */
  public static String of(String type, String text) {
    Matcher m = TYPE.matcher(type);
    if (!m.matches()) {
      return text;
    }
    int size = m.group(2) == null ? -1 : Integer.parseInt(m.group(2));
    String value = text.strip();
    return switch (m.group(1)) {
      case "smallint" -> whole(value, Short.MIN_VALUE, Short.MAX_VALUE);
      case "integer" -> whole(value, Integer.MIN_VALUE, Integer.MAX_VALUE);
      case "bigint" -> whole(value, Long.MIN_VALUE, Long.MAX_VALUE);
      case "numeric" -> numeric(value, size, m.group(3) == null ? 0 : Integer.parseInt(m.group(3)));
      case "boolean" -> flag(value);
      case "uuid" -> uuid(value);
      case "bytea" -> bytes(value);
      case "date" -> date(value);
      case "time" -> " with time zone".equals(m.group(4)) ? text : time(value, size);
      case "timestamp" -> timestamp(value, size, " with time zone".equals(m.group(4)));
      case "character varying" -> shortEnough(text, size);
      case "character" -> padded(text, Math.max(size, 1));
      default -> text;
    };
  }

  /** Whether two values are the same, though their columns may print numbers otherwise. */
  static boolean same(
      String type, @Nullable String value, String otherType, @Nullable String other) {
    if (Objects.equals(value, other) || value == null || other == null) {
      return Objects.equals(value, other);
    }
    if (isLong(value, otherType, other) || isLong(other, type, value)) {
      return true;
    }
    return !type.equals(otherType)
        && isExact(type)
        && isExact(otherType)
        && NUMBER.matcher(value).matches()
        && NUMBER.matcher(other).matches()
        && new BigDecimal(value).compareTo(new BigDecimal(other)) == 0;
  }

  private static boolean isLong(String name, String otherType, String other) {
    return LongValue.of(name).filter(v -> v.is(otherType, other)).isPresent();
  }

  private static boolean isExact(String type) {
    Matcher m = TYPE.matcher(type);
    return m.matches() && EXACT.contains(m.group(1));
  }

  private static IllegalArgumentException refused(String text, String why) {
    return new IllegalArgumentException("\"" + text + "\" " + why);
  }

  private static String whole(String text, long least, long most) {
    if (!text.matches("[+-]?\\d{1,40}")) {
      throw refused(text, "is no whole number");
    }
    BigInteger n = new BigInteger(text);
    if (n.compareTo(BigInteger.valueOf(least)) < 0 || n.compareTo(BigInteger.valueOf(most)) > 0) {
      throw refused(text, "is out of the range of its type");
    }
    return n.toString();
  }

  private static String numeric(String text, int precision, int scale) {
    String lower = text.toLowerCase(Locale.ROOT);
    if (lower.equals("nan")) {
      return "NaN";
    }
    if (precision < 0 && ENDLESS.contains(lower)) {
      return lower.startsWith("-") ? "-Infinity" : "Infinity";
    }
    if (!NUMBER.matcher(lower).matches()) {
      throw refused(text, "is no number");
    }
    BigDecimal n = new BigDecimal(lower);
    if (precision < 0) {
      return (n.scale() < 0 ? n.setScale(0) : n).toPlainString();
    }
    try {
      n = n.setScale(scale); // never rounded
    } catch (ArithmeticException e) {
      throw refused(text, "has more than " + scale + " decimals");
    }
    if (n.signum() != 0 && n.precision() - n.scale() > precision - scale) {
      throw refused(text, "has more than " + (precision - scale) + " digits before its point");
    }
    return n.toPlainString();
  }

  private static String flag(String text) {
    String lower = text.toLowerCase(Locale.ROOT);
    if (TRUE.contains(lower)) {
      return "t";
    }
    if (FALSE.contains(lower)) {
      return "f";
    }
    throw refused(text, "is neither true nor false");
  }

  private static String uuid(String text) {
    Matcher m = UUID.matcher(text.toLowerCase(Locale.ROOT));
    if (!m.matches()) {
      throw refused(text, "is no UUID");
    }
    return String.join("-", m.group(1), m.group(2), m.group(3), m.group(4), m.group(5));
  }

  private static String bytes(String text) {
    String lower = text.toLowerCase(Locale.ROOT);
    if (!BYTES.matcher(lower).matches()) {
      throw refused(text, "is not written as \\x and hexadecimal digits");
    }
    return lower;
  }

  private static String date(String text) {
    String lower = text.toLowerCase(Locale.ROOT);
    if (ENDLESS.contains(lower)) {
      return lower;
    }
    try {
      return LocalDate.parse(text).toString();
    } catch (DateTimeException e) {
      throw refused(text, "is no date such as 2026-04-01");
    }
  }

  private static String time(String text, int decimals) {
    try {
      return exact(text, LocalTime.parse(text), decimals);
    } catch (DateTimeException e) {
      throw refused(text, "is no time such as 06:30:00");
    }
  }

  private static String exact(String text, LocalTime time, int decimals) {
    int kept = decimals < 0 ? MICROSECONDS : decimals;
    long unit = (long) Math.pow(10, 9 - kept);
    if (time.getNano() % unit != 0) {
      throw refused(text, "has more than " + kept + " decimals of a second");
    }
    return TIME.format(time);
  }

  private static String timestamp(String text, int decimals, boolean zoned) {
    String lower = text.toLowerCase(Locale.ROOT);
    if (ENDLESS.contains(lower)) {
      return lower;
    }
    String iso = text.replaceFirst("^(\\d{4}-\\d{2}-\\d{2}) ", "$1T");
    try {
      if (!zoned) {
        LocalDateTime at = LocalDateTime.parse(iso);
        return at.toLocalDate() + " " + exact(text, at.toLocalTime(), decimals);
      }
      OffsetDateTime at =
          OffsetDateTime.parse(iso.replaceFirst("([+-]\\d{2})$", "$1:00"))
              .withOffsetSameInstant(ZoneOffset.UTC);
      return at.toLocalDate() + " " + exact(text, at.toLocalTime(), decimals) + "+00";
    } catch (DateTimeException e) {
      throw refused(
          text,
          zoned
              ? "is no time with its offset, such as 2026-04-01 06:30:00+00"
              : "is no time such as 2026-04-01 06:30:00");
    }
  }

  private static String shortEnough(String text, int size) {
    if (size >= 0 && text.codePointCount(0, text.length()) > size) {
      throw refused(text, "is longer than " + size + " characters");
    }
    return text;
  }

  private static String padded(String text, int size) {
    String bare = text.replaceFirst(" +$", "");
    shortEnough(bare, size);
    return bare + " ".repeat(size - bare.codePointCount(0, bare.length()));
  }
}
