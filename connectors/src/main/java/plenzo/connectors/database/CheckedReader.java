package plenzo.connectors.database;

import plenzo.core.records.Header;
import plenzo.core.records.RowReader;

/** Rows of a COPY whose count is compared with what the server says it sent. */
final class CheckedReader extends RowReader {
  private final CopyStream stream;

  CheckedReader(CopyStream stream, Header header, boolean ordered) {
    super(stream, header, ordered);
    this.stream = stream;
  }

  @Override
  protected void ended(long rows) {
    if (stream.handledRows() != rows) {
      throw new IllegalStateException(
          "The server sent " + stream.handledRows() + " rows, " + rows + " were read");
    }
  }
}
