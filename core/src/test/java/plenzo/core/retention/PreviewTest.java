package plenzo.core.retention;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** What goes by a set of rules, and what stays. */
class PreviewTest {
  private static final Instant NOW = Instant.parse("2027-06-01T12:00:00Z");
  private static final Rules NINETY = new Rules(Map.of(Sort.BACKUP, 90), false);

  private static Item backup(int run, String at) {
    return new Item(
        Sort.BACKUP,
        "backup/R-" + run,
        "fares 2.4.0 at production/north",
        Instant.parse(at),
        "backup/R-" + run,
        List.of("R-" + run, "fares@2.4.0"));
  }

  private static final Item OLD = backup(1, "2027-03-03T11:59:59Z");
  private static final Item YOUNG = backup(2, "2027-03-03T12:00:00Z");

  private static Preview of(Rules rules, Map<String, String> holds, Keeping... notes) {
    Map<String, Keeping> by = new java.util.HashMap<>();
    for (Keeping n : notes) {
      by.put(n.id(), n);
    }
    return Preview.of(List.of(YOUNG, OLD), rules, holds, by, NOW, i -> 100);
  }

  private static Keeping note(String subject, LocalDate until) {
    return new Keeping(
        subject, Keeping.State.NOTE, "ines", NOW, "The harbour asks for it", until, 0, 0);
  }

  @Test
  void whatIsOldGoesAndWhatIsAsOldAsTheDaysStays() {
    Preview p = of(NINETY, Map.of());

    assertThat(p.going()).extracting(l -> l.item().id()).containsExactly("backup/R-1");
    assertThat(p.going().get(0).why()).isEqualTo("more than 90 days old");
    assertThat(p.bytes()).isEqualTo(100);
    assertThat(p.counted()).isEqualTo("1 backup");
    assertThat(p.lines().get(1).why()).isEqualTo("not 90 days old");
  }

  @Test
  void withoutARuleEverythingStays() {
    Preview p = of(Rules.FOR_EVER, Map.of());

    assertThat(p.going()).isEmpty();
    assertThat(p.counted()).isEqualTo("nothing");
    assertThat(p.lines()).allMatch(l -> l.why().equals("backups are kept for ever"));
  }

  @Test
  void whatAWayBackNeedsStaysHoweverOldAndSaysWhy() {
    Preview p = of(NINETY, Map.of("backup/R-1", "the way back of fares needs it"));

    assertThat(p.going()).isEmpty();
    assertThat(p.held())
        .singleElement()
        .extracting(Preview.Line::why)
        .isEqualTo("the way back of fares needs it");
  }

  @Test
  void aNoteOfTheRunOrOfItsVersionKeepsIt() {
    assertThat(of(NINETY, Map.of(), note("R-1", null)).going()).isEmpty();
    assertThat(of(NINETY, Map.of(), note("fares@2.4.0", null)).going()).isEmpty();
    assertThat(of(NINETY, Map.of(), note("R-2", null)).going()).hasSize(1);
  }

  @Test
  void aNoteKeepsThroughItsLastDayAndNoLonger() {
    assertThat(of(NINETY, Map.of(), note("R-1", LocalDate.of(2027, 6, 1))).going()).isEmpty();
    assertThat(of(NINETY, Map.of(), note("R-1", LocalDate.of(2027, 5, 31))).going()).hasSize(1);
  }

  @Test
  void anotherListHasAnotherDigest() {
    assertThat(of(NINETY, Map.of()).digest())
        .isEqualTo(of(NINETY, Map.of()).digest())
        .isNotEqualTo(of(new Rules(Map.of(Sort.BACKUP, 1), false), Map.of()).digest());
  }

  @Test
  void rulesAreKeptAsTheyWereSaid() {
    Rules r = new Rules(Map.of(Sort.LOG, 7, Sort.BACKUP, 365), true);

    assertThat(Rules.of(r.text())).isEqualTo(r);
    assertThat(Rules.of(Rules.FOR_EVER.text())).isEqualTo(Rules.FOR_EVER);
  }

  @Test
  void noDaysAtAllIsNoRule() {
    assertThatThrownBy(() -> new Rules(Map.of(Sort.BACKUP, 0), false))
        .hasMessageContaining("backups are kept for 1 to");
    assertThatThrownBy(
            () ->
                note("R-1", null)
                    .equals(new Keeping("R-1", Keeping.State.NOTE, "ines", NOW, " ", null, 0, 0)))
        .hasMessageContaining("why it stays");
  }
}
