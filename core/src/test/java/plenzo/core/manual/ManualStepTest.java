package plenzo.core.manual;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Instant;
import java.util.Collections;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.EnumSource;
import plenzo.core.json.Json;
import plenzo.core.manual.ManualStep.When;

class ManualStepTest {
  private static final Instant NOW = Instant.parse("2027-03-01T08:00:00Z");
  private static final ManualStep FULL =
      new ManualStep(
          When.SWITCHED,
          "desk",
          "Tell the desk\n\n- zone 7",
          "https://a.example/x",
          30,
          true,
          true);

  @Test
  void readsBackWhatItWrites() {
    assertThat(ManualStep.of(FULL.toJson().asObject())).isEqualTo(FULL);
    ManualStep least = ManualStep.of(When.AFTER, "", "Wipe the board");
    assertThat(least.toJson().canonical())
        .isEqualTo("{\"text\":\"Wipe the board\",\"when\":\"after\"}");
    assertThat(ManualStep.of(Json.parse(least.toJson().canonical()).asObject())).isEqualTo(least);
  }

  @Test
  void isNamedByItsFirstLineAndToldByTheOthers() {
    assertThat(FULL.title()).isEqualTo("Tell the desk");
    assertThat(FULL.how()).containsExactly("- zone 7");
  }

  @ParameterizedTest
  @EnumSource(When.class)
  void codesOfTimesAreReadBack(When when) {
    assertThat(When.of(when.code())).isEqualTo(when);
  }

  @Test
  void anotherWordOfItIsAnotherStep() {
    assertThat(ManualStep.of(When.AFTER, "", "a").digest())
        .isNotEqualTo(ManualStep.of(When.AFTER, "", "b").digest())
        .isNotEqualTo(ManualStep.of(When.BEFORE, "", "a").digest())
        .isNotEqualTo(new ManualStep(When.AFTER, "", "a", "", 0, false, true).digest());
  }

  @ParameterizedTest
  @CsvSource({
    "'',    '',                 0,     1 to 4000 characters",
    "x,     The Desk,           0,     key of a role",
    "x,     '',                 43201, within 1 to 43200 minutes",
    "x,     '',                 -1,    within 1 to 43200 minutes"
  })
  void refusesWhatNobodyCouldDo(String text, String who, int minutes, String why) {
    assertThatThrownBy(() -> new ManualStep(When.AFTER, who, text, "", minutes, false, false))
        .hasMessageContaining(why);
  }

  @ParameterizedTest
  @CsvSource({"http://a.example", "javascript:alert(1)", "'https://a.example/a b'"})
  void aLinkIsAnHttpsAddress(String link) {
    assertThatThrownBy(() -> new ManualStep(When.AFTER, "", "x", link, 0, false, false))
        .hasMessageContaining("https address");
  }

  @Test
  void aListIsBoundedAndHasEachOnce() {
    ManualStep one = ManualStep.of(When.AFTER, "", "a");
    assertThatThrownBy(() -> ManualStep.all(List.of(one, one))).hasMessageContaining("twice");
    assertThatThrownBy(() -> ManualStep.all(Collections.nCopies(ManualStep.MOST + 1, one)))
        .hasMessageContaining("At most 50");
  }

  @Test
  void isOverWhenItWasDoneOrLeftOutAndNotWhenItCouldNotBeDone() {
    Handed asked = Handed.of(new Asked(FULL, "P-1")).asked(NOW);
    assertThat(asked.over()).isFalse();
    assertThat(said(asked, Handed.Outcome.DONE).over()).isTrue();
    assertThat(said(asked, Handed.Outcome.LEFT_OUT).over()).isTrue();
    assertThat(said(asked, Handed.Outcome.NOT_DONE).over()).isFalse();
  }

  private static Handed said(Handed asked, Handed.Outcome outcome) {
    return asked.said(new Handed.Word(outcome, "bram", NOW, "", null));
  }

  @Test
  void isOverdueOnlyWhileItIsOpen() {
    Handed asked = Handed.of(new Asked(FULL, "P-1")).asked(NOW);
    Instant due = NOW.plusSeconds(30 * 60);

    assertThat(asked.overdue(due)).isFalse();
    assertThat(asked.overdue(due.plusMillis(1))).isTrue();
    assertThat(said(asked, Handed.Outcome.DONE).overdue(due.plusSeconds(1))).isFalse();
    assertThat(Handed.of(new Asked(FULL, "P-1")).due()).as("not asked yet").isEmpty();
  }

  @Test
  void askedAgainItKeepsItsFirstTime() {
    Handed asked = Handed.of(new Asked(FULL, "P-1")).asked(NOW);
    assertThat(asked.asked(NOW.plusSeconds(60)).since()).isEqualTo(NOW);
  }

  @ParameterizedTest
  @CsvSource({
    "DONE,     Done by bram: by phone",
    "NOT_DONE, 'Could not be done, says bram: by phone'",
    "LEFT_OUT, Left out by bram: by phone"
  })
  void saysWhoSaidWhat(Handed.Outcome outcome, String words) {
    assertThat(new Handed.Word(outcome, "bram", NOW, "by phone", null).words()).isEqualTo(words);
    assertThat(Handed.Outcome.of(outcome.code())).isEqualTo(outcome);
  }
}
