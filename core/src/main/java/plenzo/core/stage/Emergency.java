package plenzo.core.stage;

import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;
import plenzo.core.words.Words;

/**
 * What a leg lets an emergency pass: the gates that may be owed, never a blocker, the proof of a
 * backup or who a target is.
 *
 * @param people how many must declare it, 1 or 2
 * @param owes codes of the gates that may be passed; a yes is owed afterwards
 * @param hours within which the owed yes must come, counted from the start of the run
 * @param tells logins of people who are told as soon as one is declared
 */
public record Emergency(int people, Set<String> owes, int hours, @Nullable List<String> tells) {
  /** Codes of the gates that can be owed at all. */
  public static final List<String> CAN_BE_OWED =
      List.of(
          "approvals",
          "calendar",
          "evidence-before",
          "every-site-before",
          "judged-before",
          "outside",
          "rehearsal",
          "soak",
          "task");

  /** A month: later it is nobody's emergency any more (guess). */
  private static final int LONGEST = 720;

  /** People who are told at most (guess). */
  private static final int MOST_TOLD = 50;

  public Emergency {
    tells =
        tells == null
            ? List.of()
            : tells.stream()
                .map(String::strip)
                .filter(l -> !l.isEmpty())
                .distinct()
                .sorted()
                .toList();
    if (tells.size() > MOST_TOLD) {
      throw new IllegalArgumentException("At most " + MOST_TOLD + " people are told");
    }
    owes = Set.copyOf(owes);
    if (people < 1 || people > 2) {
      throw new IllegalArgumentException("One or two people declare an emergency");
    }
    if (hours < 1 || hours > LONGEST) {
      throw new IllegalArgumentException("The owed yes comes within 1 to " + LONGEST + " hours");
    }
    if (owes.isEmpty() || !CAN_BE_OWED.containsAll(owes)) {
      throw new IllegalArgumentException(
          "In an emergency one or more of these can be owed: "
              + String.join(", ", CAN_BE_OWED)
              + "; got "
              + String.join(", ", new TreeSet<>(owes)));
    }
  }

  /** One that nobody is told of but those who must do something. */
  public Emergency(int people, Set<String> owes, int hours) {
    this(people, owes, hours, List.of());
  }

  @Override
  public List<String> tells() {
    return tells == null ? List.of() : tells;
  }

  /** "in an emergency, which 2 people declare, these may be owed: approvals, soak; …". */
  public String words() {
    return "in an emergency, which "
        + (people == 1 ? "1 person declares" : people + " people declare")
        + ", these may be owed: "
        + String.join(", ", new TreeSet<>(owes))
        + "; a yes comes within "
        + Words.count(hours, "hour")
        + (tells().isEmpty() ? "" : "; told at once: " + String.join(", ", tells()));
  }
}
