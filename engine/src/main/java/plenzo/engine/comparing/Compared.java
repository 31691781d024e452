package plenzo.engine.comparing;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.Decision;
import plenzo.core.comparison.Difference;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.promotion.Promotion.ComponentResult;
import plenzo.core.records.Header;
import plenzo.core.records.RecordsComparison.RowDifference;
import plenzo.core.table.StructureComparison;
import plenzo.core.table.TableOrder;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Delta;
import plenzo.core.target.Reach;

/**
 * A finished comparison: results in memory, rows on disk.
 *
 * @param tables every table of the target's schemas as it was read
 * @param structureDrift parts of structures that the site no longer has as recorded
 * @param recordsDrift rows that it no longer has as recorded
 */
public record Compared(
    String id,
    List<ComponentResult> components,
    Map<ComponentKey, StructureComparison> structures,
    Map<TableName, TableStructure> tables,
    Map<String, Decision> decisions,
    boolean keepsWhatMoved,
    long structureDrift,
    long recordsDrift,
    List<String> driftExamples,
    ComparisonFiles files) {

  private @Nullable Decision decision(ComponentKey key, String part) {
    Decision decided = decisions.getOrDefault(key + "#" + part, decisions.get(key.toString()));
    return decided == null && keepsWhatMoved ? Decision.KEEP : decided;
  }

  /** What a run would write, in order; nothing for parts that are kept or undecided. */
  public Delta delta() {
    Map<TableName, Delta.TableDelta> out = new LinkedHashMap<>();
    Map<TableName, TableStructure> results = new LinkedHashMap<>();
    for (int n = 0; n < components.size(); n++) {
      ComponentResult c = components.get(n);
      TableName table = TableName.of(c.key().name());
      TableStructure present = tables.get(table);
      if (c.key().kind() == Kind.TABLE) {
        TableStructure result = Objects.requireNonNull(structures.get(c.key())).result();
        if (!Objects.equals(present, result)) {
          out.put(table, new Delta.TableDelta(table, present, result, null));
        }
      } else {
        Delta.RowsDelta rows = rows(n, c, present);
        if (rows.total() > 0) {
          Delta.TableDelta structure = out.get(table);
          out.put(
              table,
              structure == null
                  ? new Delta.TableDelta(table, present, present, rows)
                  : new Delta.TableDelta(table, structure.present(), structure.result(), rows));
        }
      }
    }
    out.values()
        .forEach(
            t ->
                results.put(
                    t.table(),
                    Objects.requireNonNullElse(
                        t.result(),
                        Objects.requireNonNullElse(t.present(), TableStructure.EMPTY))));
    List<Delta.TableDelta> ordered =
        TableOrder.parentsFirst(results).stream()
            .map(t -> Objects.requireNonNull(out.get(t)))
            .toList();
    return new Delta(ordered, reached(ordered));
  }

  /** What the database changes by itself when rows go. */
  private List<Delta.Reached> reached(List<Delta.TableDelta> ordered) {
    List<Delta.Reached> out = new ArrayList<>();
    for (int n = 0; n < ordered.size(); n++) {
      Delta.TableDelta t = ordered.get(n);
      if (t.rows() == null || t.present() == null || t.rows().removed() == 0) {
        continue;
      }
      for (List<Reach.Edge> path : Reach.from(t.table(), tables)) {
        Reach.Edge last = path.get(path.size() - 1);
        if (last.onDelete()) {
          out.add(
              new Delta.Reached(
                  last.hop().table(), n, path.stream().map(Reach.Edge::hop).toList()));
        }
      }
    }
    return out;
  }

  private Delta.RowsDelta rows(int n, ComponentResult c, @Nullable TableStructure present) {
    ComparisonFiles.Headers headers = files.headers(id, n);
    Header columns = headers.any();
    List<String> compared =
        columns.names().stream()
            .filter(name -> present != null && present.column(name).isPresent())
            .toList();
    long[] counts = {c.counts().removed(), c.counts().changed(), c.counts().added()};
    if (c.counts().conflict() > 0) {
      try (ComparisonFiles.Reader reader = files.read(id, n, Difference.CONFLICT, 0)) {
        for (RowDifference row = reader.next(); row != null; row = reader.next()) {
          Difference act = act(c.key(), row);
          if (act.writes()) {
            counts[act == Difference.REMOVED ? 0 : act == Difference.CHANGED ? 1 : 2]++;
          }
        }
      }
    }
    return new Delta.RowsDelta(
        columns, compared, counts[0], counts[1], counts[2], () -> new Changes(n, c.key()));
  }

  /** What is done with a row: a conflict becomes what was decided. */
  private Difference act(ComponentKey key, RowDifference row) {
    if (row.difference() != Difference.CONFLICT) {
      return row.difference();
    }
    if (decision(key, "row/" + row.any().keyLine()) != Decision.TAKE_INCOMING) {
      return Difference.KEPT;
    }
    return row.incoming() == null
        ? Difference.REMOVED
        : row.present() == null ? Difference.ADDED : Difference.CHANGED;
  }

  /** Row changes out of the files, class by class. */
  private final class Changes implements Delta.Changes {
    private final int component;
    private final ComponentKey key;
    private final List<Difference> classes =
        new ArrayList<>(
            List.of(Difference.REMOVED, Difference.CHANGED, Difference.ADDED, Difference.CONFLICT));
    private ComparisonFiles.@Nullable Reader reader;

    Changes(int component, ComponentKey key) {
      this.component = component;
      this.key = key;
    }

    @Override
    public Delta.@Nullable RowChange next() {
      while (true) {
        if (reader == null) {
          if (classes.isEmpty()) {
            return null;
          }
          reader = files.read(id, component, classes.remove(0), 0);
        }
        RowDifference row = reader.next();
        if (row == null) {
          close();
        } else {
          Difference act = act(key, row);
          if (act.writes()) {
            return new Delta.RowChange(act, row.present(), row.incoming());
          }
        }
      }
    }

    @Override
    public void close() {
      if (reader != null) {
        reader.close();
        reader = null;
      }
    }
  }
}
