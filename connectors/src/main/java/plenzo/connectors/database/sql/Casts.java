package plenzo.connectors.database.sql;

import java.util.List;
import java.util.Set;
import plenzo.core.table.TypeNames;

/**
 * What makes a value of one type of another. The server refuses a cast that it does not know, even
 * where no value is left that would need it, so that a type goes by its text then: whether the
 * values suit is asked of the rows.
 */
final class Casts {
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
    return value + (isDirect(TypeNames.bare(from), TypeNames.bare(to)) ? "::" : "::text::") + to;
  }

  private static boolean isDirect(String from, String to) {
    return from.equals(to)
        || TEXTS.contains(from)
        || TEXTS.contains(to)
        || TypeNames.isNumber(from) && TypeNames.isNumber(to)
        || FAMILIES.stream().anyMatch(f -> f.contains(from) && f.contains(to));
  }
}
