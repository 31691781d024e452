package plenzo.core.plan;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import plenzo.core.comparison.Difference;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind.Holder;
import plenzo.core.component.TableName;
import plenzo.core.digest.Digest;
import plenzo.core.locking.Locked;
import plenzo.core.manual.Asked;
import plenzo.core.manual.ManualStep;
import plenzo.core.manual.ManualStep.When;
import plenzo.core.plan.Plan.Act;
import plenzo.core.plan.step.PlanCase;
import plenzo.core.plan.step.PlannedStep;
import plenzo.core.stage.SiteKey;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Connector.Capability;
import plenzo.core.target.Doors;
import plenzo.core.target.ItemsDelta;
import plenzo.core.target.SiteDelta;
import plenzo.core.target.TablesDelta;
import plenzo.core.target.TargetId;

class PlannedStepTest {
  private static final PlanCase.Place DATABASE = place(Holder.DATABASE, "database");
  private static final PlanCase.Place FILES =
      place(Holder.DIRECTORY, "files", Capability.UNDO, Capability.SCRATCH);
  private static final PlanCase.Place HOST =
      place(Holder.HOST, "host", Capability.UNDO, Capability.MAINTENANCE, Capability.PROBE);
  private static final TablesDelta TABLES =
      new TablesDelta(
          List.of(
              TablesDelta.TableDelta.of(
                  TableName.of("fares.band"), null, TableStructure.EMPTY, null)),
          List.of());

  private static PlanCase.Place place(Holder holder, String key, Capability... can) {
    return new PlanCase.Place(
        TargetId.early("production", "main", key), holder, key, Set.of(can), true, Doors.NONE);
  }

  private static ItemsDelta items(@Nullable String key, Map<String, ItemsDelta.Binding> given) {
    return new ItemsDelta(
        key == null
            ? List.of()
            : List.of(
                new ItemsDelta.Change(
                    ComponentKey.of(key),
                    Difference.CHANGED,
                    Digest.of("old"),
                    "r1",
                    Digest.of("new"),
                    1,
                    false)),
        Map.of(),
        given,
        (kind, digest) -> {
          throw new IllegalStateException();
        });
  }

  private static List<Plan.Step> plan(SiteDelta delta, List<String> questions) {
    return PlannedStep.plan(
        new PlanCase(
            new SiteKey("production", "main"),
            "2.4.0",
            List.of(FILES, HOST, DATABASE),
            delta,
            questions,
            List.of(),
            0,
            Locked.NONE));
  }

  private static List<Act> acts(SiteDelta delta, String... questions) {
    return plan(delta, List.of(questions)).stream().map(Plan.Step::act).toList();
  }

  private static final SiteDelta NOTHING = new SiteDelta(TablesDelta.NONE, Map.of());
  private static final SiteDelta ROWS = new SiteDelta(TABLES, Map.of());
  private static final SiteDelta ALL =
      new SiteDelta(
          TABLES,
          Map.of(
              Holder.DIRECTORY,
              items("file/fares/a.txt", Map.of()),
              Holder.HOST,
              items("rule/fares.night", Map.of())));

  @Test
  void takesEveryStepInOrderWhenEverythingIsTouched() {
    assertThat(acts(ALL, "quote"))
        .containsExactly(
            Act.LOOK_AGAIN,
            Act.BACK_UP,
            Act.PROVE,
            Act.PREPARE,
            Act.ASK_BEFORE,
            Act.CLOSE,
            Act.ADD_MOVED,
            Act.SWITCH,
            Act.SWITCH,
            Act.SWITCH,
            Act.READ_BACK,
            Act.ASK_AFTER,
            Act.OPEN,
            Act.RECORD);
    assertThat(plan(ALL, List.of()).stream().filter(s -> s.act() == Act.SWITCH))
        .extracting(Plan.Step::holder)
        .as("the database is last: it alone cannot be switched back")
        .containsExactly(Holder.DIRECTORY, Holder.HOST, Holder.DATABASE);
  }

  private static List<Plan.Step> byHand(SiteDelta delta, ManualStep... work) {
    return PlannedStep.plan(
        new PlanCase(
            new SiteKey("production", "main"),
            "2.4.0",
            List.of(FILES, HOST, DATABASE),
            delta,
            List.of(),
            List.of(work).stream().map(w -> new Asked(w, "fares@2.4.0")).toList(),
            0,
            Locked.NONE));
  }

  @Test
  void peopleDoTheirsWhereTheySaidInTheOrderInWhichItIsAsked() {
    List<Plan.Step> steps =
        byHand(
            ROWS,
            ManualStep.of(When.AFTER, "", "last"),
            ManualStep.of(When.SWITCHED, "", "users still out"),
            ManualStep.of(When.CLOSED, "", "users out"),
            ManualStep.of(When.BEFORE, "desk", "first"),
            ManualStep.of(When.BEFORE, "", "second"));

    assertThat(steps)
        .extracting(Plan.Step::act)
        .startsWith(Act.BY_HAND_BEFORE, Act.BY_HAND_BEFORE, Act.LOOK_AGAIN)
        .containsSubsequence(
            Act.CLOSE,
            Act.BY_HAND_CLOSED,
            Act.SWITCH,
            Act.BY_HAND_SWITCHED,
            Act.READ_BACK,
            Act.OPEN)
        .endsWith(Act.RECORD, Act.BY_HAND_AFTER);
    assertThat(steps.get(0).what()).isEqualTo("first (fares@2.4.0)");
    assertThat(steps.get(0).target()).isEqualTo("desk");
  }

  @Test
  void workByHandIsCoveredByAYesAndItsOriginIsNot() {
    ManualStep work = ManualStep.of(When.AFTER, "", "Wipe the board");
    String code = codes(byHand(ROWS, work));

    assertThat(code).contains("BY_HAND_AFTER " + work.digest().hex());
    assertThat(codes(byHand(ROWS, ManualStep.of(When.AFTER, "", "Wipe it")))).isNotEqualTo(code);
    assertThat(codes(byHand(ROWS)))
        .as("a plan without any")
        .isEqualTo(codes(plan(ROWS, List.of())));
  }

  @Test
  void numbersItsStepsFromOne() {
    assertThat(plan(ALL, List.of("quote")))
        .extracting(Plan.Step::number)
        .containsExactly(1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14);
  }

  @Test
  void asksNothingWhereThereIsNoQuestion() {
    assertThat(acts(ALL)).doesNotContain(Act.ASK_BEFORE, Act.ASK_AFTER);
  }

  @Test
  void addsWhatMovedWhereUsersAreKeptOutOfRowsThatItTouches() {
    SiteDelta host =
        new SiteDelta(TablesDelta.NONE, Map.of(Holder.HOST, items("rule/fares.night", Map.of())));

    assertThat(acts(ROWS)).containsSubsequence(Act.CLOSE, Act.ADD_MOVED, Act.SWITCH);
    assertThat(acts(host)).contains(Act.CLOSE).doesNotContain(Act.ADD_MOVED);
  }

  @Test
  void saysWhetherDefinitionsAreRestoredOrReadBack() {
    String readBack = plan(ALL, List.of()).get(2).what();
    assertThat(readBack).contains("Read back 1 definition, without restoring");

    PlanCase.Place apart = place(Holder.HOST, "host", Capability.MAINTENANCE, Capability.SCRATCH);
    assertThat(
            PlannedStep.plan(
                    new PlanCase(
                        new SiteKey("production", "main"),
                        "2.4.0",
                        List.of(FILES, apart, DATABASE),
                        ALL,
                        List.of(),
                        List.of(),
                        0,
                        Locked.NONE))
                .get(2)
                .what())
        .contains("1 definition in a place of its own")
        .doesNotContain("without restoring");
  }

  @Test
  void closesTheHostForRowsAloneToo() {
    assertThat(acts(ROWS)).contains(Act.CLOSE, Act.OPEN);
  }

  @Test
  void closesEachTargetThatPeopleAreKeptOutOfAndOpensThemTheOtherWayRound() {
    PlanCase.Place files =
        new PlanCase.Place(
            FILES.id(),
            Holder.DIRECTORY,
            "files",
            FILES.can(),
            true,
            new Doors(List.of("closed.html"), false));
    PlanCase.Place database =
        new PlanCase.Place(
            DATABASE.id(),
            Holder.DATABASE,
            "database",
            Set.of(),
            true,
            new Doors(List.of("desk", "portal"), true));
    List<Plan.Step> steps =
        PlannedStep.plan(
            new PlanCase(
                new SiteKey("production", "main"),
                "2.4.0",
                List.of(files, HOST, database),
                ROWS,
                List.of(),
                List.of(),
                10,
                Locked.NONE));

    assertThat(steps.stream().filter(s -> s.act() == Act.CLOSE))
        .extracting(Plan.Step::holder)
        .containsExactly(Holder.HOST, Holder.DIRECTORY, Holder.DATABASE);
    assertThat(steps.stream().filter(s -> s.act() == Act.OPEN))
        .extracting(Plan.Step::holder)
        .containsExactly(Holder.DATABASE, Holder.DIRECTORY, Holder.HOST);
    assertThat(steps.stream().map(Plan.Step::what).toList())
        .contains(
            "Say that it closes in 10 min, and wait until then",
            "No new session of desk, portal; wait for theirs to end, then end them",
            "Put closed.html beside it, for its web server to show",
            "Let desk, portal in again",
            "Take closed.html away");
  }

  @Test
  void closesNothingWhenNothingIsToChange() {
    assertThat(acts(NOTHING, "quote"))
        .containsExactly(
            Act.LOOK_AGAIN,
            Act.BACK_UP,
            Act.PROVE,
            Act.PREPARE,
            Act.ASK_BEFORE,
            Act.SWITCH,
            Act.READ_BACK,
            Act.ASK_AFTER,
            Act.RECORD);
  }

  @Test
  void switchesTheHostForAChangedValueAlone() {
    SiteDelta value =
        new SiteDelta(
            TablesDelta.NONE,
            Map.of(
                Holder.HOST,
                items(null, Map.of("address", new ItemsDelta.Binding("https://a", false)))));

    assertThat(plan(value, List.of()).stream().filter(s -> s.act() == Act.SWITCH))
        .singleElement()
        .satisfies(
            s -> {
              assertThat(s.holder()).isEqualTo(Holder.HOST);
              assertThat(s.on()).isEqualTo(HOST.id());
              assertThat(s.what()).contains("1 value of inputs");
            });
  }

  @Test
  void isCoveredByCodesAndIdsAlone() {
    Plan.Step step = plan(ROWS, List.of()).get(6);
    assertThat(step.act()).isEqualTo(Act.SWITCH);

    PlanCase renamed =
        new PlanCase(
            new SiteKey("production", "main"),
            "2.4.0",
            List.of(
                new PlanCase.Place(
                    DATABASE.id(), Holder.DATABASE, "another name", Set.of(), true, Doors.NONE)),
            ROWS,
            List.of(),
            List.of(),
            0,
            Locked.NONE);
    assertThat(codes(PlannedStep.plan(renamed))).doesNotContain("another name");
    assertThat(codes(PlannedStep.plan(renamed))).contains("SWITCH production/main/database");
  }

  private static String codes(List<Plan.Step> steps) {
    return String.join(
        "\n",
        new Plan(
                steps,
                List.of(),
                1,
                List.of(),
                List.of(),
                Locked.NONE,
                new plenzo.core.digest.Fingerprint(Digest.of("")))
            .codes());
  }

  @Test
  void saysWhatIsProvenAndWhatIsOnlyReadBack() {
    String proof =
        plan(ALL, List.of()).stream()
            .filter(s -> s.act() == Act.PROVE)
            .findFirst()
            .orElseThrow()
            .what();
    assertThat(proof)
        .isEqualTo(
            "Restore and compare every row in the scratch place and 1 file beside the tree. Read"
                + " back 1 definition, without restoring");
  }
}
