package plenzo.core.stage;

import java.util.Locale;
import plenzo.core.impact.Finding;
import plenzo.core.impact.Finding.Severity;
import plenzo.core.impact.Rules;
import plenzo.core.words.Codes;

/**
 * How bad a stage finds what a rule finds, where it judges otherwise than the rule itself. A rule
 * finds worse and less bad things; so a stage says "no less than a blocker" or "no more than a
 * note".
 *
 * @param reason why; needed where it lowers
 */
public record Weight(String rule, Bound bound, Severity severity, String reason) {
  /** Letters of a reason. */
  private static final int LONGEST = 500;

  /** In which direction. */
  public enum Bound {
    /** Raises what is less bad. */
    AT_LEAST,
    /** Lowers what is worse. */
    AT_MOST;

    public String code() {
      return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    public static Bound of(String code) {
      return Codes.find("a bound of a severity", values(), Bound::code, code);
    }
  }

  public Weight {
    reason = reason.strip();
    if (!rule.matches("[a-z][a-z0-9-]{0,79}")) {
      throw new IllegalArgumentException("There is no rule \"" + rule + "\"");
    }
    if (reason.length() > LONGEST) {
      throw new IllegalArgumentException("A reason is at most " + LONGEST + " letters");
    }
    if (severity == (bound == Bound.AT_LEAST ? Severity.NOTE : Severity.BLOCKER)) {
      throw new IllegalArgumentException(
          bound.code().replace('-', ' ') + " a " + severity.code() + " is what every finding is");
    }
    if (bound == Bound.AT_MOST) {
      if (!Rules.mayLower(rule)) {
        throw new IllegalArgumentException(
            "What "
                + rule
                + " finds is not lowered anywhere: the run would fail on it, or it says"
                + " what is lost or whose a target is");
      }
      if (reason.isEmpty()) {
        throw new IllegalArgumentException("Lowering what " + rule + " finds needs a reason");
      }
    }
  }

  /** The finding as this stage judges it; the same when it is another rule's. */
  Finding weigh(Finding f) {
    if (!f.rule().equals(rule)) {
      return f;
    }
    return switch (bound) {
      case AT_LEAST -> severity.worseThan(f.severity()) ? f.judged(severity) : f;
      case AT_MOST -> f.severity().worseThan(severity) && f.evaluated() ? f.judged(severity) : f;
    };
  }

  /** Such as "column-dropped at least blocker". */
  public String words() {
    return rule
        + " "
        + bound.code().replace('-', ' ')
        + " "
        + severity.code()
        + (reason.isEmpty() ? "" : " (" + reason + ")");
  }
}
