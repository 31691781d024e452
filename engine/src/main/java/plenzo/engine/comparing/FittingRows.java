package plenzo.engine.comparing;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.Counts;
import plenzo.core.comparison.Difference;
import plenzo.core.digest.Digest;
import plenzo.core.records.Header;
import plenzo.core.records.LongValues;
import plenzo.core.records.RecordsComparison.RowDifference;
import plenzo.core.records.Row;
import plenzo.core.table.TableStructure;
import plenzo.core.target.TablesDelta;

/** Writes rows to the comparison's files, one set for each column, one of rows that go. */
final class FittingRows implements FittingFound, AutoCloseable {
  private static final String GOES = "";

  private final ComparisonFiles files;
  private final String comparison;
  private final TablesDelta.TableDelta t;
  private final int[] place;
  private final Map<String, RowSet> sets = new LinkedHashMap<>();
  private final Map<String, Map<Losses.Sort, Long>> lost = new LinkedHashMap<>();
  private final Map<String, Long> returned = new LinkedHashMap<>();
  private final MessageDigest touched = Digest.sha256();

  FittingRows(ComparisonFiles files, String comparison, TablesDelta.TableDelta t, int[] place) {
    this.files = files;
    this.comparison = comparison;
    this.t = t;
    this.place = place;
  }

  /** One set of rows of the same columns. */
  private final class RowSet {
    final int at = place[0]++;
    final @Nullable Header present;
    final @Nullable Header incoming;
    final ComparisonFiles.Writer writer;
    final Map<Difference, Long> counts = new EnumMap<>(Difference.class);

    RowSet(@Nullable Header present, @Nullable Header incoming) {
      this.present = present;
      this.incoming = incoming;
      this.writer = files.writer(comparison, at, null, present, incoming);
    }

    void add(Difference d, @Nullable Row was, @Nullable Row is) {
      writer.add(new RowDifference(d, null, was, is));
      counts.merge(d, 1L, Long::sum);
      for (Row side : Arrays.asList(was, is)) {
        touched.update((byte) '\n');
        if (side != null) {
          touched.update(side.raw());
        }
      }
    }
  }

  /** Some columns of a row; types as the structure has them. */
  static Header header(Row like, List<String> names, @Nullable TableStructure structure) {
    List<String> types = new ArrayList<>();
    for (String n : names) {
      int at = like.header().position(n);
      types.add(
          structure == null
              ? like.header().types().get(at)
              : structure.column(n).orElseThrow().type());
    }
    return new Header(names, types, Math.min(names.size(), like.header().keyColumns()));
  }

  static Row some(Row row, Header header) {
    List<@Nullable String> fields = new ArrayList<>();
    header.names().forEach(n -> fields.add(row.get(row.header().position(n))));
    return Row.of(header, fields);
  }

  @Override
  public void set(Row row, String column, @Nullable String value) {
    List<String> key = row.header().names().subList(0, row.header().keyColumns());
    RowSet set =
        sets.computeIfAbsent(
            column,
            c -> {
              List<String> all = new ArrayList<>(key);
              all.add(column);
              boolean there = row.header().position(column) >= 0;
              return new RowSet(header(row, there ? all : key, null), header(row, all, t.result()));
            });
    touched.update(("\nset " + column).getBytes(StandardCharsets.UTF_8));
    if (row.header().position(column) < 0) {
      returned.merge(column, 1L, Long::sum);
    }
    List<@Nullable String> fields = new ArrayList<>(row.key());
    fields.add(value);
    set.add(
        Difference.CHANGED,
        some(row, Objects.requireNonNull(set.present)),
        Row.of(Objects.requireNonNull(set.incoming), fields));
  }

  @Override
  public void remove(Row row) {
    RowSet set =
        sets.computeIfAbsent(
            GOES, c -> new RowSet(header(row, FittingNames.columns(row), null), null));
    touched.update("\nremove".getBytes(StandardCharsets.UTF_8));
    set.add(Difference.REMOVED, some(row, Objects.requireNonNull(set.present)), null);
  }

  @Override
  public void bringBack(Row row) {
    List<String> held =
        row.header().names().stream()
            .filter(n -> Objects.requireNonNull(t.result()).column(n).isPresent())
            .toList();
    RowSet set = sets.computeIfAbsent(GOES, c -> new RowSet(null, header(row, held, t.result())));
    touched.update("\nbring".getBytes(StandardCharsets.UTF_8));
    returned.merge("", 1L, Long::sum);
    set.add(Difference.ADDED, null, some(row, Objects.requireNonNull(set.incoming)));
  }

  @Override
  public void lost(Losses.Sort sort, Row row, String column, @Nullable String value) {
    String at = t.table() + (column.isEmpty() ? "" : "." + column);
    lost.computeIfAbsent(at, x -> new EnumMap<>(Losses.Sort.class)).merge(sort, 1L, Long::sum);
  }

  Fitted fitted(Set<String> settled, LongValues longValues) {
    List<Losses.Item> items = new ArrayList<>();
    lost.forEach((at, by) -> by.forEach((sort, n) -> items.add(new Losses.Item(at, sort, n))));
    return new Fitted(
        t.table(),
        sets.values().stream().map(s -> new Fitted.Part(s.at, Counts.of(s.counts))).toList(),
        settled,
        sets.isEmpty() ? "" : Digest.of(touched).hex(),
        returned,
        items,
        longValues);
  }

  @Override
  public void close() {
    sets.values().forEach(s -> s.writer.close());
  }
}
