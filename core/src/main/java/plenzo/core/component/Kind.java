package plenzo.core.component;

import java.util.Locale;

/** What sort of component it is. */
public enum Kind {
  /** The structure of a table. */
  TABLE,
  /** The rows of a table that are reference data. */
  RECORDS;

  public String code() {
    return name().toLowerCase(Locale.ROOT);
  }

  public static Kind of(String code) {
    for (Kind kind : values()) {
      if (kind.code().equals(code)) {
        return kind;
      }
    }
    throw new IllegalArgumentException("Unknown kind \"" + code + "\"; known: table, records");
  }
}
