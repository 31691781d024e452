package plenzo.core.person;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import org.junit.jupiter.api.Test;

/** What a role gives, and what the first ones keep apart. */
class RoleTest {
  private static final Role TESTER =
      new Role("tester", "Tester", List.of(Right.JUDGE, Right.LOOK, Right.LOOK), 0);

  private final Person edda =
      Person.invited("edda", "Edda", "", false).withRoles(List.of(TESTER.at("test", "fares")));

  @Test
  void givesItsRightsWhereItIsHeld() {
    assertThat(edda.may(Right.JUDGE, "test", "fares")).isTrue();
    assertThat(edda.may(Right.JUDGE, Person.ANY, Person.ANY)).isTrue();
    assertThat(edda.may(Right.JUDGE, "production", "fares")).isFalse();
    assertThat(edda.may(Right.JUDGE, "test", Person.EVERY)).isFalse();
    assertThat(edda.may(Right.RUN, "test", "fares")).isFalse();
    assertThat(edda.withDisabled(true).may(Right.JUDGE, "test", "fares")).isFalse();
  }

  @Test
  void countsForLists() {
    assertThat(Sight.of(edda, Right.LOOK).covers("test", "fares")).isTrue();
    assertThat(Sight.of(edda, Right.LOOK).covers("production", "fares")).isFalse();
    assertThat(Sight.of(edda, Right.RUN).places()).isEmpty();
  }

  @Test
  void isSaidOnceWhateverGaveIt() {
    Person both = edda.withGrants(List.of(new Person.Grant(Right.LOOK, "test", "fares")));

    assertThat(both.holds())
        .containsExactlyInAnyOrder(
            new Person.Grant(Right.LOOK, "test", "fares"),
            new Person.Grant(Right.JUDGE, "test", "fares"));
  }

  /** Who brings it there is not who says yes to it, and who administers does neither. */
  @Test
  void keepsDutiesApartFromTheStart() {
    Set<Right> apart = Set.of(Right.AUTHOR, Right.APPROVE, Right.RUN, Right.JUDGE);
    for (Role role : Role.FIRST) {
      Set<Right> held = new TreeSet<>(role.rights());
      held.retainAll(apart);
      assertThat(held).as(role.key()).hasSizeLessThanOrEqualTo(1);
      assertThat(role.rights()).as(role.key()).contains(Right.LOOK);
    }
  }
}
