package plenzo.core.stage;

import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * The ordered stages that versions travel, and where they come from.
 *
 * @param source the stage in which applications are edited; null where every version comes as a
 *     package or from a repository
 */
public record Path(
    String key, String name, @Nullable String source, List<String> legs, int revision) {
  public Path {
    legs = List.copyOf(legs);
    if (legs.isEmpty()
        || source != null && legs.contains(source)
        || legs.stream().distinct().count() != legs.size()) {
      throw new IllegalArgumentException(
          "A path goes "
              + (source == null ? "" : "from its source ")
              + "through one or more "
              + (source == null ? "" : "other ")
              + "stages, each once; got "
              + (source == null ? "" : source + " to ")
              + legs);
    }
  }

  /** The stage before this one on the path, empty for the first leg. */
  public Optional<String> before(String stage) {
    int i = legs.indexOf(stage);
    return i <= 0 ? Optional.empty() : Optional.of(legs.get(i - 1));
  }

  /** "development to test, production"; "test, production" without a source. */
  public String words() {
    return (source == null ? "" : source + " to ") + String.join(", ", legs);
  }
}
