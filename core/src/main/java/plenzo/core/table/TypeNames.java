package plenzo.core.table;

import java.util.Set;

/** Names of types as the server prints them. */
public final class TypeNames {
  private static final Set<String> NUMBERS =
      Set.of("smallint", "integer", "bigint", "numeric", "real", "double precision");

  private TypeNames() {}

  /** Without length, precision and scale, which may stand inside the name. */
  public static String bare(String type) {
    return type.replaceAll("\\([0-9,]+\\)", "").replaceAll(" +", " ").strip();
  }

  /** Whether a bare name is that of a number. */
  public static boolean isNumber(String bare) {
    return NUMBERS.contains(bare);
  }
}
