package plenzo.engine.returning;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.EngineKit.SITE;
import static plenzo.engine.kit.EngineKit.row;
import static plenzo.engine.kit.ScriptedDatabase.column;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.impact.Finding;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.plan.Plan;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Purpose;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.version.SemVer;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;
import plenzo.engine.kit.ScriptedDatabase;

/** What a way back lost and somebody saved comes again by a plan, row by row, where it fits. */
class BringInTest extends KitTest {
  private static final Plan.Way BACKUP = Plan.Way.BACKUP;

  private List<String> saved = List.of();

  /** 1.1.0 is left by its backup, which loses the row that somebody wrote since. */
  @BeforeEach
  void world() {
    for (ScriptedDatabase.Base base : List.of(kit.production(), kit.development())) {
      base.column(BAND, null, column("note", "character varying(8)"), false);
    }
    kit.adopt();
    kit.sealPeak("1.1.0", "25.00");
    kit.bring("1.1.0");
    kit.production().row(BAND, noted("OWN", "4.00", "mine"));
    List<String> lines = new ArrayList<>();
    kit.engine().rollbacks().lost(kit.ines, "fares", SITE, BACKUP, Rollbacks.Wish.NONE, lines::add);
    saved = lines;
    assertThat(kit.run(kit.back(BACKUP)).state()).isEqualTo(RunState.DONE);
    assertThat(kit.production().keys(BAND)).doesNotContain("OWN");
  }

  private static Map<String, @Nullable String> noted(
      String code, String amount, @Nullable String note) {
    Map<String, @Nullable String> out = new HashMap<>(row(code, amount));
    out.put("note", note);
    return out;
  }

  private BringIn.Opened open(String... lines) {
    BringIn.Opened opened =
        kit.engine().bringIn().open(kit.ines, "fares", SITE, String.join("\n", lines), "");
    kit.settleDown();
    return opened;
  }

  private BringIn.Opened open() {
    return open(saved.toArray(String[]::new));
  }

  private static String line(String key, String column, String value) {
    return "\"" + BAND + "\",\"\"\"" + key + "\"\"\",\"" + column + "\",\"" + value + "\"";
  }

  @Test
  void bringsBackARowThatWasLost() {
    BringIn.Opened opened = open();
    assertThat(opened.notTaken()).isEmpty();
    assertThat(opened.promotion().purpose()).isEqualTo(Purpose.PUT_BACK);

    Run run = kit.run(kit.promotion(opened.promotion().number()));

    assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
    assertThat(run.sentence())
        .as("the version says nothing of it")
        .isEqualTo(
            "What "
                + kit.promotion(run.promotion()).shown()
                + " brought in at "
                + SITE
                + " is there as it was saved.");
    assertThat(kit.production().value(BAND, "OWN", "amount")).isEqualTo("4.00");
    assertThat(kit.production().value(BAND, "OWN", "note")).isEqualTo("mine");
    assertThat(kit.production().value(BAND, "PEAK", "amount"))
        .as("nothing else")
        .isEqualTo("20.00");
    assertThat(kit.record().present()).isEqualTo(new SemVer("1.0.0"));
  }

  @Test
  void saysThatNothingOfPeopleGoes() {
    long p = open().promotion().number();

    assertThat(kit.promotion(p).findings())
        .extracting(Finding::rule)
        .doesNotContain("hand-edits-go")
        .as("what the version has is not only there")
        .doesNotContain("only-there");
    assertThat(kit.promotion(p).counts().removed()).isZero();
  }

  @Test
  void givesARowThatIsThereTheValueThatItLost() {
    long p = open(line("PEAK", "note", "kept")).promotion().number();

    kit.run(kit.promotion(p));

    assertThat(kit.production().value(BAND, "PEAK", "note")).isEqualTo("kept");
    assertThat(kit.production().value(BAND, "PEAK", "amount")).isEqualTo("20.00");
  }

  @Test
  void namesWhatDoesNotFitAndTakesTheRest() {
    List<String> lines = new ArrayList<>(saved);
    lines.add(line("PEAK", "note", "far too long"));
    lines.add(line("GONE", "note", "x"));
    lines.add("\"fares.nowhere\",\"\"\"1\"\"\",\"id\",\"1\"");
    lines.add(line("DAY", "code", "DAY"));
    lines.add(line("DAY", "amount", "99.00"));

    BringIn.Opened opened = open(lines.toArray(String[]::new));

    assertThat(opened.notTaken())
        .hasSize(4)
        .anyMatch(n -> n.startsWith("fares.nowhere: it is not there"))
        .anyMatch(n -> n.startsWith("fares.band GONE: the row is gone"))
        .anyMatch(n -> n.startsWith("fares.band DAY: it is there by now"))
        .anyMatch(n -> n.startsWith("fares.band PEAK: note: "));
    kit.run(kit.promotion(opened.promotion().number()));
    assertThat(kit.production().keys(BAND)).contains("OWN");
  }

  @Test
  void opensNothingWhereNothingFits() {
    assertThatThrownBy(() -> open(line("GONE", "note", "x")))
        .isInstanceOfSatisfying(Problem.class, p -> assertThat(p.code()).isEqualTo("NOTHING_FITS"));
    assertThatThrownBy(() -> open("no csv \"at all"))
        .isInstanceOfSatisfying(Problem.class, p -> assertThat(p.code()).isEqualTo("SAVED"));
    assertThatThrownBy(() -> open("\"a\",\"b\""))
        .isInstanceOfSatisfying(
            Problem.class, p -> assertThat(p.getMessage()).contains("Line 1 has 2 fields"));
  }

  @Test
  void takesWhatIsAsItWasForDone() {
    kit.production().row(BAND, noted("OWN", "4.00", "mine"));

    assertThatThrownBy(this::open)
        .isInstanceOfSatisfying(Problem.class, p -> assertThat(p.code()).isEqualTo("NOTHING_FITS"));
  }

  @Test
  void isPreparedByWhoeverPreparesThere() {
    Person looker = EngineKit.person("odile", Right.LOOK);

    assertThatThrownBy(
            () -> kit.engine().bringIn().open(looker, "fares", SITE, String.join("\n", saved), ""))
        .isInstanceOf(Problem.class);
  }
}
