package plenzo.core.gate;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import plenzo.core.calendar.Openings;
import plenzo.core.digest.Digest;
import plenzo.core.digest.Fingerprint;
import plenzo.core.drift.PutBack;
import plenzo.core.impact.Finding;
import plenzo.core.impact.Finding.Severity;
import plenzo.core.person.Right;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.Question;
import plenzo.core.rehearsal.Rehearsal;
import plenzo.core.stage.Emergency;
import plenzo.core.stage.Leg;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.Stage;
import plenzo.core.version.SemVer;

/** Each gate closed by the smallest case that closes it, and open just short of it. */
class GateTest {
  private Stage.Role role = Stage.Role.PRODUCTION;
  private int approvals = 1;
  private boolean needsVerdict;
  private Leg leg = Leg.open("production");
  private Map<String, Set<String>> approvers = Map.of("bram", Set.of(), "edda", Set.of());
  private @Nullable String before = "test";
  private boolean goodBefore;
  private @Nullable Instant since;
  private List<String> without = List.of();
  private List<String> tasks = List.of();
  private List<String> strangers = List.of();
  private List<Long> owedThere = List.of();
  private Set<String> declared = Set.of();
  private Instant now = NIGHT;

  private static final Instant NIGHT = Instant.parse("2027-03-02T22:00:00Z");
  private boolean driftCloses;
  private long drift;
  private @Nullable PutBack putBack;
  private List<GateCase.NotGreen> notGreen = List.of();
  private Plan.@Nullable Way way;
  private @Nullable String coveredBy;
  private final List<Finding> findings = new ArrayList<>();
  private final List<Question> questions = new ArrayList<>();
  private final List<Promotion.Approval> words = new ArrayList<>();

  private GateCase facts() {
    Promotion p =
        Promotion.opened(
                7,
                new Promotion.Goal(
                    "fares",
                    new SemVer("2.4.0"),
                    new SiteKey("production", "main"),
                    way,
                    null,
                    null,
                    putBack,
                    false,
                    null),
                new Promotion.Prepared("ines", Instant.EPOCH, ""))
            .change()
            .findings(findings)
            .approvals(words)
            .questions(questions)
            .coveredBy(coveredBy)
            .plan(
                new Plan(
                    List.of(),
                    List.of(),
                    0,
                    List.of(),
                    List.of(),
                    plenzo.core.locking.Locked.NONE,
                    new Fingerprint(PLAN)))
            .done();
    Stage stage = new Stage("production", "Production", role, 2, "UTC", driftCloses, List.of(), 0);
    Leg asked = leg.judged(needsVerdict);
    if (asked.approvals().isEmpty() && approvals > 0) {
      asked = asked.asking(new Leg.Quorum("", approvals));
    }
    GateCase.Before there =
        before == null
            ? null
            : new GateCase.Before(before, goodBefore, since, without, shown, report);
    return new GateCase(
        p, stage, asked, approvers, there, tasks, declared, owedThere, drift, notGreen, rehearsal,
        strangers, closed, now);
  }

  private Openings.@Nullable Closed closed;

  private boolean shown;
  private String report = "";
  private @Nullable Rehearsal rehearsal;
  private static final Digest PLAN = Digest.of("the plan");

  private static Rehearsal rehearsed(Digest plan, Rehearsal.Result result) {
    return Rehearsal.of(
            3,
            7,
            "fares",
            new SemVer("2.4.0"),
            new SiteKey("production", "main"),
            plan.hex(),
            "ines",
            Instant.EPOCH)
        .end(result, "", Instant.EPOCH);
  }

  @ParameterizedTest
  @CsvSource({
    "GOING_ON, RH-3 is going on",
    "FAILED, RH-3 did not come through",
    "STOPPED, RH-3 was stopped",
    "CARRIED_OUT, RH-3 could not try a way back",
    "PROVEN,",
  })
  void aRehearsalOfThisVeryPlanIsAskedForWhereTheLegSaysSo(
      Rehearsal.Result result, @Nullable String missing) {
    said("bram", true);
    leg = leg.rehearsed(true);
    assertThat(open()).containsExactly("its plan was not rehearsed");

    rehearsal = rehearsed(Digest.of("another"), Rehearsal.Result.PROVEN);
    assertThat(open()).containsExactly("RH-3 rehearsed another plan than this one");

    rehearsal = rehearsed(PLAN, result);
    assertThat(open()).isEqualTo(missing == null ? List.of() : List.of(missing));

    leg = leg.rehearsed(false);
    rehearsal = null;
    assertThat(open()).as("where it is not asked for").isEmpty();
  }

  @Test
  void aTestReportOfTheStageBeforeIsAskedForWhereTheLegSaysSo() {
    said("bram", true);
    leg = leg.shown(true);
    before = null;
    assertThat(open()).as("the first leg has no stage before").isEmpty();
    before = "test";
    assertThat(open()).containsExactly("no test report of it was given at test");
    report = "3 tests, 1 failed";
    assertThat(open())
        .containsExactly("the newest test report of it at test says 3 tests, 1 failed");
    shown = true;
    assertThat(open()).isEmpty();
  }

  private List<String> open() {
    return GateReport.of(facts()).lines();
  }

  private void said(String by, boolean yes) {
    words.add(new Promotion.Approval(by, yes, "f", "", Instant.EPOCH, null));
  }

  private static Finding finding(Severity severity) {
    return Finding.said("some-rule", severity, "here", "Something.", "");
  }

  @Test
  void asksForTheNumberOfApprovals() {
    approvals = 2;
    said("bram", true);
    assertThat(open()).containsExactly("approval 1 of 2");
    said("bram", true);
    assertThat(open()).as("one person counts once").containsExactly("approval 1 of 2");
    said("edda", true);
    assertThat(open()).isEmpty();
  }

  @Test
  void whoStandsInAndWhoIsStoodInForCountAsOne() {
    approvals = 2;
    approvers = Map.of("bram", Set.of(), "edda", Set.of(), "tove", Set.of());
    words.add(new Promotion.Approval("bram", true, "f", "", Instant.EPOCH, null, "edda", null));
    said("edda", true);
    assertThat(open()).containsExactly("approval 1 of 2");
    said("tove", true);
    assertThat(open()).isEmpty();
  }

  @Test
  void whoStandsInSitsWhereThePersonWould() {
    approvals = 0;
    leg = leg.asking(new Leg.Quorum("board", 1));
    approvers = Map.of("bram", Set.of("board"));
    words.add(new Promotion.Approval("bram", true, "f", "", Instant.EPOCH, null, "edda", null));
    assertThat(open()).isEmpty();
    approvers = Map.of();
    assertThat(open()).as("once the span is over").containsExactly("approval 0 of 1 by board");
  }

  @Test
  void eachAuthorWhomNobodyIsKnownToBeAsksForOneMore() {
    strangers = List.of("Zita <zita@x.example>");
    said("bram", true);
    assertThat(open()).containsExactly("approval 1 of 2");
    assertThat(Gate.inForce(facts()).toString())
        .contains("1 more approval because nobody here is known to be Zita <zita@x.example>")
        .contains("approvals:2:1x");

    said("edda", true);
    assertThat(open()).isEmpty();
  }

  @Test
  void theOneMoreMayBeAnybodyBesideThoseOfARole() {
    strangers = List.of("Zita <zita@x.example>");
    approvers = Map.of("bram", Set.of("board"), "edda", Set.of());
    leg = leg.asking(new Leg.Quorum("board", 1));
    said("bram", true);
    assertThat(open()).containsExactly("approval 0 of 1");

    said("edda", true);
    assertThat(open()).isEmpty();
  }

  @Test
  void whereNobodyIsAskedAStrangerAsksForNobody() {
    role = Stage.Role.TEST;
    approvals = 0;
    strangers = List.of("Zita <zita@x.example>");

    assertThat(open()).isEmpty();
  }

  @Test
  void countsOnlyWhoMayApproveNow() {
    said("bram", true);
    assertThat(open()).isEmpty();
    approvers = Map.of("edda", Set.of());
    assertThat(open()).as("the right was taken").containsExactly("approval 0 of 1");
  }

  @Test
  void countsNoApprovalThatFell() {
    words.add(new Promotion.Approval("bram", true, "f", "", Instant.EPOCH, "PEAK moved"));
    assertThat(open()).containsExactly("approval 0 of 1");
  }

  @Test
  void aNoClosesAndIsSaidInsteadOfWhatIsMissing() {
    said("bram", false);
    assertThat(open()).containsExactly("rejected by bram");
    said("edda", true);
    assertThat(open()).as("a yes does not outweigh it").containsExactly("rejected by bram");
  }

  @Test
  void aBlockerClosesEverywhere() {
    said("bram", true);
    findings.add(finding(Severity.RISK).accept(accepted()));
    assertThat(open()).isEmpty();
    findings.add(finding(Severity.BLOCKER));
    assertThat(open()).containsExactly("1 blocker to put right");
    findings.add(finding(Severity.BLOCKER));
    assertThat(open()).containsExactly("2 blockers to put right");
    role = Stage.Role.TEST;
    assertThat(open()).containsExactly("2 blockers to put right");
  }

  private static Finding.Acceptance accepted() {
    return new Finding.Acceptance("bram", "seen", LocalDate.of(2100, 1, 1));
  }

  @Test
  void aRiskClosesProductionUntilItIsAccepted() {
    said("bram", true);
    findings.add(finding(Severity.RISK));
    assertThat(open()).containsExactly("1 risk to accept");
    role = Stage.Role.TEST;
    assertThat(open()).isEmpty();
    role = Stage.Role.PRODUCTION;
    findings.set(0, finding(Severity.RISK).accept(accepted()));
    assertThat(open()).isEmpty();
  }

  @Test
  void aConnectionMustBeTestedAndGreen() {
    said("bram", true);
    notGreen = List.of(new GateCase.NotGreen("production/look", null));
    assertThat(open()).containsExactly("The connection production/look was not tested");
    notGreen = List.of(new GateCase.NotGreen("production/look", "no such host"));
    assertThat(open())
        .containsExactly("The test of the connection production/look is red: no such host");
  }

  @Test
  void theVerdictOfTheStageBeforeIsAskedForWhereTheStageAsksForIt() {
    said("bram", true);
    assertThat(open()).isEmpty();
    needsVerdict = true;
    assertThat(open()).containsExactly("2.4.0 is not judged good in test yet");
    goodBefore = true;
    assertThat(open()).isEmpty();
    goodBefore = false;
    before = null;
    assertThat(open()).as("the first leg has no stage before").isEmpty();
  }

  @Test
  void driftClosesWhereTheStageSaysSoUntilItIsSettled() {
    said("bram", true);
    drift = 2;
    assertThat(open()).as("reported alone").isEmpty();
    driftCloses = true;
    assertThat(open())
        .containsExactly(
            "2 parts or rows differ from the record: put back, taken into a version or left with a"
                + " reason first");
    drift = 0;
    assertThat(open()).isEmpty();
    drift = 1;
    assertThat(open()).singleElement().asString().startsWith("1 part or row differs");
    putBack = PutBack.ALL;
    assertThat(open()).as("what settles it is not closed by it").isEmpty();
    putBack = null;
    way = Plan.Way.EARLIER_VERSION;
    assertThat(open()).as("nor is going back").isEmpty();
  }

  @Test
  void puttingBackAsksForNoVerdictOnWhatIsThereAnyway() {
    said("bram", true);
    needsVerdict = true;
    putBack = PutBack.ALL;
    assertThat(open()).isEmpty();
  }

  @Test
  void goingBackInsideWhatWasAgreedIsStoppedByBlockersAlone() {
    way = Plan.Way.EARLIER_VERSION;
    needsVerdict = true;
    notGreen = List.of(new GateCase.NotGreen("production/look", "slow"));
    findings.add(finding(Severity.RISK));
    assertThat(open()).as("not covered").hasSize(3);
    coveredBy = "P-6";
    assertThat(open()).isEmpty();
    findings.add(finding(Severity.BLOCKER));
    assertThat(open()).containsExactly("1 blocker to put right");
  }

  @Test
  void aPromotionIsNeverCovered() {
    coveredBy = "P-6";
    assertThat(open()).containsExactly("approval 0 of 1");
  }

  @Test
  void whatAPlanFallsUnderIsMadeOfCodes() {
    approvals = 2;
    needsVerdict = true;
    assertThat(Gate.inForce(facts()))
        .extracting(Plan.Condition::code)
        .containsExactly("blockers", "risks", "tests", "judged-before", "approvals:2");
    role = Stage.Role.TEST;
    approvals = 0;
    needsVerdict = false;
    assertThat(Gate.inForce(facts()))
        .extracting(Plan.Condition::code)
        .containsExactly("blockers", "tests");
  }

  private void declared(String... people) {
    declared = Set.of(people);
  }

  @Test
  void anEmergencyPassesWhatItsLegLetsItOnceEnoughDeclareIt() {
    leg = asking(0, false, 3, "").passing(new Emergency(2, Set.of("approvals"), 24));
    String soak = "2.4.0 is not in test, where it must be for 3 days";
    declared("ines");
    assertThat(open()).as("one of two").containsExactly(soak, "approval 0 of 1");
    declared("ines", "bram");
    assertThat(open()).as("days may not be owed").containsExactly(soak);
    assertThat(GateReport.of(facts()).owed())
        .extracting(Gate::words)
        .containsExactly("approval 0 of 1");
    assertThat(GateReport.of(facts()).owes(Approvals.class)).isTrue();
    leg = leg.passing(new Emergency(2, Set.of("approvals", "soak"), 24));
    assertThat(open()).isEmpty();
    findings.add(finding(Severity.BLOCKER));
    assertThat(open()).as("never a blocker").containsExactly("1 blocker to put right");
    findings.clear();
    leg = leg.passing(null);
    assertThat(open()).as("the leg lets none pass").containsExactly(soak, "approval 0 of 1");
  }

  @Test
  void aClosedStageHoldsWhatComesAndNothingThatGoesBack() {
    said("bram", true);
    closed = new Openings.Closed("Production is frozen until Monday: Regatta (FZ-1)", null);
    assertThat(open()).containsExactly("Production is frozen until Monday: Regatta (FZ-1)");
    assertThat(Gate.inForce(facts()))
        .as("time opens it: no plan falls under it, and a yes stands")
        .noneMatch(c -> c.code().equals(NotNow.CODE));
    way = Plan.Way.EARLIER_VERSION;
    coveredBy = "P-6";
    assertThat(open()).as("one may always go back").isEmpty();
    way = null;
    leg = leg.passing(new Emergency(1, Set.of(NotNow.CODE), 24));
    declared("ines");
    assertThat(open()).as("an emergency passes it where its leg lets it").isEmpty();
  }

  @Test
  void aNoIsNotPassedByAnEmergency() {
    leg = leg.passing(new Emergency(1, Set.of("approvals"), 24));
    declared("ines");
    said("bram", false);
    assertThat(open()).containsExactly("rejected by bram");
  }

  @Test
  void nothingOrdinaryGoesWhereAYesIsOwed() {
    said("bram", true);
    owedThere = List.of(6L);
    assertThat(open()).containsExactly("P-6 owes a yes there: an emergency ran without it");
    putBack = PutBack.ALL;
    assertThat(open()).as("what brings nothing goes").isEmpty();
    putBack = null;
    leg = leg.passing(new Emergency(1, Set.of("soak"), 24));
    declared("ines");
    assertThat(open()).as("another emergency goes").isEmpty();
  }

  @Test
  void aQuestionHoldsUntilItIsAnswered() {
    said("bram", true);
    Question asked = new Question(1, "edda", NIGHT, "Is the desk told?", null);
    questions.add(asked);
    assertThat(open()).containsExactly("question 1 of edda is not answered");
    way = Plan.Way.EARLIER_VERSION;
    coveredBy = "P-6";
    assertThat(open()).as("going back is not held").isEmpty();
    way = null;
    questions.set(0, asked.answered(new Question.Answer("ines", NIGHT, "Yes, by mail")));
    assertThat(open()).isEmpty();
  }

  private static Leg asking(int approvalDays, boolean everySite, int soakDays, String task) {
    return new Leg(
        "production", List.of(), approvalDays, false, everySite, soakDays, task, false, Set.of());
  }

  @Test
  void eachRoleSaysItsOwnYes() {
    leg = leg.asking(new Leg.Quorum("board", 2), new Leg.Quorum("owner", 1));
    approvers =
        Map.of("ada", Set.of("board"), "bram", Set.of("board", "owner"), "edda", Set.of("owner"));
    said("ada", true);
    said("bram", true);
    assertThat(open()).as("bram fills one place").containsExactly("approval 0 of 1 by owner");
    said("edda", true);
    assertThat(open()).isEmpty();
    words.remove(1);
    assertThat(open()).containsExactly("approval 1 of 2 by board");
  }

  @Test
  void aPersonOfTwoRolesFillsThePlaceThatNobodyElseCan() {
    leg = leg.asking(new Leg.Quorum("board", 1), new Leg.Quorum("owner", 1));
    approvers = Map.of("bram", Set.of("board", "owner"), "edda", Set.of("board"));
    said("bram", true);
    said("edda", true);
    assertThat(open()).as("bram moves over to let edda sit").isEmpty();
    approvers = Map.of("bram", Set.of("board", "owner"), "edda", Set.of());
    assertThat(open()).containsExactly("approval 0 of 1 by owner");
  }

  @Test
  void aYesCountsForItsDaysAlone() {
    leg = asking(7, false, 0, "");
    words.add(new Promotion.Approval("bram", true, "f", "", NIGHT.minus(Duration.ofDays(7)), null));
    assertThat(open()).containsExactly("approval 0 of 1 (1 approval too old to count)");
    now = NIGHT.minusSeconds(1);
    assertThat(open()).isEmpty();
  }

  @Test
  void theVersionMustHaveBeenThereForItsDays() {
    said("bram", true);
    leg = asking(0, false, 3, "");
    assertThat(open()).containsExactly("2.4.0 is not in test, where it must be for 3 days");
    since = NIGHT.minus(Duration.ofDays(3)).plusSeconds(60);
    assertThat(open()).containsExactly("2.4.0 must be in test until 2027-03-02 22:01 UTC (3 days)");
    since = NIGHT.minus(Duration.ofDays(3));
    assertThat(open()).isEmpty();
    since = null;
    before = null;
    assertThat(open()).as("the first leg has no stage before").isEmpty();
    before = "test";
    putBack = PutBack.ALL;
    assertThat(open()).as("what is there anyway").isEmpty();
  }

  @Test
  void theVersionMustBeAtEverySiteBefore() {
    said("bram", true);
    without = List.of("test/south");
    assertThat(open()).isEmpty();
    leg = asking(0, true, 0, "");
    assertThat(open()).containsExactly("2.4.0 is not at test/south yet");
    without = List.of();
    assertThat(open()).isEmpty();
  }

  @Test
  void theVersionMustNameATaskAsAsked() {
    said("bram", true);
    leg = asking(0, false, 0, "CHG-[0-9]+");
    tasks = List.of("about CHG-7");
    assertThat(open()).as("as a whole").containsExactly("2.4.0 names no task like CHG-[0-9]+");
    tasks = List.of("other", "CHG-7");
    assertThat(open()).isEmpty();
  }

  @Test
  void whatALegAsksIsInThePlan() {
    leg =
        asking(7, true, 3, "CHG-[0-9]+")
            .asking(new Leg.Quorum("owner", 1), new Leg.Quorum("board", 2));
    assertThat(Gate.inForce(facts()))
        .extracting(Plan.Condition::code)
        .containsExactly(
            "blockers",
            "risks",
            "tests",
            "task:CHG-[0-9]+",
            "every-site-before",
            "soak:3",
            "approvals:2*board+1*owner:7d");
  }

  @Test
  void saysWhoCanMoveIt() {
    needsVerdict = true;
    findings.add(finding(Severity.BLOCKER));
    notGreen = List.of(new GateCase.NotGreen("production/look", null));
    assertThat(GateReport.of(facts()).open())
        .extracting(Gate::mover)
        .containsExactly(Right.PREPARE, Right.OPERATE, Right.JUDGE, Right.APPROVE);
  }
}
