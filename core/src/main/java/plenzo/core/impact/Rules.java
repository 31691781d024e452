package plenzo.core.impact;

import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Stream;

/** All rules, and running them: a rule that could not be evaluated is itself a finding. */
public final class Rules {
  /** About tables and their rows. */
  public static final List<Rule<ImpactCase>> TABLES =
      Stream.of(
              StructureRules.ALL,
              RowRules.ALL,
              ObjectRules.ALL,
              ConversionRules.ALL,
              UncarriedRules.ALL,
              GrantRules.ALL,
              InheritanceRules.ALL,
              PlacesRules.ALL,
              VersionRules.ALL)
          .flatMap(List::stream)
          .toList();

  /** About files and definitions. */
  public static final List<Rule<ItemsCase>> ITEMS = ItemRules.ALL;

  /**
   * About the case itself: who the targets are, where the version comes from, what else is open.
   */
  public static final List<Rule<CaseFacts>> CASE = CaseRules.ALL;

  /** Blockers that are a matter of judgement: the run itself would go through. */
  private static final Set<String> JUDGED =
      Set.of(
          "fix-left-out",
          "judged-bad",
          "prerequisite-missing",
          "server-release",
          "breaks-another",
          "long-lock");

  /** Risks that say what is lost or overwritten; nobody is to stop hearing of that. */
  private static final Set<String> LOST =
      Set.of(
          "column-dropped",
          "table-dropped",
          "drift-overwritten",
          "nothing-to-do",
          "hand-edits-go",
          "value-forgotten",
          "mirror-removes",
          "conversion-empties",
          "row-policy");

  private static final Map<String, Finding.Severity> BUILT = built();

  private Rules() {}

  private static Map<String, Finding.Severity> built() {
    Map<String, Finding.Severity> out = new TreeMap<>();
    Stream.of(TABLES, ITEMS, CASE)
        .flatMap(List::stream)
        .forEach(r -> out.put(r.id(), r.severity()));
    return Collections.unmodifiableMap(out);
  }

  /** Every rule's id with how bad it is as it is built, by name. */
  public static Map<String, Finding.Severity> all() {
    return BUILT;
  }

  /**
   * Whether a stage may lower what a rule finds. Not where the run would fail on it, where it says
   * whom the target belongs to or what is lost (rules of findings, "fixed"). Checks of content that
   * are not built in are their owner's to judge.
   */
  public static boolean mayLower(String rule) {
    Finding.Severity built = BUILT.get(rule);
    return built == null
        || JUDGED.contains(rule)
        || built == Finding.Severity.RISK && !LOST.contains(rule);
  }

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
            Finding.notEvaluated(
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
