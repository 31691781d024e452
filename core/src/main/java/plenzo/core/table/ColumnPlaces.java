package plenzo.core.table;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import plenzo.core.json.Json;

/**
 * How the columns and options of a table stand. A table gets it as it is made, and no statement
 * changes it afterwards: so it is kept beside the structure, is no part of what tells whether two
 * are equal, and is said where it differs.
 *
 * @param order names of the columns as they stand; empty when that is not known
 * @param handed columns that the table has by inheriting alone, and does not declare itself: they
 *     go with those above it; null when that is not known
 * @param options names of its options in the order in which they were set, which the server's own
 *     tools print; empty when there are not several
 */
public record ColumnPlaces(List<String> order, @Nullable Set<String> handed, List<String> options) {
  public static final ColumnPlaces NOT_KNOWN = new ColumnPlaces(List.of(), null);

  public ColumnPlaces {
    order = List.copyOf(order);
    handed = handed == null ? null : Set.copyOf(handed);
    options = options.size() < 2 ? List.of() : List.copyOf(options);
  }

  /** Of a table without several options. */
  public ColumnPlaces(List<String> order, @Nullable Set<String> handed) {
    this(order, handed, List.of());
  }

  /** Whether the table has a column by inheriting alone, as far as that is known. */
  boolean isHanded(String column) {
    return handed == null || handed.contains(column);
  }

  /** By the names that columns get. */
  public ColumnPlaces named(Map<String, String> names) {
    return new ColumnPlaces(
        order.stream().map(n -> names.getOrDefault(n, n)).toList(),
        handed == null
            ? null
            : handed.stream().map(n -> names.getOrDefault(n, n)).collect(Collectors.toSet()),
        options);
  }

  /** What stands keeps its place; what comes stands behind it as it stands where it comes from. */
  ColumnPlaces with(ColumnPlaces incoming) {
    Set<String> all = new LinkedHashSet<>(order);
    all.addAll(incoming.order);
    Set<String> set = new LinkedHashSet<>(options);
    set.addAll(incoming.options);
    return new ColumnPlaces(List.copyOf(all), handed, List.copyOf(set));
  }

  /** The columns that both have, as they stand here, where they stand otherwise there. */
  public List<String> otherwise(ColumnPlaces there) {
    List<String> here = new ArrayList<>(order);
    here.retainAll(new HashSet<>(there.order));
    List<String> other = new ArrayList<>(there.order);
    other.retainAll(new HashSet<>(order));
    return here.equals(other) ? List.of() : here;
  }

  /** For the records beside a structure; without a member where nothing is known. */
  public Json.Obj toJson() {
    return Json.object(
        "columns",
        order.isEmpty() ? null : order,
        "handed",
        handed == null ? null : handed.stream().sorted().toList(),
        "options",
        options.isEmpty() ? null : options);
  }

  /** Reads what {@link #toJson()} wrote, also among other members. */
  public static ColumnPlaces of(Json.Obj j) {
    return new ColumnPlaces(
        j.texts("columns"),
        j.find("handed") == null ? null : Set.copyOf(j.texts("handed")),
        j.texts("options"));
  }
}
