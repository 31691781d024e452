package plenzo.core.promotion;

import java.util.Locale;
import java.util.Map;
import java.util.Set;

/** The states of a promotion and the one table of allowed moves. */
public enum PromotionState {
  PREPARING,
  READY,
  AGREED,
  RUNNING,
  DONE,
  FAILED,
  WITHDRAWN,
  OVERTAKEN;

  private static final Map<PromotionState, Set<PromotionState>> MOVES =
      Map.of(
          PREPARING, Set.of(READY, FAILED, WITHDRAWN),
          READY, Set.of(PREPARING, AGREED, WITHDRAWN, OVERTAKEN),
          AGREED, Set.of(PREPARING, READY, RUNNING, WITHDRAWN, OVERTAKEN),
          RUNNING, Set.of(DONE, FAILED, READY, PREPARING),
          FAILED, Set.of(PREPARING, WITHDRAWN));

  public String code() {
    return name().toLowerCase(Locale.ROOT);
  }

  /** Done, withdrawn and overtaken ones are closed; a failed one may be compared again. */
  public boolean open() {
    return MOVES.containsKey(this);
  }

  /** Whether a case file in this state may be kept with that one, also when nothing moves. */
  public boolean mayBecome(PromotionState next) {
    return this == next || leadsTo(next);
  }

  /** Whether there is a move to another state; none leads to where one is. */
  public boolean leadsTo(PromotionState next) {
    return MOVES.getOrDefault(this, Set.of()).contains(next);
  }
}
