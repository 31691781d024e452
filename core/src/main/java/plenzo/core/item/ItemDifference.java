package plenzo.core.item;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.AttributeDifference;
import plenzo.core.comparison.AttributeDifference.Side;
import plenzo.core.comparison.Matching;
import plenzo.core.json.Json;

/**
 * What differs inside a component of one piece: members of a definition by their path, lines of a
 * text file. Deterministic; bounded for people, who see the rest as a count.
 */
public final class ItemDifference {
  /** Differences that are listed one by one (guess: more is read in the files themselves). */
  private static final int MOST = 200;

  /** Characters of one shown value. */
  private static final int LONGEST = 4000;

  /** Lines of a file that are compared line by line; larger ones only by size and digest. */
  static final int LINES = 5000;

  private ItemDifference() {}

  /** Members that differ, each by its path such as {@code definition/when/0/value}. */
  public static List<AttributeDifference> members(@Nullable Json present, @Nullable Json incoming) {
    return members(null, present, incoming);
  }

  /**
   * The same, with what each was when both last agreed.
   *
   * @param base null when that is not known
   */
  public static List<AttributeDifference> members(
      @Nullable Json base, @Nullable Json present, @Nullable Json incoming) {
    Map<String, String> before = new TreeMap<>();
    flatten("", base, before);
    Map<String, String> a = new TreeMap<>();
    Map<String, String> b = new TreeMap<>();
    flatten("", present, a);
    flatten("", incoming, b);
    Set<String> paths = new LinkedHashSet<>(a.keySet());
    paths.addAll(b.keySet());
    List<AttributeDifference> out = new ArrayList<>();
    for (String path : new java.util.TreeSet<>(paths)) {
      String was = a.get(path);
      String is = b.get(path);
      if (!java.util.Objects.equals(was, is)) {
        add(out, path, was, is);
        if (base != null) {
          String had = before.get(path);
          int last = out.size() - 1;
          out.set(last, out.get(last).from(had == null ? Side.ABSENT : Side.of(cut(had))));
        }
      }
    }
    return bounded(out);
  }

  private static void flatten(String path, @Nullable Json json, Map<String, String> out) {
    if (json == null) {
      return;
    }
    if (json instanceof Json.Obj o && !o.members().isEmpty()) {
      o.members().forEach((name, value) -> flatten(join(path, name), value, out));
    } else if (json instanceof Json.Arr a && !a.items().isEmpty()) {
      for (int i = 0; i < a.items().size(); i++) {
        flatten(join(path, place(a.items().get(i), i)), a.items().get(i), out);
      }
    } else {
      out.put(path, json instanceof Json.Str s ? s.value() : json.canonical());
    }
  }

  /** Items that have a name are told apart by it, so that an insertion is not a change of all. */
  private static String place(Json item, int position) {
    String name = item instanceof Json.Obj o ? o.findText("name") : null;
    return name != null ? name : String.valueOf(position);
  }

  /** The path of a member of what is at a path. */
  static String join(String path, String name) {
    return path.isEmpty() ? name : path + "/" + name;
  }

  /** Runs of lines that differ, each named by where it begins in the present and incoming text. */
  public static List<AttributeDifference> lines(
      @Nullable String present, @Nullable String incoming) {
    List<String> a = present == null ? List.of() : List.of(present.split("\n", -1));
    List<String> b = incoming == null ? List.of() : List.of(incoming.split("\n", -1));
    List<AttributeDifference> out = new ArrayList<>();
    if (present == null || incoming == null || a.size() > LINES || b.size() > LINES) {
      return out;
    }
    int[] matched = Matching.of(a, b);
    int fromA = 0;
    int fromB = 0;
    for (int i = 0; i <= a.size(); i++) {
      int at = i == a.size() ? b.size() : matched[i];
      if (at >= 0) {
        if (i > fromA || at > fromB) {
          run(a, b, fromA, i, fromB, at, out);
        }
        fromA = i + 1;
        fromB = at + 1;
      }
    }
    return bounded(out);
  }

  /** All lines of a text that comes or goes, without the empty one behind its last. */
  public static List<AttributeDifference> whole(
      @Nullable String present, @Nullable String incoming) {
    String was = present == null ? null : present.stripTrailing();
    String is = incoming == null ? null : incoming.stripTrailing();
    int lines = (int) ((was == null ? "" : was) + (is == null ? "" : is)).lines().count();
    List<AttributeDifference> out = new ArrayList<>();
    if (lines > 0) {
      add(out, lineName(0, lines), was, is);
    }
    return out;
  }

  private static void run(
      List<String> a,
      List<String> b,
      int fromA,
      int toA,
      int fromB,
      int toB,
      List<AttributeDifference> out) {
    add(
        out,
        lineName(fromA, toA),
        toA > fromA ? String.join("\n", a.subList(fromA, toA)) : null,
        toB > fromB ? String.join("\n", b.subList(fromB, toB)) : null);
  }

  /** Lines of a text, from 0 and without the last, as people count them. */
  static String lineName(int from, int to) {
    return to > from
        ? "line " + (from + 1) + (to - from > 1 ? " to " + to : "")
        : "after line " + from;
  }

  static void add(
      List<AttributeDifference> out, String name, @Nullable String was, @Nullable String is) {
    out.add(AttributeDifference.of(name, cut(was), cut(is), was == null, is == null));
  }

  static @Nullable String cut(@Nullable String value) {
    return value == null || value.length() <= LONGEST
        ? value
        : value.substring(0, LONGEST) + " … (" + value.length() + " characters)";
  }

  static List<AttributeDifference> bounded(List<AttributeDifference> all) {
    if (all.size() <= MOST) {
      return all;
    }
    List<AttributeDifference> out = new ArrayList<>(all.subList(0, MOST));
    String more = (all.size() - MOST) + " more";
    out.add(AttributeDifference.of("and " + more, more, more, false, false));
    return out;
  }
}
