package plenzo.engine.people;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import org.jspecify.annotations.Nullable;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Deputy;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.engine.Tools;

/** Who stands in for whom: named by the person, or by an administrator with a reason. */
public final class Deputies {
  /** How long one that is over is still listed; the history has it for ever. */
  private static final Duration LISTED = Duration.ofDays(30);

  private final Tools tools;

  public Deputies(Tools tools) {
    this.tools = tools;
  }

  /** One of them, and whose it is. */
  public record Named(String of, Deputy deputy) {}

  /** All that are listed, the newest first; everybody sees who stands in for whom. */
  public List<Named> list() {
    Instant since = tools.now().minus(LISTED);
    return tools.keeper().everybody().stream()
        .flatMap(p -> p.deputies().stream().map(d -> new Named(p.login(), d)))
        .filter(n -> n.deputy().until().isAfter(since))
        .sorted(Comparator.comparing((Named n) -> n.deputy().number()).reversed())
        .toList();
  }

  /** Whether a person names and ends deputies of another. */
  public boolean may(Person by, String of) {
    return by.login().equals(of) || by.may(Right.ADMINISTER, Person.EVERY, Person.EVERY);
  }

  /**
   * What is asked for.
   *
   * @param from null for now
   */
  public record Asked(
      String of,
      String deputy,
      String role,
      String stage,
      @Nullable Instant from,
      Instant until,
      String reason) {}

  /**
   * @throws Problem when somebody else's is named by who does not administer, or without a reason,
   *     and when there is nothing to stand in for
   */
  public Named name(Person by, Asked asked) {
    requireMay(by, asked.of());
    boolean own = by.login().equals(asked.of());
    if (!own && asked.reason().isBlank()) {
      throw Problem.invalid(
          "REASON", "Say why somebody stands in for " + asked.of() + ".", "/reason");
    }
    if (asked.deputy().equals(asked.of())) {
      throw Problem.invalid("DEPUTY", "Nobody stands in for themselves.", "/deputy");
    }
    return tools.keeper().write(kept -> named(kept, by, asked));
  }

  private void requireMay(Person by, String of) {
    if (!by.login().equals(of)) {
      Rights.require(by, Right.ADMINISTER, Person.EVERY, Person.EVERY);
    }
  }

  private Named named(Kept kept, Person by, Asked asked) {
    Person of = People.there(kept, asked.of());
    Person deputy = People.there(kept, asked.deputy());
    if (deputy.disabled()) {
      throw Problem.stopped("DISABLED", deputy.login() + " may not sign in.", "Name somebody else");
    }
    if (!asked.stage().equals(Person.EVERY)) {
      Rights.requireStage(kept, asked.stage(), "/stage");
    }
    Instant now = tools.now();
    Deputy made;
    try {
      made =
          new Deputy(
              kept.next("deputy"),
              asked.deputy(),
              asked.role(),
              asked.stage(),
              asked.from() == null ? now : asked.from(),
              asked.until(),
              by.login(),
              asked.reason());
    } catch (IllegalArgumentException e) {
      throw Problem.invalid("SPAN", e.getMessage() + ".", "/until");
    }
    if (made.over(now)) {
      throw Problem.invalid("SPAN", "That time is over.", "/until");
    }
    if (made.gives(of).isEmpty()) {
      throw Problem.stopped(
          "NOTHING_TO_STAND_IN_FOR",
          of.login()
              + (made.role().isEmpty()
                  ? " may approve and judge nothing"
                  : " does not hold the role " + made.role())
              + (made.stage().equals(Person.EVERY) ? "." : " at " + made.stage() + "."),
          "plenzo user show " + of.login());
    }
    List<Deputy> all = new ArrayList<>(of.deputies());
    all.removeIf(d -> d.until().isBefore(now.minus(LISTED)));
    all.add(made);
    kept.people().replace(of.withDeputies(all));
    kept.note(Event.of(by.login(), "deputy named", words(of.login(), made)), now);
    return new Named(of.login(), made);
  }

  private static String words(String of, Deputy d) {
    return d.shown()
        + ": "
        + d.login()
        + " stands in for "
        + of
        + (d.role().isEmpty() ? "" : " as " + d.role())
        + (d.stage().equals(Person.EVERY) ? "" : " at " + d.stage())
        + " from "
        + d.from()
        + " until "
        + d.until()
        + (d.reason().isBlank() ? "" : ": " + d.reason());
  }

  /** Ends one now; what was said by who stood in falls where it is still needed. */
  public Named end(Person by, long number) {
    Named found =
        list().stream()
            .filter(n -> n.deputy().number() == number)
            .findFirst()
            .orElseThrow(() -> Problem.notFound("deputy", "DP-" + number));
    requireMay(by, found.of());
    Instant now = tools.now();
    if (found.deputy().over(now)) {
      throw Problem.stopped("OVER", found.deputy().shown() + " is over.", "plenzo deputy list");
    }
    return tools
        .keeper()
        .write(
            kept -> {
              Person of = People.there(kept, found.of());
              List<Deputy> all = new ArrayList<>(of.deputies());
              all.removeIf(d -> d.number() == number);
              Deputy was = found.deputy();
              Named ended = found;
              if (was.from().isBefore(now)) {
                Deputy cut =
                    new Deputy(
                        number,
                        was.login(),
                        was.role(),
                        was.stage(),
                        was.from(),
                        now,
                        was.by(),
                        was.reason());
                all.add(cut);
                ended = new Named(found.of(), cut);
              }
              kept.people().replace(of.withDeputies(all));
              kept.note(
                  Event.of(
                      by.login(),
                      "deputy ended",
                      was.shown()
                          + ": "
                          + was.login()
                          + " stands in for "
                          + of.login()
                          + " no more"),
                  now);
              return ended;
            });
  }
}
