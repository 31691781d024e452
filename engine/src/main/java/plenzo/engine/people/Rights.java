package plenzo.engine.people;

import plenzo.core.keeping.Kept;
import plenzo.core.may.May;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;

/** Deny by default: the right asked for is the destination's. */
public final class Rights {
  private Rights() {}

  /**
   * @throws Problem when the person lacks the right there; what is next says the line that grants
   *     it
   */
  public static void require(Person person, Right right, String stage, String application) {
    if (!person.may(right, stage, application)) {
      throw new Problem(
          Problem.Reason.NOT_ALLOWED,
          "NOT_ALLOWED",
          missing(person, right, stage, application),
          java.util.List.of(May.grant(person, right, stage, application)),
          null);
    }
  }

  /** Somebody administers everything, else nobody could ever change anything again. */
  static void requireAdministrator(Kept kept) {
    if (kept.people().all().stream()
        .noneMatch(p -> p.may(Right.ADMINISTER, Person.EVERY, Person.EVERY))) {
      throw Problem.stopped(
          "LAST_ADMINISTRATOR",
          "Nobody would administer everything any more.",
          "Make somebody else administrator of everything first");
    }
  }

  /**
   * @throws Problem when there is no such stage
   */
  public static void requireStage(Kept kept, String stage, String pointer) {
    if (kept.stages().find(stage).isEmpty()) {
      throw Problem.invalid("UNKNOWN_STAGE", "There is no stage \"" + stage + "\".", pointer);
    }
  }

  /**
   * @throws Problem when there is no such application
   */
  public static void requireApplication(Kept kept, String application, String pointer) {
    if (kept.applications().find(application).isEmpty()) {
      throw Problem.invalid(
          "UNKNOWN_APPLICATION", "There is no application \"" + application + "\".", pointer);
    }
  }

  /** Why the person may not, in one sentence; empty when they may. */
  public static String missing(Person person, Right right, String stage, String application) {
    return person.may(right, stage, application)
        ? ""
        : May.lacks(person, right, stage, application);
  }
}
