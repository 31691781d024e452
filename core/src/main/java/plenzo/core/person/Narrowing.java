package plenzo.core.person;

import java.util.ArrayList;
import java.util.List;

/**
 * What a token may at most, of what its person may. It gives nothing: what the person loses, the
 * token loses.
 *
 * @param rights empty for all that the person has
 * @param stages empty for all that the person has
 * @param applications empty for all that the person has
 */
public record Narrowing(List<Right> rights, List<String> stages, List<String> applications) {
  public Narrowing {
    rights = List.copyOf(rights);
    stages = List.copyOf(stages);
    applications = List.copyOf(applications);
  }

  /** Whether it leaves everything as it is. */
  public boolean nothing() {
    return rights.isEmpty() && stages.isEmpty() && applications.isEmpty();
  }

  /** The person as the holder of such a token: the same name, and what both have. */
  public Person of(Person person) {
    List<Person.Grant> left = new ArrayList<>();
    for (Person.Grant g : person.holds()) {
      if (rights.isEmpty() || rights.contains(g.right())) {
        for (String stage : both(g.stage(), stages)) {
          for (String application : both(g.application(), applications)) {
            left.add(new Person.Grant(g.right(), stage, application));
          }
        }
      }
    }
    return person.withGrants(left.stream().distinct().toList()).withRoles(List.of());
  }

  /** Where the person and the token are: those of the token, if the person is everywhere. */
  private static List<String> both(String granted, List<String> only) {
    if (only.isEmpty() || only.contains(granted)) {
      return List.of(granted);
    }
    return granted.equals(Person.EVERY) ? only : List.of();
  }
}
