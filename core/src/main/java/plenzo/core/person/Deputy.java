package plenzo.core.person;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import plenzo.core.person.Person.Held;

/**
 * Somebody who stands in for a person for a span.
 *
 * @param number shown as "DP-2"
 * @param login of who stands in
 * @param role key of the person's role that is stood in for; empty for what the person may approve
 *     and judge, however it was given
 * @param stage where; "*" for every stage
 * @param by who named them
 */
public record Deputy(
    long number,
    String login,
    String role,
    String stage,
    Instant from,
    Instant until,
    String by,
    String reason) {
  /** Longest span: a year and a day (guess: longer is another job). */
  private static final Duration LONGEST = Duration.ofDays(366);

  /** What standing in gives where no role is named. */
  private static final List<Right> WITHOUT_ROLE = List.of(Right.LOOK, Right.APPROVE, Right.JUDGE);

  public Deputy {
    if (!until.isAfter(from) || until.isAfter(from.plus(LONGEST))) {
      throw new IllegalArgumentException(
          "A deputy stands in from one time until a later one, 366 days at most");
    }
    if (reason.length() > 2000) {
      throw new IllegalArgumentException("A reason has 2000 characters at most");
    }
  }

  public String shown() {
    return "DP-" + number;
  }

  public boolean active(Instant now) {
    return !now.isBefore(from) && now.isBefore(until);
  }

  public boolean over(Instant now) {
    return !now.isBefore(until);
  }

  /** Everybody with what they may at a moment, standing in for others too. */
  public static List<Person> at(List<Person> everybody, Instant now) {
    if (everybody.stream().allMatch(p -> p.deputies().isEmpty())) {
      return everybody;
    }
    return everybody.stream().map(p -> standingIn(p, everybody, now)).toList();
  }

  private static Person standingIn(Person deputy, List<Person> everybody, Instant now) {
    List<Held> more = new ArrayList<>();
    for (Person of : everybody) {
      if (!of.disabled() && !of.login().equals(deputy.login())) {
        of.deputies().stream()
            .filter(d -> d.login().equals(deputy.login()) && d.active(now))
            .forEach(d -> more.addAll(d.gives(of)));
      }
    }
    if (more.isEmpty()) {
      return deputy;
    }
    more.addAll(0, deputy.roles());
    return deputy.withRoles(more);
  }

  /** What the person has now of what is stood in for; never the right to administer. */
  public List<Held> gives(Person of) {
    List<Held> out = new ArrayList<>();
    for (Held h : of.roles()) {
      if (role.isEmpty() || h.role().equals(role)) {
        add(out, of, h.role(), h.rights(), h.stage(), h.application());
      }
    }
    if (role.isEmpty()) {
      for (Person.Grant g : of.grants()) {
        add(out, of, "", List.of(g.right()), g.stage(), g.application());
      }
    }
    // to look alone is nothing to stand in for
    boolean something =
        out.stream().flatMap(h -> h.rights().stream()).anyMatch(r -> r != Right.LOOK);
    return something || !role.isEmpty() ? out : List.of();
  }

  private void add(
      List<Held> to,
      Person of,
      String held,
      List<Right> rights,
      String heldAt,
      String application) {
    String where =
        heldAt.equals(Person.EVERY) ? stage : stage.equals(Person.EVERY) ? heldAt : stage;
    if (!heldAt.equals(Person.EVERY) && !heldAt.equals(where)) {
      return;
    }
    List<Right> given =
        rights.stream()
            .filter(r -> r != Right.ADMINISTER)
            .filter(r -> !role.isEmpty() || WITHOUT_ROLE.contains(r))
            .toList();
    if (!given.isEmpty()) {
      to.add(new Held(held, given, where, application, of.login()));
    }
  }
}
