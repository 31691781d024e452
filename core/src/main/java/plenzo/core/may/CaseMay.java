package plenzo.core.may;

import java.util.Collection;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import plenzo.core.gate.GateReport;
import plenzo.core.may.May.Why;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.promotion.Urgency;
import plenzo.core.stage.Apart.Duty;

/** What a person may do with a promotion or rollback as it stands. */
public final class CaseMay {
  private final Promotion p;
  private final Person by;
  private final GateReport gates;
  private final Duties duties;
  private final Collection<Person> everybody;

  /**
   * @param everybody to say who can, where the person cannot
   */
  public CaseMay(Duties duties, Person by, GateReport gates, Collection<Person> everybody) {
    this.duties = duties;
    this.p = duties.p();
    this.by = by;
    this.gates = gates;
    this.everybody = everybody;
  }

  /** The acts. */
  public enum Deed {
    APPROVE,
    REJECT,
    TAKE_BACK,
    ACCEPT_RISK,
    ASK,
    ANSWER,
    EMERGENCY,
    DECIDE,
    WITHDRAW,
    REHEARSE,
    ASK_OUTSIDE,
    RUN;

    public String code() {
      return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }
  }

  public Map<Deed, May> all() {
    return May.all(Deed.class, this::may);
  }

  /** Whether the act can be done now. */
  public May may(Deed deed) {
    return switch (deed) {
      case APPROVE -> May.first(this::openOrOwed, this::mayApprove, this::alone, this::fresh);
      case REJECT -> May.first(this::open, () -> right(Right.APPROVE), this::alone);
      case TAKE_BACK -> May.first(this::open, () -> right(Right.APPROVE), this::saidSomething);
      case ACCEPT_RISK -> May.first(this::open, () -> right(Right.APPROVE));
      case ASK -> May.first(this::open, () -> right(Right.APPROVE));
      case ANSWER -> May.first(this::open, () -> right(Right.PREPARE), this::asked);
      case EMERGENCY ->
          May.first(
              this::open, () -> right(Right.RUN), this::lets, this::runsAlone, this::declaredNot);
      case DECIDE -> May.first(this::open, () -> right(Right.PREPARE));
      case WITHDRAW -> May.first(this::withdrawable, () -> right(Right.PREPARE));
      case REHEARSE -> May.first(() -> right(Right.PREPARE), this::open, this::planned);
      case ASK_OUTSIDE -> May.first(() -> right(Right.PREPARE), this::open, this::asksOutside);
      case RUN -> May.first(this::runnable, this::mayRun, this::runsAlone);
    };
  }

  /**
   * Whether the person can bring it on now: say yes, accept a risk, put right what stands in the
   * way was said no to or asked, or start it. Nobody waits for somebody to judge or to test here.
   */
  public boolean waitsForYou() {
    if (p.state() == PromotionState.AGREED) {
      return mayRun().allowed();
    }
    if (p.state() == PromotionState.DONE) {
      return may(Deed.APPROVE).allowed();
    }
    if (p.state() != PromotionState.READY) {
      return false;
    }
    if (gates.passed()) {
      return mayRun().allowed();
    }
    if (gates.has(plenzo.core.gate.Blockers.class) || gates.has(plenzo.core.gate.Rejected.class)) {
      return right(Right.PREPARE).allowed();
    }
    if (gates.has(plenzo.core.gate.Unanswered.class) && right(Right.PREPARE).allowed()) {
      return true;
    }
    return (gates.has(plenzo.core.gate.Approvals.class) || gates.has(plenzo.core.gate.Risks.class))
        && may(Deed.APPROVE).why() != Why.OWN
        && right(Right.APPROVE).allowed()
        && fresh().allowed();
  }

  /** The right that starting it asks for. */
  public Right runRight() {
    return p.rollback() ? Right.GO_BACK : Right.RUN;
  }

  private May right(Right right) {
    return May.byRight(by, right, p.site().stage(), p.application(), everybody);
  }

  private May state() {
    String why = p.sentence() == null ? "." : ": " + p.sentence();
    return May.no(Why.STATE, p.shown() + " is " + p.state().code() + why);
  }

  private May open() {
    return p.state() == PromotionState.READY || p.state() == PromotionState.AGREED
        ? May.YES
        : state();
  }

  /** A yes that an emergency owes is said after its run. */
  private May openOrOwed() {
    Urgency said = p.urgency();
    boolean owed = p.state() == PromotionState.DONE && said != null && said.until() != null;
    return owed ? May.YES : open();
  }

  private May lets() {
    return duties.leg().emergency() != null && p.brings()
        ? May.YES
        : May.no(
            Why.NOT_OFFERED,
            p.brings()
                ? "The way to " + p.site().stage() + " lets no emergency pass anything."
                : "Only a version that comes can be an emergency; going back needs none.");
  }

  private May declaredNot() {
    Urgency said = p.urgency();
    return said != null && said.saidBy(by.login())
        ? May.no(Why.SAID_ALREADY, "You declared " + p.shown() + " an emergency already.")
        : May.YES;
  }

  private May mayApprove() {
    return dutiful(Right.APPROVE, Duty.APPROVER, "approves it");
  }

  private May mayRun() {
    return dutiful(runRight(), Duty.RUNNER, "starts its run");
  }

  /** The right, and nothing done before that keeps the person from it. */
  private May dutiful(Right right, Duty duty, String does) {
    May has = right(right);
    String kept = duties.keeps(by, right, duty).orElse(null);
    return !has.allowed() || kept == null
        ? has
        : May.no(
            Why.OWN,
            kept + ", so somebody else " + does + ".",
            whoElse(duties, right, duty, everybody));
  }

  /** Who may approve a promotion: the right at the destination, and no duty that keeps from it. */
  public static List<String> approvers(Duties duties, Collection<Person> everybody) {
    return whoElse(duties, Right.APPROVE, Duty.APPROVER, everybody);
  }

  private static List<String> whoElse(
      Duties duties, Right right, Duty duty, Collection<Person> everybody) {
    Promotion p = duties.p();
    return everybody.stream()
        .filter(x -> x.may(right, p.site().stage(), p.application()))
        .filter(x -> duties.keeps(x, right, duty).isEmpty())
        .map(Person::login)
        .sorted()
        .toList();
  }

  private May alone() {
    return together("is approved with it.");
  }

  private May runsAlone() {
    return together("runs with it.");
  }

  /** What belongs to a release, or goes in waves, is not acted on alone. */
  private May together(String does) {
    String group = p.goal().release();
    String with = p.waves() == null ? "the release " + group : group;
    return group == null
        ? May.YES
        : May.no(Why.IN_RELEASE, p.shown() + " belongs to " + with + " and " + does);
  }

  private May fresh() {
    return p.agreedBy(by.login())
        ? May.no(Why.SAID_ALREADY, "You approved this plan already.")
        : May.YES;
  }

  private May saidSomething() {
    return p.approvals().stream()
            .anyMatch(a -> a.by().equals(by.login()) && a.voidBecause() == null)
        ? May.YES
        : May.no(Why.NOTHING_SAID, "You said nothing about the present plan of " + p.shown() + ".");
  }

  private May asked() {
    return p.questions().isEmpty()
        ? May.no(Why.NOTHING_SAID, "Nobody asked anything about " + p.shown() + ".")
        : May.YES;
  }

  private May planned() {
    return p.valuesOnly()
        ? May.no(Why.NOT_OFFERED, "Values alone are not rehearsed: a copy is given none of them.")
        : May.YES;
  }

  private May asksOutside() {
    return p.brings() && duties.leg().outside() != null
        ? May.YES
        : May.no(Why.NOT_OFFERED, "The way to " + p.site().stage() + " asks nobody outside.");
  }

  private May withdrawable() {
    return p.state().leadsTo(PromotionState.WITHDRAWN) ? May.YES : state();
  }

  private May runnable() {
    boolean stands = p.state() == PromotionState.READY || p.state() == PromotionState.AGREED;
    // a gate that waits for time opens while nobody looks
    if (stands && gates.passed()) {
      return May.YES;
    }
    return stands
        ? May.no(
            Why.GATES,
            p.shown() + " waits: " + gates.words() + ".",
            gates.open().stream()
                .flatMap(
                    g -> May.who(g.mover(), p.site().stage(), p.application(), everybody).stream())
                .distinct()
                .toList())
        : state();
  }
}
