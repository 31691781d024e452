package plenzo.core.may;

import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import plenzo.core.may.May.Why;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.Release;
import plenzo.core.stage.Apart.Duty;

/** What a person may do with a release at a site. */
public final class ReleaseMay {
  private final Release.Case at;
  private final List<Duties> members;
  private final boolean compared;
  private final List<String> closed;
  private final Person by;
  private final Collection<Person> everybody;

  /**
   * @param members with who did what about each
   * @param compared whether every member has a plan
   * @param closed what still stands in the way of starting, in words
   */
  public ReleaseMay(
      Release.Case at,
      List<Duties> members,
      boolean compared,
      List<String> closed,
      Person by,
      Collection<Person> everybody) {
    this.at = at;
    this.members = List.copyOf(members);
    this.compared = compared;
    this.closed = List.copyOf(closed);
    this.by = by;
    this.everybody = everybody;
  }

  /** The acts. */
  public enum Deed {
    APPROVE,
    START,
    WITHDRAW;

    public String code() {
      return name().toLowerCase(Locale.ROOT);
    }
  }

  public Map<Deed, May> all() {
    return May.all(Deed.class, this::may);
  }

  public May may(Deed deed) {
    return switch (deed) {
      case APPROVE -> May.first(this::open, this::ready, this::foreign, this::someLeft);
      case START ->
          May.first(
              this::open,
              this::ready,
              () -> everywhere(Right.RUN),
              () -> Together.notApart(members, by),
              () -> Together.passed(closed));
      case WITHDRAW -> May.first(this::open, () -> everywhere(Right.PREPARE));
    };
  }

  private May open() {
    return at.state() == Release.State.OPEN
        ? May.YES
        : May.no(Why.STATE, "It is " + at.state().code() + ".");
  }

  private May ready() {
    return compared ? May.YES : May.no(Why.STATE, "It is being compared.");
  }

  private May foreign() {
    return at.preparedBy().equals(by.login())
        ? May.no(Why.OWN, "You prepared it, so somebody else approves it.", approvers())
        : May.YES;
  }

  private List<String> approvers() {
    List<String> out = new ArrayList<>();
    members.forEach(d -> out.addAll(CaseMay.approvers(d, everybody)));
    return out.stream().distinct().toList();
  }

  private May someLeft() {
    List<Promotion> mine =
        members.stream()
            .filter(d -> d.against(by.login(), Duty.APPROVER).isEmpty())
            .map(Duties::p)
            .filter(p -> by.may(Right.APPROVE, at.site().stage(), p.application()))
            .toList();
    if (mine.isEmpty()) {
      return everywhere(Right.APPROVE);
    }
    return mine.stream().allMatch(p -> p.agreedBy(by.login()))
        ? May.no(Why.SAID_ALREADY, "You approved every member that you may approve.", approvers())
        : May.YES;
  }

  private May everywhere(Right right) {
    for (Duties d : members) {
      Promotion p = d.p();
      May may = May.byRight(by, right, at.site().stage(), p.application(), everybody);
      if (!may.allowed()) {
        return may;
      }
    }
    return May.YES;
  }
}
