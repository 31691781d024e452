package plenzo.engine.comparing;

import org.jspecify.annotations.Nullable;
import plenzo.core.records.Row;

/** What a walk over a table's rows finds. */
interface FittingFound {
  /** A value is written to a row that stays. */
  void set(Row row, String column, @Nullable String value);

  void remove(Row row);

  void bringBack(Row row);

  void lost(Losses.Sort sort, Row row, String column, @Nullable String value);
}
