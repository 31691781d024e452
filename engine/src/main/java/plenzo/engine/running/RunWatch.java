package plenzo.engine.running;

import java.util.List;
import java.util.function.BooleanSupplier;
import plenzo.core.target.Changing;
import plenzo.core.target.SwitchRefused;

/** What a connector tells while it works. */
public final class RunWatch implements Changing.Watch {
  private final RunContext c;
  private final long toDo;
  private long told;

  public RunWatch(RunContext c, long toDo) {
    this.c = c;
    this.toDo = toDo;
  }

  @Override
  public void say(String line) {
    c.say(line);
  }

  @Override
  public void rows(long done) {
    long now = System.nanoTime();
    if (done == toDo || now - told > 300_000_000L) {
      told = now;
      c.book().rows(c.number(), done, toDo);
    }
  }

  @Override
  public void beforeCommit() {
    boolean[] first = {false};
    c.book()
        .change(
            c.number(),
            r -> {
              if (r.abortAsked()) {
                throw new SwitchRefused(
                    SwitchRefused.Why.ABORTED, "The run was aborted", List.of());
              }
              first[0] = r.noReturnAt() == null;
              return first[0] ? r.withNoReturn(c.tools().now()) : r;
            });
    if (first[0]) {
      c.say("No return from here: the switch is sent");
    }
  }

  @Override
  public BooleanSupplier abortAsked() {
    return () -> c.book().abortAsked(c.number());
  }
}
