package plenzo.core.records;

import java.io.InputStream;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * Rows of an earlier version, together with rows that were there beside it before a later one
 * brought the same ones: what a run did not make it does not take away. All three are read in the
 * order of their key, which is the same.
 */
public final class WithEarlierRows extends RowReader {
  private final RowReader rows;
  private final RowReader later;
  private final RowReader before;
  private final boolean all;
  private @Nullable Row row;
  private @Nullable Row brought;
  private @Nullable Row was;

  /**
   * @param rows of the earlier version; its columns are those of the result
   * @param later rows of the later version: only what it has too is added
   * @param before everything that was there when the earlier version was
   * @param all whether what the later version has not is added too: it was taken away
   */
  public WithEarlierRows(RowReader rows, RowReader later, RowReader before, boolean all) {
    super(InputStream.nullInputStream(), rows.header(), /* ordered= */ false);
    this.rows = rows;
    this.later = later;
    this.before = before;
    this.all = all;
    row = rows.next();
    brought = later.next();
    was = before.next();
  }

  @Override
  public @Nullable Row next() {
    while (was != null && !isAdded(was)) {
      was = before.next();
    }
    Row added = was;
    if (row == null || added != null && added.compareKey(row) < 0) {
      was = added == null ? null : before.next();
      return added == null ? null : asRow(added);
    }
    Row out = row;
    row = rows.next();
    return out;
  }

  /** Whether the earlier version has no such row and the later one does. */
  private boolean isAdded(Row candidate) {
    if (row != null && row.compareKey(candidate) == 0) {
      return false;
    }
    if (all) {
      return true;
    }
    while (brought != null && brought.compareKey(candidate) < 0) {
      brought = later.next();
    }
    return brought != null && brought.compareKey(candidate) == 0;
  }

  private Row asRow(Row other) {
    List<@Nullable String> fields = new ArrayList<>();
    for (String name : header().names()) {
      int at = other.header().position(name);
      fields.add(at < 0 ? null : other.get(at));
    }
    return Row.of(header(), fields);
  }

  @Override
  public LongValues longValues() {
    return rows.longValues().or(before.longValues());
  }

  @Override
  public void close() {
    rows.close();
    later.close();
    before.close();
  }
}
