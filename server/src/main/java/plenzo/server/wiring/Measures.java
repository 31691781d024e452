package plenzo.server.wiring;

import io.micrometer.core.instrument.FunctionCounter;
import io.micrometer.core.instrument.Gauge;
import io.micrometer.core.instrument.MeterRegistry;
import io.micrometer.core.instrument.binder.MeterBinder;
import java.util.List;
import java.util.function.Function;
import org.springframework.stereotype.Component;
import plenzo.core.keeping.Kept;
import plenzo.core.promotion.PromotionState;
import plenzo.core.run.RunState;
import plenzo.core.stage.Condition;
import plenzo.core.telling.Call;
import plenzo.engine.Engine;

/**
 * Plenzo's own figures for the metrics: runs by state and by how they ended, open promotions, sites
 * by condition, what starts by itself, what is told and who is called. Counted when they are asked
 * for.
 */
@Component
final class Measures implements MeterBinder {
  private final Engine engine;

  Measures(Engine engine) {
    this.engine = engine;
  }

  @Override
  public void bindTo(MeterRegistry registry) {
    for (RunState state : List.of(RunState.QUEUED, RunState.RUNNING, RunState.PAUSED)) {
      Gauge.builder("plenzo.runs", this, m -> m.runs(state))
          .description("Runs that have not ended, by state")
          .tag("state", state.code())
          .register(registry);
    }
    for (RunState state : RunState.values()) {
      if (state.ended()) {
        FunctionCounter.builder("plenzo.runs.ended", this, m -> m.runs(state))
            .description("Runs that have ended, by result")
            .tag("result", state.code())
            .register(registry);
        FunctionCounter.builder("plenzo.runs.took", this, m -> m.seconds(state))
            .description("How long runs took that have ended, all together, by result")
            .baseUnit("seconds")
            .tag("result", state.code())
            .register(registry);
      }
    }
    waiting(registry, "plenzo.schedules", "Runs that are to start by themselves", Kept::schedules);
    waiting(registry, "plenzo.errands", "Versions on their way by themselves", Kept::errands);
    waiting(registry, "plenzo.deliveries", "Events and letters on their way", Kept::deliveries);
    Gauge.builder("plenzo.calls", this, m -> m.counted(Kept::calls, Call.State.OPEN.code()))
        .description("Calls that nobody has taken")
        .register(registry);
    for (PromotionState state : PromotionState.values()) {
      if (state.open()) {
        Gauge.builder("plenzo.promotions", this, m -> m.promotions(state))
            .description("Promotions that are open, by state")
            .tag("state", state.code())
            .register(registry);
      }
    }
    for (Condition condition : Condition.values()) {
      Gauge.builder("plenzo.sites", this, m -> m.sites(condition))
          .description("Applications at sites, by condition")
          .tag("condition", condition.code())
          .register(registry);
    }
  }

  /** Those of which the state is that they wait. */
  private void waiting(
      MeterRegistry registry, String name, String words, Function<Kept, Kept.Shelf<?>> of) {
    Gauge.builder(name, this, m -> m.counted(of, "waiting"))
        .description(words)
        .tag("state", "waiting")
        .register(registry);
  }

  private double counted(Function<Kept, Kept.Shelf<?>> of, String state) {
    return count(kept -> of.apply(kept).count(Kept.Filter.state(state)));
  }

  private double runs(RunState state) {
    return count(kept -> kept.runs().count(Kept.Filter.state(state.code())));
  }

  private double seconds(RunState state) {
    return count(kept -> kept.runs().took(state).toMillis()) / 1000;
  }

  private double promotions(PromotionState state) {
    return count(kept -> kept.promotions().count(Kept.Filter.state(state.code())));
  }

  private double sites(Condition condition) {
    return count(
        kept -> kept.sites().all().stream().filter(s -> s.condition() == condition).count());
  }

  private double count(java.util.function.ToLongFunction<Kept> what) {
    return engine.tools().keeper().read(kept -> what.applyAsLong(kept));
  }
}
