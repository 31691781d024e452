package plenzo.core.probe;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import plenzo.core.probe.Judged.Outcome;
import plenzo.core.probe.Probe.Sort;
import plenzo.core.stage.SiteKey;

/** What two answers mean. */
class JudgedTest {
  private static @Nullable Answer answer(@Nullable String text) {
    return text == null
        ? null
        : text.startsWith("!") ? new Answer(false, text.substring(1)) : new Answer(true, text);
  }

  /** "!x" is no answer because of x; "-" was not asked. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      nullValues = "-",
      value = {
        "HOST  | true  | -   | 1   | 1    | SAME                | the same as before",
        "HOST  | true  | -   | 1   | 2    | FAILED              | otherwise than before",
        "HOST  | true  | -   | -   | 1    | FAILED              | was not asked before",
        "HOST  | true  | -   | !no | 1    | FAILED              | was not answered before",
        "HOST  | true  | -   | 1   | !no  | FAILED              | was not answered: no",
        "HOST  | true  | -   | 1   | -    | FAILED              | it was not asked",
        "HOST  | false | -   | -   | 1    | ANSWERED            | was answered",
        "HOST  | false | ok  | ok  | ok   | AS_EXPECTED         | answers what is expected",
        "HOST  | false | ok  | no  | ok   | CHANGED_AS_EXPECTED | by now",
        "HOST  | false | ok  | -   | ok   | CHANGED_AS_EXPECTED | by now",
        "HOST  | false | ok  | ok  | no   | FAILED              | as it did before",
        "HOST  | false | ok  | no  | no   | FAILED              | does not answer what is expected",
        "HOST  | false | ok  | no  | oka  | FAILED              | does not answer what is expected",
        "QUERY | false | 1   | -   | 11   | FAILED              | does not answer what is expected",
        "PAGE  | false | ok  | -   | oka  | CHANGED_AS_EXPECTED | by now",
        "FILE  | false | ok  | oka | oka  | AS_EXPECTED         | what is expected"
      })
  void eachPairOfAnswers(
      Sort sort,
      boolean stays,
      @Nullable String expected,
      @Nullable String was,
      @Nullable String is,
      Outcome outcome,
      String words) {
    Probe probe =
        new Probe("q", sort == Sort.PAGE ? "https://a.example" : "q", stays, sort, expected);

    Judged judged = Judged.of(probe, answer(was), answer(is));

    assertThat(judged.outcome()).isEqualTo(outcome);
    assertThat(judged.words()).contains(words);
    assertThat(judged.passed()).isEqualTo(outcome != Outcome.FAILED);
  }

  /** An expectation speaks of the version that went. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      nullValues = "-",
      value = {
        "QUERY | 2  | 1   | 1   | SAME        | the same as before",
        "QUERY | 2  | 1   | 3   | FAILED      | otherwise than before",
        "QUERY | 2  | 1   | 2   | CHANGED_AS_EXPECTED | what is expected",
        "QUERY | 2  | 1   | !no | FAILED      | was not answered: no",
        "QUERY | 2  | 1   | -   | FAILED      | it was not asked",
        "QUERY | 2  | !no | 1   | ANSWERED    | is not known",
        "QUERY | 2  | -   | 1   | ANSWERED    | is not known",
        "PAGE  | ok | a   | b   | SAME        | the same as before",
        "PAGE  | ok | ok  | b   | FAILED      | otherwise than before",
        "FILE  | -  | a   | b   | ANSWERED    | was answered"
      })
  void anEarlierVersionAnswersAsItDid(
      Sort sort,
      @Nullable String expected,
      @Nullable String was,
      @Nullable String is,
      Outcome outcome,
      String words) {
    Probe probe =
        new Probe("q", sort == Sort.PAGE ? "https://a.example" : "q", false, sort, expected);

    Judged judged = Judged.back(probe, answer(was), answer(is));

    assertThat(judged.outcome()).isEqualTo(outcome);
    assertThat(judged.words()).contains(words);
  }

  /** S was compared, A was not. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "S   | The answer is as expected",
        "SS  | Every answer is as expected",
        "A   | 1 answer came and was compared with nothing",
        "AA  | 2 answers came and were compared with nothing",
        "SA  | 1 answer is as expected; 1 answer came and was compared with nothing",
        "SSA | 2 answers are as expected; 1 answer came and was compared with nothing"
      })
  void whatWasComparedWithNothingIsNotCalledAsExpected(String outcomes, String words) {
    List<Judged> all =
        outcomes
            .chars()
            .mapToObj(c -> new Judged(c == 'S' ? Outcome.SAME : Outcome.ANSWERED, ""))
            .toList();

    assertThat(Judged.words(all)).isEqualTo(words);
  }

  @Test
  void membersThatDifferAreNamedAndTheirValuesAreNot() {
    Judged judged =
        Judged.of(
            new Probe("q", "q", true),
            answer("{\"amount\":\"13.80\",\"zone\":1}"),
            answer("{\"amount\":\"138.00\",\"zone\":1}"));
    assertThat(judged.words()).isEqualTo("answers otherwise than before: amount");
  }

  @Test
  void asksEachSiteAtItsOwnAddress() {
    SiteKey north = new SiteKey("production", "north");
    assertThat(new Probe("p", "https://{site}.a/{stage}", true, Sort.PAGE, null).at(north))
        .isEqualTo("https://north.a/production");
    assertThat(new Probe("p", "{site}", true, Sort.HOST, null).at(north))
        .as("of a host it is its own JSON")
        .isEqualTo("{site}");
  }

  @ParameterizedTest
  @CsvSource({
    "PAGE,  ftp://a,              address of a page",
    "PAGE,  'https://a b',        address of a page",
    "FILE,  /etc/passwd,          without a leading /",
    "QUERY, 'SELECT 1; SELECT 2', without a semicolon",
    "HOST,  '',                   1 to 4000 characters"
  })
  void aQuestionThatIsNoneIsRefused(Sort sort, String question, String why) {
    assertThatThrownBy(() -> new Probe("q", question, true, sort, null)).hasMessageContaining(why);
  }

  @Test
  void whatDecidesItIsItsCode() {
    Probe probe = new Probe("q", "x", true, Sort.HOST, null);
    assertThat(new Probe("another name", "x", true, Sort.HOST, null).code())
        .isEqualTo(probe.code());
    assertThat(new Probe("q", "y", true, Sort.HOST, null).code()).isNotEqualTo(probe.code());
    assertThat(new Probe("q", "x", false, Sort.HOST, null).code()).isNotEqualTo(probe.code());
    assertThat(new Probe("q", "x", true, Sort.HOST, "1").code()).isNotEqualTo(probe.code());
  }
}
