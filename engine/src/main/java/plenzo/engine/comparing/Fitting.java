package plenzo.engine.comparing;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.Difference;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.TableName;
import plenzo.core.records.RecordsComparison.RowDifference;
import plenzo.core.target.TablesDelta;
import plenzo.core.target.TablesLooking;

/**
 * Makes rows fit an earlier structure (rules H). What a later version dropped comes back by key out
 * of the backups of the runs since. Of what the structure cannot hold, the value before the run
 * comes back, or there is none, or the column's default; else the row goes. Each such value is
 * loss, counted and named. Rows that the version writes itself are left to it.
 */
public final class Fitting {
  private final ComparisonFiles files;
  private final TablesLooking looking;
  private final Compared compared;
  private final TablesDelta delta;
  private final Supplier<? extends List<? extends Before>> before;
  private @Nullable List<? extends Before> since;

  /**
   * @param compared of the way back, without what is found here
   * @param before what was there before each run since the version, the newest first; asked once,
   *     and only when a structure changes
   */
  public Fitting(
      ComparisonFiles files,
      TablesLooking looking,
      Compared compared,
      Supplier<? extends List<? extends Before>> before) {
    this.files = files;
    this.looking = looking;
    this.compared = compared;
    this.delta = compared.written();
    this.before = before;
  }

  /** Takes what is lost, value by value. */
  public interface Lost {
    /**
     * @param key the row's key line, empty where rows have none
     */
    void value(TableName table, String key, String column, @Nullable String value);
  }

  /** Writes the rows to the comparison's files; the comparison with them. */
  public Compared fit() {
    List<Fitted> out = new ArrayList<>();
    int[] place = {compared.components().size()};
    for (TablesDelta.TableDelta t : tables()) {
      FittingRows rows = new FittingRows(files, compared.id(), t, place);
      Optional<FittingTable> one = FittingTable.of(this, t);
      if (one.isPresent()) {
        try (rows) {
          one.get().walk(rows);
        }
        out.add(rows.fitted(one.get().settled()));
      }
    }
    return compared.with(out);
  }

  /** Names everything that is lost. */
  public void lost(Lost use) {
    for (TablesDelta.TableDelta t : tables()) {
      FittingTable.of(this, t).ifPresent(one -> one.walk(new FittingNames(t, use)));
    }
  }

  private List<TablesDelta.TableDelta> tables() {
    return delta.tables().stream().filter(t -> t.structureChanges() && t.result() != null).toList();
  }

  TablesLooking looking() {
    return looking;
  }

  Compared compared() {
    return compared;
  }

  TablesDelta delta() {
    return delta;
  }

  List<? extends Before> since() {
    if (since == null) {
      since = before.get();
    }
    return since;
  }

  /** Rows that the version writes or removes itself. */
  Alongside own(ComponentKey records) {
    int n = -1;
    for (int i = 0; i < compared.components().size(); i++) {
      n = compared.components().get(i).key().equals(records) ? i : n;
    }
    if (n < 0) {
      return Alongside.of(null);
    }
    int place = n;
    ComparisonFiles.Merged all =
        files.merged(
            compared.id(),
            place,
            List.of(Difference.REMOVED, Difference.CHANGED, Difference.ADDED, Difference.CONFLICT));
    return new Alongside(
        () -> {
          RowDifference d = all.next();
          while (d != null && !compared.act(records, d).writes()) {
            d = all.next();
          }
          return d == null ? null : d.any();
        },
        all::close);
  }
}
