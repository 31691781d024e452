package plenzo.core.may;

import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.promotion.Promotion;
import plenzo.core.stage.Apart.Duty;
import plenzo.core.stage.Leg;
import plenzo.core.version.Written;

/**
 * Who did what about one promotion, and what that keeps them from (separation of duties).
 *
 * @param leg what the path asks at the destination
 * @param made who made the version: who sealed it, and the authors of what it took from a
 *     repository; nobody when it is not about a version that comes
 * @param runner login of who started its run; null before
 */
public record Duties(Promotion p, Leg leg, Written.Known made, @Nullable String runner) {
  /** What the person did that keeps them from this duty; empty when nothing does. */
  public Optional<Duty> against(String login, Duty wanted) {
    Set<Duty> apart = EnumSet.noneOf(Duty.class);
    // one person alone may always go back; who prepared it never approves it
    if (!p.rollback()) {
      apart.addAll(leg.apartFrom(wanted));
    }
    if (wanted == Duty.APPROVER) {
      apart.add(Duty.PREPARER);
    }
    return apart.stream().filter(d -> has(login, d)).findFirst();
  }

  /**
   * Of whom a person has a right that is not their own, those whom nothing that they did keeps from
   * the duty either: who stands in may do what the other might.
   */
  public List<String> free(Person by, Right right, Duty wanted) {
    return by.standsInFor(right, p.site().stage(), p.application()).stream()
        .filter(of -> against(of, wanted).isEmpty())
        .toList();
  }

  /** What keeps a person from a duty: their own acts, or those of all whom they stand in for. */
  public Optional<String> keeps(Person by, Right right, Duty wanted) {
    Optional<Duty> own = against(by.login(), wanted);
    if (own.isPresent()) {
      return own.map(this::words);
    }
    List<String> of = by.standsInFor(right, p.site().stage(), p.application());
    return of.isEmpty() || of.stream().anyMatch(x -> against(x, wanted).isEmpty())
        ? Optional.empty()
        : against(of.get(0), wanted)
            .map(did -> "You stand in for " + of.get(0) + ", who " + did(did));
  }

  private boolean has(String login, Duty duty) {
    return switch (duty) {
      case AUTHOR -> made.logins().contains(login);
      case PREPARER -> login.equals(p.preparedBy());
      case APPROVER -> p.agreedAs(login);
      case RUNNER -> login.equals(runner);
      case TESTER -> false;
    };
  }

  /** "You prepared P-7": why the person may not. */
  public String words(Duty did) {
    return "You " + did(did);
  }

  private String did(Duty did) {
    return switch (did) {
      case AUTHOR -> "sealed " + p.version() + " or wrote what is in it";
      case PREPARER -> "prepared " + p.shown();
      case APPROVER -> "approved " + p.shown();
      case RUNNER -> "started the run of " + p.shown();
      case TESTER -> "judged " + p.version();
    };
  }

  /**
   * Authors of whom nobody knows who they are, where authors do not approve: each may be one of
   * those who approve, so each asks for one approver more.
   */
  public List<String> strangers() {
    return leg.apartFrom(Duty.AUTHOR).contains(Duty.APPROVER) ? made.strangers() : List.of();
  }
}
