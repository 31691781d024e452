package plenzo.core.may;

import java.util.Collection;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;

/**
 * Whether a person may do one act at one place now.
 *
 * @param why null when they may
 * @param words why not, in one sentence; empty when they may
 * @param who logins of people who can do it, or who can change that it cannot be done
 * @param next what to do about it; none where the words say it all
 */
public record May(@Nullable Why why, String words, List<String> who, List<String> next) {
  public static final May YES = new May(null, "", List.of(), List.of());

  /** Most people that are named (guess: more are no help). */
  private static final int MOST = 20;

  public May {
    who = who.stream().sorted().limit(MOST).toList();
    next = List.copyOf(next);
  }

  /** Why an act cannot be done; codes for machines. */
  public enum Why {
    /** The person lacks the right at that place. */
    RIGHT,
    /** The person does not hold the role that it is asked of. */
    ROLE,
    /** The thing is not in a state in which this is done. */
    STATE,
    /** It is the person's own work, and somebody else answers for it. */
    OWN,
    /** The person said so already. */
    SAID_ALREADY,
    /** There is nothing of the person's to take back, or nothing was asked. */
    NOTHING_SAID,
    /** It is done with its release. */
    IN_RELEASE,
    /** It is not offered there. */
    NOT_OFFERED,
    /** A gate is closed. */
    GATES,
    /** The run is past its point of no return. */
    NO_RETURN;

    public String code() {
      return name().toLowerCase(java.util.Locale.ROOT).replace('_', '-');
    }
  }

  public boolean allowed() {
    return why == null;
  }

  /** The refusal of what the person lacks, or must leave to somebody else. */
  public Problem refused() {
    List<String> ask = who.isEmpty() ? List.of() : List.of("Ask one of: " + String.join(", ", who));
    return new Problem(
        Problem.Reason.NOT_ALLOWED,
        why == Why.OWN ? "OWN_PROMOTION" : "NOT_ALLOWED",
        words,
        why == Why.RIGHT ? next : ask,
        null);
  }

  /** Every act, and whether it can be done. */
  static <D extends Enum<D>> Map<D, May> all(Class<D> deeds, Function<D, May> may) {
    Map<D, May> out = new EnumMap<>(deeds);
    for (D d : deeds.getEnumConstants()) {
      out.put(d, may.apply(d));
    }
    return out;
  }

  public static May no(Why why, String words, List<String> who) {
    return new May(why, words, who, List.of());
  }

  public static May no(Why why, String words) {
    return new May(why, words, List.of(), List.of());
  }

  /**
   * By right alone: it is the destination's that counts.
   *
   * @param everybody to say who has it
   */
  public static May byRight(
      Person by, Right right, String stage, String application, Collection<Person> everybody) {
    return by.may(right, stage, application)
        ? YES
        : new May(
            Why.RIGHT,
            lacks(by, right, stage, application),
            who(right, stage, application, everybody),
            List.of(grant(by, right, stage, application)));
  }

  /** Who has a right at a place. */
  public static List<String> who(
      Right right, String stage, String application, Collection<Person> everybody) {
    return everybody.stream()
        .filter(p -> p.may(right, stage, application))
        .map(Person::login)
        .sorted()
        .toList();
  }

  /** Whom to ask where it is the person's own work: those who have the right. */
  public static List<String> ask(
      Person by, Right right, String stage, String application, Collection<Person> everybody) {
    List<String> others =
        who(right, stage, application, everybody).stream()
            .filter(login -> !login.equals(by.login()))
            .toList();
    return List.of(
        others.isEmpty()
            ? "Nobody else has the right \"" + right.code() + "\" there: grant it to somebody"
            : "Ask one of: " + String.join(", ", others));
  }

  /** The sentence about a right that a person lacks. */
  public static String lacks(Person by, Right right, String stage, String application) {
    return by.login()
        + " lacks the right \""
        + right.code()
        + "\""
        + place(" at ", stage, "every stage")
        + place(" for ", application, "every application")
        + ".";
  }

  /** What an administrator says to give a right that is missing. */
  public static String grant(Person by, Right right, String stage, String application) {
    return "Ask an administrator: plenzo role grant "
        + by.login()
        + " "
        + right.code()
        + option(" --stage ", stage, "STAGE")
        + option(" --app ", application, "APPLICATION");
  }

  /** What is left out stands for every one. */
  private static String option(String name, String asked, String any) {
    return asked.equals(Person.EVERY) ? "" : name + (asked.equals(Person.ANY) ? any : asked);
  }

  private static String place(String before, String asked, String every) {
    return asked.equals(Person.ANY) ? "" : before + (asked.equals(Person.EVERY) ? every : asked);
  }

  /** The first that says no; yes when all say yes. */
  @SafeVarargs
  static May first(Supplier<May>... asked) {
    for (Supplier<May> s : asked) {
      May m = s.get();
      if (!m.allowed()) {
        return m;
      }
    }
    return YES;
  }
}
