package plenzo.api;

import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Plans that are carried out on copies. */
public interface Rehearsals {
  /**
   * A plan carried out on copies of what it can touch, and taken back there.
   *
   * @param number "RH-3"
   * @param promotion whose plan it is; empty of a draft's
   * @param fingerprint empty of a draft until its plan is made
   * @param result going-on, proven, carried-out (no way back could be tried), failed or stopped;
   *     more may come
   * @param ofThisPlan whether the promotion has the same plan now
   * @param sentence what came of it; empty while it goes on
   * @param beside what of the plan was not rehearsed, and why
   * @param mayStop whether the caller may stop it now
   * @param draft that was tried before it was sealed; null else
   */
  record RehearsalView(
      String number,
      String promotion,
      String application,
      String version,
      String site,
      String fingerprint,
      boolean ofThisPlan,
      String by,
      Instant began,
      @Nullable Instant ended,
      String result,
      String sentence,
      List<RehearsalPart> parts,
      List<String> beside,
      boolean mayStop,
      @Nullable String draft) {}

  /**
   * Where a draft is tried.
   *
   * @param site "test/main"
   */
  record TryDraft(String site) {}

  /**
   * One thing that was done.
   *
   * @param seconds how long it took; null while it goes on, and of what did not end
   * @param note what came of it, or why it did not end
   */
  record RehearsalPart(String name, Instant began, @Nullable Double seconds, String note) {}
}
