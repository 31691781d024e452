package plenzo.core.gate;

import java.util.Optional;
import org.jspecify.annotations.Nullable;
import plenzo.core.digest.Digest;
import plenzo.core.person.Right;
import plenzo.core.plan.Plan;
import plenzo.core.plan.Plan.Condition;
import plenzo.core.promotion.OutsideAnswer;
import plenzo.core.promotion.Promotion;
import plenzo.core.stage.OutsideYes;

/** Somebody outside said yes to exactly this plan, over the network. */
public record SaidOutside(OutsideYes asked, @Nullable OutsideAnswer answer, boolean ofThisPlan)
    implements Gate {
  static final String CODE = "outside";

  static final Judge JUDGE =
      new Judge() {
        private @Nullable OutsideYes asks(GateCase c) {
          return c.promotion().brings() ? c.leg().outside() : null;
        }

        @Override
        public Optional<Condition> inForce(GateCase c) {
          OutsideYes asked = asks(c);
          return asked == null
              ? Optional.empty()
              : Optional.of(
                  new Condition(
                      CODE + ":" + Digest.of(asked.name() + "\n" + asked.address()).hex(),
                      asked.words()));
        }

        @Override
        public Optional<Gate> open(GateCase c) {
          OutsideYes asked = asks(c);
          if (asked == null) {
            return Optional.empty();
          }
          OutsideAnswer answer = c.promotion().outside();
          boolean ofThis = ofThisPlan(asked, c.promotion());
          return ofThis && answer != null && answer.yes()
              ? Optional.empty()
              : Optional.of(new SaidOutside(asked, answer, ofThis));
        }
      };

  /** Whether what was said last is about the plan as it is now, by who is asked now. */
  public static boolean ofThisPlan(OutsideYes asked, Promotion p) {
    OutsideAnswer answer = p.outside();
    Plan plan = p.plan();
    return answer != null
        && plan != null
        && answer.address().equals(asked.address())
        && answer.fingerprint().equals(plan.fingerprint().digest().hex());
  }

  @Override
  public String code() {
    return CODE;
  }

  @Override
  public String words() {
    return answer == null
        ? asked.name() + " was not asked"
        : ofThisPlan
            ? asked.name() + " said no: " + answer.said()
            : asked.name() + " was asked about another plan than this one";
  }

  @Override
  public Right mover() {
    return Right.PREPARE;
  }
}
