package plenzo.core.impact;

import java.util.Objects;
import java.util.Optional;
import java.util.function.Consumer;
import plenzo.core.component.TableName;
import plenzo.core.impact.Finding.Severity;
import plenzo.core.table.Constraint;
import plenzo.core.table.ExclusionKeys;
import plenzo.core.table.StructureChange;
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
    Optional<ExclusionKeys> keys = ExclusionKeys.of(definition);
    Optional<String> range = keys.flatMap(k -> k.overlapping(Objects.requireNonNull(t.result())));
    Optional<RowsToBe> rows =
        keys.flatMap(k -> RowsToBe.of(impact.delta(), t, definition))
            .filter(
                r ->
                    range.isPresent()
                        || keys.get().operators().contains("=")
                        || count(impact, t.table()) + r.coming().values().size() <= MOST);
    if (rows.isPresent()) {
      Question q = Question.excluding(t.table(), keys.get(), range);
      Question.Answer a = impact.target().answer(rows.get().ask(q));
      if (a.count() > 0) {
        found.accept(
            Finding.of(
                    "check-violated",
                    rows.get().severity(),
                    place(c),
                    StructureRules.rows(a.count())
                        + " of "
                        + t.table()
                        + (a.count() == 1 ? " stands" : " stand")
                        + " beside one that "
                        + c.name()
                        + " does not allow: "
                        + definition
                        + rows.get().ending(),
                    a.count(),
                    StructureRules.advice(rows.get().columns()),
                    a.query())
                .with(a.examples()));
        return;
      }
    }
    if (rows.isEmpty() || !rows.get().whole()) {
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

  private static long count(ImpactCase impact, TableName table) {
    return impact.target().answer(Question.of(Question.Type.ROWS, table)).count();
  }
}
