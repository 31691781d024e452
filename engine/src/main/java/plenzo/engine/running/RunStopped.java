package plenzo.engine.running;

import java.util.List;
import plenzo.core.target.SwitchRefused;

/** A run that stops; nothing was changed unless another target has switched already. */
public final class RunStopped extends RuntimeException {
  private final List<String> details;
  private final boolean aborted;

  private RunStopped(String why, List<String> details, boolean aborted) {
    super(why);
    this.details = List.copyOf(details);
    this.aborted = aborted;
  }

  public static RunStopped because(String why, List<String> details) {
    return new RunStopped(why, details, /* aborted= */ false);
  }

  public static RunStopped because(String why) {
    return because(why, List.of());
  }

  static RunStopped aborted() {
    return new RunStopped("Aborted", List.of(), /* aborted= */ true);
  }

  public static RunStopped of(SwitchRefused e) {
    return new RunStopped(
        String.valueOf(e.getMessage()), e.details(), e.why() == SwitchRefused.Why.ABORTED);
  }

  List<String> details() {
    return details;
  }

  boolean wasAborted() {
    return aborted;
  }

  /** Why, with the details behind it. */
  String whole() {
    return getMessage() + (details.isEmpty() ? "" : ": " + String.join("; ", details));
  }
}
