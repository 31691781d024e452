package plenzo.core.stage;

import java.util.regex.Pattern;

/**
 * Somebody else's yes that a leg asks for over the network: a change desk, a register of releases.
 *
 * @param name what people call who answers
 * @param address where the signed question is posted; https, or http to what the configuration
 *     lists
 * @param seconds how long an answer is waited for; none counts as no
 */
public record OutsideYes(String name, String address, int seconds) {
  /** Longer answers are work for people, and asked again (guess). */
  public static final int LONGEST = 60;

  /** A scheme, a host without a name before it, a port, and a path. */
  private static final Pattern ADDRESS =
      Pattern.compile(
          "https?://([A-Za-z0-9.-]+|\\[[0-9A-Fa-f:]+])(:[0-9]{1,5})?(/[A-Za-z0-9._~!$&'()*+,;=:@%/?-]*)?");

  public OutsideYes {
    name = name.strip();
    address = address.strip();
    if (name.isEmpty() || name.length() > 80) {
      throw new IllegalArgumentException("Who answers has a name of 1 to 80 characters");
    }
    if (seconds < 1 || seconds > LONGEST) {
      throw new IllegalArgumentException(
          "An answer is waited for from 1 to " + LONGEST + " seconds; got " + seconds);
    }
    if (address.length() > 500 || !ADDRESS.matcher(address).matches()) {
      throw new IllegalArgumentException(
          "An address is written https://host/path, without a name or a password in it; got \""
              + address
              + "\"");
    }
  }

  /** "the yes of change desk, asked at https://…, within 10 s". */
  public String words() {
    return "the yes of " + name + ", asked at " + address + ", within " + seconds + " s";
  }
}
