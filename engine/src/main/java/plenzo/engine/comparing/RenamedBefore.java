package plenzo.engine.comparing;

import java.util.Optional;
import plenzo.core.component.TableName;
import plenzo.core.records.LongValues;
import plenzo.core.records.RenamedRows;
import plenzo.core.table.Renaming;

/** Tables as they were before a run, by names that they and their columns did not have then. */
public final class RenamedBefore implements Before {
  private final Before before;
  private final Renaming names;

  private RenamedBefore(Before before, Renaming names) {
    this.before = before;
    this.names = names;
  }

  /**
   * @param names from those that they had then
   */
  public static Before of(Before before, Renaming names) {
    return names.isEmpty() ? before : new RenamedBefore(before, names);
  }

  @Override
  public LongValues longValues() {
    return before.longValues();
  }

  @Override
  public Optional<Table> table(TableName name) {
    TableName then = names.before(name);
    var columns = names.columns(name);
    return before
        .table(then)
        .map(
            t ->
                new Table(
                    names.of(then, t.structure()),
                    Renaming.names(t.key(), columns),
                    () -> RenamedRows.of(t.rows().get(), columns)));
  }
}
