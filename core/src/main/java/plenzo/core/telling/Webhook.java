package plenzo.core.telling;

import java.time.Instant;
import java.util.List;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import plenzo.core.history.HistoryEntry;

/**
 * An address that is told what happens.
 *
 * @param stages of which it is told; none: of all, and of what is at no stage
 * @param applications of which it is told; none: of all, and of what is of none
 * @param events of which it is told, by their words, such as "run done"; none: of all
 */
public record Webhook(
    String name,
    String address,
    List<String> stages,
    List<String> applications,
    List<String> events,
    boolean active,
    String by,
    Instant at,
    int revision) {
  /** A delivery that was given up is told to nobody: it would be given up too. */
  public static final String GIVEN_UP = "delivery given up";

  private static final int LONGEST = 2000;

  /** What an address may be made of (RFC 3986), with a host. */
  private static final Pattern ADDRESS =
      Pattern.compile(
          "https?://[A-Za-z0-9.\\-_~:\\[\\]@%]+([/?#][A-Za-z0-9\\-._~:/?#\\[\\]@!$&'()*+,;=%]*)?");

  private static final Pattern WITH_PASSWORD = Pattern.compile("https?://[^/?#]*@.*");

  public Webhook {
    stages = List.copyOf(stages);
    applications = List.copyOf(applications);
    events = List.copyOf(events);
    if (!name.matches("[a-z][a-z0-9-]{0,39}")) {
      throw new IllegalArgumentException(
          "A webhook's name is lower-case letters, digits and hyphens; got \"" + name + "\"");
    }
    String problem = problem(address);
    if (!problem.isEmpty()) {
      throw new IllegalArgumentException(problem);
    }
  }

  private static String problem(String address) {
    if (address.length() > LONGEST || !ADDRESS.matcher(address).matches()) {
      return "A webhook has an address of http or https; got \"" + address + "\"";
    }
    return WITH_PASSWORD.matcher(address).matches()
        ? "An address with a password in it is shown to people: leave it out"
        : "";
  }

  /** Whether it is told of that. */
  public boolean wants(HistoryEntry e) {
    return active
        && !e.event().equals(GIVEN_UP)
        && among(stages, e.stage())
        && among(applications, e.application())
        && among(events, e.event());
  }

  private static boolean among(List<String> chosen, @Nullable String value) {
    return chosen.isEmpty() || value != null && chosen.contains(value);
  }
}
