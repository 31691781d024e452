package plenzo.core.promotion;

import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import plenzo.core.words.Codes;

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

  /**
   * @throws IllegalArgumentException when no state has the code
   */
  public static PromotionState of(String code) {
    return Codes.find("a state of a promotion", values(), PromotionState::code, code);
  }

  /** Codes of the states in which a case is open. */
  public static List<String> openCodes() {
    return Arrays.stream(values()).filter(PromotionState::open).map(PromotionState::code).toList();
  }

  /** Whether a plan stands and nothing works on it. */
  public boolean stands() {
    return this == READY || this == AGREED;
  }

  /** Codes of the states in which a plan stands and nothing works on it. */
  public static List<String> standing() {
    return List.of(READY.code(), AGREED.code());
  }

  /** Codes of the states in which a plan is worked out, stands or runs. */
  public static List<String> underWay() {
    return List.of(PREPARING.code(), READY.code(), AGREED.code(), RUNNING.code());
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
