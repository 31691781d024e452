package plenzo.core.telling;

import java.net.URI;
import java.net.URISyntaxException;
import java.time.Instant;
import java.util.List;
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
    try {
      URI uri = new URI(address);
      boolean web = "https".equals(uri.getScheme()) || "http".equals(uri.getScheme());
      if (!web || uri.getHost() == null || address.length() > LONGEST) {
        return "A webhook has an address of http or https; got \"" + address + "\"";
      }
      return uri.getUserInfo() == null
          ? ""
          : "An address with a password in it is shown to people: leave it out";
    } catch (URISyntaxException e) {
      return "\"" + address + "\" is no address";
    }
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
