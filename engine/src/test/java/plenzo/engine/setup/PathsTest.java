package plenzo.engine.setup;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import plenzo.core.history.HistoryEntry;
import plenzo.core.history.Thing;
import plenzo.core.person.Person;
import plenzo.core.problem.Problem;
import plenzo.core.stage.Leg;
import plenzo.core.stage.Path;
import plenzo.core.stage.Stage;
import plenzo.engine.kit.KitTest;
import plenzo.engine.looking.Standing;

/** Paths are laid once and changed from then on; nobody's open case loses the way it is on. */
class PathsTest extends KitTest {
  private static Path path(@Nullable String source, int revision, String... legs) {
    return new Path(
        "ordinary", "Ordinary", source, Stream.of(legs).map(Leg::open).toList(), revision);
  }

  private void stage(String key) {
    kit.engine()
        .stages()
        .save(kit.ines, new Stage(key, key, Stage.Role.TEST, 2, "UTC", false, List.of(), 0));
  }

  private Path there() {
    return kit.engine().paths().list().get(0);
  }

  @Test
  void goesAnotherWayFromNowOn() {
    stage("trial");

    Path changed =
        kit.engine().paths().change(kit.ines, path("development", 0, "trial", "production"));

    assertThat(changed.stages()).containsExactly("trial", "production");
    assertThat(changes("path/ordinary"))
        .containsExactly(
            "ordinary: stages production to trial, production",
            "ordinary: development to production");
  }

  private List<String> changes(String thing) {
    return kit.engine().history().changes(kit.ines, Thing.of(thing), 0, 10).items().stream()
        .map(HistoryEntry::text)
        .toList();
  }

  @Test
  void isNotChangedByWhoLookedAtAnOlderOne() {
    stage("trial");
    int seen = there().revision();
    kit.engine().paths().change(kit.ines, path("development", seen, "trial", "production"));

    assertThatThrownBy(
            () -> kit.engine().paths().change(kit.ines, path("development", seen, "production")))
        .isInstanceOfSatisfying(Problem.class, p -> assertThat(p.code()).isEqualTo("CHANGED"));
  }

  @Test
  void leavesNoStageOutThatACaseGoesTo() {
    stage("trial");
    kit.adopt();
    kit.sealPeak("1.1.0", "25.00");
    long open = kit.prepare("1.1.0").number();

    assertThatThrownBy(() -> kit.engine().paths().change(kit.ines, path("development", 0, "trial")))
        .hasMessageContaining("P-" + open + " to production/main");

    kit.engine().promotions().withdraw(kit.ines, open, "another way");
    kit.engine().paths().change(kit.ines, path("development", 0, "trial"));
    assertThat(there().stages()).containsExactly("trial");
  }

  @Test
  void isLaidOnceAndKnowsItsStages() {
    assertThatThrownBy(
            () -> kit.engine().paths().lay(kit.ines, path("development", 0, "production")))
        .hasMessageContaining("change it instead");
    assertThatThrownBy(
            () -> kit.engine().paths().change(kit.ines, path("development", 0, "harbour")))
        .hasMessageContaining("harbour");
    assertThatThrownBy(
            () ->
                kit.engine()
                    .paths()
                    .change(
                        kit.ines,
                        new Path("other", "Other", null, List.of(Leg.open("production")), 0)))
        .hasMessageContaining("other");
    assertThatThrownBy(() -> kit.engine().paths().change(kit.ines, path(null, 0, "development")))
        .hasMessageContaining("where applications are edited");
    assertThatThrownBy(
            () ->
                kit.engine()
                    .paths()
                    .change(Person.invited("gill", "Gill", "", false), path(null, 0, "production")))
        .hasMessageContaining("administer");
  }

  /** What receives packages edits nothing: it needs no stage in which somebody would. */
  @Test
  void needsNoSource() {
    kit.adopt();
    kit.engine().paths().change(kit.ines, path(null, 0, "production"));

    assertThat(there().source()).isNull();
    assertThat(there().words()).isEqualTo("production");
    Standing.Asked all = new Standing.Asked("", null, null, null, 10);
    assertThat(kit.engine().standing().page(kit.ines, all).lines().get(0).source())
        .isEqualTo("packages");
  }
}
