package plenzo.engine.running;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.BiConsumer;
import org.jspecify.annotations.Nullable;
import plenzo.core.keeping.Kept;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.run.Run;
import plenzo.core.target.TargetFailed;
import plenzo.engine.Tools;

/**
 * Goes back from runs whose answers were not as they should be, where a yes covers that (decision
 * D13). What is to be done is written down before anything is, so that a restart goes on with it.
 */
public final class ByItself {
  private static final String FACT = "going-back";

  private final Tools tools;
  private final Runs runs;
  private final Opens opens;

  /** Opens the way back of a run that loses nothing that no yes covers. */
  public interface Opens {
    /**
     * @param kept what is written in the transaction that opens it, given its number
     * @throws Problem when there is no such way, with the reason
     */
    Promotion open(Run from, String why, BiConsumer<Kept, Long> kept);
  }

  public ByItself(Tools tools, Runs runs, Opens opens) {
    this.tools = tools;
    this.runs = runs;
    this.opens = opens;
  }

  /**
   * What is to be gone back from.
   *
   * @param promotion number of the case that does it, 0 before it is opened
   */
  private record Wanted(long run, long promotion) {
    static Wanted of(String text) {
      int at = text.indexOf('=');
      return new Wanted(
          Long.parseLong(text.substring(0, at)), Long.parseLong(text.substring(at + 1)));
    }

    String text() {
      return run + "=" + promotion;
    }
  }

  private static List<Wanted> all(Kept kept) {
    return kept.fact(FACT).stream()
        .flatMap(text -> List.of(text.split(" ")).stream())
        .filter(text -> !text.isBlank())
        .map(Wanted::of)
        .toList();
  }

  /** In the transaction that decides it. */
  static void wanted(Kept kept, long run) {
    set(kept, run, new Wanted(run, 0));
  }

  private static void set(Kept kept, long run, @Nullable Wanted now) {
    List<Wanted> next = new ArrayList<>(all(kept));
    next.removeIf(w -> w.run() == run);
    if (now != null) {
      next.add(now);
    }
    kept.fact(FACT, String.join(" ", next.stream().map(Wanted::text).toList()));
  }

  /** Goes on with what is wanted; called after each run, at a start and every few seconds. */
  public synchronized void goOn() {
    for (Wanted w : tools.keeper().read(ByItself::all)) {
      Optional<Run> run = tools.keeper().read(kept -> kept.runs().find(String.valueOf(w.run())));
      if (run.isEmpty() || !run.get().state().ended()) {
        continue;
      }
      try {
        goBack(run.get(), w);
      } catch (TargetFailed e) {
        // asked again in a while: nobody was let in meanwhile
        System.getLogger(ByItself.class.getName())
            .log(System.Logger.Level.WARNING, "Going back from " + run.get().shown(), e);
      } catch (Problem e) {
        cannot(run.get(), String.valueOf(e.getMessage()));
      }
    }
  }

  private void goBack(Run from, Wanted w) {
    String why = String.join(". ", from.course().looks());
    Promotion back =
        w.promotion() != 0
            ? tools
                .keeper()
                .read(kept -> kept.promotions().find(String.valueOf(w.promotion())))
                .orElseThrow()
            : opens.open(
                from,
                why,
                (kept, number) -> set(kept, from.number(), new Wanted(from.number(), number)));
    if (back.state() == PromotionState.PREPARING) {
      return; // it is being compared, since a restart
    }
    if (back.state().stands()) {
      runs.startByItself(back);
    }
    tools
        .keeper()
        .write(
            kept -> {
              set(kept, from.number(), null);
              return null;
            });
  }

  /** It is left to people: users stay out, and the run says why. */
  private void cannot(Run from, String why) {
    String said = "Could not go back by itself: " + why;
    tools
        .keeper()
        .writeAgain(
            kept -> {
              Run run = kept.runs().find(String.valueOf(from.number())).orElseThrow();
              kept.runs().replace(run.saying(run.sentence() + " " + said));
              kept.note(
                  Steering.event(run.inCharge(), "not gone back by itself", run, why), tools.now());
              set(kept, from.number(), null);
              return null;
            });
  }
}
