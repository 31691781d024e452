package plenzo.store;

import java.sql.CallableStatement;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Instant;
import org.apache.ibatis.type.BaseTypeHandler;
import org.apache.ibatis.type.JdbcType;

/** Times of history are stored as the very RFC 3339 text that their hash covers. */
public final class InstantText extends BaseTypeHandler<Instant> {
  @Override
  public void setNonNullParameter(PreparedStatement s, int i, Instant value, JdbcType type)
      throws SQLException {
    s.setString(i, value.toString());
  }

  @Override
  public Instant getNullableResult(ResultSet r, String column) throws SQLException {
    return Instant.parse(r.getString(column));
  }

  @Override
  public Instant getNullableResult(ResultSet r, int column) throws SQLException {
    return Instant.parse(r.getString(column));
  }

  @Override
  public Instant getNullableResult(CallableStatement s, int column) throws SQLException {
    return Instant.parse(s.getString(column));
  }
}
