package plenzo.core.gate;

import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * What is still open, in the order in which people read it.
 *
 * @param open empty when the promotion may run
 * @param owed what an emergency passes: it is open too, and a yes is owed for it afterwards
 */
public record GateReport(List<Gate> open, List<Gate> owed) {
  public GateReport {
    open = List.copyOf(open);
    owed = List.copyOf(owed);
  }

  /** Of what is no emergency. */
  public GateReport(List<Gate> open) {
    this(open, List.of());
  }

  public static GateReport of(GateCase c) {
    Set<String> passes = c.urgent() ? Objects.requireNonNull(c.leg().emergency()).owes() : Set.of();
    List<Gate> open = new ArrayList<>();
    List<Gate> owed = new ArrayList<>();
    for (Gate.Judge judge : Gate.ALL) {
      judge.open(c).ifPresent(g -> (passes.contains(g.code()) ? owed : open).add(g));
    }
    return new GateReport(open, owed);
  }

  public boolean passed() {
    return open.isEmpty();
  }

  public boolean has(Class<? extends Gate> gate) {
    return open.stream().anyMatch(gate::isInstance);
  }

  /** Whether an emergency passes that one without its being met. */
  public boolean owes(Class<? extends Gate> gate) {
    return owed.stream().anyMatch(gate::isInstance);
  }

  /** "1 blocker to put right; approval 0 of 1". */
  public String words() {
    return open.stream().map(Gate::words).collect(Collectors.joining("; "));
  }

  public List<String> lines() {
    return open.stream().map(Gate::words).toList();
  }
}
