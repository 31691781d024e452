package plenzo.server.web;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import plenzo.api.People.Only;
import plenzo.core.person.Narrowing;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.person.Role;

/** What is said of people comes back as it was meant. */
class PeopleViewsTest {
  @ParameterizedTest
  @EnumSource
  void everyRightHasACodeAndWords(Right right) {
    assertThat(PeopleViews.right(right.code(), "/x")).isEqualTo(right);
    assertThat(PeopleViews.allRights())
        .filteredOn(r -> r.right().equals(right.code()))
        .singleElement()
        .satisfies(r -> assertThat(r.words()).isNotBlank());
  }

  @Test
  void aRightThatDoesNotExistIsRefusedWithThoseThatDo() {
    assertThatThrownBy(() -> PeopleViews.rights(List.of("look", "fly"), "/rights"))
        .hasMessageContaining("no right \"fly\"")
        .hasMessageContaining("go-back");
  }

  @Test
  void aNarrowingComesBack() {
    Only only = new Only(List.of("look"), List.of("test"), List.of("fares"));

    assertThat(PeopleViews.only(PeopleViews.narrowing(only))).isEqualTo(only);
    assertThat(PeopleViews.narrowing(null)).isNull();
    assertThat(PeopleViews.only((Narrowing) null)).isNull();
  }

  @Test
  void aPersonShowsRolesApartFromRights() {
    Person p =
        Person.invited("edda", "Edda", "secret hash", true)
            .withGrants(List.of(new Person.Grant(Right.RUN, "test", "*")))
            .withRoles(List.of(Role.FIRST.get(0).at("*", "fares")));

    assertThat(PeopleViews.person(p))
        .satisfies(v -> assertThat(v.grants()).hasSize(1))
        .satisfies(v -> assertThat(v.roles()).hasSize(1))
        .satisfies(v -> assertThat(v.toString()).doesNotContain("secret hash"));
  }
}
