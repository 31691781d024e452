package plenzo.engine.returning;

import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import plenzo.core.keeping.Files;
import plenzo.core.plan.Plan;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.SiteRecord;
import plenzo.engine.comparing.ComparisonFiles;
import plenzo.engine.promoting.CaseWork;

/**
 * Ways back as they were worked out lately, so that whoever starts one waits for no table a second
 * time. What a site is recorded to have must be as it was; what moved in the site itself is found
 * by the run, which looks again before it writes anything. For threads.
 */
final class Lately {
  /** How many are kept: the ways of a few sites (guess). */
  private static final int MOST = 8;

  /** What has more components is not kept, so that memory stays bounded (guess). */
  private static final int COMPONENTS = 10_000;

  /** A note a comparison that nothing but this memory knows. */
  private static final String NOTES = "ways";

  /** Who asked for which way. */
  record Asked(String login, String application, SiteKey site, Plan.Way way, Rollbacks.Wish wish) {}

  private record Worked(SiteRecord record, CaseWork.Outcome out, Rollbacks.Option option) {}

  private final Files files;
  private final ComparisonFiles comparisons;
  private final Map<Asked, Worked> all = new LinkedHashMap<>();

  /** Removes what an earlier process kept and did not use. */
  Lately(Files files, ComparisonFiles comparisons) {
    this.files = files;
    this.comparisons = comparisons;
    for (String comparison : files.list(NOTES)) {
      forget(comparison);
    }
  }

  private void forget(String comparison) {
    comparisons.remove(comparison);
    files.remove(note(comparison));
  }

  private static String note(String comparison) {
    return NOTES + "/" + comparison;
  }

  synchronized void keep(
      Asked asked, SiteRecord record, CaseWork.Outcome out, Rollbacks.Option option) {
    Worked before = all.remove(asked);
    if (before != null) {
      forget(before.out.compared().id());
    }
    if (out.compared().components().size() > COMPONENTS) {
      comparisons.remove(out.compared().id());
      return;
    }
    for (Iterator<Worked> eldest = all.values().iterator(); all.size() >= MOST; eldest.remove()) {
      forget(eldest.next().out.compared().id());
    }
    files.write(note(out.compared().id()), to -> {});
    all.put(asked, new Worked(record, out, option));
  }

  /** What was seen of it; null when it was not worked out lately, or the records moved since. */
  synchronized Rollbacks.@Nullable Option option(Asked asked, SiteRecord now) {
    Worked worked = all.get(asked);
    return worked != null && worked.record.equals(now) ? worked.option : null;
  }

  /**
   * What was worked out, now whoever takes it is to keep or remove its comparison.
   *
   * @param expect the fingerprint that its plan must have
   */
  synchronized CaseWork.@Nullable Outcome take(Asked asked, SiteRecord now, String expect) {
    Worked worked = all.get(asked);
    if (worked == null
        || !worked.record.equals(now)
        || !worked.out.plan().fingerprint().matches(expect)) {
      return null;
    }
    all.remove(asked);
    files.remove(note(worked.out.compared().id()));
    return worked.out;
  }
}
