package plenzo.core.records;

import java.io.InputStream;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import plenzo.core.table.Renaming;

/** The rows of another reader under other names of their columns. */
public final class RenamedRows extends RowReader {
  private final RowReader of;

  /**
   * Rows with the names of afterwards; the very same where none of their columns has another.
   *
   * @param rows closed with the answer
   * @param names from those before
   */
  public static RowReader of(RowReader rows, Map<String, String> names) {
    return names.isEmpty() ? rows : new RenamedRows(rows, Renaming.header(rows.header(), names));
  }

  private RenamedRows(RowReader of, Header header) {
    super(InputStream.nullInputStream(), header, /* ordered= */ false);
    this.of = of;
  }

  @Override
  public @Nullable Row next() {
    Row row = of.next();
    return row == null ? null : new Row(header(), row.raw());
  }

  @Override
  public long count() {
    return of.count();
  }

  @Override
  public boolean mayNameLong() {
    return of.mayNameLong();
  }

  @Override
  public LongValues longValues() {
    return of.longValues();
  }

  @Override
  public void close() {
    of.close();
  }
}
