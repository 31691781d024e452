package plenzo.engine.running.steps;

import org.jspecify.annotations.Nullable;
import plenzo.core.component.Kind.Holder;
import plenzo.core.plan.Plan.Act;
import plenzo.core.run.RunStep;
import plenzo.core.target.Changing;
import plenzo.core.target.TargetFailed;
import plenzo.engine.promoting.AfterRun;
import plenzo.engine.running.RunContext;
import plenzo.engine.running.RunWatch;

/**
 * Reads the site once more from outside. "As planned" is said only of what was read; what could not
 * be read is said as that, and is never somebody's writing.
 */
final class ReadBackStep implements Step {
  @Override
  public Act act() {
    return Act.READ_BACK;
  }

  @Override
  public Phase phase() {
    return Phase.AFTER;
  }

  @Override
  public boolean again(RunContext c) {
    return !c.now().recorded();
  }

  /**
   * Does what the switch left to be done beside running work.
   *
   * @return why it could not be; null where it was
   */
  private static @Nullable String finish(RunContext c) {
    if (!c.switched().contains(Holder.DATABASE)) {
      return null;
    }
    try (Changing session = c.targets().change(c.place(Holder.DATABASE))) {
      for (String trouble : session.finish(c.number(), new RunWatch(c, /* toDo= */ 0))) {
        c.say("To look at: " + trouble);
        c.toLookAt(trouble);
      }
      return null;
    } catch (TargetFailed e) {
      return "What the switch left to be looked at was not looked at: " + e.getMessage();
    }
  }

  @Override
  public String take(RunContext c, RunStep step) {
    String unfinished = finish(c);
    AfterRun.Found found;
    try {
      found = c.work().after(c.promotion(), c.number());
    } catch (RuntimeException e) {
      boolean silent = e instanceof TargetFailed;
      if (!silent) {
        System.getLogger(ReadBackStep.class.getName())
            .log(System.Logger.Level.ERROR, "Reading back R-" + c.number() + " failed", e);
      }
      String note =
          (silent ? "The site could not be read back: " : "Reading back failed: ")
              + e.getMessage()
              + ". What is there now was not compared with what was planned";
      c.toLookAt(note);
      return note;
    }
    c.seen(found.look());
    if (unfinished != null) {
      c.toLookAt(unfinished);
    }
    if (found.odd().isEmpty()) {
      return "What is there is what was planned" + found.beside();
    }
    String note =
        found.odd().size()
            + (found.odd().size() == 1 ? " place is" : " places are")
            + " not as planned: "
            + String.join("; ", found.odd().subList(0, Math.min(5, found.odd().size())))
            + (found.odd().size() > 5 ? "; and " + (found.odd().size() - 5) + " more" : "")
            + ". They were as planned inside the switch, so they were changed after it";
    found.odd().forEach(line -> c.say("Not as planned: " + line));
    c.toLookAt(note);
    return note;
  }
}
