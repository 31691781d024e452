package plenzo.connectors.database;

import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.Set;
import plenzo.connectors.database.sql.Alone;
import plenzo.connectors.database.sql.RowsSql;
import plenzo.connectors.database.sql.SwitchSql;
import plenzo.core.target.Access;
import plenzo.core.target.Changing;
import plenzo.core.target.Connector.Capability;
import plenzo.core.target.Probe;
import plenzo.core.target.Scratch;
import plenzo.core.target.TablesConnector;
import plenzo.core.target.TablesDelta;
import plenzo.core.target.TablesLooking;

/** Speaks to PostgreSQL 14 or newer. */
public final class PostgresConnector implements TablesConnector {
  @Override
  public String sort() {
    return "postgresql";
  }

  @Override
  public Set<Capability> capabilities() {
    return Set.of(Capability.SCRATCH);
  }

  @Override
  public List<Probe> test(Access access, Trial trial) {
    return new ConnectionProbes(access, trial).run();
  }

  @Override
  public TablesLooking look(Access access) {
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
  public List<String> statements(TablesDelta delta) {
    SwitchSql structure = new SwitchSql(delta, n -> STAGE);
    List<String> out = new ArrayList<>(structure.renames());
    out.addAll(structure.before());
    rows(delta, out);
    out.addAll(structure.after());
    return Alone.of(delta.parents()).in(out);
  }

  /** What people read in place of a run's own staging tables. */
  private static final String STAGE = "plenzo.stage";

  private static void rows(TablesDelta delta, List<String> out) {
    List<String> deletes = new ArrayList<>();
    List<String> updates = new ArrayList<>();
    List<String> inserts = new ArrayList<>();
    for (TablesDelta.Staged s : delta.staged()) {
      TablesDelta.TableDelta t = s.table();
      TablesDelta.RowsDelta rows = s.rows();
      if (t.result() == null) {
        continue;
      }
      if (rows.removed() > 0) {
        deletes.add(
            0, RowsSql.delete(t.table(), rows, STAGE) + Objects.toString(count(rows.removed())));
      }
      if (rows.changed() > 0) {
        updates.add(RowsSql.update(t.table(), rows, STAGE) + count(rows.changed()));
      }
      if (rows.added() > 0) {
        inserts.add(RowsSql.insert(t.table(), rows, STAGE) + count(rows.added()));
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
