package plenzo.connectors.database;

import java.io.IOException;
import java.io.InputStream;
import java.sql.SQLException;
import org.jspecify.annotations.Nullable;
import org.postgresql.copy.CopyOut;

/**
 * A COPY as a stream. Closed early, it is read to its end: to cancel it would end the look's
 * transaction, or hit the next statement where the server had sent all of it. Only one of which
 * very much is left is cancelled, and nothing can be asked in its session after that.
 */
final class CopyStream extends InputStream {
  /** What is read on at most: 256 MiB (guess: a second or two). */
  private static final long MOST_READ_ON = 256L << 20;

  private final CopyOut copy;
  private byte @Nullable [] chunk;
  private int at;
  private long rows;
  private boolean ended;

  CopyStream(CopyOut copy) {
    this.copy = copy;
  }

  private boolean fill() throws IOException {
    while (!ended && (chunk == null || at >= chunk.length)) {
      try {
        chunk = copy.readFromCopy();
      } catch (SQLException e) {
        throw new IOException("The server broke off the rows: " + e.getMessage(), e);
      }
      at = 0;
      if (chunk == null) {
        rows = copy.getHandledRowCount();
        ended = true;
      }
    }
    return !ended;
  }

  /** How many rows the server says it sent, once the end was read. */
  long handledRows() {
    return rows;
  }

  @Override
  public int read() throws IOException {
    byte[] one = new byte[1];
    return read(one, 0, 1) < 0 ? -1 : one[0] & 0xff;
  }

  @Override
  public int read(byte[] target, int offset, int length) throws IOException {
    int done = 0;
    while (done < length) {
      if (done > 0 && (chunk == null || at >= chunk.length) && done > length / 2) {
        break;
      }
      if (!fill() || chunk == null) {
        return done == 0 ? -1 : done;
      }
      int n = Math.min(length - done, chunk.length - at);
      System.arraycopy(chunk, at, target, offset + done, n);
      at += n;
      done += n;
    }
    return done;
  }

  @Override
  public void close() throws IOException {
    for (long on = 0; copy.isActive() && on < MOST_READ_ON; ) {
      chunk = null;
      if (!fill()) {
        return;
      }
      on += chunk == null ? 0 : chunk.length;
    }
    if (copy.isActive()) {
      try {
        copy.cancelCopy();
      } catch (SQLException e) {
        throw new IOException("The COPY could not be ended", e);
      }
    }
  }
}
