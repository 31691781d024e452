package plenzo.e2e;

import java.util.List;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.stream.Collectors;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.PromotionState;
import plenzo.core.promotion.Waves;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.run.RunStep;
import plenzo.core.stage.SiteRecord;
import plenzo.engine.Engine;
import plenzo.engine.waves.InWaves;

/** Two sites in waves, with work by hand in each run, done by the one person who is there. */
final class Nights {
  private final Engine engine;
  private final Person by;

  Nights(Engine engine, Person by) {
    this.engine = engine;
    this.by = by;
  }

  private Waves waves() {
    return engine.waves().list(by, Kept.Filter.all()).items().get(0);
  }

  void start() {
    InWaves.Standing s = engine.waves().standing(by, waves().number());
    engine
        .waves()
        .start(
            by,
            waves().number(),
            Optional.ofNullable(s.fingerprint()).orElseThrow().digest().hex());
  }

  private List<Run> runs() {
    return engine.runs().whole(by, Kept.Filter.application("fares")).items();
  }

  void untilPaused() throws InterruptedException {
    while (runs().stream().noneMatch(r -> r.state() == RunState.PAUSED)) {
      TimeUnit.MILLISECONDS.sleep(20);
    }
  }

  /** Does what runs wait for. */
  private void byHand() {
    for (Run run : runs()) {
      if (run.state() == RunState.PAUSED) {
        run.steps().stream()
            .filter(s -> s.manual() != null && s.state() == RunStep.State.RUNNING)
            .findFirst()
            .ifPresent(
                s -> {
                  try {
                    engine.runs().steering().done(by, run.number(), s.number(), "told the desk");
                  } catch (Problem e) {
                    // it moved on meanwhile: looked at again
                  }
                });
      }
    }
  }

  /** How it ended, once nothing goes on and nothing begins by itself. */
  String end() throws InterruptedException {
    for (int quiet = 0; quiet < 8; ) {
      byHand();
      boolean over =
          runs().stream().allMatch(r -> r.state().ended())
              && engine
                  .promotions()
                  .list(by, Kept.Filter.state(PromotionState.PREPARING.code()))
                  .items()
                  .isEmpty()
              && waves().state() != Waves.State.RUNNING;
      quiet = over ? quiet + 1 : 0;
      TimeUnit.MILLISECONDS.sleep(40);
    }
    return said();
  }

  /** The same after a restart, asked again and again as a service does. */
  String recovered() throws InterruptedException {
    engine.promotions().resume();
    for (int quiet = 0; quiet < 8; ) {
      int open = engine.runs().recover();
      engine.waves().goOn();
      byHand();
      boolean over =
          open == 0
              && runs().stream().allMatch(r -> r.state().ended())
              && waves().state() != Waves.State.RUNNING
              && engine
                  .promotions()
                  .list(by, Kept.Filter.state(PromotionState.PREPARING.code()))
                  .items()
                  .isEmpty();
      quiet = over ? quiet + 1 : 0;
      TimeUnit.MILLISECONDS.sleep(40);
    }
    return said();
  }

  private String said() {
    String sites =
        engine.tools().keeper().read(kept -> kept.sites().all()).stream()
            .sorted(java.util.Comparator.comparing(SiteRecord::id))
            .filter(r -> r.site().stage().equals("production"))
            .map(
                r ->
                    r.site().site()
                        + "="
                        + r.present()
                        + (r.closedBy() == null ? "" : " closed")
                        + (r.halfWritten() ? " half" : ""))
            .collect(Collectors.joining(" "));
    return sites
        + " waves="
        + waves().state().code()
        + " runs="
        + runs().stream().map(r -> r.state().code()).collect(Collectors.joining("|"));
  }
}
