package plenzo.engine.people;

import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.history.Names;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.PromotionState;
import plenzo.core.proposal.Proposal;
import plenzo.core.proposal.Proposal.Place;
import plenzo.core.proposal.Proposed;
import plenzo.core.run.RunState;
import plenzo.core.version.Draft;
import plenzo.engine.Tools;
import plenzo.engine.people.SecondPerson.Agreed;
import plenzo.engine.people.SecondPerson.Made;

/**
 * Takes the names of somebody who left out of everything that Plenzo stores, on the word of two
 * administrators. What they did stays, as done by one and the same person whom nobody can name; the
 * chain of the history is as unbroken as before.
 */
public final class Blanking {
  /** Letters of a sign by which the person is told apart afterwards. */
  private static final int BRIEF = 8;

  private final Tools tools;
  private final SecondPerson second;

  public Blanking(Tools tools, SecondPerson second) {
    this.tools = tools;
    this.second = second;
  }

  /**
   * What it would come to.
   *
   * @param names that are known of the person
   * @param inTheWay why it cannot be done now; empty when it can
   * @param keeps what keeps the names all the same
   */
  public record Outlook(List<String> names, List<String> inTheWay, List<String> keeps) {}

  /** What it would come to; nothing is changed. */
  public Outlook outlook(Person by, String login) {
    Rights.require(by, Right.ADMINISTER, Person.EVERY, Person.EVERY);
    return tools
        .keeper()
        .read(
            kept -> {
              Person person = there(kept, login);
              List<String> names =
                  kept.names().of(login).stream().map(Names.Called::word).sorted().toList();
              return new Outlook(names, inTheWay(kept, by, person), keeps(kept, login));
            });
  }

  private static Person there(Kept kept, String login) {
    return kept.people().find(login).orElseThrow(() -> Problem.notFound("person", login));
  }

  private static List<String> inTheWay(Kept kept, Person by, Person person) {
    List<String> out = new ArrayList<>();
    String login = person.login();
    if (login.equals(by.login())) {
      out.add("Nobody blanks their own name.");
    }
    if (!person.disabled()) {
      out.add(login + " can sign in: plenzo user disable " + login + ".");
    }
    if (Proposal.seconds(by.login(), List.of(Place.EVERYWHERE), kept.people().all()).isEmpty()) {
      out.add("It takes two who administer everything, and there is one.");
    }
    kept.promotions().list(Kept.Filter.all().in(PromotionState.openCodes())).stream()
        .filter(
            p ->
                p.preparedBy().equals(login)
                    || p.approvals().stream().anyMatch(a -> a.by().equals(login)))
        .forEach(p -> out.add(p.shown() + " is open, and " + login + " has part in it."));
    kept.runs().list(Kept.Filter.all().in(RunState.openCodes())).stream()
        .filter(r -> r.inCharge().equals(login) || r.startedBy().equals(login))
        .forEach(r -> out.add(r.shown() + " has not ended, and is " + login + "'s."));
    kept.drafts().list(Kept.Filter.state(Draft.State.OPEN.code())).stream()
        .filter(d -> d.author().equals(login))
        .forEach(d -> out.add(d.id() + " is open, and is " + login + "'s."));
    kept.callOrders().all().stream()
        .filter(o -> o.callees().stream().anyMatch(c -> c.login().equals(login)))
        .forEach(o -> out.add(login + " is called when something is wrong at " + o.stage() + "."));
    return out;
  }

  private static List<String> keeps(Kept kept, String login) {
    List<String> out = new ArrayList<>();
    long packages =
        kept.parcels().all().stream()
            .filter(
                p ->
                    kept.versions()
                        .head(p.application() + "@" + p.number())
                        .filter(v -> v.author().equals(login))
                        .isPresent())
            .count();
    if (packages > 0) {
      out.add(
          packages
              + (packages == 1 ? " package names" : " packages name")
              + " them as author: it is signed");
    }
    out.add("What runs wrote into the targets: Plenzo's tables there, tables of hosts");
    out.add("Logs of runs, files that were saved, letters that were sent, copies of the records");
    out.add("Repositories, and whatever people wrote in words of their own");
    return out;
  }

  /**
   * Blanks them for good.
   *
   * @param agreed null when a person asks for it: it waits for a second one then
   * @throws Problem when it waits, or something is in the way: nothing is changed then
   */
  public Kept.Blanked blank(Person by, String login, @Nullable Agreed agreed) {
    Rights.require(by, Right.ADMINISTER, Person.EVERY, Person.EVERY);
    return second.change(by, agreed, kept -> made(kept, by, login));
  }

  private Made<Kept.Blanked> made(Kept kept, Person by, String login) {
    Person person = there(kept, login);
    List<String> why = inTheWay(kept, by, person);
    if (!why.isEmpty()) {
      throw Problem.stopped("IN_THE_WAY", String.join(" ", why));
    }
    String as = "person-" + sign(kept, login).substring(0, BRIEF);
    kept.accessKeys()
        .list(Kept.Filter.state(login))
        .forEach(k -> kept.accessKeys().remove(k.hash()));
    kept.followings().remove(login);
    kept.people().remove(login);
    Kept.Blanked blanked = kept.blank(login, as);
    kept.people().insert(nobody(as));
    kept.note(
        Event.of(
            by.login(),
            Names.BLANKED,
            as
                + ": "
                + blanked.entries()
                + " entries and "
                + blanked.records()
                + " records read otherwise now; "
                + blanked.unsigned()
                + " entries of before keep the name in the chain; signs "
                + String.join(", ", blanked.signs())),
        tools.now());
    return new Made<>(
        blanked,
        Proposed.blank(login),
        Set.of(Person.EVERY),
        List.of(Place.EVERYWHERE),
        "Every name of " + login + " is taken out of the history and the records, for good");
  }

  /** Somebody who can never sign in, so that what they did is one person's. */
  private static Person nobody(String as) {
    return Person.invited(as, as, "", /* mustChange= */ true).withDisabled(true);
  }

  private static String sign(Kept kept, String login) {
    return kept.names().of(login).stream()
        .filter(c -> c.word().equals(login))
        .map(Names.Called::id)
        .findFirst()
        .orElseThrow(() -> Problem.notFound("name", login));
  }
}
