package plenzo.engine.running.steps;

import java.time.Duration;
import java.time.Instant;
import plenzo.core.component.Kind.Holder;
import plenzo.core.plan.Plan.Act;
import plenzo.core.run.JournalEntry.Deed;
import plenzo.core.run.JournalEntry.Outcome;
import plenzo.core.run.RunStep;
import plenzo.core.stage.Closing;
import plenzo.core.target.Changing;
import plenzo.engine.running.RunContext;
import plenzo.engine.setup.Targets;

/** Tells people that they will be kept out, and waits until then; they work on meanwhile. */
final class AnnounceStep implements Step {
  @Override
  public Act act() {
    return Act.ANNOUNCE;
  }

  @Override
  public Phase phase() {
    return Phase.BEFORE;
  }

  @Override
  public String take(RunContext c, RunStep step) {
    Targets.At host = c.place(Holder.HOST);
    Closing how = c.work().paths().leg(c.promotion()).closing();
    Duration before = Duration.ofMinutes(how.before());
    Instant at = c.tools().now().plus(before);
    long began = c.tools().nanos().getAsLong();
    c.book().intent(c.number(), Deed.ANNOUNCE, 1, host.id(), null, "Tell people");
    try (Changing session = c.targets().change(host)) {
      session.announce(how.told(c.run().version()), at);
    }
    c.book().outcome(c.number(), Deed.ANNOUNCE, 1, host.id(), Outcome.TOLD, "people are told");
    c.say("People are told that it closes in " + how.before() + " min");
    // a clock that is set meanwhile keeps nobody waiting, and cuts nobody short
    while (c.tools().nanos().getAsLong() - began < before.toNanos()) {
      c.alive();
      Waiting.pause();
    }
    return "People were told " + how.before() + " min before";
  }

  @Override
  public void undo(RunContext c) {
    if (c.book().journal(c.number()).intended(Deed.ANNOUNCE)) {
      try (Changing session = c.targets().change(c.place(Holder.HOST))) {
        session.announce("", null);
      }
    }
  }
}
