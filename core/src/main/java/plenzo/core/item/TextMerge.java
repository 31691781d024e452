package plenzo.core.item;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.AttributeDifference;
import plenzo.core.comparison.AttributeDifference.Side;
import plenzo.core.comparison.Decision;
import plenzo.core.comparison.ThreeLists;
import plenzo.core.comparison.ThreeLists.Stretch;

/**
 * A text with the lines that either side moved since both last agreed. Of lines that both moved
 * somebody says which side is taken, stretch by stretch; else there is no such text.
 */
public final class TextMerge {
  private final List<Stretch<String>> stretches;

  private TextMerge(List<Stretch<String>> stretches) {
    this.stretches = stretches;
  }

  /** Empty when one of them has more lines than are compared line by line. */
  public static Optional<TextMerge> of(String base, String present, String incoming) {
    List<String> b = lines(base);
    List<String> p = lines(present);
    List<String> i = lines(incoming);
    int most = ItemDifference.LINES;
    return b.size() > most || p.size() > most || i.size() > most
        ? Optional.empty()
        : Optional.of(new TextMerge(ThreeLists.of(b, p, i)));
  }

  private static List<String> lines(String text) {
    return List.of(text.split("\n", -1));
  }

  /**
   * @param decided what was decided of stretches that both moved, by their names as {@link
   *     #differences} has them
   */
  public Optional<String> both(Map<String, Decision> decided) {
    return ThreeLists.both(
            stretches,
            s -> {
              Decision said = decided.get(name(s));
              return said == null
                  ? null
                  : said == Decision.TAKE_INCOMING ? s.incoming() : s.present();
            })
        .map(all -> String.join("\n", all));
  }

  /** Stretches in which what is there and what comes differ, with what both had before. */
  public List<AttributeDifference> differences() {
    List<AttributeDifference> out = new ArrayList<>();
    for (Stretch<String> s : stretches) {
      if (s.differs()) {
        ItemDifference.add(out, name(s), text(s.present()), text(s.incoming()));
        int last = out.size() - 1;
        String had = text(s.base());
        out.set(
            last, out.get(last).from(had == null ? Side.ABSENT : Side.of(ItemDifference.cut(had))));
      }
    }
    return ItemDifference.bounded(out);
  }

  private static String name(Stretch<String> s) {
    return ItemDifference.lineName(s.from(), s.from() + s.present().size());
  }

  /** Null for no line at all. */
  private static @Nullable String text(List<String> lines) {
    return lines.isEmpty() ? null : String.join("\n", lines);
  }
}
