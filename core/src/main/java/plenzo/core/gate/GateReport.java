package plenzo.core.gate;

import java.util.List;
import java.util.stream.Collectors;

/**
 * What is still open, in the order in which people read it.
 *
 * @param open empty when the promotion may run
 */
public record GateReport(List<Gate> open) {
  public GateReport {
    open = List.copyOf(open);
  }

  public static GateReport of(GateCase c) {
    return new GateReport(Gate.ALL.stream().flatMap(j -> j.open(c).stream()).toList());
  }

  public boolean passed() {
    return open.isEmpty();
  }

  public boolean has(Class<? extends Gate> gate) {
    return open.stream().anyMatch(gate::isInstance);
  }

  /** "1 blocker to put right; approval 0 of 1". */
  public String words() {
    return open.stream().map(Gate::words).collect(Collectors.joining("; "));
  }

  public List<String> lines() {
    return open.stream().map(Gate::words).toList();
  }
}
