package plenzo.store;

import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import plenzo.core.keeping.Kept.HistorySight;
import plenzo.core.person.Sight;

/**
 * One question to the history that an index answers, and what of its answer is seen. An entry
 * belongs to a stage, to an application, to both or to neither; a right at a stage for an
 * application sees what belongs to both, and what belongs to one of them alone.
 *
 * @param application only entries of this application; null for any or none
 * @param stage only entries of this stage, with {@code orNone} also those of none
 * @param noApplication only entries of no application
 * @param noStage only entries of no stage
 * @param somewhere only entries of a stage or an application
 * @param actor only what this person did
 */
public record HistoryLens(
    @Nullable String application,
    @Nullable String stage,
    boolean orNone,
    boolean noApplication,
    boolean noStage,
    boolean somewhere,
    @Nullable String actor) {
  private static final HistoryLens EVERYTHING =
      new HistoryLens(null, null, false, false, false, false, null);

  private HistoryLens ofNoApplication() {
    return new HistoryLens(application, stage, orNone, true, noStage, somewhere, actor);
  }

  private HistoryLens ofNoStage() {
    return new HistoryLens(application, stage, orNone, noApplication, true, somewhere, actor);
  }

  private HistoryLens somewhere(boolean only) {
    return new HistoryLens(application, stage, orNone, noApplication, noStage, only, actor);
  }

  private HistoryLens by(String login) {
    return new HistoryLens(application, stage, orNone, noApplication, noStage, somewhere, login);
  }

  private static HistoryLens stage(String stage) {
    return new HistoryLens(null, stage, false, false, false, false, null);
  }

  private static HistoryLens application(String application, @Nullable String stage) {
    return new HistoryLens(application, stage, stage != null, false, false, false, null);
  }

  /** The questions that together find what the person may look back on. */
  static List<HistoryLens> of(HistorySight who) {
    Sight sight = who.sight();
    if (sight.everywhere() && who.all()) {
      return List.of(EVERYTHING);
    }
    List<HistoryLens> out = new ArrayList<>();
    HistoryLens nowhere = EVERYTHING.ofNoApplication().ofNoStage();
    out.add(who.all() ? nowhere : nowhere.by(who.login()));
    if (sight.everywhere()) {
      out.add(EVERYTHING.somewhere(/* only= */ true));
      return out;
    }
    for (Sight.Place p : sight.places()) {
      String stage = p.stage();
      String application = p.application();
      if (application == null && stage != null) {
        out.add(stage(stage));
        out.add(EVERYTHING.ofNoStage().somewhere(/* only= */ true));
      } else if (application != null) {
        out.add(application(application, stage));
        out.add(
            stage == null
                ? EVERYTHING.ofNoApplication().somewhere(/* only= */ true)
                : stage(stage).ofNoApplication());
      }
    }
    return out.stream().distinct().toList();
  }
}
