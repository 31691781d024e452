package plenzo.core.person;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** A narrowed token is what both have: never more than its person, never more than it says. */
class NarrowingTest {
  private static final List<String> STAGES = List.of("development", "test", "production");
  private static final List<String> APPLICATIONS = List.of("fares", "sailings");
  private static final List<Right> RIGHTS = List.of(Right.LOOK, Right.RUN, Right.ADMINISTER);

  private static <T> T one(Random random, List<T> of) {
    return of.get(random.nextInt(of.size()));
  }

  private static <T> List<T> some(Random random, List<T> of) {
    return of.stream().filter(x -> random.nextInt(3) == 0).toList();
  }

  private static String place(Random random, List<String> of) {
    return random.nextInt(3) == 0 ? Person.EVERY : one(random, of);
  }

  private static Person person(Random random) {
    List<Person.Grant> grants = new ArrayList<>();
    List<Person.Held> roles = new ArrayList<>();
    for (int n = random.nextInt(4); n > 0; n--) {
      grants.add(
          new Person.Grant(
              one(random, RIGHTS), place(random, STAGES), place(random, APPLICATIONS)));
      roles.add(
          new Person.Held(
              "role", some(random, RIGHTS), place(random, STAGES), place(random, APPLICATIONS)));
    }
    return Person.invited("edda", "Edda", "", false).withGrants(grants).withRoles(roles);
  }

  @Test
  void isWhatBothHave() {
    for (int seed = 0; seed < 2_000; seed++) {
      Random random = new Random(seed);
      Person whole = person(random);
      Narrowing only =
          new Narrowing(some(random, RIGHTS), some(random, STAGES), some(random, APPLICATIONS));
      Person left = only.of(whole);
      for (Right right : RIGHTS) {
        for (String stage : STAGES) {
          for (String application : APPLICATIONS) {
            boolean asked =
                (only.rights().isEmpty() || only.rights().contains(right))
                    && (only.stages().isEmpty() || only.stages().contains(stage))
                    && (only.applications().isEmpty() || only.applications().contains(application));
            assertThat(left.may(right, stage, application))
                .as("seed " + seed + " " + right + " " + stage + " " + application)
                .isEqualTo(asked && whole.may(right, stage, application));
          }
        }
        assertThat(left.may(right, Person.EVERY, Person.EVERY))
            .as("everywhere, seed " + seed)
            .isEqualTo(
                (only.rights().isEmpty() || only.rights().contains(right))
                    && only.stages().isEmpty()
                    && only.applications().isEmpty()
                    && whole.may(right, Person.EVERY, Person.EVERY));
      }
    }
  }

  @Test
  void leavesWhoTheyAre() {
    Person edda = Person.invited("edda", "Edda", "", false).withDisabled(true);

    assertThat(new Narrowing(List.of(), List.of("test"), List.of()).of(edda))
        .satisfies(p -> assertThat(p.login()).isEqualTo("edda"))
        .satisfies(p -> assertThat(p.disabled()).isTrue());
  }

  @Test
  void saysWhenItNarrowsNothing() {
    assertThat(new Narrowing(List.of(), List.of(), List.of()).nothing()).isTrue();
    assertThat(new Narrowing(List.of(), List.of("test"), List.of()).nothing()).isFalse();
    assertThat(new Narrowing(List.of(Right.LOOK), List.of(), List.of()).nothing()).isFalse();
    assertThat(new Narrowing(List.of(), List.of(), List.of("fares")).nothing()).isFalse();
  }
}
