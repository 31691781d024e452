package plenzo.engine.running;

import plenzo.core.component.Kind.Holder;
import plenzo.core.keeping.Kept;
import plenzo.core.run.JournalEntry.Deed;
import plenzo.core.run.JournalEntry.Outcome;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.SiteRecord;
import plenzo.core.target.ItemsChanging;
import plenzo.engine.setup.Targets;

/** Ends maintenance where a run began it; every end but half written comes through here. */
public final class Maintenance {
  private Maintenance() {}

  /**
   * Repeatable; nothing where the run did not begin it.
   *
   * @throws plenzo.core.target.TargetFailed when the host cannot be asked now
   */
  public static void end(RunContext c) {
    if (!c.book().journal(c.number()).closed()) {
      return;
    }
    Targets.At host = c.place(Holder.HOST);
    c.book().intent(c.number(), Deed.OPEN, 1, host.id(), null, "Maintenance off");
    try (ItemsChanging session = (ItemsChanging) c.targets().change(host)) {
      session.maintenance(false, c.number(), "");
    }
    c.book().outcome(c.number(), Deed.OPEN, 1, host.id(), Outcome.OPENED, "maintenance is off");
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
    c.say("Everybody is let in again");
  }
}
