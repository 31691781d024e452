package plenzo.core.promotion;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import plenzo.core.comparison.Difference;
import plenzo.core.component.Kind;
import plenzo.core.promotion.Promotion.ComponentResult;
import plenzo.core.table.PartDifference;
import plenzo.core.words.Words;

/**
 * What is there now and will not be after a run: the loss that a person confirms when they start
 * it. What a way back loses is worked out with the way.
 */
public final class TakenAway {
  private TakenAway() {}

  /** One text each, such as "37 rows of fares.concession" or "column note of fares.booking". */
  public static List<String> by(Promotion p) {
    return p.purpose().rollback() ? List.of() : of(p.components());
  }

  static List<String> of(List<ComponentResult> components) {
    List<String> out = new ArrayList<>();
    for (ComponentResult c : components) {
      boolean whole = c.difference() == Difference.REMOVED;
      if (c.key().kind() == Kind.RECORDS) {
        if (c.counts().removed() > 0) {
          out.add(Words.count(c.counts().removed(), "row") + " of " + c.key().name());
        }
      } else if (whole) {
        out.add(c.key().toString());
      } else {
        c.parts().stream()
            .filter(p -> p.difference() == Difference.REMOVED)
            .map(p -> part(p) + " of " + c.key().name())
            .forEach(out::add);
      }
    }
    return out;
  }

  private static String part(PartDifference p) {
    return (p.part().name().toLowerCase(Locale.ROOT) + " " + p.name()).strip();
  }
}
