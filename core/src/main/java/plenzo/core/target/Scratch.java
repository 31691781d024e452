package plenzo.core.target;

import java.util.List;
import plenzo.core.component.TableName;
import plenzo.core.digest.Digest;
import plenzo.core.records.RowReader;
import plenzo.core.table.TableStructure;

/** A place where a backup is restored to prove it. One thread. */
public interface Scratch extends Session {
  /** Makes an empty place for the run, taking away a leftover of the same run first. */
  void open(long run);

  /**
   * Restores tables and reads them again.
   *
   * @param tables in an order in which references are met
   * @return for each table what stands there now
   */
  List<Restored> restore(List<Source> tables);

  /** Places that runs left. */
  List<Leftover> leftovers();

  /** Takes the place away; repeatable. */
  void drop(long run);

  /** One table of a backup. */
  record Source(TableName table, TableStructure structure, Rows rows) {}

  /** Opens the rows of a backup. */
  interface Rows {
    RowReader open();
  }

  /** What was read back. */
  record Restored(TableName table, TableStructure structure, long rows, Digest sum) {}
}
