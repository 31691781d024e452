package plenzo.core.run;

import java.time.Duration;
import java.util.List;
import plenzo.core.comparison.Counts;
import plenzo.core.component.Kind;
import plenzo.core.promotion.Promotion.ComponentResult;

/**
 * What a run carries: what makes another one longer or shorter than those before.
 *
 * @param copied rows of the tables that it copies before it writes
 * @param written rows and parts that it writes
 */
public record Load(long copied, long written) {
  /** Rows a second, the quickest and the slowest target (guess: a tenth of each other). */
  private static final long COPIES_BEST = 200_000;

  private static final long COPIES_WORST = 20_000;
  private static final long WRITES_BEST = 20_000;
  private static final long WRITES_WORST = 2_000;

  /** Seconds for all that does not depend on rows (guess). */
  private static final Duration REST_BEST = Duration.ofSeconds(2);

  private static final Duration REST_WORST = Duration.ofSeconds(60);

  /** Which work of a run grows with it. */
  enum Grows {
    COPYING,
    WRITING,
    NOT
  }

  /** What a comparison found: rows that are there, and what a plan writes. */
  public static Load of(List<ComponentResult> components) {
    long copied = 0;
    long written = 0;
    for (ComponentResult c : components) {
      Counts n = c.counts();
      written += n.written();
      if (c.key().kind() == Kind.RECORDS && n.written() > 0) {
        copied += n.changed() + n.removed() + n.conflict() + n.kept() + n.same();
      }
    }
    return new Load(copied, written);
  }

  /** Of a run that came through. */
  static Load of(Run run) {
    Run.Backup backup = run.backup();
    return new Load(backup == null ? 0 : backup.rows(), run.rows().toDo());
  }

  /**
   * What a step takes with this load that took so long with another.
   *
   * @param best on a quick target; else on a slow one
   */
  Duration instead(Duration took, Load then, Grows grows, boolean best) {
    long more =
        switch (grows) {
          case COPYING -> copied - then.copied;
          case WRITING -> written - then.written;
          case NOT -> 0;
        };
    // less is counted as what a quick one saves: what else it took is not known to shrink
    boolean quick = best || more < 0;
    Duration by =
        grows == Grows.COPYING
            ? span(more, quick ? COPIES_BEST : COPIES_WORST)
            : span(more, quick ? WRITES_BEST : WRITES_WORST);
    Duration out = took.plus(by);
    return out.isNegative() ? Duration.ZERO : out;
  }

  /** Of the whole run, or of what is done while users are out, where none came through yet. */
  Spans.Span bySize(boolean usersOut) {
    int copies = usersOut ? 1 : 3; // backed up, restored to prove it, read for what moved
    return new Spans.Span(
        REST_BEST.plus(span(copied * copies, COPIES_BEST)).plus(span(written, WRITES_BEST)),
        REST_WORST.plus(span(copied * copies, COPIES_WORST)).plus(span(written, WRITES_WORST)),
        0);
  }

  private static Duration span(long rows, long aSecond) {
    return Duration.ofMillis(rows * 1000 / aSecond);
  }
}
