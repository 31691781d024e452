package plenzo.core.table;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Function;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.AttributeDifference;
import plenzo.core.comparison.Decision;
import plenzo.core.comparison.Difference;
import plenzo.core.comparison.ThreeWay;

/**
 * The three-way comparison of one table's structure and what comes out when it is applied.
 *
 * @param result the structure after the run, null when the table will not exist
 * @param parts every part that differs or is kept, in a stable order
 */
public record StructureComparison(
    Difference difference, @Nullable TableStructure result, List<PartDifference> parts) {
  public StructureComparison {
    parts = List.copyOf(parts);
  }

  /** Paths of the parts that one structure has and the incoming one does not. */
  public static Set<String> gone(@Nullable TableStructure from, @Nullable TableStructure in) {
    Set<String> out = new TreeSet<>();
    if (from == null) {
      return out;
    }
    if (in == null) {
      out.add("table/");
      return out;
    }
    from.columns().stream()
        .filter(c -> in.column(c.name()).isEmpty())
        .forEach(c -> out.add("column/" + c.name()));
    from.constraints().stream()
        .filter(c -> in.constraint(c.name()).isEmpty())
        .forEach(c -> out.add("constraint/" + c.name()));
    from.indexes().stream()
        .filter(i -> in.indexes().stream().noneMatch(x -> x.name().equals(i.name())))
        .forEach(i -> out.add("index/" + i.name()));
    from.settings().stream()
        .filter(s -> in.setting(s.name()).isEmpty())
        .forEach(s -> out.add("setting/" + s.name()));
    if (from.comment() != null && in.comment() == null) {
      out.add("comment/");
    }
    return out;
  }

  /** Whether a structure has a part. */
  public static boolean has(@Nullable TableStructure s, PartDifference p) {
    if (s == null) {
      return false;
    }
    return switch (p.part()) {
      case TABLE -> true;
      case COLUMN -> s.column(p.name()).isPresent();
      case CONSTRAINT -> s.constraint(p.name()).isPresent();
      case INDEX -> s.indexes().stream().anyMatch(i -> i.name().equals(p.name()));
      case COMMENT -> s.comment() != null;
      case SETTING -> s.setting(p.name()).isPresent();
      case CONTENT -> false;
    };
  }

  /**
   * What is there, as the base of what becomes as incoming: a part that comes and is to stay as it
   * is there stands in it as it comes, so that it counts as moved at the site alone.
   */
  public static @Nullable TableStructure asBase(
      @Nullable TableStructure present,
      @Nullable TableStructure incoming,
      Predicate<String> stays) {
    if (present == null || incoming == null) {
      return stays.test("table/") ? incoming : present;
    }
    return new TableStructure(
        chosen("column", present.columns(), incoming.columns(), Column::name, stays),
        chosen(
            "constraint", present.constraints(), incoming.constraints(), Constraint::name, stays),
        chosen("index", present.indexes(), incoming.indexes(), Index::name, stays),
        stays.test("comment/") ? incoming.comment() : present.comment(),
        present.places(),
        chosen("setting", present.settings(), incoming.settings(), Setting::name, stays));
  }

  private static <T> List<T> chosen(
      String part,
      List<T> present,
      List<T> incoming,
      Function<T, String> name,
      Predicate<String> stays) {
    Map<String, T> out = new LinkedHashMap<>();
    Set<String> coming = incoming.stream().map(name).collect(Collectors.toSet());
    present.stream()
        .filter(x -> !coming.contains(name.apply(x)) || !stays.test(part + "/" + name.apply(x)))
        .forEach(x -> out.put(name.apply(x), x));
    incoming.stream()
        .filter(x -> stays.test(part + "/" + name.apply(x)))
        .forEach(x -> out.put(name.apply(x), x));
    return List.copyOf(out.values());
  }

  /**
   * @param removals paths of parts that the version removes, {@code table/} for the whole table
   * @param decisions decided conflicts by part path; an undecided conflict keeps what is there
   */
  public static StructureComparison of(
      @Nullable TableStructure base,
      @Nullable TableStructure present,
      @Nullable TableStructure incoming,
      Set<String> removals,
      Map<String, Decision> decisions) {
    if (present == null || incoming == null) {
      Difference d =
          ThreeWay.decide(base, present, incoming, removals.contains("table/"), Objects::equals);
      PartDifference whole = new PartDifference(PartDifference.Part.TABLE, "", d, List.of(), null);
      boolean take =
          d.writes()
              || (d == Difference.CONFLICT && decisions.get("table/") == Decision.TAKE_INCOMING);
      return new StructureComparison(
          d, take ? incoming : present, d == Difference.SAME ? List.of() : List.of(whole));
    }
    TableStructure b = base == null ? TableStructure.EMPTY : base;
    Merge merge = new Merge(removals, decisions);
    List<Column> columns =
        merge.parts(
            PartDifference.Part.COLUMN,
            b.columns(),
            present.columns(),
            incoming.columns(),
            Column::name,
            StructureComparison::attributes);
    List<Constraint> constraints =
        merge.parts(
            PartDifference.Part.CONSTRAINT,
            b.constraints(),
            present.constraints(),
            incoming.constraints(),
            Constraint::name,
            c -> Map.of("definition", c.definition()));
    List<Index> indexes =
        merge.parts(
            PartDifference.Part.INDEX,
            b.indexes(),
            present.indexes(),
            incoming.indexes(),
            Index::name,
            i -> Map.of("definition", i.definition()));
    List<String> comment =
        merge.parts(
            PartDifference.Part.COMMENT,
            texts(b.comment()),
            texts(present.comment()),
            texts(incoming.comment()),
            c -> "",
            c -> Map.of("text", c));
    List<Setting> settings =
        merge.parts(
            PartDifference.Part.SETTING,
            b.settings(),
            present.settings(),
            incoming.settings(),
            Setting::name,
            s -> Map.of("value", s.value()));
    TableStructure result =
        new TableStructure(
            columns,
            constraints,
            indexes,
            comment.isEmpty() ? null : comment.get(0),
            present.places().with(incoming.places()),
            settings);
    return new StructureComparison(worst(merge.differences), result, merge.differences);
  }

  private static List<String> texts(@Nullable String text) {
    return text == null ? List.of() : List.of(text);
  }

  private static Difference worst(List<PartDifference> parts) {
    if (parts.stream().anyMatch(p -> p.difference() == Difference.CONFLICT)) {
      return Difference.CONFLICT;
    }
    if (parts.stream().anyMatch(p -> p.difference().writes())) {
      return Difference.CHANGED;
    }
    return parts.isEmpty() ? Difference.SAME : Difference.KEPT;
  }

  private static Map<String, String> attributes(Column c) {
    Map<String, String> out = new LinkedHashMap<>();
    out.put("type", c.type());
    out.put("not null", c.notNull() ? "yes" : "no");
    out.put("default", Objects.toString(c.defaultExpression(), ""));
    out.put("identity", Objects.toString(c.identity(), ""));
    out.put("collation", Objects.toString(c.collation(), ""));
    out.put("sequence", c.sequence() == null ? "" : c.sequence().toJson().canonical());
    out.put("generated", Objects.toString(c.generated(), ""));
    out.put("comment", Objects.toString(c.comment(), ""));
    return out;
  }

  /**
   * Parts of an incoming structure that a comparison found the same there: those that are not among
   * what differs.
   */
  public static List<PartDifference> same(TableStructure incoming, List<PartDifference> differing) {
    if (differing.stream().anyMatch(p -> p.part() == PartDifference.Part.TABLE)) {
      return List.of();
    }
    Set<String> differs = differing.stream().map(PartDifference::path).collect(Collectors.toSet());
    List<PartDifference> out = new ArrayList<>();
    incoming.columns().forEach(c -> same(PartDifference.Part.COLUMN, c.name(), attributes(c), out));
    incoming
        .constraints()
        .forEach(
            c ->
                same(
                    PartDifference.Part.CONSTRAINT,
                    c.name(),
                    Map.of("definition", c.definition()),
                    out));
    incoming
        .indexes()
        .forEach(
            i ->
                same(
                    PartDifference.Part.INDEX,
                    i.name(),
                    Map.of("definition", i.definition()),
                    out));
    texts(incoming.comment())
        .forEach(c -> same(PartDifference.Part.COMMENT, "", Map.of("text", c), out));
    incoming
        .settings()
        .forEach(s -> same(PartDifference.Part.SETTING, s.name(), Map.of("value", s.value()), out));
    out.removeIf(p -> differs.contains(p.path()));
    return out;
  }

  private static void same(
      PartDifference.Part part,
      String name,
      Map<String, String> attributes,
      List<PartDifference> out) {
    List<AttributeDifference> all =
        attributes.entrySet().stream()
            .filter(a -> !a.getValue().isEmpty())
            .map(a -> AttributeDifference.of(a.getKey(), a.getValue(), a.getValue(), false, false))
            .toList();
    out.add(new PartDifference(part, name, Difference.SAME, all, null));
  }

  /** Merges part by part and collects what differs. */
  private static final class Merge {
    private final Set<String> removals;
    private final Map<String, Decision> decisions;
    private final List<PartDifference> differences = new ArrayList<>();

    Merge(Set<String> removals, Map<String, Decision> decisions) {
      this.removals = removals;
      this.decisions = decisions;
    }

    <T> List<T> parts(
        PartDifference.Part part,
        List<T> base,
        List<T> present,
        List<T> incoming,
        Function<T, String> name,
        Function<T, Map<String, String>> attributes) {
      Map<String, T> b = byName(base, name);
      Map<String, T> p = byName(present, name);
      Map<String, T> i = byName(incoming, name);
      Set<String> names = new TreeSet<>(p.keySet());
      names.addAll(i.keySet());
      List<T> result = new ArrayList<>();
      for (String n : names) {
        String path = part.code() + "/" + n;
        Difference d =
            ThreeWay.decide(b.get(n), p.get(n), i.get(n), removals.contains(path), Objects::equals);
        if (d != Difference.SAME) {
          differences.add(
              new PartDifference(
                  part, n, d, differing(b.get(n), p.get(n), i.get(n), attributes), null));
        }
        boolean take =
            d.writes()
                || (d == Difference.CONFLICT && decisions.get(path) == Decision.TAKE_INCOMING);
        T taken = take ? i.get(n) : p.get(n);
        if (taken != null) {
          result.add(taken);
        }
      }
      return result;
    }

    private static <T> Map<String, T> byName(List<T> items, Function<T, String> name) {
      Map<String, T> out = new LinkedHashMap<>();
      items.forEach(item -> out.put(name.apply(item), item));
      return out;
    }

    private static <T> List<AttributeDifference> differing(
        @Nullable T base,
        @Nullable T present,
        @Nullable T incoming,
        Function<T, Map<String, String>> attributes) {
      Map<String, String> b = base == null ? null : attributes.apply(base);
      Map<String, String> p = present == null ? Map.of() : attributes.apply(present);
      Map<String, String> i = incoming == null ? Map.of() : attributes.apply(incoming);
      Set<String> names = new java.util.LinkedHashSet<>(p.isEmpty() ? i.keySet() : p.keySet());
      List<AttributeDifference> out = new ArrayList<>();
      for (String n : names) {
        if (!Objects.equals(p.get(n), i.get(n))
            && !("".equals(p.getOrDefault(n, "")) && "".equals(i.getOrDefault(n, "")))) {
          out.add(
              AttributeDifference.of(n, p.get(n), i.get(n), present == null, incoming == null)
                  .from(b == null ? null : AttributeDifference.Side.of(b.get(n))));
        }
      }
      return out;
    }
  }
}
