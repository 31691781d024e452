package plenzo.engine.keeping;

import java.util.Optional;
import plenzo.core.problem.Problem;
import plenzo.core.retention.Keeping;
import plenzo.core.retention.Sort;
import plenzo.engine.Tools;

/** What is there no more because it was cleared: asked wherever such a file is opened. */
public final class Cleared {
  private Cleared() {}

  /** When and by whom; empty when it was not. */
  public static Optional<Keeping> of(Tools tools, Sort sort, String name) {
    return tools
        .keeper()
        .read(kept -> kept.keepings().find(Holds.id(sort, name)))
        .filter(k -> k.state() == Keeping.State.CLEARED);
  }

  /**
   * "The backup of R-7 was cleared at … by ines: more than 90 days old."; empty when it was not.
   */
  public static Optional<String> sentence(Tools tools, Sort sort, String name) {
    return of(tools, sort, name)
        .map(
            k ->
                "The "
                    + sort.named(name)
                    + " was cleared at "
                    + k.at()
                    + " by "
                    + k.by()
                    + ": "
                    + k.reason()
                    + ".");
  }

  /**
   * @throws Problem when it was cleared, with when and by whom
   */
  public static void requireThere(Tools tools, Sort sort, String name) {
    sentence(tools, sort, name)
        .ifPresent(
            why -> {
              throw Problem.stopped("CLEARED", why);
            });
  }
}
