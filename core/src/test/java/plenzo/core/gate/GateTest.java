package plenzo.core.gate;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import plenzo.core.drift.PutBack;
import plenzo.core.impact.Finding;
import plenzo.core.impact.Finding.Severity;
import plenzo.core.person.Right;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.Stage;
import plenzo.core.version.SemVer;

/** Each gate closed by the smallest case that closes it, and open just short of it. */
class GateTest {
  private Stage.Role role = Stage.Role.PRODUCTION;
  private int approvals = 1;
  private boolean needsVerdict;
  private Set<String> approvers = Set.of("bram", "edda");
  private @Nullable String before = "test";
  private boolean goodBefore;
  private boolean driftCloses;
  private long drift;
  private @Nullable PutBack putBack;
  private List<GateCase.NotGreen> notGreen = List.of();
  private Plan.@Nullable Way way;
  private @Nullable String coveredBy;
  private final List<Finding> findings = new ArrayList<>();
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
                    false),
                new Promotion.Prepared("ines", Instant.EPOCH, ""))
            .change()
            .findings(findings)
            .approvals(words)
            .coveredBy(coveredBy)
            .done();
    Stage stage =
        new Stage(
            "production",
            "Production",
            role,
            2,
            "UTC",
            approvals,
            needsVerdict,
            false,
            driftCloses,
            List.of(),
            0);
    return new GateCase(p, stage, approvers, before, goodBefore, drift, notGreen);
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
  void countsOnlyWhoMayApproveNow() {
    said("bram", true);
    assertThat(open()).isEmpty();
    approvers = Set.of("edda");
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
