package plenzo.engine.people;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import java.util.List;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.person.Person;
import plenzo.core.person.Person.Grant;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;

/** Nobody gives or takes a right where they do not administer. */
class GrantingTest extends KitTest {
  private static final Grant SCOPE = new Grant(Right.ADMINISTER, "production", "fares");

  private final Person local =
      Person.invited("local", "Local", "", false).withGrants(List.of(SCOPE));

  @BeforeEach
  void people() {
    kit.write(
        kept -> {
          kept.people().insert(local);
          kept.people().insert(EngineKit.person("edda", Right.LOOK).withGrants(List.of()));
          return null;
        });
  }

  private @Nullable String refused(Person by, String login, Grant... grants) {
    Problem p =
        catchThrowableOfType(
            Problem.class,
            () -> kit.engine().roles().grant(by, login, List.of(grants), null, null));
    return p == null ? null : p.code();
  }

  private List<Grant> of(String login) {
    return kit.read(kept -> kept.people().find(login)).orElseThrow().grants();
  }

  @Test
  void givesWhereTheyAdminister() {
    Grant run = new Grant(Right.RUN, "production", "fares");

    assertThat(refused(local, "edda", run)).isNull();
    assertThat(of("edda")).containsExactly(run);
  }

  @Test
  void givesNothingBeyond() {
    for (Grant beyond :
        List.of(
            new Grant(Right.RUN, "development", "fares"),
            new Grant(Right.RUN, Person.EVERY, "fares"),
            new Grant(Right.RUN, "production", Person.EVERY),
            new Grant(Right.ADMINISTER, Person.EVERY, Person.EVERY))) {
      assertThat(refused(local, "edda", beyond)).as(beyond.toString()).isEqualTo("NOT_ALLOWED");
      assertThat(refused(local, "local", SCOPE, beyond)).as("to oneself").isEqualTo("NOT_ALLOWED");
    }
    assertThat(of("edda")).isEmpty();
  }

  @Test
  void takesNothingBeyond() {
    Grant look = new Grant(Right.LOOK, "development", Person.EVERY);
    Grant run = new Grant(Right.RUN, "production", "fares");
    assertThat(refused(kit.ines, "edda", look, run)).isNull();

    assertThat(refused(local, "edda", run)).as("what it leaves out goes").isEqualTo("NOT_ALLOWED");
    assertThat(refused(local, "edda", look)).as("the rest stays").isNull();
    assertThat(of("edda")).containsExactly(look);
  }

  @Test
  void namesWhatExists() {
    assertThat(refused(kit.ines, "edda", new Grant(Right.RUN, "nowhere", "fares")))
        .isEqualTo("UNKNOWN_STAGE");
    assertThat(refused(kit.ines, "edda", new Grant(Right.RUN, "production", "nothing")))
        .isEqualTo("UNKNOWN_APPLICATION");
    assertThat(refused(kit.ines, "edda", new Grant(Right.RUN, Person.ANY, Person.ANY)))
        .isEqualTo("UNKNOWN_STAGE");
  }

  @Test
  void leavesOneWhoAdministersEverything() {
    assertThat(refused(kit.ines, "bram")).as("ines still does").isNull();

    assertThat(refused(kit.ines, "ines", SCOPE)).isEqualTo("LAST_ADMINISTRATOR");
  }

  @Test
  void doesNotGovernWhatReachesEverybody() {
    assertThatThrownBy(() -> kit.engine().people().invite(local, "newt", "", "long-enough-1", true))
        .isInstanceOf(Problem.class);
    assertThatThrownBy(() -> kit.engine().keys().make(local, "mine")).isInstanceOf(Problem.class);
    assertThatThrownBy(
            () ->
                kit.engine()
                    .paths()
                    .lay(
                        local,
                        new plenzo.core.stage.Path(
                            "other",
                            "Other",
                            "development",
                            List.of(plenzo.core.stage.Leg.open("production")),
                            0)))
        .isInstanceOf(Problem.class);
    assertThatThrownBy(
            () -> kit.engine().applications().register(local, "new", "N", "o", "n", "ordinary"))
        .isInstanceOf(Problem.class);
    assertThatThrownBy(
            () ->
                kit.engine()
                    .stages()
                    .save(local, kit.engine().stages().get(kit.ines, "production")))
        .as("the stage is not fares' alone")
        .isInstanceOf(Problem.class);
  }
}
