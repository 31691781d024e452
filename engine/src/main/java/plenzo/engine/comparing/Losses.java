package plenzo.engine.comparing;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Objects;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.Difference;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.digest.Digest;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.records.CanonicalCsv;
import plenzo.core.records.Header;
import plenzo.core.records.RecordsComparison;
import plenzo.core.records.RecordsComparison.RowDifference;
import plenzo.core.records.Row;
import plenzo.core.records.RowReader;
import plenzo.core.table.StructureChange;
import plenzo.core.target.Delta;
import plenzo.core.target.Looking;
import plenzo.core.target.Question;

/** Counts what people wrote that a way back would take away. */
public final class Losses {
  /**
   * Own rows are remembered by digest up to here; a larger run's own rows count as not known to be
   * its own.
   */
  private static final int MOST_OWN = 300_000;

  private final ComparisonFiles files;

  public Losses(ComparisonFiles files) {
    this.files = files;
  }

  /**
   * What would be lost.
   *
   * @param lines the lost rows as CSV lines with their table in front, at most 10,000
   */
  public record Lost(long rows, String sentence, @Nullable String query, List<String> lines) {}

  /**
   * @param run the promotion whose run is being undone, to tell its own rows from others'
   */
  public Lost count(
      Promotion p,
      Compared compared,
      Delta delta,
      Looking looking,
      Incoming incoming,
      @Nullable Promotion run) {
    return p.way() == Plan.Way.BACKUP
        ? writtenSince(compared, run)
        : dropped(compared, delta, looking, incoming);
  }

  /** Values in columns and rows in tables that the version being left created. */
  private static Lost dropped(Compared compared, Delta delta, Looking looking, Incoming incoming) {
    long rows = 0;
    List<String> what = new ArrayList<>();
    String query = null;
    for (Delta.TableDelta t : delta.tables()) {
      for (StructureChange c : StructureChange.between(t.table(), t.present(), t.result())) {
        Question q =
            switch (c.act()) {
              case DROP_COLUMN -> Question.of(Question.Type.FILLED, t.table(), c.name());
              case DROP_TABLE -> Question.of(Question.Type.ROWS, t.table());
              default -> null;
            };
        if (q == null) {
          continue;
        }
        Question.Answer a = looking.answer(q);
        long own = ownValues(compared, t, c.name(), looking, incoming);
        long lost = Math.max(0, a.count() - own);
        if (lost > 0) {
          rows += lost;
          query = a.query();
          what.add(
              lost
                  + (c.name().isEmpty()
                      ? " rows of " + t.table()
                      : " values of " + t.table() + "." + c.name()));
        }
      }
    }
    return new Lost(
        rows,
        rows == 0 ? "Nothing is lost." : String.join(" and ", what) + " would be lost.",
        query,
        List.of());
  }

  /**
   * Values (or rows, for a dropped table) that are still as the version being left brought them.
   */
  private static long ownValues(
      Compared compared, Delta.TableDelta t, String column, Looking looking, Incoming incoming) {
    ComponentKey key = new ComponentKey(Kind.RECORDS, t.table().componentName());
    if (compared.components().stream().noneMatch(c -> c.key().equals(key))) {
      return 0;
    }
    long[] own = {0};
    try (RowReader base = incoming.baseRows(key);
        RowReader present =
            base == null
                ? null
                : looking.rows(incoming.records(key), Set.copyOf(base.header().names()))) {
      RecordsComparison.Each each =
          (was, is) -> {
            int a = was.header().position(column);
            int b = is.header().position(column);
            boolean same =
                column.isEmpty()
                    ? was.sameIn(was.header(), is)
                    : a >= 0
                        && b >= 0
                        && was.get(a) != null
                        && Objects.equals(was.get(a), is.get(b));
            own[0] += same ? 1 : 0;
          };
      RecordsComparison.pairs(base, present, each);
    }
    return own[0];
  }

  private Lost writtenSince(Compared compared, @Nullable Promotion run) {
    long rows = 0;
    List<String> lines = new ArrayList<>();
    List<String> what = new ArrayList<>();
    for (int n = 0; n < compared.components().size(); n++) {
      ComponentKey key = compared.components().get(n).key();
      if (key.kind() != Kind.RECORDS) {
        continue;
      }
      Own own = own(run, key);
      long here = 0;
      for (Difference d : List.of(Difference.REMOVED, Difference.CHANGED, Difference.ADDED)) {
        try (ComparisonFiles.Reader reader = files.read(compared.id(), n, d, 0)) {
          for (RowDifference row = reader.next(); row != null; row = reader.next()) {
            if (!own.wrote(row)) {
              here++;
              if (lines.size() < 10_000) {
                lines.add(
                    key.name()
                        + ","
                        + CanonicalCsv.text(
                            Objects.requireNonNull(
                                    row.present() == null ? row.incoming() : row.present())
                                .fields()));
              }
            }
          }
        }
      }
      if (here > 0) {
        what.add(here + (here == 1 ? " row of " : " rows of ") + key.name());
        rows += here;
      }
    }
    return new Lost(
        rows,
        rows == 0
            ? "Nothing is lost."
            : "What was written since in " + String.join(" and ", what) + " would be lost.",
        null,
        lines);
  }

  /** What the run itself wrote to one table. */
  private static final class Own {
    private final @Nullable Header header;
    private final Set<String> written = new HashSet<>();
    private final Set<String> removed = new HashSet<>();

    Own(@Nullable Header header) {
      this.header = header;
    }

    boolean wrote(RowDifference row) {
      if (header == null) {
        return false;
      }
      Row present = row.present();
      if (present == null) {
        Row was = Objects.requireNonNull(row.incoming());
        return removed.contains(digest(was, header.names().subList(0, header.keyColumns())));
      }
      return written.contains(digest(present, header.names()));
    }
  }

  private static String digest(Row row, List<String> names) {
    List<@Nullable String> values = new ArrayList<>();
    for (String name : names) {
      int at = row.header().position(name);
      values.add(at < 0 ? null : row.get(at));
    }
    return Digest.of(CanonicalCsv.text(values)).hex();
  }

  private Own own(@Nullable Promotion run, ComponentKey key) {
    int n =
        run == null
            ? -1
            : run.components().stream().map(Promotion.ComponentResult::key).toList().indexOf(key);
    if (run == null || run.comparison() == null || n < 0) {
      return new Own(null);
    }
    Header header = files.headers(run.comparison(), n).any();
    Own own = new Own(header);
    for (Difference d :
        List.of(Difference.ADDED, Difference.CHANGED, Difference.CONFLICT, Difference.REMOVED)) {
      try (ComparisonFiles.Reader reader = files.read(run.comparison(), n, d, 0)) {
        for (RowDifference row = reader.next();
            row != null && own.written.size() + own.removed.size() < MOST_OWN;
            row = reader.next()) {
          if (row.incoming() != null) {
            own.written.add(digest(row.incoming(), header.names()));
          } else if (row.present() != null) {
            own.removed.add(digest(row.present(), header.names().subList(0, header.keyColumns())));
          }
        }
      }
    }
    return own;
  }
}
