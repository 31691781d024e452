package plenzo.connectors.database;

import org.jspecify.annotations.Nullable;
import plenzo.core.records.Header;
import plenzo.core.records.LongValues;
import plenzo.core.records.Row;
import plenzo.core.records.RowReader;

/** Rows of a COPY whose count is compared with what the server says it sent. */
final class CheckedReader extends RowReader {
  private final CopyStream stream;
  private final @Nullable LongInRows longOnes;

  /**
   * @param longOnes where lines say which values are long, in a last field
   */
  CheckedReader(CopyStream stream, Header header, boolean ordered, @Nullable LongInRows longOnes) {
    super(stream, header, ordered);
    this.stream = stream;
    this.longOnes = longOnes;
  }

  @Override
  protected int fields() {
    return super.fields() + (longOnes == null ? 0 : 1);
  }

  @Override
  protected Row read(Row row) {
    return longOnes == null ? row : longOnes.read(row);
  }

  @Override
  public boolean mayNameLong() {
    return longOnes != null;
  }

  @Override
  public LongValues longValues() {
    return longOnes == null ? LongValues.NONE : longOnes;
  }

  @Override
  protected void ended(long rows) {
    if (stream.handledRows() != rows) {
      throw new IllegalStateException(
          "The server sent " + stream.handledRows() + " rows, " + rows + " were read");
    }
  }
}
