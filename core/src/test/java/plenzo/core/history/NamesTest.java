package plenzo.core.history;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Names of people stand beside the chain, and can be taken away without breaking it. */
class NamesTest {
  private static final Instant AT = Instant.parse("2027-03-01T08:00:00Z");
  private static final String SALT = "5a".repeat(32);

  private static Names.Called called(String word, String login) {
    return new Names.Called(Names.id(SALT, word), SALT, word, login);
  }

  private static final Names NAMES =
      new Names(
          List.of(
              called("ines", "ines"),
              called("Ines Halvorsen", "ines"),
              called("ines@morrowick.example", "ines"),
              called("in", "in")));

  private static final Names BLANKED =
      new Names(
          NAMES.all().stream()
              .map(
                  c ->
                      c.login().equals("ines")
                          ? new Names.Called(c.id(), null, "person-1", "person-1")
                          : c)
              .toList());

  private static HistoryEntry entry(String actor, String text) {
    return HistoryEntry.after(
        7, HistoryEntry.START, AT, HistoryEntry.Event.of(actor, "person invited", text), NAMES);
  }

  @Test
  void theHashHoldsWithTheNameAndWithoutIt() {
    HistoryEntry e = entry("ines", "Invited ines (Ines Halvorsen).");

    assertThat(e.computedHash()).isEqualTo(e.hash());
    assertThat(e.readsAs(NAMES)).isTrue();
    assertThat(e.line()).doesNotContain("ines", "Halvorsen");

    String shown = BLANKED.shown(e.chained().text());
    assertThat(shown).isEqualTo("Invited person-1 (person-1).");
    HistoryEntry blank =
        new HistoryEntry(
            7,
            AT,
            "person-1",
            e.event(),
            null,
            null,
            null,
            null,
            null,
            null,
            shown,
            e.before(),
            e.hash(),
            e.chained());
    assertThat(blank.computedHash()).isEqualTo(e.hash());
    assertThat(blank.readsAs(BLANKED)).isTrue();
  }

  @Test
  void aNameThatSomebodyPutInAnothersPlaceIsSeen() {
    HistoryEntry e = entry("ines", "Said yes");
    HistoryEntry altered =
        new HistoryEntry(
            7,
            AT,
            "bram",
            e.event(),
            null,
            null,
            null,
            null,
            null,
            null,
            e.text(),
            e.before(),
            e.hash(),
            e.chained());

    assertThat(altered.computedHash()).as("the chain alone does not see it").isEqualTo(e.hash());
    assertThat(altered.readsAs(NAMES)).isFalse();
    assertThat(new Names.Called(Names.id(SALT, "ines"), SALT, "bram", "bram").holds()).isFalse();
  }

  @ParameterizedTest
  @CsvSource({
    "ines, true",
    "'by ines.', true",
    "'by ines: yes', true",
    "'(ines)', true",
    "'ines, bram', true",
    "ines@morrowick.example, true",
    "inestable, false",
    "fares.ines, false",
    "ines/main, true",
    "'ines-2', false",
  })
  void aNameIsAWholeWord(String text, boolean is) {
    String chained = NAMES.signs(text);

    assertThat(chained.contains("ines")).isEqualTo(!is);
    assertThat(NAMES.shown(chained)).isEqualTo(text);
  }

  @Test
  void signsThatComeInFromOutsideAreNone() {
    String forged = "\uE000" + Names.id(SALT, "ines") + "\uE001 said yes";

    assertThat(NAMES.shown(NAMES.signs(forged))).doesNotContain("ines");
  }

  @Test
  void whatNamesNobodyIsInTheChainAsItIs() {
    HistoryEntry e = entry("plenzo", "The newest copy is old");

    assertThat(e.chained()).isNull();
    assertThat(e.line()).contains("\"actor\":\"plenzo\"", "The newest copy is old");
  }

  @Test
  void aLineIsReadBackAsItWasWritten() {
    HistoryEntry e = entry("ines", "Invited bram");
    HistoryEntry read = HistoryEntry.ofLine(e.line());

    assertThat(read.computedHash()).isEqualTo(e.hash()).isEqualTo(read.hash());
    assertThat(read.line()).isEqualTo(e.line());
  }

  @Test
  void textsThatAreNoEntrysAreRewrittenByTheSameWords() {
    Map<String, String> to = Map.of("ines", "person-1", "Ines Halvorsen", "person-1");

    assertThat(Names.replaced("Ines Halvorsen said: ask ines. fares.ines stays", to))
        .isEqualTo("person-1 said: ask person-1. fares.ines stays");
  }
}
