package plenzo.core.impact;

import java.util.function.Consumer;

/** One rule: small, tested by itself, with an id that never changes. */
public interface Rule {
  String id();

  /** How bad it is when the rule could not be evaluated; at least a risk. */
  Finding.Severity severity();

  void check(ImpactCase impact, Consumer<Finding> found);
}
