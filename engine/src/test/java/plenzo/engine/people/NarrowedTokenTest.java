package plenzo.engine.people;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import java.time.Duration;
import java.util.List;
import org.assertj.core.api.ThrowableAssert.ThrowingCallable;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Narrowing;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.engine.kit.KitTest;
import plenzo.engine.people.AccessKeys.SignedIn;

/** A token that may less than its person. */
class NarrowedTokenTest extends KitTest {
  private static final Narrowing LOOK_AT_PRODUCTION =
      new Narrowing(List.of(Right.LOOK), List.of("production"), List.of("fares"));

  private AccessKeys keys;
  private SignedIn whole;

  @BeforeEach
  void ines() {
    keys = kit.engine().accessKeys();
    AccessKeys.Issued session = keys.session("ines");
    kit.write(
        kept -> {
          kept.accessKeys().insert(session.key());
          return null;
        });
    whole = keys.whoHolds(session.secret()).orElseThrow();
  }

  private AccessKeys.Issued make(@Nullable Narrowing only, int days) {
    return keys.newToken(whole, "build server", only, days);
  }

  private SignedIn by(AccessKeys.Issued token) {
    return keys.whoHolds(token.secret()).orElseThrow();
  }

  private static @Nullable String refused(ThrowingCallable act) {
    Problem p = catchThrowableOfType(Problem.class, act);
    return p == null ? null : p.code();
  }

  @Test
  void mayWhatItWasMadeFor() {
    Person narrowed = by(make(LOOK_AT_PRODUCTION, 90)).person();

    assertThat(kit.read(kept -> kept.history(Kept.HistoryFilter.part(0, 1))).get(0).text())
        .startsWith(
            "Token \"build server\" for look at production for the application fares until");
    assertThat(narrowed.login()).isEqualTo("ines");
    assertThat(narrowed.may(Right.LOOK, "production", "fares")).isTrue();
    assertThat(narrowed.may(Right.RUN, "production", "fares")).isFalse();
    assertThat(narrowed.may(Right.LOOK, "development", "fares")).isFalse();
    assertThat(by(make(null, 90)).person().may(Right.RUN, "production", "fares")).isTrue();
  }

  @Test
  void losesWhatItsPersonLoses() {
    AccessKeys.Issued token = make(LOOK_AT_PRODUCTION, 90);

    kit.write(
        kept -> {
          Person ines = kept.people().find("ines").orElseThrow();
          kept.people().replace(ines.withGrants(List.of()));
          return null;
        });

    assertThat(by(token).person().may(Right.LOOK, "production", "fares")).isFalse();
  }

  @Test
  void makesNoOthersAndEndsNone() {
    SignedIn narrowed = by(make(LOOK_AT_PRODUCTION, 90));
    SignedIn administers =
        by(make(new Narrowing(List.of(Right.ADMINISTER), List.of(), List.of()), 90));
    String session = whole.key().brief();

    for (SignedIn token : List.of(narrowed, administers)) {
      assertThat(refused(() -> keys.newToken(token, "x", null, 90))).isEqualTo("NARROWED");
      assertThat(refused(() -> keys.newToken(token, "x", LOOK_AT_PRODUCTION, 1)))
          .isEqualTo("NARROWED");
      assertThat(refused(() -> keys.end(token, "ines", session))).isEqualTo("NARROWED");
      assertThat(refused(() -> keys.keys(token, "ines"))).isEqualTo("NARROWED");
      assertThat(refused(() -> kit.engine().people().changePassword(token, "", "long enough 1")))
          .isEqualTo("NARROWED");
    }
    assertThat(keys.keys(whole, "ines")).hasSize(3);
  }

  @Test
  void givesNothingBeyondWhatItAdministers() {
    SignedIn local =
        by(
            make(
                new Narrowing(List.of(Right.ADMINISTER), List.of("production"), List.of("fares")),
                90));

    assertThat(
            refused(
                () ->
                    kit.engine()
                        .roles()
                        .grant(
                            local.person(),
                            "bram",
                            List.of(new Person.Grant(Right.RUN, "*", "*")),
                            null,
                            null)))
        .isEqualTo("NOT_ALLOWED");
  }

  @Test
  void endsWhenItWasSaid() {
    AccessKeys.Issued token = make(LOOK_AT_PRODUCTION, 2);
    kit.clock.tick(Duration.ofHours(47));
    assertThat(keys.whoHolds(token.secret())).isPresent();

    kit.clock.tick(Duration.ofHours(2));

    assertThat(keys.whoHolds(token.secret())).isEmpty();
    assertThat(refused(() -> make(null, 0))).isEqualTo("DAYS");
    assertThat(refused(() -> make(null, 91))).isEqualTo("DAYS");
  }

  @Test
  void namesWhatIsThereAndLeavesSomething() {
    assertThat(refused(() -> make(new Narrowing(List.of(), List.of("nowhere"), List.of()), 9)))
        .isEqualTo("UNKNOWN_STAGE");
    assertThat(refused(() -> make(new Narrowing(List.of(), List.of(), List.of("nothing")), 9)))
        .isEqualTo("UNKNOWN_APPLICATION");
    kit.write(
        kept -> {
          Person ines = kept.people().find("ines").orElseThrow();
          kept.people()
              .replace(
                  ines.withGrants(
                      List.of(new Person.Grant(Right.LOOK, "production", Person.EVERY))));
          return null;
        });
    whole = new SignedIn(kit.read(kept -> kept.people().find("ines")).orElseThrow(), whole.key());
    assertThat(refused(() -> make(new Narrowing(List.of(Right.RUN), List.of(), List.of()), 9)))
        .isEqualTo("NOTHING_LEFT");
  }
}
