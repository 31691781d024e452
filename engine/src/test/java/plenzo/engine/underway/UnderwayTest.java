package plenzo.engine.underway;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;

/** What takes its time is seen while it goes on and a while after, by whom it concerns. */
class UnderwayTest {
  private Instant now = Instant.EPOCH;
  private final Underway underway =
      new Underway(
          new Clock() {
            @Override
            public Instant instant() {
              return now;
            }

            @Override
            public ZoneOffset getZone() {
              return ZoneOffset.UTC;
            }

            @Override
            public Clock withZone(java.time.ZoneId zone) {
              return this;
            }
          });
  private final Person ines = Person.invited("ines", "Ines", "", false);
  private final Person bram =
      Person.invited("bram", "Bram", "", false)
          .withGrants(List.of(new Person.Grant(Right.LOOK, "test", "fares")));
  private final Person gill = Person.invited("gill", "Gill", "", false);

  private List<Work> seen(Person by) {
    return underway.list(by, null);
  }

  private <T> T check(@Nullable String application, java.util.function.Supplier<T> work) {
    return underway.during(Work.Act.CHECK, "ines", "draft/D-3", application, work);
  }

  @Test
  void saysHowFarItIsAndHowLongItTakesYet() {
    List<String> told = new ArrayList<>();
    check(
        "fares",
        () -> {
          Underway.Progress progress = underway.now();
          told.add(said());
          progress.of(40, "components");
          for (int n = 0; n < 3; n++) {
            progress.next();
          }
          told.add(said());
          progress.at("records/fares.booking");
          progress.rows(120_000);
          progress.next();
          now = now.plusSeconds(8);
          told.add(said());
          return null;
        });

    assertThat(told)
        .containsExactly(
            "0/0  , left nothing",
            "3/40 components , left nothing",
            "4/40 components records/fares.booking, 120,000 rows, left 72.0");
    assertThat(seen(ines).get(0).ended()).isEqualTo(now);
    assertThat(seen(ines).get(0).outcome()).isEmpty();
    assertThat(seen(ines).get(0).done()).isEqualTo(40);
  }

  private String said() {
    Work w = seen(ines).get(0);
    return w.done()
        + "/"
        + w.of()
        + " "
        + w.unit()
        + " "
        + w.at()
        + ", left "
        + w.left(now).map(String::valueOf).orElse("nothing");
  }

  @Test
  void isSeenByWhoBeganItAndByWhoMayLookAtTheApplication() {
    check(
        "fares",
        () -> {
          assertThat(seen(ines)).hasSize(1);
          assertThat(seen(bram)).hasSize(1);
          assertThat(seen(gill)).isEmpty();
          assertThat(underway.list(ines, "draft/D-4")).isEmpty();
          return null;
        });
    check(
        null,
        () -> {
          assertThat(seen(bram)).as("whose it is, is not known yet").hasSize(1);
          return null;
        });
  }

  @Test
  void whyItEndedIsSaidForTenMinutes() {
    assertThatThrownBy(
            () ->
                check(
                    "fares",
                    () -> {
                      throw Problem.stopped("X", "The site does not answer.", "later");
                    }))
        .hasMessage("The site does not answer.");
    assertThat(seen(ines).get(0).outcome()).isEqualTo("The site does not answer.");

    now = now.plus(Duration.ofMinutes(10)).minusSeconds(1);
    assertThat(seen(ines)).hasSize(1);
    now = now.plusSeconds(1);
    assertThat(seen(ines)).isEmpty();
  }

  @Test
  void aFaultOfOurOwnIsNotSaidToHaveGoneWell() {
    assertThatThrownBy(
            () ->
                check(
                    "fares",
                    () -> {
                      throw new IllegalStateException("a bug");
                    }))
        .isInstanceOf(IllegalStateException.class);

    assertThat(seen(ines).get(0).outcome()).isEqualTo("It ended without saying why");
  }

  @Test
  void aPartOfAnotherWorkIsNoWorkOfItsOwn() {
    check(
        "fares",
        () ->
            underway.during(
                Work.Act.SEAL,
                "ines",
                "draft/D-3",
                "fares",
                () -> {
                  assertThat(seen(ines)).extracting(Work::act).containsExactly(Work.Act.CHECK);
                  return null;
                }));

    assertThat(seen(ines)).hasSize(1);
    underway.now().of(3, "said to nobody");
    assertThat(seen(ines)).hasSize(1);
  }

  @Test
  void onlySoManyThatEndedAreKept() {
    for (int n = 0; n < 300; n++) {
      check("fares", () -> null);
    }

    assertThat(seen(ines)).hasSize(200);
    assertThat(seen(ines).get(0).number()).isEqualTo(300);
  }
}
