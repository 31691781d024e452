package plenzo.core.records;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Conditions on rows as people write them. */
class ConditionTextTest {
  private static String shown(RowCondition c) {
    if (!c.parts().isEmpty()) {
      return "("
          + c.operator()
          + c.parts().stream().map(p -> " " + shown(p)).reduce("", String::concat)
          + ")";
    }
    return c.column() + " " + c.operator() + (c.value() == null ? "" : " " + c.value());
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '~',
      value = {
        "zone = N | zone = N",
        "zone='N' | zone = N",
        "amount>=10.50 | amount >= 10.50",
        "name = 'it''s' | name = it's",
        "name <> 'a and b' | name <> a and b",
        "note is null | note is null",
        "NOT note IS NULL | (not note is null)",
        "a = 1 and b = 2 or c = 3 | (or (and a = 1 b = 2) c = 3)",
        "a = 1 and (b = 2 or c = 3) | (and a = 1 (or b = 2 c = 3))",
        "a = 'null' | a = null",
      })
  void readsWhatPeopleWrite(String text, String condition) {
    assertThat(shown(ConditionText.of(text))).isEqualTo(condition);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '~',
      value = {
        "~~ | a column is missing at the end",
        "zone | is missing at the end",
        "zone = | a value is missing at the end",
        "(a = 1 | \")\" is missing",
        "a = 1 b = 2 | \"b\" is one too many",
        "a is 3 | \"null\" is missing",
        "a = 'open | is not understood",
        "a like 'x' | A condition is column, operator",
        "a = 1; drop table b | is one too many",
      })
  void saysWhereItIsNone(String text, String why) {
    assertThatThrownBy(() -> ConditionText.of(text))
        .isInstanceOf(IllegalArgumentException.class)
        .hasMessageContaining(why);
  }
}
