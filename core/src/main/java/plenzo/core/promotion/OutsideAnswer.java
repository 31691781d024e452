package plenzo.core.promotion;

import java.time.Instant;

/**
 * What somebody outside said to a plan, over the network.
 *
 * @param name who was asked, as the leg calls them
 * @param address where
 * @param fingerprint of the plan that was asked about, as hex
 * @param yes what counts; without an answer it is no
 * @param said why, as they said it, or why there is no answer
 * @param by who asked
 */
public record OutsideAnswer(
    String name,
    String address,
    String fingerprint,
    boolean yes,
    String said,
    Instant at,
    String by) {
  /** Longer reasons are cut. */
  public static final int LONGEST = 500;

  public OutsideAnswer {
    said = said.length() > LONGEST ? said.substring(0, LONGEST) : said;
  }
}
