package plenzo.engine.running.steps;

import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.Kind.Holder;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.keeping.Kept;
import plenzo.core.plan.Plan;
import plenzo.core.plan.Plan.Act;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.run.RunStep;
import plenzo.core.stage.SiteRecord;
import plenzo.engine.promoting.CaseWork;
import plenzo.engine.promoting.Promotions;
import plenzo.engine.running.RunContext;

/** Records in one transaction what is there, how the run ended, and that in the history. */
final class RecordStep implements Step {
  private final Promotions promotions;

  RecordStep(Promotions promotions) {
    this.promotions = promotions;
  }

  @Override
  public Act act() {
    return Act.RECORD;
  }

  @Override
  public Phase phase() {
    return Phase.AFTER;
  }

  @Override
  public @Nullable String take(RunContext c, RunStep step) {
    Promotion p = c.promotion();
    List<String> looks = c.looks();
    String there = p.version() + " is at " + p.site() + ".";
    String sentence = p.rollback() ? p.site() + " is back at " + p.version() + "." : there;
    String whole =
        looks.isEmpty() ? sentence : sentence + " To look at: " + String.join(". ", looks) + ".";
    Map<String, Long> given = given(c, p);
    c.tools()
        .keeper()
        .writeAgain(
            kept -> {
              Run run = kept.runs().find(String.valueOf(c.number())).orElseThrow();
              place(kept, c, run, p, given);
              Promotion now = kept.promotions().find(String.valueOf(p.number())).orElseThrow();
              kept.promotions().replace(now.change().state(PromotionState.DONE).done());
              kept.runs()
                  .replace(
                      run.withStep(
                              run.steps()
                                  .get(step.number() - 1)
                                  .to(RunStep.State.DONE, c.tools().now(), "Recorded"))
                          .withState(
                              looks.isEmpty() ? RunState.DONE : RunState.DONE_TO_LOOK_AT,
                              c.tools().now(),
                              whole));
              kept.note(
                  new Event(
                      run.startedBy(),
                      p.rollback() ? "rolled back" : "run done",
                      run.application(),
                      run.site().stage(),
                      run.site().site(),
                      run.version(),
                      run.promotion(),
                      run.number(),
                      whole),
                  c.tools().now());
              return null;
            });
    c.book().tell(c.number());
    c.say(whole);
    c.book().forget(c.number());
    promotions.compareOthers(p);
    return null;
  }

  /** Bindings that the host was given: only a run that switched the host gave it any. */
  private static Map<String, Long> given(RunContext c, Promotion p) {
    return c.step(Act.SWITCH, Holder.HOST).isEmpty() ? Map.of() : c.work().stamps(p);
  }

  private static void place(
      Kept kept, RunContext c, Run run, Promotion p, Map<String, Long> given) {
    SiteRecord record = kept.sites().find(p.application() + "@" + p.site()).orElseThrow();
    SiteRecord.Placement placed =
        new SiteRecord.Placement(
            p.version(),
            p.rollback() ? "rollback" : "run",
            run.number(),
            c.tools().now(),
            run.startedBy());
    Set<String> exceptions = new TreeSet<>(CaseWork.exceptions(p.decisions()));
    if (p.way() == Plan.Way.BACKUP) {
      exceptions.addAll(record.exceptions());
    }
    SiteRecord next =
        record
            .placed(
                placed,
                List.copyOf(exceptions),
                p.rollback() ? record.present() : null,
                c.seen() == null ? record.look().unseen() : Objects.requireNonNull(c.seen()))
            .withBases(c.work().bases(run.number()));
    kept.sites().replace(given.isEmpty() ? next : next.withBound(given));
  }
}
