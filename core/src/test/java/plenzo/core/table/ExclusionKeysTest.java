package plenzo.core.table;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Exclusion constraints as the server prints them. */
class ExclusionKeysTest {
  @Test
  void readsColumnsOperatorsAndTheCondition() {
    assertThat(ExclusionKeys.of("EXCLUDE USING gist (during WITH &&)"))
        .hasValue(new ExclusionKeys(List.of("during"), List.of("&&"), "true"));
    assertThat(
            ExclusionKeys.of(
                "EXCLUDE USING gist (\"the \"\"berth\"\"\" WITH =, during WITH OPERATOR(fares.~~~)) WHERE (((code <> ')'::text) AND open)) DEFERRABLE INITIALLY DEFERRED"))
        .hasValue(
            new ExclusionKeys(
                List.of("\"the \"\"berth\"\"\"", "during"),
                List.of("=", "OPERATOR(fares.~~~)"),
                "(((code <> ')'::text) AND open))"));
  }

  @Test
  void readsExpressions() {
    assertThat(
            ExclusionKeys.of(
                "EXCLUDE USING gist (lower((code)::text) WITH =, tstzrange(since, until, '[)'::text) WITH &&, ((a || b)) WITH <>)"))
        .hasValue(
            new ExclusionKeys(
                List.of("lower((code)::text)", "tstzrange(since, until, '[)'::text)", "((a || b))"),
                List.of("=", "&&", "<>"),
                "true"));
  }

  /** Only what the server can put in order is counted in order. */
  @Test
  void knowsTheOneRangeThatMustNotOverlap() {
    assertThat(range("during WITH &&")).hasValue("during");
    assertThat(range("lower(code) WITH =, \"the Span\" WITH &&")).hasValue("\"the Span\"");
    assertThat(range("daterange(since, until) WITH &&, code WITH ="))
        .hasValue("daterange(since, until)");
    assertThat(range("fares.daterange(since, until) WITH &&")).as("somebody's own").isEmpty();
    assertThat(range("during WITH &&, code WITH <>")).as("not equal").isEmpty();
    assertThat(range("during WITH &&, \"the Span\" WITH &&")).as("two of them").isEmpty();
    assertThat(range("during WITH -|-")).as("beside one another").isEmpty();
    assertThat(range("spot WITH &&")).as("a circle").isEmpty();
    assertThat(range("code WITH =")).isEmpty();
  }

  private static Optional<String> range(String elements) {
    return ExclusionKeys.of("EXCLUDE USING gist (" + elements + ")")
        .orElseThrow()
        .overlapping(
            new TableStructure(
                List.of(
                    column("code", "text"),
                    column("during", "tsrange"),
                    column("the Span", "int4range"),
                    column("spot", "circle")),
                List.of(),
                List.of(),
                null));
  }

  private static Column column(String name, String type) {
    return new Column(name, type, false, null, null, null, null, null);
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "EXCLUDE USING gist (code gist_text_ops WITH =)",
        "EXCLUDE USING gist (code COLLATE \"C\" WITH =)",
        "EXCLUDE USING gist (during WITH &&",
        "CHECK ((code > 1))"
      })
  void knowsWhereItIsAboutMore(String definition) {
    assertThat(ExclusionKeys.of(definition)).isEmpty();
  }
}
