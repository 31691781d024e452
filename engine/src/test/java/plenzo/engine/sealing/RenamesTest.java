package plenzo.engine.sealing;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.EngineKit.DEVELOPMENT;
import static plenzo.engine.kit.ScriptedDatabase.column;

import java.util.List;
import org.junit.jupiter.api.Test;
import plenzo.core.component.ComponentKey;
import plenzo.core.impact.Finding;
import plenzo.core.problem.Problem;
import plenzo.core.version.Draft;
import plenzo.core.version.SemVer;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;
import plenzo.engine.setup.Adoption;

/** A renamed column is not taken for one that goes and one that comes, with its values lost. */
class RenamesTest extends KitTest {
  private static final ComponentKey TABLE = ComponentKey.of("table/" + BAND);

  private Draft checked() {
    Draft draft = kit.engine().drafts().start(kit.ines, "fares", null);
    kit.engine()
        .drafts()
        .add(kit.ines, draft.id(), DEVELOPMENT, List.of(new Adoption.Pick(TABLE, null, true)));
    return kit.engine().drafts().check(kit.ines, draft.id());
  }

  private static List<String> rules(Draft draft) {
    return draft.findings().stream()
        .filter(f -> f.severity() == Finding.Severity.BLOCKER)
        .map(Finding::rule)
        .toList();
  }

  @Test
  void isSeenAfterAdoptionAlsoWhenItIsCheckedTwice() {
    kit.adopt();
    kit.development().column(BAND, "amount", column("fare", "numeric(6,2)"), true);

    Draft draft = checked();

    assertThat(rules(draft)).containsExactly("looks-renamed");
    assertThat(rules(kit.engine().drafts().check(kit.ines, draft.id())))
        .containsExactly("looks-renamed");
    assertThat(draft.problems().toString()).contains("amount was renamed to fare");
  }

  @Test
  void isSeenAfterMatching() {
    kit.adopt();
    kit.write(
        kept -> {
          kept.captures().all().forEach(c -> kept.captures().remove(c.id()));
          kept.sites().remove("fares@production/main");
          return null;
        });
    kit.engine().adoption().match(kit.ines, "fares", EngineKit.SITE, new SemVer("1.0.0"));
    kit.development().column(BAND, "amount", column("fare", "numeric(6,2)"), true);

    assertThat(rules(checked())).containsExactly("looks-renamed");
  }

  @Test
  void isSeenAfterSealing() {
    kit.adopt();
    kit.development().column(BAND, "amount", column("fare", "integer"), false);
    kit.seal("1.1.0");
    kit.development().column(BAND, "fare", column("price", "integer"), true);

    assertThat(rules(checked())).containsExactly("looks-renamed");
  }

  @Test
  void isAskedWhereTheSourceWasNotLookedAtAndTheAnswerStands() {
    kit.development().script.fallSilent();
    kit.adopt();
    kit.development().script.wake();
    kit.development().column(BAND, "amount", column("fare", "numeric(6,2)"), true);

    Draft draft = checked();
    assertThat(rules(draft)).containsExactly("likely-renamed");
    assertThat(draft.findings().get(0).sentence()).contains("its values would be lost");
    assertThatThrownBy(
            () -> kit.engine().drafts().twoColumns(kit.ines, draft.id(), TABLE, "code", "fare"))
        .isInstanceOf(Problem.class)
        .hasMessageContaining("is not asked");

    kit.engine().drafts().twoColumns(kit.ines, draft.id(), TABLE, "amount", "fare");

    assertThat(rules(kit.engine().drafts().check(kit.ines, draft.id()))).isEmpty();
  }

  /** A table that was made anew has another number: what its columns were called tells nothing. */
  @Test
  void isAskedWhereTheTableWasMadeAnew() {
    kit.adopt();
    kit.development()
        .table(
            BAND, column("code", "text"), column("fare", "numeric(6,2)"), column("note", "text"));

    assertThat(rules(checked())).contains("likely-renamed");
  }

  @Test
  void isNotAskedWhereTheServerTellsThemApartOrTheTypesDo() {
    kit.adopt();
    kit.development().column(BAND, "amount", column("fare", "numeric(6,2)"), false);
    assertThat(rules(checked())).isEmpty();

    kit.write(
        kept -> {
          kept.captures().all().forEach(c -> kept.captures().remove(c.id()));
          return null;
        });
    kit.development().column(BAND, "fare", column("fare", "integer"), false);
    assertThat(rules(checked())).isEmpty();
  }
}
