package plenzo.connectors.database;

import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import plenzo.connectors.database.sql.RowsSql;
import plenzo.connectors.database.sql.StructureSql;
import plenzo.core.stage.Connection.Probe;
import plenzo.core.table.StructureChange;
import plenzo.core.target.Access;
import plenzo.core.target.Changing;
import plenzo.core.target.Connector;
import plenzo.core.target.Delta;
import plenzo.core.target.Looking;
import plenzo.core.target.Scratch;
import plenzo.core.target.TargetIdentity;

/** Speaks to PostgreSQL 14 or newer. */
public final class PostgresConnector implements Connector {
  @Override
  public String sort() {
    return "postgresql";
  }

  @Override
  public List<Probe> test(
      Access access, Use use, List<String> schemas, @Nullable TargetIdentity expected) {
    return new ConnectionProbes(access, use, schemas, expected).run();
  }

  @Override
  public Looking look(Access access) {
    return new PostgresLooking(access);
  }

  @Override
  public Changing change(Access access) {
    return new PostgresChanging(access);
  }

  @Override
  public Scratch scratch(Access access) {
    return new PostgresScratch(access);
  }

  @Override
  public List<String> statements(Delta delta) {
    List<String> out = new ArrayList<>();
    delta
        .structure(StructureChange.Phase.BEFORE_ROWS)
        .forEach(c -> out.addAll(StructureSql.statements(c)));
    rows(delta, out);
    delta
        .structure(StructureChange.Phase.AFTER_ROWS)
        .forEach(c -> out.addAll(StructureSql.statements(c)));
    return out;
  }

  private static void rows(Delta delta, List<String> out) {
    List<String> deletes = new ArrayList<>();
    List<String> updates = new ArrayList<>();
    List<String> inserts = new ArrayList<>();
    for (Delta.TableDelta t : delta.tables()) {
      Delta.RowsDelta rows = t.rows();
      if (rows == null || t.result() == null) {
        continue;
      }
      String stage = "plenzo.stage";
      if (rows.removed() > 0) {
        deletes.add(
            0,
            RowsSql.delete(t.table(), rows.columns(), stage)
                + Objects.toString(count(rows.removed())));
      }
      if (rows.changed() > 0) {
        updates.add(RowsSql.update(t.table(), rows.columns(), stage) + count(rows.changed()));
      }
      if (rows.added() > 0) {
        inserts.add(RowsSql.insert(t.table(), rows.columns(), stage) + count(rows.added()));
      }
    }
    out.addAll(deletes);
    out.addAll(updates);
    out.addAll(inserts);
  }

  private static String count(long rows) {
    return " -- " + rows + (rows == 1 ? " row" : " rows");
  }
}
