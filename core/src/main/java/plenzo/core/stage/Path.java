package plenzo.core.stage;

import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * The ordered stages that versions travel, what each asks before, and where versions come from.
 *
 * @param source the stage in which applications are edited; null where every version comes as a
 *     package or from a repository
 */
public record Path(String key, String name, @Nullable String source, List<Leg> legs, int revision) {
  public Path {
    legs = List.copyOf(legs);
    List<String> stages = legs.stream().map(Leg::stage).toList();
    if (stages.isEmpty()
        || source != null && stages.contains(source)
        || stages.stream().distinct().count() != stages.size()) {
      throw new IllegalArgumentException(
          "A path goes "
              + (source == null ? "" : "from its source ")
              + "through one or more "
              + (source == null ? "" : "other ")
              + "stages, each once; got "
              + (source == null ? "" : source + " to ")
              + stages);
    }
  }

  /** The stages in order. */
  public List<String> stages() {
    return legs.stream().map(Leg::stage).toList();
  }

  public Optional<Leg> leg(String stage) {
    return legs.stream().filter(l -> l.stage().equals(stage)).findFirst();
  }

  /** The stage before this one on the path, empty for the first leg. */
  public Optional<String> before(String stage) {
    int i = stages().indexOf(stage);
    return i <= 0 ? Optional.empty() : Optional.of(legs.get(i - 1).stage());
  }

  /** "development to test, production"; "test, production" without a source. */
  public String words() {
    return (source == null ? "" : source + " to ") + String.join(", ", stages());
  }
}
