package plenzo.core.stage;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalArgumentException;

import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.Test;

/** What a leg can ask, and in which words. */
class LegTest {
  private static Leg leg(int approvalDays, int soakDays, String task, Leg.Quorum... approvals) {
    return new Leg(
        "production",
        List.of(approvals),
        approvalDays,
        true,
        true,
        soakDays,
        task,
        true,
        Set.of(Apart.of("tester-author"), Apart.of("preparer-runner")));
  }

  @Test
  void saysWhatItAsksInTheOrderOfTheWork() {
    assertThat(leg(7, 1, "CHG-.*", new Leg.Quorum("owner", 1), new Leg.Quorum("", 2)).words())
        .containsExactly(
            "2 approvals by whoever may approve, not by who prepared it",
            "1 approval by the role owner, not by who prepared it",
            "approvals that are not older than 7 days",
            "a good verdict at the stage before",
            "its version at every site of the stage before",
            "its version at the stage before for 1 day",
            "a task of its version that matches CHG-.*",
            "a backup proven by restoring it",
            "author and tester to be two people",
            "preparer and runner to be two people");
    assertThat(Leg.open("test").words()).isEmpty();
  }

  @Test
  void asksProductionForOneApprovalWhereNothingIsSaid() {
    assertThat(Leg.usual(stage(Stage.Role.PRODUCTION)).needed()).isEqualTo(1);
    assertThat(Leg.usual(stage(Stage.Role.TEST)).needed()).isZero();
  }

  private static Stage stage(Stage.Role role) {
    return new Stage("x", "X", role, 1, "UTC", false, List.of(), 0);
  }

  @Test
  void isRefusedWhereItCannotBeAsked() {
    Leg.Quorum one = new Leg.Quorum("owner", 1);
    assertThatIllegalArgumentException().isThrownBy(() -> leg(0, 0, "", one, one));
    assertThatIllegalArgumentException().isThrownBy(() -> new Leg.Quorum("", 0));
    assertThatIllegalArgumentException().isThrownBy(() -> new Leg.Quorum("", 21));
    assertThatIllegalArgumentException().isThrownBy(() -> leg(-1, 0, ""));
    assertThatIllegalArgumentException().isThrownBy(() -> leg(0, 3661, ""));
    assertThatIllegalArgumentException()
        .isThrownBy(() -> leg(0, 0, "CHG-["))
        .withMessageContaining("CHG-[");
  }

  @Test
  void anEmergencyIsBounded() {
    Emergency e = new Emergency(2, Set.of("soak", "approvals"), 1);
    assertThat(leg(0, 0, "").passing(e).words())
        .last()
        .isEqualTo(
            "in an emergency, which 2 people declare, these may be owed: approvals, soak; a yes comes"
                + " within 1 hour");
    assertThatIllegalArgumentException()
        .isThrownBy(() -> new Emergency(1, Set.of("blockers"), 1))
        .withMessageContaining("got blockers");
    assertThatIllegalArgumentException().isThrownBy(() -> new Emergency(1, Set.of(), 1));
    assertThatIllegalArgumentException().isThrownBy(() -> new Emergency(0, Set.of("soak"), 1));
    assertThatIllegalArgumentException().isThrownBy(() -> new Emergency(3, Set.of("soak"), 1));
    assertThatIllegalArgumentException().isThrownBy(() -> new Emergency(1, Set.of("soak"), 0));
    assertThatIllegalArgumentException().isThrownBy(() -> new Emergency(1, Set.of("soak"), 721));
  }

  @Test
  void twoDutiesAreOnePairInAnyOrder() {
    assertThat(Apart.of("tester-author")).isEqualTo(Apart.of("author-tester"));
    assertThat(Apart.of("tester-author").code()).isEqualTo("author-tester");
    assertThatIllegalArgumentException().isThrownBy(() -> Apart.of("author-author"));
    assertThatIllegalArgumentException().isThrownBy(() -> Apart.of("author"));
    assertThatIllegalArgumentException()
        .isThrownBy(() -> Apart.of("author-owner"))
        .withMessageContaining("tester");
    assertThat(leg(0, 0, "").apartFrom(Apart.Duty.RUNNER)).containsExactly(Apart.Duty.PREPARER);
    assertThat(leg(0, 0, "").apartFrom(Apart.Duty.APPROVER)).isEmpty();
  }

  @Test
  void aPathKnowsItsLegs() {
    Path path = new Path("p", "P", "development", List.of(Leg.open("test"), leg(0, 0, "")), 0);
    assertThat(path.words()).isEqualTo("development to test, production");
    assertThat(path.before("production")).contains("test");
    assertThat(path.before("test")).isEmpty();
    assertThat(path.leg("production").orElseThrow().proof()).isTrue();
    assertThat(path.leg("nowhere")).isEmpty();
    assertThatIllegalArgumentException()
        .isThrownBy(() -> new Path("p", "P", "test", List.of(Leg.open("test")), 0));
  }
}
