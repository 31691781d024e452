package plenzo.core.impact;

import java.util.Objects;
import java.util.Optional;
import java.util.function.Consumer;
import plenzo.core.impact.Finding.Severity;
import plenzo.core.table.Constraint;
import plenzo.core.table.ExclusionKeys;
import plenzo.core.table.StructureChange;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Question;
import plenzo.core.target.TablesDelta;

/** Rows that an exclusion constraint would not hold beside one another. */
final class ExclusionRules {
  /**
   * Rows of which each is held against each where no column must be equal (guess: some seconds).
   */
  static final int MOST = 3_000;

  private ExclusionRules() {}

  static void check(ImpactCase impact, Consumer<Finding> found) {
    for (TablesDelta.TableDelta t : impact.delta().tables()) {
      for (StructureChange c : StructureChange.between(t.table(), t.present(), t.result())) {
        if (t.present() != null
            && c.act() == StructureChange.Act.ADD_CONSTRAINT
            && Objects.requireNonNull(c.constraint()).type() == Constraint.Type.EXCLUDE) {
          check(impact, t, c, found);
        }
      }
    }
  }

  private static void check(
      ImpactCase impact, TablesDelta.TableDelta t, StructureChange c, Consumer<Finding> found) {
    String definition = Objects.requireNonNull(c.constraint()).definition();
    TableStructure now = Objects.requireNonNull(t.present());
    Optional<ExclusionKeys> keys =
        StructureRules.isAboutWhatIsThere(t, definition)
                && !Coming.names(impact.delta(), definition)
            ? ExclusionKeys.of(definition).filter(k -> isCountable(impact, t, k))
            : Optional.empty();
    boolean whole = keys.isPresent() && t.writes().isEmpty();
    if (keys.isPresent()) {
      Question.Answer a =
          impact
              .target()
              .answer(Question.excluding(t.table(), keys.get(), keys.get().overlapping(now)));
      if (a.count() > 0) {
        found.accept(
            Finding.of(
                    "check-violated",
                    whole ? Severity.BLOCKER : Severity.RISK,
                    place(c),
                    StructureRules.rows(a.count())
                        + " of "
                        + t.table()
                        + (a.count() == 1 ? " stands" : " stand")
                        + " beside one that "
                        + c.name()
                        + " does not allow: "
                        + definition
                        + (whole ? "." : "; counted before the rows that the run writes."),
                    a.count(),
                    "Correct the rows at the site first, then compare again",
                    a.query())
                .with(a.examples()));
        return;
      }
    }
    if (!whole) {
      found.accept(
          Finding.said(
              "not-counted",
              Severity.RISK,
              place(c),
              "Whether rows of "
                  + t.table()
                  + " are in the way of the exclusion constraint "
                  + c.name()
                  + " could not be counted as a whole.",
              "Look at the rows yourself; the run is refused unchanged when they are"));
    }
  }

  private static String place(StructureChange c) {
    return "table/" + c.table() + "#constraint/" + c.name();
  }

  private static boolean isCountable(
      ImpactCase impact, TablesDelta.TableDelta t, ExclusionKeys keys) {
    return keys.operators().contains("=")
        || keys.overlapping(Objects.requireNonNull(t.present())).isPresent()
        || impact.target().answer(Question.of(Question.Type.ROWS, t.table())).count() <= MOST;
  }
}
