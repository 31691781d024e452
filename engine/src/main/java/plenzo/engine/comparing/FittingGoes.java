package plenzo.engine.comparing;

import org.jspecify.annotations.Nullable;
import plenzo.core.records.Row;

/** Takes the rows that go, and nothing else. */
@FunctionalInterface
interface FittingGoes extends FittingFound {
  @Override
  void remove(Row row);

  @Override
  default void set(Row row, String column, @Nullable String value) {}

  @Override
  default void bringBack(Row row) {}

  @Override
  default void lost(Losses.Sort sort, Row row, String column, @Nullable String value) {}
}
