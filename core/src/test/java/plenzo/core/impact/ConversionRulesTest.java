package plenzo.core.impact;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import plenzo.core.component.TableName;
import plenzo.core.object.ObjectDelta;
import plenzo.core.object.SchemaObject;
import plenzo.core.object.SomeObjects;
import plenzo.core.table.Column;
import plenzo.core.table.Constraint;
import plenzo.core.table.Conversion;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Question;
import plenzo.core.target.TablesDelta;

/** Columns whose values are worked out are held against every row of the site. */
class ConversionRulesTest {
  private static final TableName BAND = TableName.of("fares.band");
  private static final TableStructure WAS = table("numeric(6,2)", List.of(), false);

  private final Map<Question.Type, Long> answers = new EnumMap<>(Question.Type.class);
  private final List<Question> asked = new ArrayList<>();
  private List<ObjectDelta> coming = List.of();
  private List<Constraint> constraints = List.of();
  private boolean required;

  private static TableStructure table(String type, List<Constraint> constraints, boolean required) {
    return new TableStructure(
        List.of(
            new Column("code", "text", false, null, null, null, null, null),
            new Column("price", type, required, null, null, null, null, null)),
        constraints,
        List.of(),
        null);
  }

  private static Conversion from(String expression) {
    return Conversion.of(expression, WAS);
  }

  private List<String> found(String type, Conversion by) {
    asked.clear();
    TableStructure was = table("numeric(6,2)", List.of(), required);
    TablesDelta.TableDelta t =
        TablesDelta.TableDelta.of(BAND, was, table(type, constraints, required), null)
            .converting(Map.of("price", by));
    return Rules.run(
            Rules.TABLES,
            new ImpactCase(
                List.of(),
                Map.of(),
                new TablesDelta(List.of(t), List.of(), coming),
                Map.of(BAND, was),
                Map.of(),
                List.of(),
                (component, difference, limit, sink) -> {},
                question -> {
                  asked.add(question);
                  return new Question.Answer(
                      answers.getOrDefault(question.type(), 0L), List.of("20.455"), "SELECT");
                }))
        .stream()
        .map(f -> f.severity() + " " + f.rule() + " " + f.sentence())
        .toList();
  }

  private List<Question> asked(Question.Type type) {
    return asked.stream().filter(q -> q.type() == type).toList();
  }

  @Test
  void whatIsWorkedOutNeedNotFitByItself() {
    answers.put(Question.Type.NOT_FITTING, 5L);

    assertThat(found("integer", from("round(price * 100)"))).isEmpty();
    assertThat(asked(Question.Type.CONVERSION_FAILS))
        .allSatisfy(
            q ->
                assertThat(q.converted().made())
                    .containsExactly(
                        new Question.Made("price", "integer", from("round(price * 100)"))));
  }

  @Test
  void aRowForWhichItFailsStopsTheRun() {
    answers.put(Question.Type.CONVERSION_FAILS, 2L);
    answers.put(Question.Type.CONVERSION_EMPTIES, 9L);

    assertThat(found("integer", from("1 / price")))
        .as("where it fails, it cannot be asked what it empties")
        .containsExactly(
            "BLOCKER conversion-fails price (integer) cannot be worked out for 2 rows by 1 / price.");
  }

  @Test
  void aRowThatLosesItsValueIsARisk() {
    answers.put(Question.Type.CONVERSION_EMPTIES, 1L);

    assertThat(found("integer", from("nullif(price, 0)")))
        .containsExactly(
            "RISK conversion-empties 1 row gets no value in price, though price has one.");
    assertThat(Rules.mayLower("conversion-empties")).isFalse();
    assertThat(found("integer", from("NULL"))).as("it reads nothing").isEmpty();
  }

  @Test
  void aColumnThatMustHaveAValueKeepsOne() {
    required = true;
    assertThat(found("integer", from("nullif(price, 0)"))).isEmpty();
    answers.put(Question.Type.NULLS, 2L);

    assertThat(found("integer", from("nullif(price, 0)")))
        .containsExactly(
            "BLOCKER conversion-fails nullif(price, 0) gives 2 rows no value in price, where each must have one.");
    required = false;
    assertThat(found("integer", from("nullif(price, 0)"))).isEmpty();
  }

  @Test
  void aSiteThatSkippedAVersionIsNotGuessedAbout() {
    Conversion other = new Conversion("price * 2", Map.of("price", "integer", "vat", "numeric"));

    assertThat(found("bigint", other))
        .contains(
            "BLOCKER conversion-not-for price of fares.band is worked out from what the site has not:"
                + " price as integer (here numeric(6,2)), vat as numeric.");
    assertThat(asked(Question.Type.CONVERSION_FAILS)).isEmpty();
  }

  private static ObjectDelta vehicle() {
    SchemaObject type = SomeObjects.labels("fares.vehicle", "car", "bike");
    return new ObjectDelta(type.key(), ObjectDelta.Act.MAKE, null, type, List.of());
  }

  @Test
  void aTypeThatComesIsAskedAboutByItsLabels() {
    coming = List.of(vehicle());

    assertThat(found("fares.vehicle", from("lower(code)"))).isEmpty();
    assertThat(asked(Question.Type.NO_LABEL))
        .singleElement()
        .satisfies(
            q -> {
              assertThat(q.text()).containsExactly("car", "bike");
              assertThat(q.converted().made().get(0).type()).isEqualTo("text");
            });
    answers.put(Question.Type.NO_LABEL, 3L);
    assertThat(found("fares.vehicle", from("lower(code)")))
        .containsExactly(
            "BLOCKER conversion-fails price (text) cannot be worked out for 3 rows by lower(code).");
  }

  @Test
  void whatNeedsWhatComesIsHeldAgainstNoRowAndThatIsSaid() {
    coming = List.of(vehicle());

    assertThat(found("fares.vehicle", from("'car'::fares.vehicle")))
        .containsExactly(
            "RISK conversion-fails price is worked out by what comes with the version: it was held against no row.");
    assertThat(asked(Question.Type.CONVERSION_FAILS)).isEmpty();
  }

  @Test
  void constraintsAreHeldAgainstValuesAsTheyWillBe() {
    constraints =
        List.of(
            new Constraint(
                "price_check",
                Constraint.Type.CHECK,
                "CHECK ((price > 0))",
                List.of("price"),
                null,
                List.of()),
            new Constraint(
                "price_key",
                Constraint.Type.UNIQUE,
                "UNIQUE (code, price)",
                List.of("code", "price"),
                null,
                List.of()));
    answers.put(Question.Type.VIOLATING, 1L);
    answers.put(Question.Type.DUPLICATES, 2L);

    assertThat(found("integer", from("round(price)")))
        .extracting(line -> line.split(" ")[1])
        .containsExactlyInAnyOrder("check-violated", "duplicate-in-unique");
    for (Question.Type type : List.of(Question.Type.VIOLATING, Question.Type.DUPLICATES)) {
      assertThat(asked(type))
          .singleElement()
          .satisfies(
              q -> {
                assertThat(q.converted().kept()).containsExactly("code");
                assertThat(q.converted().made()).hasSize(1);
              });
    }
  }
}
