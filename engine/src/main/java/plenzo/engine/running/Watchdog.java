package plenzo.engine.running;

import java.time.Duration;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.Executor;
import java.util.concurrent.TimeUnit;
import java.util.function.BooleanSupplier;
import java.util.function.Consumer;
import plenzo.core.stage.SiteKey;
import plenzo.core.target.TargetFailed;
import plenzo.engine.Tools;
import plenzo.engine.setup.SiteLook;
import plenzo.engine.setup.Targets;

/**
 * Asks a target, while a run works on it, whether it still answers, in a session of its own: a long
 * statement is no reason to give up, a target that is silent to everybody is. It then cuts the
 * run's sessions, so that the run ends in a known way. The same is done when a person asked to
 * abort and the target does not let go.
 */
final class Watchdog implements AutoCloseable {
  /** Beats without an answer before the target counts as silent (rules: at least 4). */
  private static final int MISSES = 4;

  private final CountDownLatch end = new CountDownLatch(1);
  private final Targets targets;
  private final SiteKey site;
  private final Duration beat;
  private final Executor background;
  private final BooleanSupplier abortAsked;
  private final Consumer<String> say;

  Watchdog(
      Tools tools,
      Targets targets,
      SiteKey site,
      BooleanSupplier abortAsked,
      Consumer<String> say) {
    this.targets = targets;
    this.site = site;
    this.beat = tools.beat();
    this.background = tools.watching();
    this.abortAsked = abortAsked;
    this.say = say;
    tools.watching().execute(this::watch);
  }

  private void watch() {
    int missed = 0;
    int asked = 0;
    CompletableFuture<Boolean> answer = CompletableFuture.completedFuture(true);
    try {
      while (!end.await(beat.toMillis(), TimeUnit.MILLISECONDS)) {
        asked = abortAsked.getAsBoolean() ? asked + 1 : 0;
        // a question that is still open at the next beat is one more without an answer
        missed = answer.getNow(false) ? 0 : missed + 1;
        if (answer.isDone()) {
          answer = CompletableFuture.supplyAsync(this::answers, background);
        }
        if (missed >= MISSES || asked >= MISSES) {
          say.accept(
              missed >= MISSES
                  ? site
                      + " has not answered for "
                      + beat.multipliedBy(MISSES).toSeconds()
                      + " s; its sessions are cut"
                  : "The target does not let go of the statement; its sessions are cut");
          targets.cut(site);
          return;
        }
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  private boolean answers() {
    try (SiteLook look = targets.look(site)) {
      look.identities();
      return true;
    } catch (TargetFailed e) {
      return false;
    }
  }

  @Override
  public void close() {
    end.countDown();
  }
}
