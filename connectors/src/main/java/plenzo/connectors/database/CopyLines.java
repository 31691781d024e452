package plenzo.connectors.database;

import java.sql.SQLException;
import org.postgresql.copy.CopyIn;

/**
 * Lines on their way into a table: sent by the many, as each call to the driver is a message of its
 * own. Not for threads.
 */
final class CopyLines implements AutoCloseable {
  private final CopyIn copy;
  private final byte[] buffer = new byte[1 << 16];
  private int filled;

  /**
   * @param copy that has begun; closing this before {@link #end} takes back what was sent
   */
  CopyLines(CopyIn copy) {
    this.copy = copy;
  }

  /** One line without its end. */
  void add(byte[] line) throws SQLException {
    if (line.length + 1 > buffer.length - filled) {
      send();
    }
    if (line.length + 1 > buffer.length) {
      copy.writeToCopy(line, 0, line.length);
    } else {
      System.arraycopy(line, 0, buffer, filled, line.length);
      filled += line.length;
    }
    buffer[filled++] = '\n';
  }

  private void send() throws SQLException {
    if (filled > 0) {
      copy.writeToCopy(buffer, 0, filled);
      filled = 0;
    }
  }

  /** Everything is sent, and the table has it. */
  void end() throws SQLException {
    send();
    copy.endCopy();
  }

  @Override
  public void close() throws SQLException {
    if (copy.isActive()) {
      copy.cancelCopy();
    }
  }
}
