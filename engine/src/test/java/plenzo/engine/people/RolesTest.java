package plenzo.engine.people;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import java.util.List;
import org.assertj.core.api.ThrowableAssert.ThrowingCallable;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Person.Grant;
import plenzo.core.person.Right;
import plenzo.core.person.Role;
import plenzo.core.problem.Problem;
import plenzo.core.stage.Leg;
import plenzo.core.stage.Path;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;
import plenzo.engine.people.Roles.Given;

/** Roles: what they give follows them, and nobody gives one beyond what they administer. */
class RolesTest extends KitTest {
  private static final Given TESTER = new Given("tester", "test", "fares");

  private final Person local =
      Person.invited("local", "Local", "", false)
          .withGrants(List.of(new Grant(Right.ADMINISTER, "production", "fares")));

  private Roles roles;

  @BeforeEach
  void people() {
    roles = kit.engine().roles();
    kit.write(
        kept -> {
          kept.people().insert(local);
          kept.people().insert(EngineKit.person("edda", Right.LOOK).withGrants(List.of()));
          return null;
        });
    roles.begin();
  }

  private Person of(String login) {
    return kit.read(kept -> kept.people().find(login)).orElseThrow();
  }

  private static @Nullable String refused(ThrowingCallable act) {
    Problem p = catchThrowableOfType(Problem.class, act);
    return p == null ? null : p.code();
  }

  private void give(Given... given) {
    roles.grant(kit.ines, "edda", List.of(), List.of(given), null);
  }

  private static Given at(String role, String stage) {
    return new Given(role, stage, "fares");
  }

  @Test
  void beginsWithWhatTheTradeHasOnce() {
    assertThat(roles.all(kit.ines)).extracting(Role::key).contains("viewer", "approver");
    roles.remove(kit.ines, "viewer");

    roles.begin();

    assertThat(roles.all(kit.ines))
        .as("what was removed stays away")
        .extracting(Role::key)
        .doesNotContain("viewer");
  }

  @Test
  void changesForEverybodyWhoHoldsIt() {
    give(at("tester", "production"));
    assertThat(of("edda").may(Right.JUDGE, "production", "fares")).isTrue();
    assertThat(of("edda").may(Right.RUN, "production", "fares")).isFalse();

    roles.save(kit.ines, "tester", "Tester", List.of(Right.LOOK, Right.RUN), null);

    assertThat(of("edda").may(Right.JUDGE, "production", "fares")).isFalse();
    assertThat(of("edda").may(Right.RUN, "production", "fares")).isTrue();
    assertThat(of("edda").may(Right.RUN, "development", "fares")).isFalse();
    assertThat(kit.read(kept -> kept.history(Kept.HistoryFilter.part(0, 1))).get(0).text())
        .isEqualTo("Role tester gives look, run; held by edda");
  }

  @Test
  void isGivenOnlyWhereOneAdministers() {
    assertThat(
            refused(
                () ->
                    roles.grant(
                        local, "edda", List.of(), List.of(at("tester", "production")), null)))
        .isNull();
    for (Given beyond :
        List.of(
            at("tester", "development"),
            at("tester", Person.EVERY),
            new Given("tester", "production", Person.EVERY))) {
      assertThat(
              refused(
                  () ->
                      roles.grant(
                          local,
                          "edda",
                          List.of(),
                          List.of(at("tester", "production"), beyond),
                          null)))
          .as(beyond.toString())
          .isEqualTo("NOT_ALLOWED");
    }
    assertThat(of("edda").roles()).hasSize(1);
  }

  @Test
  void staysWhereNobodySpeaksOfIt() {
    give(at("tester", "production"));

    roles.grant(kit.ines, "edda", List.of(new Grant(Right.RUN, "production", "fares")), null, null);

    assertThat(of("edda").roles()).hasSize(1);
    assertThat(of("edda").holds()).hasSize(4);
  }

  @Test
  void isNotRemovedWhileALegAsksForIt() {
    Path path = kit.engine().paths().list().get(0);
    Leg asking = Leg.open("production").asking(new Leg.Quorum("approver", 1));
    kit.engine()
        .paths()
        .change(kit.ines, new Path(path.key(), path.name(), path.source(), List.of(asking), 0));

    assertThat(refused(() -> roles.remove(kit.ines, "approver"))).isEqualTo("ROLE_ASKED");
    assertThat(refused(() -> roles.remove(kit.ines, "viewer"))).isNull();
  }

  @Test
  void isRemovedWhenNobodyHoldsIt() {
    give(at("tester", "production"));
    assertThat(refused(() -> roles.remove(kit.ines, "tester"))).isEqualTo("ROLE_HELD");

    give();

    assertThat(refused(() -> roles.remove(kit.ines, "tester"))).isNull();
    assertThat(refused(() -> roles.remove(kit.ines, "tester"))).isEqualTo("NOT_FOUND");
    assertThat(refused(() -> give(at("tester", "production")))).isEqualTo("NOT_FOUND");
  }

  @Test
  void keepsSomebodyWhoAdministersEverything() {
    give(new Given("administrator", Person.EVERY, Person.EVERY));
    kit.write(
        kept -> {
          for (String login : List.of("ines", "bram")) {
            kept.people().replace(kept.people().find(login).orElseThrow().withGrants(List.of()));
          }
          return null;
        });
    Person edda = of("edda");

    assertThat(
            refused(
                () ->
                    roles.save(edda, "administrator", "Administrator", List.of(Right.LOOK), null)))
        .isEqualTo("LAST_ADMINISTRATOR");
    assertThat(refused(() -> roles.grant(edda, "edda", List.of(), List.of(), null)))
        .isEqualTo("LAST_ADMINISTRATOR");
    assertThat(of("edda").may(Right.ADMINISTER, Person.EVERY, Person.EVERY)).isTrue();
  }

  @Test
  void isChangedAsItWasLookedAt() {
    Role seen = roles.all(kit.ines).stream().filter(r -> r.key().equals("tester")).toList().get(0);
    Role now = roles.save(kit.ines, "tester", "Tester", List.of(Right.LOOK), seen.revision());

    assertThat(now.revision()).isNotEqualTo(seen.revision());
    assertThat(
            refused(
                () ->
                    roles.save(kit.ines, "tester", "Tester", List.of(Right.RUN), seen.revision())))
        .isEqualTo("CHANGED");
    assertThat(refused(() -> roles.save(kit.ines, "newt", "Newt", List.of(Right.RUN), 0)))
        .as("it went away meanwhile")
        .isEqualTo("CHANGED");
  }

  @Test
  void hasAKeyANameAndRights() {
    assertThat(refused(() -> roles.save(kit.ines, "X", "X", List.of(Right.RUN), null)))
        .isEqualTo("KEY");
    assertThat(refused(() -> roles.save(kit.ines, "xx", " ", List.of(Right.RUN), null)))
        .isEqualTo("NAME");
    assertThat(refused(() -> roles.save(kit.ines, "xx", "X", List.of(), null))).isEqualTo("RIGHTS");
    assertThat(refused(() -> roles.save(local, "xx", "X", List.of(Right.RUN), null)))
        .as("a role reaches everybody")
        .isEqualTo("NOT_ALLOWED");
    assertThat(refused(() -> roles.remove(local, "tester"))).isEqualTo("NOT_ALLOWED");
  }

  @Test
  void namesPlacesThatExist() {
    assertThat(refused(() -> give(TESTER))).isEqualTo("UNKNOWN_STAGE");
    assertThat(refused(() -> give(new Given("tester", "production", "nothing"))))
        .isEqualTo("UNKNOWN_APPLICATION");
  }
}
