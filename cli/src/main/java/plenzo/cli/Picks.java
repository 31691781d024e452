package plenzo.cli;

import java.util.List;
import plenzo.api.Stages.PickView;

/** Components as people write them. */
final class Picks {
  private Picks() {}

  /** {@code records/fares.band} or {@code records/fares.band:code,zone}. */
  static PickView pick(String text) {
    int colon = text.indexOf(':');
    return colon < 0
        ? new PickView(text, null, null, null)
        : new PickView(
            text.substring(0, colon), List.of(text.substring(colon + 1).split(",")), null, true);
  }
}
