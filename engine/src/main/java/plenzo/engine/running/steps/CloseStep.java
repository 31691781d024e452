package plenzo.engine.running.steps;

import java.util.List;
import plenzo.core.component.Kind.Holder;
import plenzo.core.plan.Plan.Act;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.JournalEntry.Deed;
import plenzo.core.run.JournalEntry.Outcome;
import plenzo.core.run.RunStep;
import plenzo.core.stage.Closing;
import plenzo.core.target.ItemsChanging;
import plenzo.core.target.ItemsLooking;
import plenzo.core.target.TargetFailed;
import plenzo.core.words.Words;
import plenzo.engine.running.Maintenance;
import plenzo.engine.running.RunContext;
import plenzo.engine.running.RunStopped;
import plenzo.engine.setup.SiteLook;
import plenzo.engine.setup.Targets;

/** Lets only operators in and waits until nobody is in the middle of what changes. */
final class CloseStep implements Step {
  @Override
  public Act act() {
    return Act.CLOSE;
  }

  @Override
  public Phase phase() {
    return Phase.BEFORE;
  }

  @Override
  public String take(RunContext c, RunStep step) {
    Targets.At host = c.place(Holder.HOST);
    Promotion p = c.promotion();
    Closing how = p.brings() ? c.work().leg(p).closing() : Closing.USUAL;
    c.book().intent(c.number(), Deed.CLOSE, 1, host.id(), null, "Maintenance on");
    try (ItemsChanging session = (ItemsChanging) c.targets().change(host)) {
      session.maintenance(true, c.number(), how.told(c.run().version()));
    }
    c.book().outcome(c.number(), Deed.CLOSE, 1, host.id(), Outcome.CLOSED, "maintenance is on");
    c.say("Only operators are let in from here");
    drain(c, host, how);
    return "Maintenance is on, no work is running";
  }

  private static void drain(RunContext c, Targets.At host, Closing how) {
    long waits = 0;
    long began = System.nanoTime();
    while (true) {
      try (SiteLook look = c.targets().look(List.of(host))) {
        ItemsLooking.Work running = look.items(Holder.HOST).work();
        if (running == null || running.running().isEmpty()) {
          return;
        }
        if (System.nanoTime() - began > how.seconds() * 1_000_000_000L) {
          throw RunStopped.because(
              "Running work did not end within " + how.span(),
              running.running().stream().map(w -> w.what() + " of " + w.person()).toList());
        }
        if (waits++ % 10 == 0) {
          c.say(
              "Waiting for "
                  + Words.count(running.running().size(), "piece")
                  + " of running work to end");
        }
      }
      c.alive();
      pause();
    }
  }

  private static void pause() {
    try {
      Thread.sleep(200);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new TargetFailed("Interrupted", false, e);
    }
  }

  @Override
  public void undo(RunContext c) {
    Maintenance.end(c);
  }
}
