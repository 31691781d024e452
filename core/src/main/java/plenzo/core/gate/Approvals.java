package plenzo.core.gate;

import java.util.Optional;
import plenzo.core.person.Right;
import plenzo.core.plan.Plan.Condition;
import plenzo.core.promotion.Promotion;
import plenzo.core.words.Words;

/** Enough people who may approve, and who did not prepare it, said yes to exactly this plan. */
public record Approvals(int had, int needed) implements Gate {
  static final Judge JUDGE =
      new Judge() {
        @Override
        public Optional<Condition> inForce(GateCase c) {
          int needed = c.stage().approvals();
          return needed == 0
              ? Optional.empty()
              : Optional.of(
                  new Condition(
                      "approvals:" + needed,
                      Words.count(needed, "approval") + " by others than who prepared it"));
        }

        @Override
        public Optional<Gate> open(GateCase c) {
          if (c.agreedBefore() || Rejected.JUDGE.open(c).isPresent()) {
            return Optional.empty();
          }
          int had =
              (int)
                  c.promotion().approvals().stream()
                      .filter(a -> a.counts() && c.approvers().contains(a.by()))
                      .map(Promotion.Approval::by)
                      .distinct()
                      .count();
          int needed = c.stage().approvals();
          return had >= needed ? Optional.empty() : Optional.of(new Approvals(had, needed));
        }
      };

  @Override
  public String code() {
    return "approvals";
  }

  @Override
  public String words() {
    return "approval " + had + " of " + needed;
  }

  @Override
  public Right mover() {
    return Right.APPROVE;
  }
}
