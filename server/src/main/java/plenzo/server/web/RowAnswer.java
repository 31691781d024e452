package plenzo.server.web;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import org.jspecify.annotations.Nullable;
import plenzo.api.Promotions.RowChange;
import plenzo.api.Promotions.RowPage;
import plenzo.core.comparison.AttributeDifference;
import plenzo.core.component.ComponentKey;
import plenzo.core.records.CanonicalCsv;
import plenzo.core.records.RecordsComparison.RowDifference;
import plenzo.core.table.PartDifference;
import plenzo.server.security.Shown;

/**
 * Row differences as the API shows them: a page that may be searched, or lines of a file. Values
 * that the reader may not see are hidden, and never searched.
 */
final class RowAnswer {
  private final ComponentKey key;
  private final VisibleValues sight;
  private final String find;
  private final int most;
  private final boolean all;
  private final List<RowChange> items = new ArrayList<>();
  private long at;
  private @Nullable Long next;

  /**
   * @param skip rows that pages before have passed
   * @param find part of a key or a value, in any case; empty for all
   * @param all whether attributes that are the same on both sides are shown too
   */
  RowAnswer(
      ComponentKey key,
      VisibleValues sight,
      long skip,
      int most,
      @Nullable String find,
      boolean all) {
    this.all = all;
    this.key = key;
    this.sight = sight;
    this.at = skip;
    this.most = most;
    this.find = find == null ? "" : find.toLowerCase(Locale.ROOT);
  }

  /** Takes the next row; false when the page is full. */
  boolean take(RowDifference row) {
    if (items.size() == most) {
      next = at;
      return false;
    }
    at++;
    List<AttributeDifference> attributes = row.attributes(all);
    String name = name(row);
    if (find.isEmpty() || contains(name) || attributes.stream().anyMatch(this::matches)) {
      items.add(
          new RowChange(
              name,
              row.difference().code(),
              Views.attributes(attributes, column -> sight.hides(key, column)),
              !sight.values(),
              Views.both(row, attributes, column -> sight.hides(key, column))));
    }
    return true;
  }

  /** Takes a part of a structure; false when the page is full. */
  boolean take(PartDifference part) {
    if (items.size() == most) {
      next = at;
      return false;
    }
    at++;
    if (find.isEmpty()
        || contains(part.path())
        || part.attributes().stream().anyMatch(this::matches)) {
      items.add(
          new RowChange(
              Shown.plain(part.path()),
              part.difference().code(),
              Views.attributes(part.attributes(), column -> false),
              false,
              null));
    }
    return true;
  }

  /** The key; its place among the differences where the reader may not see it. */
  private String name(RowDifference row) {
    boolean hidden =
        !sight.values()
            || row.any().header().names().subList(0, row.any().header().keyColumns()).stream()
                .anyMatch(column -> sight.privateColumns().contains(key.name() + "." + column));
    return hidden ? "row " + at : Shown.plain(row.any().keyLine());
  }

  private boolean matches(AttributeDifference a) {
    return !sight.hides(key, a.name()) && (contains(a.present()) || contains(a.incoming()));
  }

  private boolean contains(@Nullable String text) {
    return text != null && text.toLowerCase(Locale.ROOT).contains(find);
  }

  /**
   * @param total of the class; the number that match is not counted
   */
  RowPage page(long total) {
    return new RowPage(items, next == null ? null : String.valueOf(next), total);
  }

  static String head() {
    return CanonicalCsv.text(
        List.of("component", "difference", "part", "attribute", "present", "incoming"));
  }

  /**
   * Each differing attribute as a line of a CSV file.
   *
   * @param more fields that stand behind those of every line
   */
  static void lines(
      ComponentKey key,
      String difference,
      String part,
      List<AttributeDifference> attributes,
      VisibleValues sight,
      CsvAnswer to,
      String... more) {
    for (AttributeDifference a : attributes) {
      boolean hidden =
          key.kind() == plenzo.core.component.Kind.RECORDS && sight.hides(key, a.name());
      List<@Nullable String> fields =
          new ArrayList<>(List.of(key.toString(), difference, part, a.name()));
      fields.add(hidden && a.present() != null ? "…" : a.present());
      fields.add(hidden && a.incoming() != null ? "…" : a.incoming());
      fields.addAll(List.of(more));
      to.accept(CanonicalCsv.text(fields));
    }
    if (attributes.isEmpty()) {
      List<@Nullable String> fields =
          new ArrayList<>(List.of(key.toString(), difference, part, ""));
      fields.add(null);
      fields.add(null);
      fields.addAll(List.of(more));
      to.accept(CanonicalCsv.text(fields));
    }
  }

  void line(RowDifference row, CsvAnswer to) {
    at++;
    lines(key, row.difference().code(), name(row), row.attributes(), sight, to);
  }
}
