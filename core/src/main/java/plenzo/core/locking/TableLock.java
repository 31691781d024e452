package plenzo.core.locking;

import java.util.List;

/**
 * One table that a switch holds.
 *
 * @param table as {@code schema.table}
 * @param because what it is held for, in words, each said once
 */
public record TableLock(String table, Hold hold, List<String> because) {
  public TableLock {
    because = List.copyOf(because);
  }
}
