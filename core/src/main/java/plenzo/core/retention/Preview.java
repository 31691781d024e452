package plenzo.core.retention;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.function.ToLongFunction;
import plenzo.core.digest.Digest;
import plenzo.core.json.Json;

/**
 * What would go by a set of rules and what stays, each with the reason. What something still needs
 * stays whatever its age.
 *
 * @param lines the oldest first
 */
public record Preview(List<Line> lines) {
  public Preview {
    lines = List.copyOf(lines);
  }

  /**
   * @param bytes −1 of what stays because it is young: nobody measured it
   * @param why it stays or goes
   */
  public record Line(Item item, long bytes, boolean goes, String why) {}

  /**
   * @param holds why something stays whatever its age, by the item's id
   * @param notes why, by their subjects
   * @param size how many bytes an item has; asked of what is old alone
   */
  public static Preview of(
      List<Item> items,
      Rules rules,
      Map<String, String> holds,
      Map<String, Keeping> notes,
      Instant now,
      ToLongFunction<Item> size) {
    List<Line> out = new ArrayList<>();
    for (Item item : items) {
      if (!rules.old(item.sort(), item.at(), now)) {
        Integer days = rules.of(item.sort());
        out.add(
            new Line(
                item,
                -1,
                false,
                days == null
                    ? item.sort().many() + " are kept for ever"
                    : "not " + days + " days old"));
        continue;
      }
      String hold = holds.get(item.id());
      if (hold == null) {
        hold =
            item.subjects().stream()
                .map(notes::get)
                .filter(n -> n != null && n.holds(now))
                .map(Keeping::words)
                .findFirst()
                .orElse(null);
      }
      out.add(
          new Line(
              item,
              size.applyAsLong(item),
              hold == null,
              hold == null ? "more than " + rules.of(item.sort()) + " days old" : hold));
    }
    out.sort(Comparator.comparing((Line l) -> l.item().at()).thenComparing(l -> l.item().id()));
    return new Preview(out);
  }

  public List<Line> going() {
    return lines.stream().filter(Line::goes).toList();
  }

  /** Old, and needed all the same. */
  public List<Line> held() {
    return lines.stream().filter(l -> !l.goes() && l.bytes() >= 0).toList();
  }

  public long bytes() {
    return going().stream().mapToLong(Line::bytes).sum();
  }

  /** Of what goes: whoever clears says which list was read. */
  public Digest digest() {
    List<String> ids = going().stream().map(l -> l.item().id()).sorted().toList();
    return Digest.of(Json.object("goes", ids).canonical());
  }

  /** "3 backups, 1 log", in the order of the sorts; "nothing". */
  public String counted() {
    List<String> out = new ArrayList<>();
    for (Sort s : Sort.values()) {
      long n = going().stream().filter(l -> l.item().sort() == s).count();
      if (n > 0) {
        out.add(s.counted(n));
      }
    }
    return out.isEmpty() ? "nothing" : String.join(", ", out);
  }
}
