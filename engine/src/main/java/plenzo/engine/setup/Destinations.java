package plenzo.engine.setup;

import org.jspecify.annotations.Nullable;

/** Which destinations the configuration file allows; deny by default. */
public interface Destinations {
  /** Why the destination is refused, or null when it is allowed. */
  @Nullable String refusal(String host, int port);

  /** Why the folder is refused, or null when it lies below a configured one. */
  @Nullable String refusal(String folder);
}
