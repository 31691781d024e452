package plenzo.engine.proposing;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import plenzo.core.history.HistoryEntry;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.keeping.Kept;
import plenzo.core.keeping.Slice;
import plenzo.core.may.May;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.person.Sight;
import plenzo.core.problem.Problem;
import plenzo.core.proposal.Proposal;
import plenzo.core.proposal.Proposed;
import plenzo.core.stage.Application;
import plenzo.engine.Tools;
import plenzo.engine.people.Blanking;
import plenzo.engine.people.People;
import plenzo.engine.people.Rights;
import plenzo.engine.people.Roles;
import plenzo.engine.people.SecondPerson;
import plenzo.engine.people.SecondPerson.Agreed;
import plenzo.engine.setup.Applications;
import plenzo.engine.setup.Paths;
import plenzo.engine.setup.Stages;

/**
 * Changes of what guards production, from being asked for to what became of them. One that a second
 * person agrees to is made as its author asked for it, with the rights that its author has then.
 */
public final class Proposals {
  /**
   * How long two people of whom one gave the other a password say nothing to each other's changes
   * (guess: it was noticed by then that somebody else knew it).
   */
  private static final Duration OWN_AGAIN = Duration.ofDays(7);

  /** How many of the newest are looked through for what concerns a stage (guess). */
  private static final int LOOKED_AT = 500;

  private final Tools tools;
  private final People people;
  private final Blanking blanking;
  private final Roles roles;
  private final Stages stages;
  private final Paths paths;
  private final Applications applications;

  public Proposals(
      Tools tools,
      People people,
      Blanking blanking,
      Roles roles,
      Stages stages,
      Paths paths,
      Applications applications) {
    this.tools = tools;
    this.people = people;
    this.blanking = blanking;
    this.roles = roles;
    this.stages = stages;
    this.paths = paths;
    this.applications = applications;
  }

  /** For whoever administers anywhere. */
  public Slice<Proposal> list(Person by, Kept.Filter part) {
    Rights.require(by, Right.ADMINISTER, Person.ANY, Person.ANY);
    return tools.keeper().read(kept -> kept.proposals().slice(part, Sight.EVERYWHERE));
  }

  public Proposal get(Person by, long number) {
    Rights.require(by, Right.ADMINISTER, Person.ANY, Person.ANY);
    return there(number);
  }

  private Proposal there(long number) {
    return tools
        .keeper()
        .read(kept -> kept.proposals().find(String.valueOf(number)))
        .orElseThrow(() -> Problem.notFound("change", "CH-" + number));
  }

  /**
   * What of that which a promotion must pass waits, or was changed since then: the newest first.
   *
   * @param path key of the path by which it goes
   */
  public List<Proposal> concerning(String stage, String application, String path, Instant since) {
    return tools
        .keeper()
        .read(kept -> kept.proposals().list(Kept.Filter.all().most(LOOKED_AT)))
        .stream()
        .filter(p -> p.concerns(stage, application, path, since))
        .toList();
  }

  /** Logins of those who may agree to it, while it waits. */
  public List<String> seconds(Proposal p) {
    return p.open() ? Proposal.seconds(p.by(), p.places(), tools.everybody()) : List.of();
  }

  /** Whether a person may agree to it or decline it. */
  public May mayDecide(Person by, Proposal p) {
    May may = p.mayDecide(by, tools.everybody());
    if (!may.allowed()) {
      return may;
    }
    return given(by, p)
        .map(
            at ->
                May.no(
                    May.Why.OWN,
                    "One of "
                        + p.by()
                        + " and "
                        + by.login()
                        + " gave the other a password on "
                        + at.toString().substring(0, 10)
                        + ", so that both may be one: they decide about each other's changes again after 7 days.",
                    Proposal.seconds(p.by(), p.places(), tools.everybody()).stream()
                        .filter(login -> !login.equals(by.login()))
                        .toList()))
        .orElse(may);
  }

  /** When one of both gave the other a password, where that is not long ago. */
  private Optional<Instant> given(Person second, Proposal p) {
    return given(p.by(), second.login()).or(() -> given(second.login(), p.by()));
  }

  private Optional<Instant> given(String by, String to) {
    Instant since = tools.now().minus(OWN_AGAIN);
    return tools.keeper().read(kept -> People.passwordsGiven(kept, by)).stream()
        .filter(e -> e.at().isAfter(since) && People.isOf(e, to))
        .map(HistoryEntry::at)
        .findFirst();
  }

  /** Whether a person may take it back: who asked for it, while it waits. */
  public boolean mayWithdraw(Person by, Proposal p) {
    return p.open() && p.by().equals(by.login());
  }

  /**
   * Agrees, which makes the change.
   *
   * @throws Problem when the person is not the second, or the change cannot be made any more:
   *     nothing is changed then
   */
  public Proposal agree(Person by, long number, String note) {
    Proposal p = get(by, number);
    require(by, p);
    Agreed agreed = new Agreed(number, by.login(), checked(note));
    Person author =
        tools
            .keeper()
            .read(kept -> kept.people().find(p.by()))
            .orElseThrow(() -> Problem.notFound("person", p.by()));
    try {
      make(author, p.change(), agreed);
    } catch (Problem moved) {
      if (moved.reason() == Problem.Reason.CHANGED) {
        close(p, Proposal.State.OVERTAKEN, by.login(), "change overtaken", moved.getMessage());
      }
      throw moved;
    }
    return there(number);
  }

  private void make(Person author, Proposed c, Agreed agreed) {
    switch (c.sort()) {
      case NEW_PATH -> paths.lay(author, part(c.path()), agreed);
      case PATH -> paths.change(author, part(c.path()), agreed);
      case STAGE -> stages.save(author, part(c.stage()), agreed);
      case ROLE ->
          roles.save(
              author,
              c.subject(),
              part(c.role()).name(),
              part(c.role()).rights(),
              c.revision(),
              agreed);
      case RIGHTS -> {
        Proposed.RightsOf rights = part(c.rights());
        List<Proposed.RoleAt> held = rights.roles();
        roles.grant(
            author,
            c.subject(),
            rights.grants(),
            held == null
                ? null
                : held.stream()
                    .map(r -> new Roles.Given(r.role(), r.stage(), r.application()))
                    .toList(),
            c.revision(),
            agreed);
      }
      case PERSON -> {
        Proposed.PersonIs is = part(c.person());
        people.change(
            author,
            c.subject(),
            new People.Facts(is.name(), is.disabled(), is.writesAs()),
            /* revision= */ null,
            agreed);
      }
      case BLANK -> blanking.blank(author, c.subject(), agreed);
      case APPLICATION -> {
        Application a = part(c.application());
        applications.change(
            author,
            a.key(),
            new Applications.Facts(
                a.name(),
                a.owner(),
                a.description(),
                a.support(),
                a.paths(),
                a.privateColumns(),
                a.probes(),
                a.furtherSchemas()),
            c.revision(),
            agreed);
      }
    }
  }

  private static <T> T part(@Nullable T of) {
    return Objects.requireNonNull(of, "A proposed change has the part of its sort");
  }

  private void require(Person by, Proposal p) {
    May may = mayDecide(by, p);
    if (may.why() == May.Why.STATE) {
      throw Problem.stopped("STATE", may.words(), "plenzo proposal list");
    }
    if (!may.allowed()) {
      throw may.refused();
    }
  }

  private static String checked(String note) {
    if (note.length() > Proposal.LONGEST_NOTE) {
      throw Problem.invalid(
          "NOTE", "A note has " + Proposal.LONGEST_NOTE + " characters at most.", "/note");
    }
    return note.strip();
  }

  /**
   * Says no, with the reason; nothing is changed.
   *
   * @throws Problem when there is no reason
   */
  public Proposal decline(Person by, long number, String note) {
    Proposal p = get(by, number);
    require(by, p);
    if (note.isBlank()) {
      throw Problem.invalid("NOTE", "Say why " + p.shown() + " is declined.", "/note");
    }
    return close(p, Proposal.State.DECLINED, by.login(), "change declined", checked(note));
  }

  /** Takes back what one asked for oneself. */
  public Proposal withdraw(Person by, long number, String note) {
    Proposal p = get(by, number);
    if (!p.by().equals(by.login())) {
      throw new Problem(
          Problem.Reason.NOT_ALLOWED,
          "NOT_ALLOWED",
          p.shown() + " is withdrawn by " + p.by() + " alone, who asked for it.",
          List.of("plenzo proposal decline " + p.shown() + " --note …"),
          null);
    }
    return close(p, Proposal.State.WITHDRAWN, null, "change withdrawn", checked(note));
  }

  private Proposal close(
      Proposal seen, Proposal.State to, @Nullable String second, String event, String note) {
    return tools
        .keeper()
        .write(
            kept -> {
              Proposal p = SecondPerson.requireOpen(kept, seen.number());
              Instant now = tools.now();
              kept.proposals().replace(p.decided(to, second, now, note));
              kept.note(
                  Event.of(
                      second == null ? p.by() : second,
                      event,
                      p.shown() + ", " + p.change().words() + (note.isBlank() ? "" : ": " + note)),
                  now);
              return kept.proposals().find(String.valueOf(p.number())).orElseThrow();
            });
  }
}
