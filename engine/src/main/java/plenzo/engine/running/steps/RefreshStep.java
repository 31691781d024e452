package plenzo.engine.running.steps;

import plenzo.core.component.Kind.Holder;
import plenzo.core.plan.Plan.Act;
import plenzo.core.run.RunStep;
import plenzo.core.target.ItemsChanging;
import plenzo.core.target.TargetFailed;
import plenzo.engine.running.RunContext;

/** Lets a host refresh what it keeps of what changed; one that cannot is something to look at. */
final class RefreshStep implements Step {
  @Override
  public Act act() {
    return Act.REFRESH;
  }

  @Override
  public Phase phase() {
    return Phase.AFTER;
  }

  @Override
  public boolean withoutChanges() {
    return false;
  }

  @Override
  public String take(RunContext c, RunStep step) {
    ItemsChanging.Refreshed said;
    try (ItemsChanging session = (ItemsChanging) c.targets().change(c.place(Holder.HOST))) {
      said = session.refresh(c.number());
    } catch (TargetFailed e) {
      String note = "The host did not refresh what it keeps: " + e.getMessage();
      c.toLookAt(note);
      return note;
    }
    String done =
        said.done().isEmpty() ? "Nothing was to be refreshed" : String.join("; ", said.done());
    return said.people().isEmpty()
        ? done
        : done + ". People must: " + String.join("; ", said.people());
  }
}
