package plenzo.engine.running.steps;

import java.util.Locale;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.Kind.Holder;
import plenzo.core.plan.Plan.Act;
import plenzo.core.run.JournalEntry.Deed;
import plenzo.core.run.JournalEntry.Outcome;
import plenzo.core.run.RunStep;
import plenzo.core.target.Changing;
import plenzo.core.target.SwitchRefused;
import plenzo.core.target.TargetId;
import plenzo.engine.running.RunContext;
import plenzo.engine.running.RunStopped;
import plenzo.engine.running.RunWatch;
import plenzo.engine.setup.Targets;

/** The switch of one target: one act that marks, compares, writes and reads back, or refuses. */
final class SwitchStep implements Step {
  private static final int LOCK_TRIES = 5;

  @Override
  public Act act() {
    return Act.SWITCH;
  }

  @Override
  public Phase phase() {
    return Phase.SWITCH;
  }

  @Override
  public @Nullable String take(RunContext c, RunStep step) {
    Holder holder = Objects.requireNonNull(step.holder());
    Targets.At at = c.place(holder);
    TargetId target = at.id();
    Changing session = c.session(holder);
    c.book().working(c.number(), session);
    for (int attempt = 1; ; attempt++) {
      c.book()
          .intent(
              c.number(),
              Deed.SWITCH,
              attempt,
              target,
              session.session(),
              "Switch to " + c.run().version());
      try {
        session.switchOver(
            c.mark(attempt),
            Objects.requireNonNull(c.delta().of(holder)),
            new RunWatch(c, c.delta().writes()));
        c.book().outcome(c.number(), Deed.SWITCH, attempt, target, Outcome.APPLIED, "applied");
        break;
      } catch (SwitchRefused e) {
        c.book()
            .outcome(
                c.number(),
                Deed.SWITCH,
                attempt,
                target,
                Outcome.REFUSED,
                "refused: " + e.getMessage());
        if (e.why() != SwitchRefused.Why.LOCKED || attempt == LOCK_TRIES) {
          throw RunStopped.of(e);
        }
        c.say(
            "Locked by others, trying again ("
                + attempt
                + " of "
                + LOCK_TRIES
                + "): "
                + String.join("; ", e.details()));
      }
    }
    String note = said(holder);
    c.say(at.shown() + ": " + note.toLowerCase(Locale.ROOT));
    return note;
  }

  /** A database commits, everything else is switched. */
  private static String said(Holder holder) {
    return holder == Holder.DATABASE ? "Committed" : "Switched";
  }
}
