package plenzo.engine.promoting;

import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import plenzo.core.component.Kind;
import plenzo.core.keeping.Kept;
import plenzo.core.locking.Locked;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.stage.SiteKey;
import plenzo.core.target.Question;
import plenzo.core.target.TablesDelta;
import plenzo.engine.Tools;
import plenzo.engine.setup.SiteLook;

/** Whom the switch of a plan keeps waiting, and how long that took at the site before. */
final class LockTimes {
  /** Runs that are looked through for how long their switches took (guess). */
  private static final int SWITCHES = 20;

  private LockTimes() {}

  static Locked of(Tools tools, SiteKey site, TablesDelta delta, SiteLook look) {
    return locked(delta, look).corrected(switches(tools, site));
  }

  private static Locked locked(TablesDelta delta, SiteLook look) {
    return delta.isEmpty()
        ? Locked.NONE
        : Locked.of(
            delta,
            t -> look.tables().table(t).isPresent(),
            t -> look.tables().answer(Question.of(Question.Type.BYTES, t)).count());
  }

  /** How long the last switches of the site's database took, beside what was foreseen of each. */
  private static List<Locked.Took> switches(Tools tools, SiteKey site) {
    return tools
        .keeper()
        .read(
            kept -> {
              List<Locked.Took> out = new ArrayList<>();
              for (Run run :
                  kept.runs()
                      .list(
                          Kept.Filter.at(site).in(List.of(RunState.DONE.code())).most(SWITCHES))) {
                Plan plan =
                    kept.promotions()
                        .find(String.valueOf(run.goal().promotion()))
                        .map(Promotion::plan)
                        .orElse(null);
                run.steps().stream()
                    .filter(s -> s.act() == Plan.Act.SWITCH && s.holder() == Kind.Holder.DATABASE)
                    .filter(s -> plan != null && s.began() != null && s.ended() != null)
                    .forEach(
                        s ->
                            out.add(
                                new Locked.Took(
                                    plan.locked().foreseen(),
                                    Duration.between(s.began(), s.ended()).toMillis())));
              }
              return out;
            });
  }
}
