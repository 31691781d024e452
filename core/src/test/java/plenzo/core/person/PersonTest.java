package plenzo.core.person;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Arrays;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import plenzo.core.person.Person.Grant;

/** A right is asked at a place, everywhere, or anywhere: three questions, none answers another. */
class PersonTest {
  private static Person with(Grant... grants) {
    return Person.invited("ines", "Ines", "", false).withGrants(List.of(grants));
  }

  @ParameterizedTest
  @CsvSource({
    // granted at,     for,   asked at,   for,      answer
    "production, fares, production, fares,    true",
    "production, fares, production, sailings, false",
    "production, fares, test,       fares,    false",
    "production, fares, *,          fares,    false",
    "production, fares, production, *,        false",
    "production, fares, *,          *,        false",
    "production, fares, ?,          fares,    true",
    "production, fares, ?,          sailings, false",
    "production, fares, ?,          ?,        true",
    "*,          fares, *,          fares,    true",
    "*,          fares, production, fares,    true",
    "*,          fares, *,          *,        false",
    "*,          *,     *,          *,        true",
    "*,          *,     ?,          ?,        true",
    "*,          *,     production, fares,    true",
    "production, *,     production, *,        true",
    "production, *,     ?,          *,        true",
    "production, fares, ?,          *,        false",
  })
  void mayWhereItIsGranted(
      String stage, String application, String atStage, String forApplication, boolean may) {
    Person p = with(new Grant(Right.ADMINISTER, stage, application));

    assertThat(p.may(Right.ADMINISTER, atStage, forApplication)).isEqualTo(may);
    assertThat(p.may(Right.RUN, atStage, forApplication)).as("another right").isFalse();
    assertThat(p.withDisabled(true).may(Right.ADMINISTER, atStage, forApplication)).isFalse();
  }

  /** One at each stage is not one at every stage: a stage to come would not be covered. */
  @Test
  void isNotEverywhereByManyPlaces() {
    Person p =
        with(new Grant(Right.RUN, "test", "fares"), new Grant(Right.RUN, "production", "fares"));

    assertThat(p.may(Right.RUN, Person.EVERY, "fares")).isFalse();
    assertThat(p.may(Right.RUN, Person.ANY, "fares")).isTrue();
  }

  /** A grant that names "?" would be one for nothing: it is no name. */
  @Test
  void grantsNothingByAQuestion() {
    Person p = with(new Grant(Right.RUN, Person.ANY, Person.ANY));

    assertThat(
            Arrays.asList("production", Person.EVERY).stream()
                .anyMatch(s -> p.may(Right.RUN, s, "fares")))
        .isFalse();
  }
}
