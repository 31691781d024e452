package plenzo.store;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.Objects;

/**
 * The tables of the records, by number. Each script leads from one number to the next and is never
 * changed once it was released. H2 commits each statement that changes a table, so a script may be
 * cut off half way: each can be run again, and its number is written when all of it was.
 */
final class Schema {
  /** The number of this Plenzo. */
  static final int NUMBER = 15;

  private static final String FACT = "schema";

  private final Connection connection;
  private final Path folder;

  /**
   * @param folder where the records lie
   */
  Schema(Connection connection, Path folder) {
    this.connection = connection;
    this.folder = folder;
  }

  /**
   * Brings the tables to this Plenzo's number; records that are there are copied aside before.
   *
   * @throws IllegalStateException when a newer Plenzo wrote them: nothing is changed then
   */
  void bringUp() throws SQLException {
    int there = number();
    if (there > NUMBER) {
      throw new IllegalStateException(
          "The records in "
              + folder
              + " have schema "
              + there
              + " and this Plenzo knows schemas up to "
              + NUMBER
              + ": a newer Plenzo wrote them. Start that one, or put back the copy of before (records-before-schema-…zip).");
    }
    if (there == NUMBER) {
      return;
    }
    if (there > 0 || isThere()) {
      copyAside(there);
    }
    for (int next = there + 1; next <= NUMBER; next++) {
      run(next);
    }
  }

  /** 0 when there are no records, or those of 0.1.0, which have no number. */
  private int number() throws SQLException {
    if (!isThere()) {
      return 0;
    }
    try (Statement s = connection.createStatement();
        ResultSet r = s.executeQuery("SELECT text FROM fact WHERE name = '" + FACT + "'")) {
      return r.next() ? Integer.parseInt(r.getString(1)) : 0;
    }
  }

  private boolean isThere() throws SQLException {
    try (Statement s = connection.createStatement();
        ResultSet r =
            s.executeQuery("SELECT 1 FROM INFORMATION_SCHEMA.TABLES WHERE TABLE_NAME = 'FACT'")) {
      return r.next();
    }
  }

  private void copyAside(int there) throws SQLException {
    Path copy = folder.resolve("records-before-schema-" + (there + 1) + ".zip");
    try (PreparedStatement s = connection.prepareStatement("BACKUP TO ?")) {
      s.setString(1, copy.toAbsolutePath().toString());
      s.execute();
    }
  }

  private void run(int number) throws SQLException {
    String name = "schema/" + number + ".sql";
    try (InputStream in = Schema.class.getResourceAsStream(name);
        Statement s = connection.createStatement()) {
      String script =
          new String(Objects.requireNonNull(in, name).readAllBytes(), StandardCharsets.UTF_8);
      s.execute(script);
      if (number == 7) {
        LegsFromStages.bring(connection);
      }
      s.execute(
          "MERGE INTO fact (name, text) KEY (name) VALUES ('" + FACT + "', '" + number + "')");
    } catch (IOException e) {
      throw new UncheckedIOException(name + " cannot be read", e);
    }
  }
}
