package plenzo.core.target;

import java.util.List;
import plenzo.core.component.Kind;

/** Speaks to databases. */
public non-sealed interface TablesConnector extends Connector {
  @Override
  default Kind.Holder holder() {
    return Kind.Holder.DATABASE;
  }

  @Override
  TablesLooking look(Access access);

  /**
   * @throws TargetFailed when the scratch place cannot be reached
   */
  Scratch scratch(Access access);

  /** The exact statements of a delta in the order in which they run, for people to read before. */
  List<String> statements(TablesDelta delta);
}
