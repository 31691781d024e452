package plenzo.engine.binding;

import java.util.List;
import java.util.Map;
import plenzo.core.promotion.Promotion;
import plenzo.core.target.ItemsDelta;

/** What a plan gives a host, and what the host holds afterwards. */
public final class Gift {
  public static final Gift NONE = new Gift(Map.of(), List.of(), Giving.NOTHING);

  private final Map<String, ItemsDelta.Binding> changes;
  private final List<Promotion.Gives> shown;
  private final Giving holds;

  Gift(Map<String, ItemsDelta.Binding> changes, List<Promotion.Gives> shown, Giving holds) {
    this.changes = Map.copyOf(changes);
    this.shown = List.copyOf(shown);
    this.holds = holds;
  }

  /** Values that differ from what the host was given last, by the name under which it has them. */
  public Map<String, ItemsDelta.Binding> changes() {
    return changes;
  }

  /** The same as people see it, in the order of the inputs. */
  public List<Promotion.Gives> shown() {
    return shown;
  }

  /** When everything was set that the host holds afterwards: what the fingerprint covers. */
  public Map<String, Long> stamps() {
    return holds.stamps();
  }

  Giving holds() {
    return holds;
  }
}
