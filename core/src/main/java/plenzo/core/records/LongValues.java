package plenzo.core.records;

import java.io.InputStream;
import java.util.Optional;

/** Where the bytes of long values are. */
public interface LongValues {
  LongValues NONE = value -> Optional.empty();

  /** The bytes of one, which the caller closes; empty where it is not here. */
  Optional<InputStream> open(LongValue value);

  /** Here, or else there. */
  default LongValues or(LongValues other) {
    return value -> {
      Optional<InputStream> here = open(value);
      return here.isPresent() ? here : other.open(value);
    };
  }
}
