package plenzo.engine.people;

import java.time.Instant;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.problem.Problem;
import plenzo.core.proposal.Proposal;
import plenzo.core.proposal.Proposed;
import plenzo.core.stage.Stage;
import plenzo.engine.Tools;

/**
 * What guards production is changed by two: whoever asks for it, and somebody else who administers
 * there. A change is made to its end in a transaction, so that what cannot be made is refused at
 * once, and taken back there when it must wait. Where nobody else administers it is made, and
 * stands among the changes as made by one.
 */
public final class SecondPerson {
  private static final String SERIES = "proposal";

  private final Tools tools;

  public SecondPerson(Tools tools) {
    this.tools = tools;
  }

  /**
   * The word of a second person.
   *
   * @param number of the proposal
   */
  public record Agreed(long number, String second, String note) {}

  /**
   * What a change came to.
   *
   * @param production stages of production that it is about; none need a second person for none
   * @param places where a second person must administer
   * @param words what it changed, from what to what
   */
  public record Made<T>(
      T result, Proposed asked, Set<String> production, List<Proposal.Place> places, String words) {
    /** One that guards no production. */
    public static <T> Made<T> free(T result, Proposed asked) {
      return new Made<>(result, asked, Set.of(), List.of(), "");
    }
  }

  /** Undoes the transaction of a change that must wait. */
  private static final class MustWait extends RuntimeException {
    private static final long serialVersionUID = 1L;
    private final transient Made<?> made;

    MustWait(Made<?> made) {
      super("Waits for a second person", null, false, false);
      this.made = made;
    }
  }

  /**
   * Makes a change, or lets it wait.
   *
   * @param agreed null when a person asks for it; else the second's word to what was asked before
   * @param work makes the change
   * @throws Problem when it waits: nothing is changed then, and the proposal stands
   */
  public <T> T change(Person by, @Nullable Agreed agreed, Function<Kept, Made<T>> work) {
    try {
      return tools
          .keeper()
          .write(
              kept -> {
                List<Person> before = kept.people().all();
                Made<T> made = work.apply(kept);
                settle(kept, by, agreed, made, before);
                return made.result();
              });
    } catch (MustWait wait) {
      throw waits(by, tools.keeper().write(kept -> proposed(kept, by, wait.made)));
    }
  }

  private void settle(
      Kept kept, Person by, @Nullable Agreed agreed, Made<?> made, List<Person> before) {
    Instant now = tools.now();
    if (agreed != null) {
      Proposal p = requireOpen(kept, agreed.number());
      kept.proposals()
          .replace(p.decided(Proposal.State.AGREED, agreed.second(), now, agreed.note()));
      kept.note(
          Event.of(
              agreed.second(),
              "change agreed",
              p.shown() + " of " + by.login() + ", " + p.change().words() + said(agreed.note())),
          now);
      return;
    }
    if (made.production().isEmpty()) {
      return;
    }
    if (!Proposal.seconds(by.login(), made.places(), before).isEmpty()) {
      throw new MustWait(made);
    }
    kept.proposals()
        .insert(proposal(kept, by, made, now).decided(Proposal.State.ALONE, null, now, ""));
  }

  /**
   * A proposal as it is now.
   *
   * @throws Problem when it waits no more
   */
  public static Proposal requireOpen(Kept kept, long number) {
    Proposal p = kept.proposals().find(String.valueOf(number)).orElseThrow();
    if (!p.open()) {
      throw Problem.stopped(
          "STATE", p.shown() + " is " + p.state().words() + ".", "plenzo proposal list");
    }
    return p;
  }

  static String said(String note) {
    return note.isBlank() ? "" : ": " + note;
  }

  private static Proposal proposal(Kept kept, Person by, Made<?> made, Instant now) {
    return new Proposal(
        kept.next(SERIES),
        made.asked(),
        made.production(),
        made.places(),
        made.words(),
        by.login(),
        now,
        Proposal.State.OPEN,
        null,
        null,
        "",
        0);
  }

  /** The same once more is the same proposal. */
  private Proposal proposed(Kept kept, Person by, Made<?> made) {
    return kept.proposals().list(Kept.Filter.state(Proposal.State.OPEN.code())).stream()
        .filter(p -> p.by().equals(by.login()) && p.change().equals(made.asked()))
        .findFirst()
        .orElseGet(
            () -> {
              Instant now = tools.now();
              Proposal p = proposal(kept, by, made, now);
              kept.proposals().insert(p);
              kept.note(
                  Event.of(
                      by.login(),
                      "change proposed",
                      p.shown() + ", " + p.change().words() + ": " + p.words()),
                  now);
              return p;
            });
  }

  private Problem waits(Person by, Proposal p) {
    String who = String.join(", ", Proposal.seconds(by.login(), p.places(), tools.everybody()));
    return Problem.stopped(
        "SECOND_PERSON",
        "What guards production is changed by two: this waits as "
            + p.shown()
            + ", and nothing is changed yet.",
        "Ask one of: " + who + ", who say: plenzo proposal agree " + p.shown());
  }

  /** Stages of production among those; "*" means every one. */
  public static Set<String> production(Kept kept, Set<String> stages) {
    return kept.stages().all().stream()
        .filter(Stage::production)
        .map(Stage::key)
        .filter(s -> stages.contains(Person.EVERY) || stages.contains(s))
        .collect(Collectors.toCollection(TreeSet::new));
  }
}
