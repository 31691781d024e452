package plenzo.engine.running;

import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import plenzo.core.component.Kind.Holder;
import plenzo.core.keeping.Kept;
import plenzo.core.plan.Plan.Act;
import plenzo.core.run.JournalEntry.Deed;
import plenzo.core.run.JournalEntry.Outcome;
import plenzo.core.run.RunStep;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.SiteRecord;
import plenzo.core.target.Changing;
import plenzo.core.target.TargetId;
import plenzo.engine.setup.Targets;

/** Lets users in where a run kept them out; every end but half written comes through here. */
public final class Maintenance {
  private Maintenance() {}

  /**
   * Everywhere, the last closed first. Repeatable; nothing where the run closed nothing.
   *
   * @throws plenzo.core.target.TargetFailed when a target cannot be asked now
   */
  public static void end(RunContext c) {
    List<TargetId> closed = new ArrayList<>(c.book().journal(c.number()).closedTargets());
    Collections.reverse(closed);
    for (TargetId target : closed) {
      for (RunStep s : c.run().steps()) {
        if (s.act() == Act.CLOSE && s.holder() != null && c.place(s.holder()).id().equals(target)) {
          end(c, s.holder());
          break;
        }
      }
    }
  }

  /**
   * At one target; users are in again when it was the last. Repeatable.
   *
   * @throws plenzo.core.target.TargetFailed when the target cannot be asked now
   */
  public static void end(RunContext c, Holder holder) {
    Targets.At at = c.place(holder);
    if (!c.book().journal(c.number()).closedTargets().contains(at.id())) {
      return;
    }
    c.book().intent(c.number(), Deed.OPEN, 1, at.id(), null, "Let everybody in");
    try (Changing session = c.targets().change(at)) {
      session.maintenance(false, c.number(), at.target().doors(), "");
    }
    c.book().outcome(c.number(), Deed.OPEN, 1, at.id(), Outcome.OPENED, "everybody is let in");
    if (c.book().journal(c.number()).closed()) {
      return;
    }
    c.tools()
        .keeper()
        .writeAgain(
            kept -> {
              SiteKey site = c.run().site();
              for (SiteRecord r : kept.sites().list(Kept.Filter.at(site))) {
                if (r.closedBy() != null) {
                  kept.sites().replace(r.closedBy(null));
                }
              }
              return null;
            });
  }
}
