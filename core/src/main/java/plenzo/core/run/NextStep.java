package plenzo.core.run;

import java.util.Locale;
import java.util.Optional;
import plenzo.core.promotion.Promotion;
import plenzo.core.stage.SiteRecord;

/**
 * What a person can do after a run that did not simply go through, or that went through and wants a
 * word. A failed way back has one like any other.
 */
public record NextStep(Code code, String words) {
  /** Where it is done. */
  public enum Code {
    /** At the promotion, which is compared again. */
    PROMOTION,
    /** At the ways back of the site. */
    WAYS_BACK,
    /** At the list of what differs there. */
    WHAT_DIFFERS;

    /** As the interfaces name it. */
    public String code() {
      return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }
  }

  /**
   * @param record what is recorded at the site by now
   * @return empty while it runs, and when nothing is asked any more
   */
  public static Optional<NextStep> of(Run run, Promotion p, SiteRecord record) {
    boolean back = p.purpose().rollback();
    return switch (run.state()) {
      case STOPPED, PUT_BACK ->
          p.state().open()
              ? Optional.of(
                  new NextStep(
                      Code.PROMOTION,
                      p.shown()
                          + " is compared again: look what moved, and start it again"
                          + (back ? ", or go back the other way." : ".")))
              : back && record.present() != null && record.present().text().equals(run.before())
                  ? Optional.of(
                      new NextStep(
                          Code.WAYS_BACK,
                          record.present() + " is still there: look at the ways back again."))
                  : Optional.empty();
      case HALF_WRITTEN ->
          record.halfWritten()
              ? Optional.of(
                  new NextStep(
                      Code.WAYS_BACK,
                      back
                          ? "What went back stays so. Look at the ways back again: only what did not go back is written."
                          : "Go back: only what had switched is written. Or prepare "
                              + p.version()
                              + " there again, to finish it."))
              : Optional.empty();
      case DONE_TO_LOOK_AT ->
          run.shown().equals(record.closedBy())
              ? Optional.of(
                  new NextStep(
                      Code.WAYS_BACK,
                      "Users are still out: go back, or let everybody in at the site."))
              : isLast(run, record)
                  ? Optional.of(
                      new NextStep(
                          Code.WHAT_DIFFERS, "Look what differs there, and whether it should."))
                  : Optional.empty();
      default -> Optional.empty();
    };
  }

  private static boolean isLast(Run run, SiteRecord record) {
    return record
        .lastPlacement()
        .filter(last -> last.run() != null && last.run() == run.number())
        .isPresent();
  }
}
