package plenzo.core.stage;

import java.util.List;
import java.util.Optional;

/** A source and the ordered stages that versions travel from it. */
public record Path(String key, String name, String source, List<String> legs, int revision) {
  public Path {
    legs = List.copyOf(legs);
    if (legs.isEmpty()
        || legs.contains(source)
        || legs.stream().distinct().count() != legs.size()) {
      throw new IllegalArgumentException(
          "A path goes from its source through one or more other stages, each once; got "
              + source
              + " to "
              + legs);
    }
  }

  /** The stage before this one on the path, empty for the first leg. */
  public Optional<String> before(String stage) {
    int i = legs.indexOf(stage);
    return i <= 0 ? Optional.empty() : Optional.of(legs.get(i - 1));
  }
}
