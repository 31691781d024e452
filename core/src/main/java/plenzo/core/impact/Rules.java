package plenzo.core.impact;

import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;

/** All rules, and running them: a rule that could not be evaluated is itself a finding. */
public final class Rules {
  /** About tables and their rows. */
  public static final List<Rule<ImpactCase>> TABLES =
      Stream.of(StructureRules.ALL, RowRules.ALL, UncarriedRules.ALL)
          .flatMap(List::stream)
          .toList();

  /** About files and definitions. */
  public static final List<Rule<ItemsCase>> ITEMS = ItemRules.ALL;

  /**
   * About the case itself: who the targets are, where the version comes from, what else is open.
   */
  public static final List<Rule<CaseFacts>> CASE = CaseRules.ALL;

  private Rules() {}

  /** How many there are. */
  public static int count() {
    return TABLES.size() + ITEMS.size() + CASE.size();
  }

  public static <C> List<Finding> run(List<Rule<C>> rules, C about) {
    List<Finding> out = new ArrayList<>();
    for (Rule<C> rule : rules) {
      try {
        rule.check(about, out::add);
      } catch (RuntimeException e) {
        out.add(
            Finding.said(
                rule.id(),
                rule.severity(),
                "the check itself",
                "This check could not run, so it counts as not passed: " + e.getMessage(),
                "Compare again; if it stays so, look at the target's log"));
      }
    }
    return out;
  }
}
