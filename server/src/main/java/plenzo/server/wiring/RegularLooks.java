package plenzo.server.wiring;

import java.time.Duration;
import java.util.List;
import java.util.Set;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.stream.Collectors;
import plenzo.core.stage.Application;
import plenzo.core.stage.SiteRecord;
import plenzo.engine.Engine;
import plenzo.server.PlenzoSettings;

/**
 * When what is done by itself: drift and sources looked at, runs recovered, releases brought on.
 */
final class RegularLooks {
  private static final System.Logger LOG = System.getLogger(RegularLooks.class.getName());

  private final Engine engine;
  private final PlenzoSettings settings;
  private final ScheduledExecutorService schedule;

  RegularLooks(Engine engine, PlenzoSettings settings, ScheduledExecutorService schedule) {
    this.engine = engine;
    this.settings = settings;
    this.schedule = schedule;
  }

  void begin() {
    schedule.execute(quietly("tidying lists of drift", engine.drift()::tidy));
    schedule.execute(quietly("tidying saved files", engine.saving()::tidy));
    schedule.execute(quietly("taking away what was cleared", engine.retention()::tidy));
    schedule.scheduleWithFixedDelay(
        quietly("clearing what is old", engine.retention()::byItself), 1, 24, TimeUnit.HOURS);
    schedule.execute(quietly("resuming comparisons", engine.promotions()::resume));
    schedule.execute(quietly("ending rehearsals", engine.rehearsals()::resume));
    schedule.scheduleWithFixedDelay(
        quietly("recovering runs", engine.runs()::recover), 0, 3, TimeUnit.SECONDS);
    schedule.scheduleWithFixedDelay(
        quietly("bringing releases on", engine.releases()::goOn), 3, 3, TimeUnit.SECONDS);
    // one that fails never keeps what comes behind it from going on
    inTurn(
        quietly("calling who must come", engine.calls()::goOn),
        quietly("telling who is to be told", engine.deliveries()::goOn));
    inTurn(
        quietly("starting what is scheduled", engine.schedules()::goOn),
        quietly("sending what comes again", engine.repeats()::goOn),
        quietly("going from link to link", engine.chain()::goOn),
        quietly("bringing errands on", engine.errands()::goOn));
    schedule.scheduleWithFixedDelay(
        quietly("forgetting what is over", engine.accessKeys()::forgetWhatIsOver),
        1,
        60,
        TimeUnit.MINUTES);
    // an editing stage costs reading its rows, so it is looked at as rarely as rows are
    every(settings.lookAtSourcesEvery(), () -> sources(/* git= */ true));
    every(settings.lookAtRowsEvery(), () -> sources(/* git= */ false));
    every(Duration.ofMinutes(10), engine.copies()::goOn);
    every(Duration.ofMinutes(1), engine.promotions()::settleByTime);
    every(settings.lookEvery(), () -> drift(/* rows= */ false));
    every(settings.lookAtRowsEvery(), () -> drift(/* rows= */ true));
  }

  private void inTurn(Runnable... looks) {
    schedule.scheduleWithFixedDelay(
        () -> List.of(looks).forEach(Runnable::run), 5, 5, TimeUnit.SECONDS);
  }

  private void every(Duration time, Runnable look) {
    schedule.scheduleWithFixedDelay(
        quietly("looking for drift", look), time.toSeconds(), time.toSeconds(), TimeUnit.SECONDS);
  }

  private void sources(boolean git) {
    for (Application a : engine.tools().keeper().read(kept -> kept.applications().all())) {
      if (a.retired() == null && (a.repository() != null) == git) {
        quietly("looking at the source of " + a.key(), () -> engine.sourceWatch().look(a.key()))
            .run();
      }
    }
  }

  private void drift(boolean rows) {
    Set<String> retired =
        engine.tools().keeper().read(kept -> kept.applications().all()).stream()
            .filter(a -> a.retired() != null)
            .map(Application::key)
            .collect(Collectors.toSet());
    for (SiteRecord r : engine.tools().keeper().read(kept -> kept.sites().all())) {
      if (retired.contains(r.application())) {
        continue;
      }
      quietly("looking at " + r.id(), () -> engine.drift().look(r.application(), r.site(), rows))
          .run();
    }
  }

  private static Runnable quietly(String what, Runnable work) {
    return () -> {
      try {
        work.run();
      } catch (RuntimeException e) {
        LOG.log(System.Logger.Level.ERROR, "While " + what, e);
      }
    };
  }
}
