package plenzo.core.proposal;

import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;
import plenzo.core.may.May;
import plenzo.core.person.Person;
import plenzo.core.person.Right;

/**
 * A change of what guards production: of gates, paths, stages, roles or rights. It waits for a
 * second person, and nothing is changed before they agree; where nobody else administers, it is
 * made at once and stands here all the same.
 *
 * @param number shown as "CH-3"
 * @param stages stages of production that it is about
 * @param places where a second person must administer
 * @param words what it changes, from what to what
 * @param by who asked for it
 * @param second who agreed or declined; null while nobody did
 * @param note what they said
 */
public record Proposal(
    long number,
    Proposed change,
    Set<String> stages,
    List<Place> places,
    String words,
    String by,
    Instant at,
    State state,
    @Nullable String second,
    @Nullable Instant decidedAt,
    String note,
    int revision) {
  /** Longest note in characters. */
  public static final int LONGEST_NOTE = 2000;

  public Proposal {
    stages = java.util.Collections.unmodifiableSet(new TreeSet<>(stages));
    places = List.copyOf(places);
  }

  /** What became of it. */
  public enum State {
    /** It waits: nothing is changed. */
    OPEN("waits for a second person"),
    /** A second person agreed, and it was made. */
    AGREED("made by two"),
    /** It was made at once: nobody else administered. */
    ALONE("made by one: nobody else administered"),
    /** A second person said no. */
    DECLINED("declined"),
    /** Who asked for it took it back. */
    WITHDRAWN("withdrawn"),
    /** What it was about moved before anybody agreed; it can never be made. */
    OVERTAKEN("overtaken: it moved meanwhile");

    private final String words;

    State(String words) {
      this.words = words;
    }

    public String words() {
      return words;
    }

    public String code() {
      return name().toLowerCase(Locale.ROOT);
    }

    /** Whether what was asked for is so now, as far as this change is concerned. */
    public boolean made() {
      return this == AGREED || this == ALONE;
    }
  }

  /** A stage and an application; "*" means every one. */
  public record Place(String stage, String application) {
    public static final Place EVERYWHERE = new Place(Person.EVERY, Person.EVERY);

    /** Whether a person administers there. */
    public boolean administeredBy(Person p) {
      return p.may(Right.ADMINISTER, stage, application);
    }
  }

  public String shown() {
    return "CH-" + number;
  }

  public boolean open() {
    return state == State.OPEN;
  }

  /** Logins of everybody else who administers where it is about. */
  public static List<String> seconds(String by, List<Place> places, List<Person> everybody) {
    return everybody.stream()
        .filter(p -> !p.login().equals(by))
        .filter(p -> places.stream().allMatch(place -> place.administeredBy(p)))
        .map(Person::login)
        .sorted()
        .toList();
  }

  /** Whether a person may agree or decline now. */
  public May mayDecide(Person who, List<Person> everybody) {
    for (Place place : places) {
      May administers =
          May.byRight(who, Right.ADMINISTER, place.stage(), place.application(), everybody);
      if (!administers.allowed()) {
        return administers;
      }
    }
    if (!open()) {
      return May.no(May.Why.STATE, shown() + " is " + state.words() + ".");
    }
    return who.login().equals(by)
        ? May.no(
            May.Why.OWN,
            "Who asked for " + shown() + " is not its second person.",
            seconds(by, places, everybody))
        : May.YES;
  }

  /**
   * Whether it still says something to who decides about a promotion.
   *
   * @param path key of the path by which it goes
   * @param prepared when it was
   */
  public boolean concerns(String stage, String application, String path, Instant prepared) {
    boolean about =
        switch (change.sort()) {
          case NEW_PATH, PATH -> change.subject().equals(path);
          case APPLICATION -> change.subject().equals(application);
          case STAGE -> change.subject().equals(stage);
          case ROLE, PERSON -> true;
          case BLANK -> false;
          case RIGHTS ->
              places.stream()
                  .anyMatch(
                      p ->
                          (p.stage().equals(Person.EVERY) || p.stage().equals(stage))
                              && (p.application().equals(Person.EVERY)
                                  || p.application().equals(application)));
        };
    return about
        && stages.contains(stage)
        && (open() || state.made() && decidedAt != null && !decidedAt.isBefore(prepared));
  }

  /** The same, decided. */
  public Proposal decided(State next, @Nullable String who, Instant when, String said) {
    return new Proposal(
        number, change, stages, places, words, by, at, next, who, when, said, revision);
  }
}
