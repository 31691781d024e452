package plenzo.engine.comparing;

import java.util.List;
import org.jspecify.annotations.Nullable;
import plenzo.core.records.Row;
import plenzo.core.target.TablesDelta;

/** Names what is lost and writes nothing. */
record FittingNames(TablesDelta.TableDelta t, Fitting.Lost use) implements FittingFound {
  @Override
  public void set(Row row, String column, @Nullable String value) {}

  @Override
  public void remove(Row row) {}

  @Override
  public void bringBack(Row row) {}

  @Override
  public void lost(Losses.Sort sort, Row row, String column, @Nullable String value) {
    String key = row.header().keyColumns() == 0 ? "" : row.keyLine();
    if (!column.isEmpty()) {
      use.value(t.table(), key, column, value);
      return;
    }
    for (String name : columns(row)) {
      use.value(t.table(), key, name, row.get(row.header().position(name)));
    }
  }

  /** A row's own columns, without the marks of questions. */
  static List<String> columns(Row row) {
    return row.header().names().stream().filter(n -> n.charAt(0) != '\0').toList();
  }
}
