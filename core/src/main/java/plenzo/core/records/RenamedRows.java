package plenzo.core.records;

import java.io.InputStream;
import org.jspecify.annotations.Nullable;

/** The rows of another reader under other names of their columns. */
public final class RenamedRows extends RowReader {
  private final RowReader of;

  /**
   * @param of closed with this one
   * @param header the same columns, named otherwise
   */
  public RenamedRows(RowReader of, Header header) {
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
