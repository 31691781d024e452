package plenzo.core.promotion;

import java.util.ArrayList;
import java.util.List;
import plenzo.core.comparison.Counts;
import plenzo.core.component.Kind;
import plenzo.core.version.Draft;
import plenzo.core.version.VersionHead;

/** Notes that are drafted from what changes, for a person to go on from. */
public final class DraftedNotes {
  /** Components that are named one by one; the rest is counted. */
  private static final int MOST = 40;

  private DraftedNotes() {}

  /**
   * Of a promotion: the versions that come with what they were done for, then component by
   * component.
   *
   * @param brought the version that comes and those in between, newest first
   */
  public static String of(Promotion p, List<VersionHead> brought) {
    List<String> lines = new ArrayList<>();
    for (VersionHead v : brought) {
      lines.add(
          v.number()
              + " "
              + v.title()
              + (v.tasks().isEmpty() ? "" : " (" + String.join(", ", v.tasks()) + ")"));
    }
    List<String> changes = new ArrayList<>();
    p.components().stream()
        .filter(c -> c.counts().written() + c.counts().conflict() > 0)
        .forEach(c -> changes.add("- " + c.key() + ": " + words(c)));
    return joined(lines, changes);
  }

  private static String words(Promotion.ComponentResult c) {
    if (c.key().kind() != Kind.RECORDS) {
      return c.difference().code();
    }
    Counts n = c.counts();
    List<String> out = new ArrayList<>();
    add(out, n.conflict(), "in conflict");
    add(out, n.removed(), "removed");
    add(out, n.changed(), "changed");
    add(out, n.added(), "added");
    return String.join(", ", out);
  }

  private static void add(List<String> to, long count, String word) {
    if (count > 0) {
      to.add(count + " " + word);
    }
  }

  /** Of a draft: what each pick changes, and what is taken away. */
  public static String of(Draft d) {
    List<String> changes = new ArrayList<>();
    d.picks().stream()
        .filter(p -> p.seen() != null && !p.changes().startsWith("same as"))
        .forEach(p -> changes.add("- " + p.key() + ": " + p.changes()));
    d.removals().forEach(r -> changes.add("- takes away " + r));
    return joined(List.of(), changes);
  }

  private static String joined(List<String> lines, List<String> changes) {
    List<String> out = new ArrayList<>(lines);
    int shown = Math.min(MOST, changes.size());
    out.addAll(changes.subList(0, shown));
    if (changes.size() > shown) {
      out.add("- and " + (changes.size() - shown) + " more");
    }
    return String.join("\n", out);
  }
}
