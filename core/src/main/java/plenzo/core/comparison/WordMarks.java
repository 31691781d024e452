package plenzo.core.comparison;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Two texts side by side with the words in which they differ. Pure; the longest common subsequence
 * of words, blanks and single signs.
 *
 * @param present runs of the present text, in order; together they are the text
 * @param incoming the same of the incoming text
 */
public record WordMarks(List<Run> present, List<Run> incoming) {
  /** Beyond this nothing is marked: the time grows with the square (guess: a screenful of text). */
  private static final int MOST = 400;

  private static final Pattern TOKEN =
      Pattern.compile("[\\p{L}\\p{N}_]+(?:[.,]\\p{N}+)*|\\s+|.", Pattern.DOTALL);

  public WordMarks {
    present = List.copyOf(present);
    incoming = List.copyOf(incoming);
  }

  /** A part of a text. */
  public record Run(String text, boolean differs) {}

  /**
   * Empty when the texts are equal, too long, or have no word in common: then the whole differs.
   */
  public static Optional<WordMarks> between(String present, String incoming) {
    List<String> a = tokens(present);
    List<String> b = tokens(incoming);
    if (a.size() > MOST || b.size() > MOST || present.equals(incoming)) {
      return Optional.empty();
    }
    int[] matched = Matching.of(a, b);
    Runs was = new Runs();
    Runs is = new Runs();
    boolean word = false;
    int fromB = 0;
    for (int i = 0; i < a.size(); i++) {
      was.add(a.get(i), matched[i] < 0);
      if (matched[i] >= 0) {
        word |= Character.isLetterOrDigit(a.get(i).charAt(0));
        b.subList(fromB, matched[i]).forEach(token -> is.add(token, true));
        is.add(b.get(matched[i]), false);
        fromB = matched[i] + 1;
      }
    }
    b.subList(fromB, b.size()).forEach(token -> is.add(token, true));
    return word ? Optional.of(new WordMarks(was.done(), is.done())) : Optional.empty();
  }

  private static List<String> tokens(String text) {
    List<String> out = new ArrayList<>();
    Matcher m = TOKEN.matcher(text);
    while (m.find() && out.size() <= MOST) {
      out.add(m.group());
    }
    return out;
  }

  /** Puts tokens of the same sort together. */
  private static final class Runs {
    private final List<Run> runs = new ArrayList<>();
    private final StringBuilder text = new StringBuilder();
    private boolean differs;

    void add(String token, boolean differs) {
      if (differs != this.differs) {
        end();
        this.differs = differs;
      }
      text.append(token);
    }

    private void end() {
      if (!text.isEmpty()) {
        runs.add(new Run(text.toString(), differs));
        text.setLength(0);
      }
    }

    List<Run> done() {
      end();
      return runs;
    }
  }
}
