package plenzo.engine.running.steps;

import java.util.List;
import java.util.Objects;
import java.util.Set;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.keeping.Kept;
import plenzo.core.plan.Plan.Act;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.run.Run;
import plenzo.core.run.RunStep;
import plenzo.core.stage.SiteRecord;
import plenzo.core.version.SemVer;
import plenzo.engine.comparing.DriftList;
import plenzo.engine.promoting.CaseWork;
import plenzo.engine.promoting.Emergencies;
import plenzo.engine.promoting.Promotions;
import plenzo.engine.running.Ending;
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
    List<String> looks =
        Stream.concat(c.now().course().looks().stream(), c.looks().stream()).distinct().toList();
    String whole = Ending.sentence(p, c.now(), looks);
    String before = c.work().record(p.application(), p.site()).look().list();
    c.tools()
        .keeper()
        .writeAgain(
            kept -> {
              Run run = kept.runs().find(String.valueOf(c.number())).orElseThrow();
              place(kept, c, run, p, !looks.isEmpty());
              Promotion now = kept.promotions().find(String.valueOf(p.number())).orElseThrow();
              kept.promotions().replace(now.change().state(PromotionState.DONE).done());
              Run placed =
                  run.withStep(
                          run.steps()
                              .get(step.number() - 1)
                              .to(RunStep.State.DONE, c.tools().now(), "Recorded"))
                      .withLooks(looks);
              // what people do after it is part of the run, and not of what is there
              boolean last = step.number() == run.steps().size();
              kept.runs().replace(last ? Ending.ended(placed, whole, c.tools().now()) : placed);
              kept.note(
                  new Event(
                      run.startedBy(),
                      event(p),
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
    if (c.seen() != null) { // which has a list of its own
      new DriftList(c.tools()).remove(before);
    }
    c.book().tell(c.number());
    c.say(whole);
    c.book().forget(c.number());
    promotions.compareOthers(p);
    return null;
  }

  private static String event(Promotion p) {
    if (p.valuesOnly()) {
      return p.rollback() ? "values given back" : "values given";
    }
    return p.rollback() ? "rolled back" : p.brings() ? "run done" : "put back";
  }

  /** The version that was gone back from; of a half written site the one that came half. */
  private static @Nullable SemVer left(Kept kept, SiteRecord record) {
    return kept.halfWritten(record)
        .map(half -> new SemVer(half.version()))
        .orElse(record.present());
  }

  private static void place(Kept kept, RunContext c, Run run, Promotion p, boolean toLookAt) {
    SiteRecord.Placement.Looked found =
        toLookAt ? new SiteRecord.Placement.Looked(run.number(), c.tools().now()) : null;
    SiteRecord there = kept.sites().find(p.application() + "@" + p.site()).orElseThrow();
    SiteRecord given = c.work().bindings().given(kept, p, run, there, c.tools().now());
    // nobody was let in where somebody ended the run before that
    SiteRecord record =
        c.book().journal(run.number()).closed() ? given.closedBy(run.shown()) : given;
    SiteRecord.Look look =
        c.seen() == null ? record.look().unseen() : Objects.requireNonNull(c.seen());
    if (p.valuesOnly()) { // the version did not come anew
      SiteRecord seen = record.looked(look).withFailed(null);
      kept.sites().replace(found == null ? seen : seen.withToLookAt(found));
      return;
    }
    SiteRecord.Placement placed =
        new SiteRecord.Placement(
            p.version(),
            p.rollback() ? "rollback" : p.brings() ? "run" : "put-back",
            run.number(),
            c.tools().now(),
            run.startedBy(),
            found);
    kept.sites()
        .replace(
            Emergencies.owing(
                record
                    .placed(
                        placed,
                        CaseWork.after(p, record),
                        p.rollback() ? left(kept, record) : null,
                        look)
                    .withoutLeft(p.putBack() == null ? Set.of() : p.putBack().places())
                    .withBases(c.work().bases(run.number())),
                p));
  }
}
