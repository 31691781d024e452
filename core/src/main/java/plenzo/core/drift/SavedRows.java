package plenzo.core.drift;

import java.util.List;
import plenzo.core.component.TableName;
import plenzo.core.digest.Digest;

/**
 * Rows of one table that were saved before they were lost, as they are to be there again.
 *
 * @param key columns by which they are told apart
 * @param rows digest of them as canonical content
 * @param count how many
 */
public record SavedRows(TableName table, List<String> key, Digest rows, long count) {
  public SavedRows {
    key = List.copyOf(key);
  }
}
