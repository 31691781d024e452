package plenzo.core.impact;

import java.util.ArrayList;
import java.util.List;

/** All rules, and running them: a rule that could not be evaluated is itself a finding. */
public final class Rules {
  private static final List<Rule> ALL = new ArrayList<>();

  static {
    ALL.addAll(StructureRules.ALL);
    ALL.addAll(RowRules.ALL);
  }

  private Rules() {}

  public static List<Rule> all() {
    return List.copyOf(ALL);
  }

  public static List<Finding> run(ImpactCase impact) {
    List<Finding> out = new ArrayList<>();
    for (Rule rule : ALL) {
      try {
        rule.check(impact, out::add);
      } catch (RuntimeException e) {
        out.add(
            Finding.of(
                rule.id(),
                rule.severity(),
                "the check itself",
                "This check could not run, so it counts as not passed: " + e.getMessage(),
                0,
                "Compare again; if it stays so, look at the target's log",
                null));
      }
    }
    return out;
  }
}
