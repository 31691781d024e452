package plenzo.core.table;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
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
                List.of("the \"berth\"", "during"),
                List.of("=", "OPERATOR(fares.~~~)"),
                "(((code <> ')'::text) AND open))"));
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "EXCLUDE USING gist (lower(code) WITH =)",
        "EXCLUDE USING gist (code gist_text_ops WITH =)",
        "EXCLUDE USING gist (code COLLATE \"C\" WITH =)",
        "EXCLUDE USING gist (during WITH &&",
        "CHECK ((code > 1))"
      })
  void knowsWhereItIsAboutMore(String definition) {
    assertThat(ExclusionKeys.of(definition)).isEmpty();
  }
}
