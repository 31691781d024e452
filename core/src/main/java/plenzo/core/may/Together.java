package plenzo.core.may;

import java.util.List;
import plenzo.core.may.May.Why;
import plenzo.core.person.Person;
import plenzo.core.stage.Apart.Duty;

/** What holds alike of promotions that are agreed and started as one. */
final class Together {
  private Together() {}

  /** Nobody starts what they did something for that keeps them from it. */
  static May notApart(List<Duties> all, Person by) {
    for (Duties d : all) {
      Duty did = d.against(by.login(), Duty.RUNNER).orElse(null);
      if (did != null) {
        return May.no(Why.OWN, d.words(did) + ", so somebody else starts it.");
      }
    }
    return May.YES;
  }

  /**
   * @param closed what still stands in the way of starting, in words
   */
  static May passed(List<String> closed) {
    return closed.isEmpty() ? May.YES : May.no(Why.GATES, String.join("; ", closed));
  }
}
