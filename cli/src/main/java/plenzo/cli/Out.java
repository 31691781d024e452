package plenzo.cli;

import java.io.PrintWriter;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/** What a command prints: tables and text for people, JSON for programs. */
final class Out {
  private static final Map<String, String> MARKS = new LinkedHashMap<>();
  private static final Map<String, String> COLOURS = new LinkedHashMap<>();

  static {
    String[][] marks = {
      {"good", "✓", "32"},
      {"done", "✓", "32"},
      {"is there", "✓", "32"},
      {"did not come through", "✗", "31"},
      {"done, n to look at", "△", "33"},
      {"to look at", "△", "33"},
      {"half written", "◒", "31"},
      {"judged bad", "⊖", "31"},
      {"not reachable", "?", "33"},
      {"drifted", "◐", "33"},
      {"rolled back", "↩", "33"},
      {"never here", "·", ""},
      {"failed", "✗", "31"},
      {"failed, all put back", "✗", "31"},
      {"stopped", "✗", "31"},
      {"stopped, nothing changed", "✗", "31"},
      {"waiting for you", "⚑", "35"},
      {"paused", "‖", ""},
      {"running", "»", "36"},
      {"queued", "»", "36"},
      {"preparing", "»", "36"},
      {"waiting for others", "⚐", ""},
      {"frozen", "#", ""},
      {"ready", "⚐", ""},
      {"agreed", "✓", "32"},
      {"blocker", "■", "31"},
      {"risk", "▲", "33"},
      {"note", "□", ""},
      {"added", "+", "32"},
      {"changed", "≠", "33"},
      {"removed", "−", "31"},
      {"conflict", "!", "31"},
      {"same", "=", ""},
      {"kept", "○", ""}
    };
    for (String[] m : marks) {
      MARKS.put(m[0], m[1]);
      COLOURS.put(m[0], m[2]);
    }
  }

  private final PrintWriter out;
  private final PrintWriter err;
  private final Look look;

  /** How to print. */
  record Look(
      String format,
      boolean terminal,
      boolean colour,
      boolean ascii,
      boolean utc,
      boolean quiet,
      boolean header,
      ListLook list) {}

  /**
   * How to print lists.
   *
   * @param columns heads to show, empty for all
   * @param sort head to sort by, with ":desc" behind it for descending; null leaves the order
   * @param limit most items to show
   */
  record ListLook(List<String> columns, @Nullable String sort, int limit) {}

  Out(PrintWriter out, PrintWriter err, Look look) {
    this.out = out;
    this.err = err;
    this.look = look;
  }

  boolean json() {
    return look.format().equals("json");
  }

  boolean terminal() {
    return look.terminal();
  }

  /** Whether programs read it: words alone then, without marks, rules or colours. */
  private boolean plain() {
    return !List.of("table", "text").contains(look.format());
  }

  /** Mark and word; only the word where marks cannot be shown, or programs read it. */
  String state(String word) {
    String mark = MARKS.get(word);
    String said = word.equals("done, n to look at") ? "done, something to look at" : word;
    if (plain()) {
      return said;
    }
    String text = look.ascii() || mark == null ? said : mark + " " + said;
    String colour = COLOURS.getOrDefault(word, "");
    return look.colour() && !colour.isEmpty()
        ? "\u001b[" + colour + "m" + text + "\u001b[0m"
        : text;
  }

  /** A count of something, with its mark; none of it is nothing to look at and has no colour. */
  String count(long count, String word) {
    String text = state(word).replace(word, count + " " + word);
    return count == 0 ? text.replaceAll("\u001b\\[[0-9;]*m", "") : text;
  }

  /** Bold where there is colour. */
  String strong(String text) {
    return look.colour() && !plain() ? "\u001b[1m" + text + "\u001b[0m" : text;
  }

  /** Production is written in full, between double rules. */
  String site(String site, boolean production) {
    if (plain()) {
      return site;
    }
    String text = production ? "==" + site + "==" : site;
    return look.colour() && production ? "\u001b[1m" + text + "\u001b[0m" : text;
  }

  String time(@Nullable Instant at) {
    if (at == null) {
      return "";
    }
    if (plain()) {
      return at.truncatedTo(ChronoUnit.SECONDS).toString();
    }
    return DateTimeFormatter.ofPattern("yyyy-MM-dd HH:mm:ss xxx")
        .withZone(look.utc() ? ZoneOffset.UTC : ZoneId.systemDefault())
        .format(at);
  }

  void line(String text) {
    out.println(text);
  }

  /** Notes and progress go to the error stream. */
  void note(String text) {
    if (!look.quiet()) {
      err.println(text);
    }
  }

  /** One document: what it answers, format, data, warnings. */
  void document(String kind, Object data) {
    Map<String, Object> all = new LinkedHashMap<>();
    all.put("answer", kind);
    all.put("format", 1);
    all.put("data", data);
    all.put("warnings", List.of());
    out.println(Api.JSON.writerWithDefaultPrettyPrinter().writeValueAsString(all));
  }

  /** How many items of a list have to be asked for: all of them when they are sorted here. */
  int wanted() {
    return look.list().sort() == null ? look.list().limit() : Integer.MAX_VALUE;
  }

  /** A whole list as JSON items, as ids, or as a table. */
  <T> void list(String kind, List<T> all, List<String> heads, Function<T, List<String>> row) {
    list(kind, Listed.whole(all), heads, row);
  }

  /** The same of a list that may go on at the server. */
  <T> void list(String kind, Listed<T> asked, List<String> heads, Function<T, List<String>> row) {
    List<T> all = asked.items();
    List<Integer> shown =
        look.list().columns().isEmpty()
            ? IntStream.range(0, heads.size()).boxed().toList()
            : look.list().columns().stream().map(c -> column(heads, c)).toList();
    List<T> items = sorted(all, heads, row).stream().limit(look.list().limit()).toList();
    if (asked.next() != null) {
      note("The first " + items.size() + "; there are more, use --all");
    } else if (items.size() < all.size()) {
      note(items.size() + " of " + all.size() + ", use --all");
    }
    if (look.format().equals("ndjson")) {
      items.forEach(i -> out.println(Api.JSON.writeValueAsString(i)));
      return;
    }
    if (json()) {
      Map<String, Object> document = new LinkedHashMap<>();
      document.put("answer", kind);
      document.put("format", 1);
      document.put("entries", items);
      document.put("next", asked.next());
      document.put("warnings", List.of());
      out.println(Api.JSON.writerWithDefaultPrettyPrinter().writeValueAsString(document));
      return;
    }
    if (look.format().equals("ids")) {
      items.forEach(i -> out.println(row.apply(i).get(0)));
      return;
    }
    table(
        shown.stream().map(heads::get).toList(),
        items.stream().map(row).map(r -> shown.stream().map(r::get).toList()).toList());
    if (items.isEmpty()) {
      note("Nothing matches.");
    }
  }

  private static int column(List<String> heads, String name) {
    int at = heads.indexOf(name.strip().toLowerCase(Locale.ROOT));
    if (at < 0) {
      throw Failed.usage(
          "There is no column \"" + name + "\"; there are " + String.join(", ", heads) + ".");
    }
    return at;
  }

  private <T> List<T> sorted(List<T> all, List<String> heads, Function<T, List<String>> row) {
    String sort = look.list().sort();
    if (sort == null) {
      return all;
    }
    boolean down = sort.endsWith(":desc");
    int at = column(heads, down ? sort.substring(0, sort.length() - 5) : sort);
    Comparator<T> by = Comparator.comparing(i -> row.apply(i).get(at));
    return all.stream().sorted(down ? by.reversed() : by).toList();
  }

  private static String csv(List<String> cells) {
    return cells.stream()
        .map(c -> "\"" + c.replace("\"", "\"\"") + "\"")
        .collect(Collectors.joining(","));
  }

  void table(List<String> heads, List<List<String>> rows) {
    if (look.format().equals("csv")) {
      if (look.header()) {
        out.println(csv(heads));
      }
      rows.forEach(r -> out.println(csv(r)));
      return;
    }
    if (!look.terminal() || look.format().equals("text")) {
      if (look.header()) {
        out.println(String.join("\t", heads));
      }
      rows.forEach(r -> out.println(String.join("\t", r)));
      return;
    }
    List<Integer> widths = new ArrayList<>();
    for (int i = 0; i < heads.size(); i++) {
      int column = i;
      widths.add(
          Math.max(
              heads.get(i).length(),
              rows.stream().mapToInt(r -> visible(r.get(column))).max().orElse(0)));
    }
    if (look.header()) {
      String head =
          row(
              heads.stream()
                  .map(h -> h.toUpperCase(Locale.ROOT).substring(0, 1) + h.substring(1))
                  .toList(),
              widths);
      out.println(look.colour() ? "\u001b[1m" + head + "\u001b[0m" : head);
    }
    rows.forEach(r -> out.println(row(r, widths)));
  }

  private static int visible(String text) {
    return text.replaceAll("\u001b\\[[0-9;]*m", "").length();
  }

  private static String row(List<String> cells, List<Integer> widths) {
    StringBuilder out = new StringBuilder();
    for (int i = 0; i < cells.size(); i++) {
      out.append(cells.get(i));
      if (i < cells.size() - 1) {
        out.append(" ".repeat(widths.get(i) - visible(cells.get(i)) + 2));
      }
    }
    return out.toString();
  }

  /** Names and values below one another. */
  void facts(String... namesAndValues) {
    int width = 0;
    for (int i = 0; i < namesAndValues.length; i += 2) {
      width = Math.max(width, namesAndValues[i].length());
    }
    for (int i = 0; i < namesAndValues.length; i += 2) {
      if (!namesAndValues[i + 1].isEmpty()) {
        out.println(
            namesAndValues[i]
                + " ".repeat(width - namesAndValues[i].length() + 2)
                + namesAndValues[i + 1].replace("\n", "\n" + " ".repeat(width + 2)));
      }
    }
  }
}
