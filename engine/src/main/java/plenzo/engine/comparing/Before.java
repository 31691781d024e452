package plenzo.engine.comparing;

import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;
import plenzo.core.component.TableName;
import plenzo.core.records.LongValues;
import plenzo.core.records.RowReader;
import plenzo.core.table.TableStructure;

/** Tables as they were before a run. */
public interface Before {
  /** A table that the run touched and that was there; empty of any other. */
  Optional<Table> table(TableName name);

  /** Where long values are that rows of such tables name. */
  LongValues longValues();

  /**
   * @param key by which its rows are told apart and ordered; empty when they cannot be
   * @param rows opens all of them with all columns
   */
  record Table(TableStructure structure, List<String> key, Supplier<RowReader> rows) {}
}
