package plenzo.engine.rehearsing;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.tuple;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.EngineKit.SITE;

import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.junit.jupiter.params.provider.ValueSource;
import plenzo.core.component.ComponentKey;
import plenzo.core.history.HistoryEntry;
import plenzo.core.person.Right;
import plenzo.core.probe.Probe;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.rehearsal.Rehearsal;
import plenzo.core.rehearsal.Rehearsal.Result;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.stage.Leg;
import plenzo.core.target.SwitchRefused;
import plenzo.core.version.Draft;
import plenzo.core.version.SemVer;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.Killed;
import plenzo.engine.kit.KitTest;
import plenzo.engine.kit.Script.At;
import plenzo.engine.kit.ScriptedDatabase;
import plenzo.engine.sealing.Drafts;
import plenzo.engine.setup.Adoption;

/** A plan carried out on copies, and taken back there. */
class RehearsalsTest extends KitTest {
  private static final String COPY = "plenzo_rehearsal_1";

  private Promotion p;

  @BeforeEach
  void world() {
    kit.adopt();
    kit.sealPeak("1.1.0", "25.00");
    p = kit.prepare("1.1.0");
  }

  private Rehearsal rehearsed() {
    return kit.rehearse(p);
  }

  private void comparedAgain() {
    kit.engine().promotions().compareAgain(kit.ines, p.number());
    kit.settleDown();
  }

  private void asked() {
    kit.asks(Leg.open("production").rehearsed(true));
    p = kit.promotion(p.number());
  }

  @Test
  void thePlanIsCarriedOutOnACopyAndTakenBackAndTheSiteIsOnlyRead() {
    String before = kit.production().state();
    long switches = kit.production().script.calls(At.SWITCH);

    Rehearsal r = rehearsed();

    assertThat(r.result()).as(r.sentence()).isEqualTo(Result.PROVEN);
    assertThat(r.sentence()).contains("carried out on a copy and taken back there by the backup");
    assertThat(kit.production().copies.calls(At.SWITCH)).as("twice there and back").isEqualTo(4);
    assertThat(kit.production().state()).isEqualTo(before);
    assertThat(kit.production().script.calls(At.SWITCH)).isEqualTo(switches);
    assertThat(kit.databases.has(COPY)).as("the copy is gone").isFalse();
    assertThat(r.parts()).allMatch(x -> x.took() != null);
    assertThat(r.parts())
        .extracting(Rehearsal.Part::name)
        .contains("Copy what the plan can touch of database", "Compare with the start");
  }

  /** The copy has the old names: what is carried out and taken back there goes by both. */
  @ParameterizedTest
  @ValueSource(booleans = {false, true})
  void newNamesOfATableAndAColumnAreRehearsedBothWays(boolean taken) {
    kit.development().rename(BAND, "fares.rate");
    kit.development()
        .column("fares.rate", "amount", ScriptedDatabase.column("fare", "numeric(6,2)"), true);
    List<String> picked = new ArrayList<>(List.of("table/fares.rate"));
    if (taken) {
      kit.development().again("fares.rate", ScriptedDatabase.column("amount", "text"));
      kit.development().table(BAND, ScriptedDatabase.column("day", "integer"));
      picked.add("table/" + BAND);
    }
    Draft draft = kit.engine().drafts().start(kit.ines, "fares", null);
    kit.engine()
        .drafts()
        .add(
            kit.ines,
            draft.id(),
            EngineKit.DEVELOPMENT,
            picked.stream().map(k -> new Adoption.Pick(ComponentKey.of(k), null, true)).toList());
    kit.engine().drafts().check(kit.ines, draft.id());
    kit.engine()
        .drafts()
        .seal(
            kit.ines,
            draft.id(),
            new Drafts.Statement(new SemVer("1.2.0"), "Rates", "", null, List.of()));
    p = kit.prepare("1.2.0");

    Rehearsal r = rehearsed();

    assertThat(r.sentence())
        .as(String.valueOf(r.beside()))
        .isEqualTo(
            "The plan was carried out on a copy and taken back there by the backup, and once more by the earlier version; each time everything was as before.");
    assertThat(r.result()).isEqualTo(Result.PROVEN);
    assertThat(r.beside()).noneMatch(w -> w.contains("going back"));
  }

  @Test
  void itIsInTheHistoryWithWhoAndWhatCameOfIt() {
    rehearsed();

    assertThat(kit.history())
        .filteredOn(e -> e.event().startsWith("rehearsal"))
        .extracting(HistoryEntry::event, HistoryEntry::actor)
        .containsExactly(tuple("rehearsal ended", "ines"), tuple("rehearsal started", "ines"));
  }

  @Test
  void whatTheDatabaseRefusesAtTheSwitchIsFoundBeforeTheRun() {
    String before = kit.production().state();
    kit.production()
        .copies
        .once(
            At.SWITCH,
            () -> {
              throw new SwitchRefused(
                  SwitchRefused.Why.REFUSED, "The database refused a statement", List.of("line 1"));
            });

    Rehearsal r = rehearsed();

    assertThat(r.result()).isEqualTo(Result.FAILED);
    assertThat(r.sentence()).isEqualTo("The database refused a statement: line 1.");
    assertThat(r.parts().get(r.parts().size() - 1).name())
        .isEqualTo("Carry out the plan at the copy of database");
    assertThat(r.parts().get(r.parts().size() - 1).took()).isNull();
    assertThat(kit.production().state()).isEqualTo(before);
    assertThat(kit.databases.has(COPY)).isFalse();
  }

  @Test
  void whatIsWrittenToTheCopyBetweenPlanAndComparisonIsSaidByItsPlace() {
    kit.production()
        .copies
        .once(At.SWITCHED, () -> kit.databases.at(COPY).row(BAND, EngineKit.row("PEAK", "99.00")));

    Rehearsal r = rehearsed();

    assertThat(r.result()).isEqualTo(Result.FAILED);
    assertThat(r.sentence()).contains("not as planned", "records/fares.band");
  }

  @Test
  void aWayBackThatLeavesSomethingIsNoProof() {
    kit.production()
        .copies
        .once(
            At.SWITCHED,
            () ->
                kit.production()
                    .copies
                    .once(
                        At.SWITCHED,
                        () -> kit.databases.at(COPY).row(BAND, EngineKit.row("NIGHT", "1.00"))));

    Rehearsal r = rehearsed();

    assertThat(r.result()).isEqualTo(Result.FAILED);
    assertThat(r.sentence())
        .isEqualTo("Taken back, the copy is not as before at records/fares.band.");
  }

  @Test
  void aTableThatCameAndWasLeftThereIsNoProof() {
    kit.production()
        .copies
        .once(
            At.SWITCHED,
            () ->
                kit.production()
                    .copies
                    .once(
                        At.SWITCHED,
                        () ->
                            kit.databases
                                .at(COPY)
                                .table("fares.left", ScriptedDatabase.column("code", "text"))));

    Rehearsal r = rehearsed();

    assertThat(r.result()).isEqualTo(Result.FAILED);
    assertThat(r.sentence()).contains("not as before at", "table/fares.left");
  }

  @Test
  void whatNoCopyHoldsIsNamed() {
    kit.host().answers.put("q", "1");
    kit.probe("quote", "q", /* mustStay= */ true);
    kit.hosts.at("development").put(EngineKit.RULE, EngineKit.rule("2"));
    kit.seal("1.2.0");
    p = kit.prepare("1.2.0");

    Rehearsal r = rehearsed();

    assertThat(r.result()).as(r.sentence()).isEqualTo(Result.PROVEN);
    assertThat(r.beside())
        .contains("1 definition of host: the host makes no place of its own for it")
        .contains("questions that no copy answers: quote");
  }

  @Test
  void itIsTakenBackByTheBackupAndOnceMoreByTheEarlierVersion() {
    Rehearsal r = rehearsed();

    assertThat(r.result()).as(r.sentence()).isEqualTo(Result.PROVEN);
    assertThat(r.sentence()).contains("by the backup, and once more by the earlier version");
    assertThat(r.parts())
        .extracting(part -> part.name())
        .containsSubsequence(
            "Take it back at the copy of database",
            "Compare with the start",
            "Carry out the plan once more at the copy of database",
            "Go back by the earlier version at the copy of database",
            "Compare with the start again");
  }

  @Test
  void whereTheEarlierVersionWouldNotLeaveItAsItWasThatIsSaid() {
    kit.production()
        .copies
        .once(At.SWITCHED, () -> {})
        .once(At.SWITCHED, () -> {})
        .once(At.SWITCHED, () -> {})
        .once(At.SWITCHED, () -> kit.databases.at(COPY).row(BAND, EngineKit.row("NIGHT", "5.00")));

    Rehearsal r = rehearsed();

    assertThat(r.result()).isEqualTo(Result.PROVEN);
    assertThat(r.sentence()).endsWith("By the earlier version it would not be.");
    assertThat(r.beside())
        .contains("going back by the earlier version would leave otherwise: records/fares.band");
  }

  private String draft() {
    kit.development().row(BAND, EngineKit.row("PEAK", "26.00"));
    return kit.draft(null);
  }

  private Rehearsal tried(String draft) {
    Rehearsal begun = kit.engine().rehearsals().tryDraft(kit.ines, draft, SITE);
    kit.settleDown();
    return kit.engine().rehearsals().get(kit.ines, begun.number());
  }

  @Test
  void aDraftIsTriedBeforeItIsSealedAndStaysADraft() {
    String draft = draft();
    String before = kit.production().state();
    int versions = kit.<Integer>read(kept -> kept.versions().list("fares").size());

    Rehearsal r = tried(draft);

    assertThat(r.result()).as(r.sentence()).isEqualTo(Result.PROVEN);
    assertThat(r.draft()).isEqualTo(draft);
    assertThat(r.fingerprint()).isNotEmpty();
    assertThat(r.parts().get(0).name()).isEqualTo("Read " + draft + " as it would be sealed");
    assertThat(r.parts())
        .extracting(part -> part.name())
        .contains("Carry out the plan at the copy of database");
    assertThat(kit.production().state()).isEqualTo(before);
    assertThat(kit.<Integer>read(kept -> kept.versions().list("fares").size())).isEqualTo(versions);
    assertThat(kit.engine().drafts().get(kit.ines, draft).state()).isEqualTo(Draft.State.OPEN);
    assertThat(kit.engine().rehearsals().of(kit.ines, draft)).hasSize(1);
    assertThat(kit.engine().rehearsals().of(kit.ines, p.number())).isEmpty();
  }

  @Test
  void aDraftThatIsBlockedAtTheSiteSaysWhatBlocksIt() {
    kit.run(p);
    kit.production().row(BAND, EngineKit.row("PEAK", "99.00"));

    Rehearsal r = tried(draft());

    assertThat(r.result()).isEqualTo(Result.FAILED);
    assertThat(r.sentence()).startsWith("1 blocker at production/main: ");
    assertThat(kit.databases.has(COPY)).isFalse();
  }

  @Test
  void aDraftThatCannotBeSealedIsNotTried() {
    Draft empty = kit.engine().drafts().start(kit.ines, "fares", null);

    Rehearsal r = tried(empty.id());

    assertThat(r.result()).isEqualTo(Result.FAILED);
    assertThat(r.sentence()).contains("cannot be sealed, and so not be tried");
  }

  @Test
  void whoMayNotPrepareThereTriesNoDraft() {
    String draft = draft();
    assertThatThrownBy(
            () ->
                kit.engine()
                    .rehearsals()
                    .tryDraft(EngineKit.person("edda", Right.LOOK, Right.AUTHOR), draft, SITE))
        .isInstanceOf(Problem.class)
        .hasMessageContaining("prepare");
  }

  private Promotion withADefinition() {
    kit.host().spaces = true;
    kit.hosts.at("development").put(EngineKit.RULE, EngineKit.rule("2"));
    kit.seal("1.2.0");
    return kit.prepare("1.2.0");
  }

  @Test
  void definitionsAreTriedInAPlaceOfTheirOwnWhereTheHostMakesOne() {
    p = withADefinition();
    String before = kit.host().state();

    Rehearsal r = rehearsed();

    assertThat(r.result()).as(r.sentence()).isEqualTo(Result.PROVEN);
    assertThat(r.beside()).noneMatch(line -> line.contains("host"));
    assertThat(r.parts())
        .extracting(part -> part.name())
        .contains("Copy what the plan can touch of host", "Carry out the plan at the copy of host");
    assertThat(kit.host().state()).as("the host itself").isEqualTo(before);
    assertThat(kit.hosts.spaces("production")).isEmpty();
  }

  @Test
  void aDefinitionThatIsAnotherInTheCopyIsAFailure() {
    p = withADefinition();
    kit.host()
        .script
        .once(
            At.SCRATCH,
            () ->
                kit.hosts
                    .at("production/rehearsal-1")
                    .script
                    .once(
                        At.SWITCH,
                        () ->
                            kit.hosts
                                .at("production/rehearsal-1")
                                .put("rule/fares.left", EngineKit.rule("9"))));

    Rehearsal r = rehearsed();

    assertThat(r.result()).isEqualTo(Result.FAILED);
    assertThat(r.sentence()).contains("rule/fares.left");
    assertThat(kit.hosts.spaces("production")).isEmpty();
  }

  @Test
  void whatIsBegunWhileTheServiceStartsIsNoneThatAnEarlierOneLeft() {
    Rehearsal begun = kit.engine().rehearsals().start(kit.ines, p.number());

    kit.engine().rehearsals().resume();
    kit.settleDown();

    assertThat(kit.engine().rehearsals().get(kit.ines, begun.number()).result())
        .isEqualTo(Result.PROVEN);
  }

  @Test
  void aPlaceThatAKilledServiceLeftIsTakenAway() {
    p = withADefinition();
    kit.host().script.killAt(At.SCRATCH);
    assertThatThrownBy(this::rehearsed).isInstanceOf(Killed.class);
    assertThat(kit.hosts.spaces("production")).hasSize(1);

    kit.restart();
    kit.engine().rehearsals().resume();
    kit.settleDown();

    assertThat(kit.hosts.spaces("production")).isEmpty();
  }

  @Test
  void definitionsOfABackupAreProvenInAPlaceOfTheirOwn() {
    Run run = kit.run(withADefinition());

    assertThat(run.state()).isEqualTo(RunState.DONE);
    assertThat(Objects.requireNonNull(run.backup()).proof()).isEqualTo("proven");
    assertThat(kit.hosts.spaces("production")).isEmpty();
  }

  @Test
  void aProofThatWasKilledLeavesNoPlaceAtTheHost() {
    Promotion next = withADefinition();
    kit.host().script.killAt(At.SCRATCH);
    kit.runUntilKilled(next);
    assertThat(kit.hosts.spaces("production")).hasSize(1);

    kit.restart();
    kit.recover();

    assertThat(kit.hosts.spaces("production")).isEmpty();
  }

  @Test
  void aQuestionThatTheCopyAnswersWronglyIsAFailure() {
    kit.probe(new Probe("day", BAND + " DAY amount", /* mustStay= */ true, Probe.Sort.QUERY, null));
    kit.probe(
        new Probe("peak", BAND + " PEAK amount", /* mustStay= */ true, Probe.Sort.QUERY, null));
    comparedAgain();

    Rehearsal r = rehearsed();

    assertThat(r.result()).isEqualTo(Result.FAILED);
    assertThat(r.sentence()).startsWith("\"peak\" answers otherwise than before");
  }

  @Test
  void aQuestionThatACopyCannotAnswerIsNamedAndNoFailure() {
    kit.probe(new Probe("sum", "SELECT 1", /* mustStay= */ true, Probe.Sort.QUERY, null));
    comparedAgain();

    Rehearsal r = rehearsed();

    assertThat(r.result()).as(r.sentence()).isEqualTo(Result.PROVEN);
    assertThat(r.beside()).contains("questions that no copy answers: sum");
  }

  @Test
  void theGateOpensWithARehearsalOfThisVeryPlan() {
    asked();
    assertThat(p.state()).isEqualTo(PromotionState.READY);
    assertThatThrownBy(() -> kit.start(p))
        .isInstanceOf(Problem.class)
        .hasMessageContaining("its plan was not rehearsed");

    assertThat(rehearsed().result()).isEqualTo(Result.PROVEN);

    p = kit.promotion(p.number());
    assertThat(p.state()).isEqualTo(PromotionState.AGREED);

    kit.production().row(BAND, EngineKit.row("PEAK", "21.00"));
    comparedAgain();
    assertThat(kit.engine().promotions().gates(kit.promotion(p.number())).words())
        .contains("RH-1 rehearsed another plan than this one");
  }

  @Test
  void whereNoGateWaitsForItTheCaseIsLeftAsItIs() {
    int revision = p.revision();

    rehearsed();

    assertThat(kit.promotion(p.number()).revision()).isEqualTo(revision);
  }

  @Test
  void whatMovedSinceThePlanIsNotRehearsed() {
    kit.production().row(BAND, EngineKit.row("PEAK", "21.00"));

    Rehearsal r = rehearsed();

    assertThat(r.result()).isEqualTo(Result.FAILED);
    assertThat(r.sentence()).contains("Something moved at production/main since the plan was made");
    assertThat(r.parts())
        .as("and no part says the opposite")
        .extracting(Rehearsal.Part::note)
        .containsExactly(r.sentence());
    assertThat(kit.production().copies.calls(At.SWITCH)).isZero();
  }

  @Test
  void aPersonStopsItAndTheCopyGoes() {
    kit.production().copies.once(At.PREPARE, () -> kit.engine().rehearsals().stop(kit.ines, 1));

    Rehearsal r = rehearsed();

    assertThat(r.result()).isEqualTo(Result.STOPPED);
    assertThat(r.sentence()).contains("nothing at production/main was changed");
    assertThat(kit.databases.has(COPY)).isFalse();
    assertThatThrownBy(() -> kit.engine().rehearsals().stop(kit.ines, 1))
        .isInstanceOf(Problem.class)
        .hasMessageContaining("RH-1 is over");
  }

  @ParameterizedTest
  @EnumSource(
      value = At.class,
      names = {"LOOK", "PREPARE", "SWITCH", "SWITCHED"})
  void afterAKillItIsStoppedItsCopyGoesAndNothingWasChanged(At at) {
    String before = kit.production().state();
    kit.engine().rehearsals().start(kit.ines, p.number());
    kit.production().copies.killAt(at);
    try {
      kit.settleDown();
    } catch (Killed e) {
      kit.production().copies.forget();
    }
    kit.restart();
    kit.engine().rehearsals().resume();
    kit.settleDown();

    Rehearsal r = kit.engine().rehearsals().get(kit.ines, 1);
    assertThat(r.result()).isEqualTo(Result.STOPPED);
    assertThat(r.sentence())
        .isEqualTo(
            "The service ended while it was going on; nothing at production/main was changed.");
    assertThat(kit.databases.has(COPY)).isFalse();
    assertThat(kit.production().state()).isEqualTo(before);
    assertThat(rehearsed().result()).as("and it can be rehearsed anew").isEqualTo(Result.PROVEN);
  }

  @Test
  void aCopyThatCannotBeTakenAwayIsSaidAndCanBeClearedLater() {
    kit.production().copies.once(At.LOOK, () -> kit.production().script.loseAt(At.DROPPED));

    Rehearsal r = rehearsed();

    assertThat(r.result()).isEqualTo(Result.PROVEN);
    assertThat(r.sentence()).contains("Its copy may be left");
    var left = kit.engine().leftOver().list(kit.ines, "fares", SITE);
    assertThat(left).singleElement().satisfies(l -> assertThat(l.name()).isEqualTo(COPY));
    assertThat(kit.engine().leftOver().clear(kit.ines, "fares", SITE, List.of(COPY))).isEmpty();
    assertThat(kit.databases.has(COPY)).isFalse();
  }

  @Test
  void oneGoesOnAtATime() {
    kit.engine().rehearsals().start(kit.ines, p.number());

    assertThatThrownBy(() -> kit.engine().rehearsals().start(kit.ines, p.number()))
        .isInstanceOf(Problem.class)
        .hasMessageContaining("RH-1 of " + p.shown() + " is going on");
  }

  @Test
  void whoMayNotPrepareThereMayNotRehearse() {
    assertThatThrownBy(
            () ->
                kit.engine().rehearsals().start(EngineKit.person("odile", Right.LOOK), p.number()))
        .isInstanceOf(Problem.class)
        .hasMessageContaining("prepare");
  }

  @Test
  void aSiteThatCannotBeReachedEndsItAndSaysSo() {
    kit.engine().rehearsals().start(kit.ines, p.number());
    kit.production().script.fallSilent();
    kit.settleDown();
    kit.production().script.wake();

    Rehearsal r = kit.engine().rehearsals().get(kit.ines, 1);
    assertThat(r.result()).isEqualTo(Result.FAILED);
    assertThat(r.sentence()).contains("silent");
  }
}
