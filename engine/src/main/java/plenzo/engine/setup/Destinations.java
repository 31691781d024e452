package plenzo.engine.setup;

import java.util.List;
import org.jspecify.annotations.Nullable;

/** Which destinations the configuration file allows; deny by default. */
public interface Destinations {
  /**
   * @param refusal why it is refused, or null when it is allowed
   * @param addresses what the name leads to now, all of them judged, as digits, best first
   */
  record Judged(@Nullable String refusal, List<String> addresses) {
    public static Judged refused(String why) {
      return new Judged(why, List.of());
    }
  }

  Judged judged(String host, int port);

  /** Why the destination is refused, or null when it is allowed. */
  default @Nullable String refusal(String host, int port) {
    return judged(host, port).refusal();
  }

  /** Why the folder is refused, or null when it lies below a configured one. */
  @Nullable String refusal(String folder);
}
