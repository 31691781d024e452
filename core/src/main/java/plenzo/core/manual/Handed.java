package plenzo.core.manual;

import java.time.Instant;
import java.util.Locale;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import plenzo.core.words.Codes;

/**
 * Work by hand in a run, and what people said of it.
 *
 * @param since when it was asked; null before
 * @param takenBy who said that they are at it; null when nobody did
 * @param word the last word about it; null when there is none
 */
public record Handed(
    Asked asked, @Nullable Instant since, @Nullable String takenBy, @Nullable Word word) {
  public static Handed of(Asked asked) {
    return new Handed(asked, null, null, null);
  }

  /** What came of it. */
  public enum Outcome {
    DONE,
    /** It could not be done: a run that has not switched stops, another one waits. */
    NOT_DONE,
    /** The run goes on without it. */
    LEFT_OUT;

    public String code() {
      return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    public static Outcome of(String code) {
      return Codes.find("an outcome of work by hand", values(), Outcome::code, code);
    }
  }

  /**
   * What somebody said of it.
   *
   * @param note what was done, or why not
   * @param evidence number of the file that shows it; null for none
   */
  public record Word(Outcome outcome, String by, Instant at, String note, @Nullable Long evidence) {
    /** "Done by bram: zones 7 and 8 too". */
    public String words() {
      String what =
          switch (outcome) {
            case DONE -> "Done by ";
            case NOT_DONE -> "Could not be done, says ";
            case LEFT_OUT -> "Left out by ";
          };
      return what + by + (note.isBlank() ? "" : ": " + note);
    }
  }

  public ManualStep step() {
    return asked.step();
  }

  /** Whether a run goes on past it. */
  public boolean over() {
    return word != null && word.outcome() != Outcome.NOT_DONE;
  }

  public boolean leftOut() {
    return word != null && word.outcome() == Outcome.LEFT_OUT;
  }

  /** By when it must be done; empty when it was not asked yet or has no limit. */
  public Optional<Instant> due() {
    return since == null || step().minutes() == 0
        ? Optional.empty()
        : Optional.of(since.plus(step().within()));
  }

  public boolean overdue(Instant now) {
    return !over() && due().filter(now::isAfter).isPresent();
  }

  /** The same, asked now; asked again it keeps its first time. */
  public Handed asked(Instant now) {
    return new Handed(asked, since == null ? now : since, takenBy, word);
  }

  public Handed takenBy(String login) {
    return new Handed(asked, since, login, word);
  }

  public Handed said(Word now) {
    return new Handed(asked, since, takenBy, now);
  }
}
