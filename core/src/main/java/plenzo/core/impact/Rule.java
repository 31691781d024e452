package plenzo.core.impact;

import java.util.function.BiConsumer;
import java.util.function.Consumer;

/**
 * One rule: small, tested by itself, with an id that never changes.
 *
 * @param <C> what it looks at: tables, files and definitions, or the case
 */
public interface Rule<C> {
  String id();

  /** How bad it is when the rule could not be evaluated; at least a risk. */
  Finding.Severity severity();

  void check(C about, Consumer<Finding> found);

  static <C> Rule<C> of(
      String id, Finding.Severity severity, BiConsumer<C, Consumer<Finding>> check) {
    if (severity == Finding.Severity.NOTE) {
      throw new IllegalArgumentException(
          "The rule " + id + " must count at least as a risk when it cannot be evaluated");
    }
    return new Rule<>() {
      @Override
      public String id() {
        return id;
      }

      @Override
      public Finding.Severity severity() {
        return severity;
      }

      @Override
      public void check(C about, Consumer<Finding> found) {
        check.accept(about, found);
      }
    };
  }
}
