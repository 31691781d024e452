package plenzo.connectors.database;

import java.io.BufferedOutputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.Map;
import java.util.Set;
import org.postgresql.PGConnection;
import org.postgresql.copy.CopyIn;
import plenzo.connectors.database.sql.LongSql;
import plenzo.core.records.BehindRows;
import plenzo.core.records.LongValue;
import plenzo.core.records.LongValues;

/**
 * Long values on their way into a table: rows are loaded with something that stands for each, the
 * parts of each value are loaded beside them, and the server puts them together. Not for threads.
 */
final class LongLoading {
  private final Connection connection;
  private final String parts;
  private final Set<LongValue> values = new LinkedHashSet<>();
  private final Map<String, String> columns = new LinkedHashMap<>();
  private final String mark;

  /**
   * @param parts name of a table that is made for the parts and dropped again
   * @param mark that no value has
   */
  LongLoading(Connection connection, String parts, String mark) {
    this.connection = connection;
    this.parts = parts;
    this.mark = mark;
  }

  /** Asks the server for a mark that no value has. */
  static String mark(Connection connection) throws SQLException {
    try (Statement s = connection.createStatement();
        ResultSet r = s.executeQuery(LongSql.MARK)) {
      r.next();
      return r.getString(1);
    }
  }

  /** What is loaded for a value that is put together later. */
  String placeholder(LongValue value, String column, String type) {
    values.add(value);
    columns.put(column, type);
    return LongSql.placeholder(value, type, mark);
  }

  /** Puts the values in their places, after the rows were loaded. */
  void fill(String table, LongValues from) throws SQLException {
    if (values.isEmpty()) {
      return;
    }
    try (Statement s = connection.createStatement()) {
      s.execute("DROP TABLE IF EXISTS " + parts);
      s.execute(LongSql.createParts(parts));
      CopyIn copy =
          connection.unwrap(PGConnection.class).getCopyAPI().copyIn(LongSql.copyParts(parts));
      try {
        load(copy, from);
      } finally {
        if (copy.isActive()) {
          copy.cancelCopy();
        }
      }
      s.execute(LongSql.index(parts));
      s.execute("ANALYZE " + parts);
      s.execute(LongSql.fill(table, columns, parts, mark));
      s.execute("DROP TABLE " + parts);
    }
  }

  private void load(CopyIn copy, LongValues from) throws SQLException {
    try (DataOutputStream out =
        new DataOutputStream(new BufferedOutputStream(new ToCopy(copy), 1 << 16))) {
      out.write(new byte[] {'P', 'G', 'C', 'O', 'P', 'Y', '\n', (byte) 0xff, '\r', '\n', 0});
      out.writeInt(0);
      out.writeInt(0);
      for (LongValue v : values) {
        Cut cut = new Cut(out, v.digest().hex().getBytes(StandardCharsets.US_ASCII));
        BehindRows.copy(v, from, cut);
        cut.end();
      }
      out.writeShort(-1);
    } catch (IOException e) {
      if (e.getCause() instanceof SQLException broken) {
        throw broken;
      }
      throw new UncheckedIOException("A long value could not be read", e);
    }
    copy.endCopy();
  }

  /** Cuts what is written into parts, each a row of the COPY. */
  private static final class Cut extends OutputStream {
    private final DataOutputStream out;
    private final byte[] digest;
    private final byte[] part = new byte[LongSql.PART];
    private int length;
    private int n;

    Cut(DataOutputStream out, byte[] digest) {
      this.out = out;
      this.digest = digest;
    }

    @Override
    public void write(int b) throws IOException {
      write(new byte[] {(byte) b}, 0, 1);
    }

    @Override
    public void write(byte[] some, int from, int count) throws IOException {
      int done = 0;
      while (done < count) {
        int now = Math.min(count - done, part.length - length);
        System.arraycopy(some, from + done, part, length, now);
        done += now;
        length += now;
        if (length == part.length) {
          end();
        }
      }
    }

    void end() throws IOException {
      if (length == 0) {
        return;
      }
      out.writeShort(3);
      out.writeInt(digest.length);
      out.write(digest);
      out.writeInt(Integer.BYTES);
      out.writeInt(n++);
      out.writeInt(length);
      out.write(part, 0, length);
      length = 0;
    }
  }

  /** Sends what is written. */
  private static final class ToCopy extends OutputStream {
    private final CopyIn copy;

    ToCopy(CopyIn copy) {
      this.copy = copy;
    }

    @Override
    public void write(int b) throws IOException {
      write(new byte[] {(byte) b}, 0, 1);
    }

    @Override
    public void write(byte[] some, int from, int count) throws IOException {
      try {
        copy.writeToCopy(some, from, count);
      } catch (SQLException e) {
        throw new IOException("The server refused a long value", e);
      }
    }
  }
}
