package plenzo.engine.people;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import java.util.List;
import org.assertj.core.api.ThrowableAssert.ThrowingCallable;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.keeping.Kept;
import plenzo.core.person.AccessKey;
import plenzo.core.person.Person;
import plenzo.core.person.Person.Grant;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;

/** People come and go: what they signed in with ends with them, and somebody always administers. */
class ComingAndGoingTest extends KitTest {
  private static final String PASSWORD = "long enough 1";

  private final Person admin =
      EngineKit.person("head", Right.LOOK)
          .withGrants(List.of(new Grant(Right.ADMINISTER, Person.EVERY, Person.EVERY)));

  private People people;
  private AccessKeys keys;
  private Roles roles;

  @BeforeEach
  void world() {
    kit.write(
        kept -> {
          kept.people().all().forEach(p -> kept.people().replace(p.withGrants(List.of())));
          kept.people().insert(admin);
          return null;
        });
    people = kit.engine().people();
    keys = kit.engine().accessKeys();
    roles = kit.engine().roles();
    people.invite(admin, "edda", "Edda", PASSWORD, /* mustChange= */ false);
  }

  private Person of(String login) {
    return kit.read(kept -> kept.people().find(login)).orElseThrow();
  }

  /** As they are with whatever lets them in whole. */
  private AccessKeys.SignedIn as(String login) {
    return new AccessKeys.SignedIn(of(login), keys.session(login).key());
  }

  private boolean holds(AccessKeys.Issued issued) {
    return keys.whoHolds(issued.secret()).isPresent();
  }

  private static @Nullable String refused(ThrowingCallable act) {
    Problem p = catchThrowableOfType(Problem.class, act);
    return p == null ? null : p.code();
  }

  private String lastNote() {
    return kit.read(kept -> kept.history(Kept.HistoryFilter.part(0, 1))).get(0).text();
  }

  @Test
  void endsSessionsAndTokensOfWhomIsKeptOut() {
    AccessKeys.Issued session = people.signIn("edda", PASSWORD, "192.0.2.1");
    AccessKeys.Issued token = keys.newToken(as("edda"), "script", null, 90);
    assertThat(holds(session)).isTrue();
    assertThat(holds(token)).isTrue();

    people.change(admin, "edda", new People.Facts(null, true, null), null);

    assertThat(holds(session)).isFalse();
    assertThat(holds(token)).isFalse();
    assertThat(lastNote()).isEqualTo("edda can no longer sign in; 2 sessions and tokens ended");
    assertThat(refused(() -> people.signIn("edda", PASSWORD, "192.0.2.1")))
        .isEqualTo("SIGN_IN_FAILED");

    people.change(admin, "edda", new People.Facts(null, false, null), null);

    assertThat(holds(session)).as("what ended does not come back").isFalse();
    assertThat(holds(token)).isFalse();
    assertThat(holds(people.signIn("edda", PASSWORD, "192.0.2.1"))).isTrue();
  }

  @Test
  void keepsTheLastAdministrator() {
    assertThat(
            refused(() -> people.change(admin, "head", new People.Facts(null, true, null), null)))
        .isEqualTo("LAST_ADMINISTRATOR");
    assertThat(of("head").disabled()).isFalse();

    roles.grant(
        admin,
        "edda",
        List.of(new Grant(Right.ADMINISTER, Person.EVERY, Person.EVERY)),
        null,
        null);
    assertThat(
            refused(() -> people.change(admin, "head", new People.Facts(null, true, null), null)))
        .isNull();
  }

  @Test
  void givesAPasswordForOnceThatMustBeChanged() {
    AccessKeys.Issued session = people.signIn("edda", PASSWORD, "192.0.2.1");
    for (int n = 0; n < 6; n++) {
      refused(() -> people.signIn("edda", "wrong", "192.0.2.2"));
    }

    people.resetPassword(admin, "edda", "another one 2");

    assertThat(holds(session)).isFalse();
    assertThat(of("edda").mustChange()).isTrue();
    assertThat(lastNote()).startsWith("Password of edda reset").doesNotContain("another one");
    assertThat(holds(people.signIn("edda", "another one 2", "192.0.2.1")))
        .as("they need not wait for the tries that failed")
        .isTrue();
  }

  @Test
  void endsTheOtherSessionsWhenAPasswordIsChanged() {
    AccessKeys.Issued here = people.signIn("edda", PASSWORD, "192.0.2.1");
    AccessKeys.Issued there = people.signIn("edda", PASSWORD, "192.0.2.2");
    AccessKeys.Issued token = keys.newToken(as("edda"), "script", null, 90);

    people.changePassword(keys.whoHolds(here.secret()).orElseThrow(), PASSWORD, "changed one 3");

    assertThat(holds(here)).isTrue();
    assertThat(holds(there)).isFalse();
    assertThat(holds(token)).isTrue();
  }

  @Test
  void showsAndEndsOneKeyOfOneselfOrOfAnybodyForAnAdministrator() {
    AccessKeys.Issued session = people.signIn("edda", PASSWORD, "192.0.2.1");
    AccessKeys.Issued token = keys.newToken(as("edda"), "script", null, 90);
    assertThat(keys.keys(as("edda"), "edda"))
        .extracting(AccessKey::label)
        .containsExactlyInAnyOrder("browser", "script");

    keys.end(as("edda"), "edda", session.key().brief());
    assertThat(holds(session)).isFalse();
    keys.end(as("head"), "edda", token.key().brief());
    assertThat(holds(token)).isFalse();
    assertThat(keys.keys(as("head"), "edda")).isEmpty();
    assertThat(refused(() -> keys.end(as("head"), "edda", "nothing")).toString())
        .isEqualTo("NOT_FOUND");
  }

  @Test
  void letsNobodyElseDoIt() {
    Person edda = of("edda");

    assertThat(refused(() -> people.change(edda, "head", new People.Facts(null, true, null), null)))
        .isEqualTo("NOT_ALLOWED");
    assertThat(refused(() -> people.resetPassword(edda, "head", PASSWORD)))
        .isEqualTo("NOT_ALLOWED");
    assertThat(refused(() -> people.change(edda, "head", new People.Facts("x", null, null), null)))
        .isEqualTo("NOT_ALLOWED");
    assertThat(refused(() -> keys.keys(as("edda"), "head"))).isEqualTo("NOT_ALLOWED");
    assertThat(refused(() -> keys.end(as("edda"), "head", "x"))).isEqualTo("NOT_ALLOWED");
  }

  @Test
  void refusesRightsOfAPersonWhoWasChangedMeanwhile() {
    int seen = of("edda").revision();
    Grant look = new Grant(Right.LOOK, Person.EVERY, Person.EVERY);
    roles.grant(admin, "edda", List.of(look), null, seen);

    assertThat(refused(() -> roles.grant(admin, "edda", List.of(), null, seen)))
        .isEqualTo("CHANGED");
    assertThat(of("edda").grants()).containsExactly(look);
  }

  @Test
  void showsSomebodyUnderAnotherName() {
    people.change(admin, "edda", new People.Facts("Edda Brandt", null, null), null);

    assertThat(of("edda").name()).isEqualTo("Edda Brandt");
    assertThat(refused(() -> people.change(admin, "edda", new People.Facts(" ", null, null), null)))
        .isEqualTo("NAME");
    assertThat(
            refused(() -> people.change(admin, "nobody", new People.Facts("x", null, null), null)))
        .isEqualTo("NOT_FOUND");
  }

  /** A refused half leaves nothing of the other behind. */
  @Test
  void changesAllOrNothing() {
    assertThat(
            refused(
                () -> people.change(admin, "head", new People.Facts("Somebody", true, null), null)))
        .isEqualTo("LAST_ADMINISTRATOR");
    assertThat(of("head").name()).isNotEqualTo("Somebody");
  }

  @Test
  void changesWhatWasLookedAt() {
    int seen = of("edda").revision();
    people.change(admin, "edda", new People.Facts("Edda Brandt", null, null), seen);

    assertThat(
            refused(
                () -> people.change(admin, "edda", new People.Facts("Another", null, null), seen)))
        .isEqualTo("CHANGED");
    assertThat(of("edda").name()).isEqualTo("Edda Brandt");
  }
}
