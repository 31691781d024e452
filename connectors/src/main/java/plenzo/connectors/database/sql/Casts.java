package plenzo.connectors.database.sql;

import java.util.List;
import java.util.Set;

/**
 * What makes a value of one type of another. The server refuses a cast that it does not know, even
 * where no value is left that would need it, so that a type goes by its text then: whether the
 * values suit is asked of the rows.
 */
final class Casts {
  private static final Set<String> NUMBERS =
      Set.of("smallint", "integer", "bigint", "numeric", "real", "double precision");
  private static final Set<String> TEXTS =
      Set.of("text", "character varying", "character", "name", "\"char\"", "citext");

  /** Casts of the server's own between its other types, as pg_cast has them since PostgreSQL 12. */
  private static final List<Set<String>> FAMILIES =
      List.of(
          Set.of("date", "timestamp without time zone", "timestamp with time zone"),
          Set.of("time without time zone", "time with time zone"),
          Set.of("time without time zone", "interval"),
          Set.of("bit", "bit varying"),
          Set.of("json", "jsonb"),
          Set.of("inet", "cidr"),
          Set.of("money", "numeric"),
          Set.of("boolean", "integer"));

  private Casts() {}

  /**
   * @param value an expression of the type
   * @param from as the server prints it
   */
  static String of(String value, String from, String to) {
    return value + (isDirect(base(from), base(to)) ? "::" : "::text::") + to;
  }

  private static boolean isDirect(String from, String to) {
    return from.equals(to)
        || TEXTS.contains(from)
        || TEXTS.contains(to)
        || NUMBERS.contains(from) && NUMBERS.contains(to)
        || FAMILIES.stream().anyMatch(f -> f.contains(from) && f.contains(to));
  }

  /** Without length, precision and scale, which may stand inside the name. */
  private static String base(String type) {
    return type.replaceAll("\\([0-9,]+\\)", "").replaceAll(" +", " ").strip();
  }
}
