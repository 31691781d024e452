package plenzo.connectors.database;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import plenzo.connectors.database.sql.MarkerSql;
import plenzo.core.target.Leftover;

/** Tables, indexes and databases that runs left, told by their names. */
final class Leftovers {
  private static final Pattern NAME =
      Pattern.compile(
          "(stage|before|finish|plenzo_early|plenzo_scratch|plenzo_rehearsal)_(\\d+).*");

  private Leftovers() {}

  /** Tables of Plenzo's own schema, but the marker's, and indexes that were built before. */
  static List<Leftover> tables(Connection connection) throws SQLException {
    return read(connection, MarkerSql.LEFTOVERS);
  }

  static List<Leftover> databases(Connection server) throws SQLException {
    return read(server, MarkerSql.SCRATCHES);
  }

  private static List<Leftover> read(Connection connection, String sql) throws SQLException {
    List<Leftover> out = new ArrayList<>();
    try (Statement s = connection.createStatement();
        ResultSet r = s.executeQuery(sql)) {
      while (r.next()) {
        String name = r.getString(1);
        Matcher m = NAME.matcher(name);
        if (m.matches()) {
          long bytes = r.getLong(2);
          out.add(
              new Leftover(sort(m.group(1)), name, run(m.group(2)), r.wasNull() ? null : bytes));
        }
      }
    }
    return out;
  }

  private static Leftover.Sort sort(String prefix) {
    return switch (prefix) {
      case "stage", "finish", "plenzo_early" -> Leftover.Sort.PREPARED;
      case "before" -> Leftover.Sort.BEFORE;
      case "plenzo_rehearsal" -> Leftover.Sort.REHEARSAL;
      default -> Leftover.Sort.SCRATCH;
    };
  }

  /** A number that no run has, when somebody made up a longer one. */
  private static long run(String digits) {
    return digits.length() > 18 ? 0 : Long.parseLong(digits);
  }
}
