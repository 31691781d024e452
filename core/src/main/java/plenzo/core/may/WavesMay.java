package plenzo.core.may;

import java.util.Collection;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import plenzo.core.may.May.Why;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.promotion.Waves;
import plenzo.core.stage.Apart.Duty;

/** What a person may do with a version that goes to sites in waves. */
public final class WavesMay {
  private final Waves waves;
  private final List<Duties> parts;
  private final boolean compared;
  private final List<String> closed;
  private final Person by;
  private final Collection<Person> everybody;

  /**
   * @param parts with who did what about each
   * @param compared whether every part has a plan
   * @param closed what still stands in the way of starting, in words
   */
  public WavesMay(
      Waves waves,
      List<Duties> parts,
      boolean compared,
      List<String> closed,
      Person by,
      Collection<Person> everybody) {
    this.waves = waves;
    this.parts = List.copyOf(parts);
    this.compared = compared;
    this.closed = List.copyOf(closed);
    this.by = by;
    this.everybody = everybody;
  }

  /** The acts. */
  public enum Deed {
    APPROVE,
    START,
    GO_ON,
    LEAVE,
    WITHDRAW;

    public String code() {
      return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }
  }

  public Map<Deed, May> all() {
    return May.all(Deed.class, this::may);
  }

  public May may(Deed deed) {
    return switch (deed) {
      case APPROVE ->
          May.first(
              () -> right(Right.APPROVE), this::open, this::ready, this::notOwn, this::someLeft);
      case START ->
          May.first(
              () -> right(Right.RUN),
              this::open,
              this::ready,
              () -> Together.notApart(parts, by),
              () -> Together.passed(closed));
      case GO_ON -> May.first(() -> right(Right.RUN), this::waiting);
      case LEAVE -> May.first(() -> right(Right.RUN), this::notEnded);
      case WITHDRAW -> May.first(() -> right(Right.PREPARE), this::open);
    };
  }

  private May right(Right wanted) {
    return May.byRight(by, wanted, waves.stage(), waves.application(), everybody);
  }

  private May open() {
    return waves.state() == Waves.State.OPEN ? May.YES : is();
  }

  private May is() {
    return May.no(Why.STATE, waves.shown() + " is " + waves.state().code() + ".");
  }

  private May waiting() {
    return waves.state() == Waves.State.WAITING ? May.YES : is();
  }

  private May notEnded() {
    return waves.state().ended() ? is() : May.YES;
  }

  private May ready() {
    return compared ? May.YES : May.no(Why.STATE, waves.shown() + " is being compared.");
  }

  private May notOwn() {
    for (Duties d : parts) {
      Duty did = d.against(by.login(), Duty.APPROVER).orElse(null);
      if (did != null) {
        return May.no(
            Why.OWN,
            d.words(did) + ", so somebody else approves it.",
            CaseMay.approvers(d, everybody));
      }
    }
    return May.YES;
  }

  private May someLeft() {
    return parts.stream().allMatch(d -> d.p().agreedBy(by.login()))
        ? May.no(Why.SAID_ALREADY, "You approved every site's plan already.")
        : May.YES;
  }
}
