package plenzo.engine.running.steps;

import java.util.List;
import java.util.Objects;
import java.util.stream.Collectors;
import plenzo.core.component.Kind.Holder;
import plenzo.core.plan.Plan.Act;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.JournalEntry.Deed;
import plenzo.core.run.JournalEntry.Outcome;
import plenzo.core.run.RunStep;
import plenzo.core.stage.Closing;
import plenzo.core.target.Changing;
import plenzo.core.target.ItemsLooking;
import plenzo.core.target.TablesLooking;
import plenzo.core.words.Words;
import plenzo.engine.running.Maintenance;
import plenzo.engine.running.RunContext;
import plenzo.engine.running.RunStopped;
import plenzo.engine.setup.SiteLook;
import plenzo.engine.setup.Targets;

/** Keeps users out and waits until nobody is in the middle of what changes. */
final class CloseStep implements Step {
  /** How many pieces of running work the log names (guess). */
  private static final int NAMED = 3;

  /** Seconds for sessions to be gone that were ended (guess). */
  private static final int ENDING = 10;

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
    Holder holder = Objects.requireNonNullElse(step.holder(), Holder.HOST);
    Targets.At at = c.place(holder);
    Promotion p = c.promotion();
    Closing how = p.brings() ? c.work().paths().leg(p).closing() : Closing.USUAL;
    c.book().intent(c.number(), Deed.CLOSE, 1, at.id(), null, "Keep users out");
    try (Changing session = c.targets().change(at)) {
      session.maintenance(true, c.number(), at.target().doors(), how.told(c.run().version()));
    }
    c.book().outcome(c.number(), Deed.CLOSE, 1, at.id(), Outcome.CLOSED, "users are kept out");
    c.say(
        switch (holder) {
          case HOST -> "Only operators are let in from here";
          case DIRECTORY -> at.shown() + " says that it is closed";
          case DATABASE ->
              String.join(", ", at.target().doors().names())
                  + " cannot sign in at "
                  + at.shown()
                  + " from here";
        });
    drain(c, at, how);
    return switch (holder) {
      case HOST -> "Maintenance is on, no work is running";
      case DIRECTORY -> "The file that says so is there";
      case DATABASE -> "Nobody who is kept out is in any more";
    };
  }

  /** What goes on there still; empty when nothing does, or nobody can tell. */
  private static List<String> inside(RunContext c, Targets.At at) {
    if (at.holder() == Holder.DIRECTORY) {
      return List.of();
    }
    try (SiteLook look = c.targets().look(List.of(at))) {
      if (at.holder() == Holder.DATABASE) {
        return look.tables().sessions(at.target().doors().names()).stream()
            .map(TablesLooking.Inside::words)
            .toList();
      }
      ItemsLooking.Work running = look.items(Holder.HOST).work();
      return running == null
          ? List.of()
          : running.running().stream().map(w -> w.what() + " of " + w.person()).toList();
    }
  }

  private static void drain(RunContext c, Targets.At at, Closing how) {
    long waits = 0;
    long began = System.nanoTime();
    boolean ended = false;
    while (true) {
      List<String> inside = inside(c, at);
      if (inside.isEmpty()) {
        return;
      }
      long limit = (how.seconds() + (ended ? ENDING : 0)) * 1_000_000_000L;
      if (System.nanoTime() - began > limit) {
        if (ended || !at.target().doors().end()) {
          throw RunStopped.because("Running work did not end within " + how.span(), inside);
        }
        c.say("Sessions are ended: " + String.join(", ", inside));
        try (Changing session = c.targets().change(at)) {
          session.endSessions(at.target().doors());
        }
        ended = true;
      } else if (waits++ % 10 == 0) {
        c.say(
            "Waiting for "
                + Words.count(inside.size(), "piece")
                + " of running work to end: "
                + inside.stream().limit(NAMED).collect(Collectors.joining(", "))
                + (inside.size() > NAMED ? " and " + (inside.size() - NAMED) + " more" : ""));
      }
      c.alive();
      Waiting.pause();
    }
  }

  @Override
  public void undo(RunContext c) {
    boolean closed = c.book().journal(c.number()).closed();
    Maintenance.end(c);
    if (closed) {
      c.say(OpenStep.EVERYBODY);
    }
  }
}
