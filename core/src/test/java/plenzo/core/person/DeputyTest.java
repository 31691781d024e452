package plenzo.core.person;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Instant;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class DeputyTest {
  private static final Instant FROM = Instant.parse("2027-03-01T00:00:00Z");
  private static final Instant UNTIL = Instant.parse("2027-03-10T00:00:00Z");
  private static final Instant NOW = Instant.parse("2027-03-05T00:00:00Z");

  private static Deputy deputy(String role, String stage) {
    return new Deputy(1, "bram", role, stage, FROM, UNTIL, "ines", "");
  }

  private static Person person(String login) {
    return Person.invited(login, login, "", false);
  }

  private static final Person INES =
      person("ines")
          .withGrants(
              List.of(
                  new Person.Grant(Right.APPROVE, "test", "*"),
                  new Person.Grant(Right.ADMINISTER, "*", "*")))
          .withRoles(
              List.of(
                  new Person.Held(
                      "board",
                      List.of(Right.LOOK, Right.APPROVE, Right.RUN, Right.ADMINISTER),
                      "*",
                      "fares")));

  private static Person bram(Deputy d, Instant now) {
    return Deputy.at(List.of(INES.withDeputies(List.of(d)), person("bram")), now).get(1);
  }

  @Test
  void aRoleIsLentWholeButForAdministering() {
    Person bram = bram(deputy("board", "production"), NOW);

    assertThat(bram.may(Right.APPROVE, "production", "fares")).isTrue();
    assertThat(bram.may(Right.RUN, "production", "fares")).isTrue();
    assertThat(bram.may(Right.APPROVE, "production", "sailings")).as("no more than hers").isFalse();
    assertThat(bram.may(Right.APPROVE, "test", "fares")).as("elsewhere").isFalse();
    assertThat(bram.may(Right.ADMINISTER, Person.ANY, Person.ANY)).isFalse();
    assertThat(bram.rolesAt("production", "fares")).containsExactly("board");
  }

  @Test
  void withoutARoleItIsWhatMayBeApprovedAndJudgedHoweverItWasGiven() {
    Person bram = bram(deputy("", "*"), NOW);

    assertThat(bram.may(Right.APPROVE, "test", "sailings")).as("granted by itself").isTrue();
    assertThat(bram.may(Right.APPROVE, "production", "fares")).as("by her role").isTrue();
    assertThat(bram.may(Right.RUN, "production", "fares")).isFalse();
    assertThat(bram.may(Right.ADMINISTER, Person.ANY, Person.ANY)).isFalse();
  }

  @ParameterizedTest
  @CsvSource({
    "2027-02-28T23:59:59Z, false",
    "2027-03-01T00:00:00Z, true",
    "2027-03-09T23:59:59Z, true",
    "2027-03-10T00:00:00Z, false",
  })
  void itHoldsFromItsBeginningUntilBeforeItsEnd(Instant now, boolean holds) {
    assertThat(bram(deputy("board", "*"), now).may(Right.APPROVE, "production", "fares"))
        .isEqualTo(holds);
  }

  @Test
  void whoIsKeptOutLendsNothingAndWhatIsTakenFromThemIsLentNoMore() {
    Person out = INES.withDeputies(List.of(deputy("board", "*"))).withDisabled(true);
    assertThat(
            Deputy.at(List.of(out, person("bram")), NOW)
                .get(1)
                .may(Right.APPROVE, "production", "fares"))
        .isFalse();

    Person poorer = INES.withDeputies(List.of(deputy("board", "*"))).withRoles(List.of());
    assertThat(
            Deputy.at(List.of(poorer, person("bram")), NOW)
                .get(1)
                .may(Right.APPROVE, "production", "fares"))
        .isFalse();
  }

  @Test
  void forWhomARightIsHadIsSaidUnlessItIsOnesOwn() {
    Person bram = bram(deputy("board", "*"), NOW);
    assertThat(bram.standsInFor(Right.APPROVE, "production", "fares")).containsExactly("ines");

    Person own =
        Deputy.at(
                List.of(
                    INES.withDeputies(List.of(deputy("board", "*"))),
                    person("bram")
                        .withGrants(List.of(new Person.Grant(Right.APPROVE, "*", "fares")))),
                NOW)
            .get(1);
    assertThat(own.standsInFor(Right.APPROVE, "production", "fares")).isEmpty();
    assertThat(own.standsInFor(Right.RUN, "production", "fares")).containsExactly("ines");
  }

  @Test
  void oneDoesNotStandInByStandingIn() {
    Person bram =
        person("bram")
            .withDeputies(List.of(new Deputy(2, "edda", "", "*", FROM, UNTIL, "bram", "")));
    List<Person> all =
        Deputy.at(
            List.of(INES.withDeputies(List.of(deputy("board", "*"))), bram, person("edda")), NOW);

    assertThat(all.get(1).may(Right.APPROVE, "production", "fares")).isTrue();
    assertThat(all.get(2).may(Right.APPROVE, "production", "fares"))
        .as("lent no further")
        .isFalse();
  }

  @Test
  void aSpanHasAnEndBehindItsBeginningAndIsNoLongerThanAYear() {
    assertThatThrownBy(() -> new Deputy(1, "b", "", "*", UNTIL, FROM, "i", ""))
        .hasMessageContaining("until a later one");
    assertThatThrownBy(
            () -> new Deputy(1, "b", "", "*", FROM, FROM.plusSeconds(367L * 86_400), "i", ""))
        .hasMessageContaining("366 days");
  }
}
