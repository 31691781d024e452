package plenzo.core.impact;

import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.function.Consumer;
import plenzo.core.impact.Finding.Severity;
import plenzo.core.object.SchemaObject;
import plenzo.core.table.Column;
import plenzo.core.table.Conversion;
import plenzo.core.target.Question;
import plenzo.core.target.TablesDelta;
import plenzo.core.words.Words;

/** Rules about columns whose values are worked out: each is held against every row of the site. */
final class ConversionRules {
  static final List<Rule<ImpactCase>> ALL =
      List.of(
          Rule.of("conversion-not-for", Severity.BLOCKER, ConversionRules::notFor),
          Rule.of("conversion-fails", Severity.BLOCKER, ConversionRules::fails),
          Rule.of("conversion-empties", Severity.RISK, ConversionRules::empties));

  private ConversionRules() {}

  private static String place(TablesDelta.TableDelta t, String column) {
    return "table/" + t.table() + "#column/" + column;
  }

  /** It was stated over columns that the site has not so: versions between were skipped. */
  private static void notFor(ImpactCase impact, Consumer<Finding> found) {
    for (TablesDelta.TableDelta t : impact.delta().tables()) {
      t.conversions()
          .forEach(
              (column, c) -> {
                if (!t.workedOut().containsKey(column)) {
                  found.accept(
                      Finding.said(
                          "conversion-not-for",
                          Severity.BLOCKER,
                          place(t, column),
                          column
                              + " of "
                              + t.table()
                              + " is worked out from what the site has not: "
                              + c.missing(Objects.requireNonNull(t.present()))
                              + ".",
                          "Take the version before the one that works it out there first"));
                }
              });
    }
  }

  /** Takes a column that is worked out, as it can be asked about. */
  private interface Use {
    void accept(TablesDelta.TableDelta t, Question.Made made);
  }

  private static void each(ImpactCase impact, Use use) {
    for (TablesDelta.TableDelta t : impact.delta().tables()) {
      for (Map.Entry<String, Conversion> w : t.workedOut().entrySet()) {
        Column is = Objects.requireNonNull(t.result()).column(w.getKey()).orElseThrow();
        String type =
            Coming.enumeration(impact.delta(), is.type()).isPresent() ? "text" : is.type();
        use.accept(t, new Question.Made(w.getKey(), type, w.getValue()));
      }
    }
  }

  private static Question of(
      Question.Type type, TablesDelta.TableDelta t, Question.Made made, String... columns) {
    return Question.of(type, t.table(), columns)
        .converting(new Question.Converted(List.of(), List.of(made)));
  }

  private static boolean comes(ImpactCase impact, Question.Made made) {
    return Coming.names(impact.delta(), made.from().expression())
        || Coming.names(impact.delta(), made.type());
  }

  private static void fails(ImpactCase impact, Consumer<Finding> found) {
    each(
        impact,
        (t, made) -> {
          if (comes(impact, made)) {
            uncounted(t, made, found);
            return;
          }
          Question.Answer a = impact.target().answer(of(Question.Type.CONVERSION_FAILS, t, made));
          if (a.count() > 0) {
            failing(t, made, a, found);
            return;
          }
          if (mustHave(t, made.column())) {
            noValue(impact, t, made, found);
          }
          Coming.enumeration(
                  impact.delta(),
                  Objects.requireNonNull(t.result()).column(made.column()).orElseThrow().type())
              .ifPresent(e -> noLabel(impact, t, made, e, found));
        });
  }

  private static void uncounted(
      TablesDelta.TableDelta t, Question.Made made, Consumer<Finding> found) {
    found.accept(
        Finding.said(
            "conversion-fails",
            Severity.RISK,
            place(t, made.column()),
            made.column()
                + " is worked out by what comes with the version: it was held against no row.",
            "Rehearse the plan with the rows of the site"));
  }

  private static void failing(
      TablesDelta.TableDelta t, Question.Made made, Question.Answer a, Consumer<Finding> found) {
    found.accept(
        Finding.of(
                "conversion-fails",
                Severity.BLOCKER,
                place(t, made.column()),
                made.column()
                    + " ("
                    + made.type()
                    + ") cannot be worked out for "
                    + Words.count(a.count(), "row")
                    + " by "
                    + made.from().expression()
                    + ".",
                a.count(),
                "Correct the rows at the site, or state it otherwise in the next version",
                a.query())
            .with(a.examples()));
  }

  /** Of a new column that is asked with every other that must have a value. */
  private static boolean mustHave(TablesDelta.TableDelta t, String column) {
    boolean was =
        Objects.requireNonNull(t.present()).column(column).filter(Column::notNull).isPresent();
    return was
        && Objects.requireNonNull(t.result()).column(column).filter(Column::notNull).isPresent();
  }

  private static void noValue(
      ImpactCase impact, TablesDelta.TableDelta t, Question.Made made, Consumer<Finding> found) {
    Question.Answer a = impact.target().answer(of(Question.Type.NULLS, t, made, made.column()));
    if (a.count() > 0) {
      found.accept(
          Finding.of(
              "conversion-fails",
              Severity.BLOCKER,
              place(t, made.column()),
              made.from().expression()
                  + " gives "
                  + Words.count(a.count(), "row")
                  + " no value in "
                  + made.column()
                  + ", where each must have one.",
              a.count(),
              "Correct the rows at the site, or state it otherwise in the next version",
              a.query()));
    }
  }

  private static void noLabel(
      ImpactCase impact,
      TablesDelta.TableDelta t,
      Question.Made made,
      SchemaObject labels,
      Consumer<Finding> found) {
    Question.Answer a =
        impact
            .target()
            .answer(of(Question.Type.NO_LABEL, t, made, made.column()).text(labels.shape()));
    if (a.count() > 0) {
      failing(t, made, a, found);
    }
  }

  private static void empties(ImpactCase impact, Consumer<Finding> found) {
    each(
        impact,
        (t, made) -> {
          // where it fails for one row, it can be asked about none
          if (made.from().reads().isEmpty()
              || comes(impact, made)
              || impact.target().answer(of(Question.Type.CONVERSION_FAILS, t, made)).count() > 0) {
            return;
          }
          Question.Answer a = impact.target().answer(of(Question.Type.CONVERSION_EMPTIES, t, made));
          if (a.count() > 0) {
            found.accept(
                Finding.of(
                        "conversion-empties",
                        Severity.RISK,
                        place(t, made.column()),
                        Words.count(a.count(), "row")
                            + (a.count() == 1 ? " gets" : " get")
                            + " no value in "
                            + made.column()
                            + ", though "
                            + String.join(" and ", made.from().reads().keySet())
                            + (made.from().reads().size() == 1 ? " has" : " have")
                            + " one.",
                        a.count(),
                        "See whether " + made.from().expression() + " means these rows too",
                        a.query())
                    .with(a.examples()));
          }
        });
  }
}
