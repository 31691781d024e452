package plenzo.core.promotion;

import java.time.Instant;
import org.jspecify.annotations.Nullable;

/**
 * What somebody who may say yes wants to know before; a start is held until it is answered.
 *
 * @param number from 1 within its promotion
 * @param answer null while nobody answered
 */
public record Question(int number, String by, Instant at, String text, @Nullable Answer answer) {
  /** Longest text, of both (guess: more is a document). */
  private static final int LONGEST = 2000;

  public Question {
    require(text);
  }

  /** What somebody answered. */
  public record Answer(String by, Instant at, String text) {
    public Answer {
      require(text);
    }
  }

  private static void require(String text) {
    if (text.isBlank() || text.length() > LONGEST) {
      throw new IllegalArgumentException(
          "A question and its answer have from 1 to " + LONGEST + " characters");
    }
  }

  public boolean open() {
    return answer == null;
  }

  public Question answered(Answer with) {
    return new Question(number, by, at, text, with);
  }
}
