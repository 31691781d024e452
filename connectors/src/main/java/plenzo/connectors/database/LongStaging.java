package plenzo.connectors.database;

import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;
import plenzo.connectors.database.sql.Alone;
import plenzo.connectors.database.sql.LongSql;
import plenzo.connectors.database.sql.StageSql;
import plenzo.core.component.TableName;
import plenzo.core.records.LongValue;
import plenzo.core.table.Renaming;
import plenzo.core.target.TablesDelta;

/**
 * Long values of rows that are put beside a table: what is new comes in parts, what stays is taken
 * out of the table itself. Not for threads.
 */
final class LongStaging {
  private final Connection connection;
  private final TablesDelta.RowsDelta rows;
  private final TableName table;
  private final Map<String, String> before;
  private final Set<String> sameType = new TreeSet<>();
  private final LongLoading coming;

  /** What stands for a value that stays. */
  private final String staying;

  private final Set<Integer> kept = new TreeSet<>();

  LongStaging(
      Connection connection,
      TablesDelta.RowsDelta rows,
      TablesDelta.TableDelta of,
      Renaming renaming,
      String parts,
      String mark) {
    this.connection = connection;
    this.rows = rows;
    this.table = renaming.before(of.table());
    this.before = renaming.inverse().columns(table);
    this.coming = new LongLoading(connection, parts, mark);
    this.staying = mark + "stays";
    if (of.present() != null) {
      of.present()
          .columns()
          .forEach(
              c -> {
                int at = rows.columns().position(c.name());
                if (at >= 0 && rows.columns().types().get(at).equals(c.type())) {
                  sameType.add(c.name());
                }
              });
    }
  }

  /** A new value as it is staged, for the time being. */
  @Nullable String next(int at, @Nullable String value, @Nullable String present) {
    LongValue longOne = LongValue.of(value).orElse(null);
    if (longOne == null) {
      return value;
    }
    if (StageSql.isPacked(rows.columns())) {
      throw new IllegalArgumentException(
          "A table of so many columns cannot get a long value: " + longOne);
    }
    String type = rows.columns().types().get(at);
    boolean stays = value.equals(present) && sameType.contains(rows.columns().names().get(at));
    if (stays) {
      kept.add(at);
      return LongSql.placeholder(longOne, type, staying);
    }
    return coming.placeholder(longOne, "n" + at, type);
  }

  /** An expected value as it is staged. */
  @Nullable String expected(@Nullable String value) {
    return LongValue.of(value).map(LongSql::expected).orElse(value);
  }

  /** Puts them in their places, after the rows were loaded. */
  void fill(String stage) throws SQLException {
    coming.fill(stage, rows.source().longValues());
    if (kept.isEmpty()) {
      return;
    }
    Alone alone = Sessions.alone(connection);
    try (Statement s = connection.createStatement()) {
      for (int at : kept) {
        String name = rows.columns().names().get(at);
        s.execute(
            alone.in(
                LongSql.keep(
                    table, before.getOrDefault(name, name), rows, at, before, stage, staying)));
      }
    }
  }
}
