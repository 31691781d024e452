package plenzo.core.rehearsal;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import org.junit.jupiter.api.Test;
import plenzo.core.plan.Plan.Act;
import plenzo.core.rehearsal.Rehearsal.Result;
import plenzo.core.stage.SiteKey;
import plenzo.core.version.SemVer;

class RehearsalTest {
  private static final Instant ONE = Instant.parse("2027-03-02T22:00:01Z");
  private static final Instant TWO = Instant.parse("2027-03-02T22:00:04Z");

  private static Rehearsal begun() {
    return Rehearsal.of(
        3, 7, "fares", new SemVer("2.4.0"), new SiteKey("production", "main"), "f", "ines", ONE);
  }

  @Test
  void eachPartSaysHowLongItTookOnceItHasEnded() {
    Rehearsal going = begun().begin("Copy", null, ONE);
    assertThat(going.parts().get(0).took()).isNull();

    Rehearsal copied = going.done("4 rows", TWO).begin("Switch", Act.SWITCH, TWO);

    assertThat(copied.parts().get(0).took()).isEqualTo(Duration.ofSeconds(3));
    assertThat(copied.parts().get(0).note()).isEqualTo("4 rows");
    assertThat(copied.over()).isFalse();
  }

  @Test
  void theReasonStandsAtThePartInWhichItFailed() {
    Rehearsal failed =
        begun()
            .begin("Copy", null, ONE)
            .done("4 rows", ONE)
            .begin("Switch", Act.SWITCH, ONE)
            .end(Result.FAILED, "refused", TWO);

    assertThat(failed.parts())
        .extracting(Rehearsal.Part::note)
        .containsExactly("4 rows", "refused");
    assertThat(failed.parts().get(1).took()).as("it never ended").isNull();
    assertThat(failed.over()).isTrue();
    assertThat(failed.ended()).isEqualTo(TWO);
  }

  @Test
  void howLongTheSwitchesTookIsOfThoseThatCarriedThePlanOut() {
    Rehearsal there = begun().begin("Switch files", Act.SWITCH, ONE).done("", TWO);
    assertThat(there.switches()).contains(Duration.ofSeconds(3));

    Rehearsal back =
        there
            .begin("Compare", Act.READ_BACK, TWO)
            .done("", TWO)
            .begin("Take it back", Act.SWITCH, ONE)
            .done("", TWO);
    assertThat(back.switches()).contains(Duration.ofSeconds(3));

    assertThat(there.begin("Switch database", Act.SWITCH, TWO).switches()).isEmpty();
    assertThat(begun().switches()).isEmpty();
  }

  @Test
  void whatWasNotRehearsedIsAdded() {
    Rehearsal r = begun().without(List.of("1 rule")).without(List.of("2 questions"));
    assertThat(r.beside()).containsExactly("1 rule", "2 questions");
  }
}
