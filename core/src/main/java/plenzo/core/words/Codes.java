package plenzo.core.words;

import java.util.Arrays;
import java.util.function.Function;
import java.util.stream.Collectors;

/** What a word stands for; whoever writes a wrong one is told the right ones. */
public final class Codes {
  private Codes() {}

  /**
   * @param what what it should be, with its article: "a decision"
   * @throws IllegalArgumentException when none has that code; the message lists all
   */
  public static <E> E find(String what, E[] all, Function<E, String> code, String given) {
    return Arrays.stream(all)
        .filter(e -> code.apply(e).equals(given))
        .findFirst()
        .orElseThrow(
            () ->
                new IllegalArgumentException(
                    "\""
                        + given
                        + "\" is not "
                        + what
                        + "; one of: "
                        + Arrays.stream(all).map(code).collect(Collectors.joining(", "))));
  }
}
