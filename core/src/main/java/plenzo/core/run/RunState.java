package plenzo.core.run;

import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Set;
import plenzo.core.words.Codes;

/** The states of a run, their stored codes and the one table of allowed moves. */
public enum RunState {
  QUEUED("queued"),
  RUNNING("running"),
  /** Waits for a person; nothing works on it, and a restart changes nothing. */
  PAUSED("paused"),
  DONE("done"),
  DONE_TO_LOOK_AT("done, n to look at"),
  STOPPED("stopped, nothing changed"),
  PUT_BACK("failed, all put back"),
  HALF_WRITTEN("half written");

  private static final Map<RunState, Set<RunState>> MOVES =
      Map.of(
          QUEUED, Set.of(RUNNING, STOPPED),
          RUNNING, Set.of(PAUSED, DONE, DONE_TO_LOOK_AT, STOPPED, PUT_BACK, HALF_WRITTEN),
          PAUSED, Set.of(RUNNING));

  private final String code;

  RunState(String code) {
    this.code = code;
  }

  public String code() {
    return code;
  }

  public boolean ended() {
    return !MOVES.containsKey(this);
  }

  /** True when the run changed the site as planned. */
  public boolean applied() {
    return this == DONE || this == DONE_TO_LOOK_AT;
  }

  public boolean mayBecome(RunState next) {
    return MOVES.getOrDefault(this, Set.of()).contains(next);
  }

  /** Codes of the states in which a run is waiting or at work. */
  public static List<String> openCodes() {
    return Arrays.stream(values()).filter(s -> !s.ended()).map(RunState::code).toList();
  }

  public static RunState of(String code) {
    return Codes.find("a state of a run", values(), RunState::code, code);
  }
}
