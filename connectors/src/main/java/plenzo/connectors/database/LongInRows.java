package plenzo.connectors.database;

import java.io.DataInputStream;
import java.io.EOFException;
import java.io.IOException;
import java.io.InputStream;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.postgresql.PGConnection;
import plenzo.connectors.database.sql.Alone;
import plenzo.connectors.database.sql.LongSql;
import plenzo.core.component.TableName;
import plenzo.core.records.CanonicalCsv;
import plenzo.core.records.Header;
import plenzo.core.records.LongValue;
import plenzo.core.records.LongValues;
import plenzo.core.records.Row;

/**
 * The long values of rows that are read: named in their rows, and read by themselves once the COPY
 * of the rows has ended, in the same transaction.
 */
final class LongInRows implements LongValues {
  private final Connection connection;
  private final Alone alone;
  private final TableName table;
  private final Header header;
  private final Map<LongValue, Place> places = new HashMap<>();

  /** A column of a row. */
  private record Place(int column, String row) {}

  /**
   * @param header of the rows as they are given on
   */
  LongInRows(Connection connection, Alone alone, TableName table, Header header) {
    this.connection = connection;
    this.alone = alone;
    this.table = table;
    this.header = header;
  }

  /** A row as the server sent it, without its last field, which says what is long. */
  Row read(Row sent) {
    byte[] raw = sent.raw();
    if (raw[raw.length - 1] == ',') {
      return Row.of(header, java.util.Arrays.copyOf(raw, raw.length - 1));
    }
    List<@Nullable String> fields = CanonicalCsv.fields(raw);
    String[] said = String.valueOf(fields.remove(fields.size() - 1)).split(" ", -1);
    for (int n = 1; n < said.length; n++) {
      String[] one = said[n].split(":", 2);
      int column = Integer.parseInt(one[0]);
      LongValue value = LongValue.named(one[1]);
      places.putIfAbsent(value, new Place(column, said[0]));
      fields.set(column, value.name());
    }
    return Row.of(header, fields);
  }

  @Override
  public Optional<InputStream> open(LongValue value) {
    Place place = places.get(value);
    if (place == null) {
      return Optional.empty();
    }
    String sql =
        LongSql.read(
            table, header.names().get(place.column), header.types().get(place.column), place.row);
    try {
      return Optional.of(
          new Parts(
              new CopyStream(
                  connection.unwrap(PGConnection.class).getCopyAPI().copyOut(alone.in(sql)))));
    } catch (SQLException e) {
      throw Sessions.failed("Cannot read a long value of " + table, e);
    }
  }

  /** The parts of a COPY in binary form, one after the other. */
  private static final class Parts extends InputStream {
    private static final int SIGNATURE = 11;

    private final DataInputStream in;
    private boolean begun;
    private boolean ended;
    private int left;

    Parts(CopyStream stream) {
      this.in = new DataInputStream(stream);
    }

    /** Whether there is another byte. */
    private boolean more() throws IOException {
      if (!begun) {
        in.skipNBytes(SIGNATURE + Integer.BYTES);
        in.skipNBytes(in.readInt());
        begun = true;
      }
      while (left == 0 && !ended) {
        ended = in.readShort() < 0;
        left = ended ? 0 : in.readInt();
      }
      return !ended;
    }

    @Override
    public int read() throws IOException {
      byte[] one = new byte[1];
      return read(one, 0, 1) < 0 ? -1 : one[0] & 0xff;
    }

    @Override
    public int read(byte[] to, int offset, int length) throws IOException {
      if (length == 0) {
        return 0;
      }
      if (!more()) {
        return -1;
      }
      int n = in.read(to, offset, Math.min(length, left));
      if (n < 0) {
        throw new EOFException("A long value broke off");
      }
      left -= n;
      return n;
    }

    @Override
    public void close() throws IOException {
      in.close();
    }
  }
}
