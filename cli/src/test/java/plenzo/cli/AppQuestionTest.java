package plenzo.cli;

import static org.assertj.core.api.Assertions.assertThat;

import org.jspecify.annotations.Nullable;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import plenzo.api.Stages.QuestionView;

/** An application's questions are read as they are asked, with what counts as right. */
class AppQuestionTest {
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      nullValues = "-",
      value = {
        "-     | {\"of\":\"FOOT\"}     | true  | -     | q: {\"of\":\"FOOT\"}, stays as it was",
        "host  | {}                 | false | -     | q: {}",
        "query | SELECT 1           | false | 1     | q: query SELECT 1, expected 1",
        "page  | https://a.example  | true  | -     | q: https://a.example, stays as it was",
        "file  | prices.html        | false | 12.00 | q: file prices.html, expected 12.00"
      })
  void isReadAsItIsAsked(
      @Nullable String sort,
      String question,
      boolean stays,
      @Nullable String expected,
      String shown) {
    assertThat(AppCommand.asked(new QuestionView("q", question, stays, sort, expected)))
        .isEqualTo(shown);
  }
}
