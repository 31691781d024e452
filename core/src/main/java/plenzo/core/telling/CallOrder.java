package plenzo.core.telling;

import java.util.List;

/** Who is called when something is wrong at a stage, one after the other. */
public record CallOrder(String stage, List<Callee> callees, int revision) {
  /** Longest list (guess). */
  public static final int MOST = 20;

  /**
   * One of them.
   *
   * @param how to reach them, in words: "+47 555 0142"; people read it
   * @param minutes that are left to them before the next is called
   */
  public record Callee(String login, String how, int minutes) {
    public Callee {
      how = how.strip();
      if (minutes < 1 || minutes > 24 * 60) {
        throw new IllegalArgumentException("From 1 to 1440 minutes are left; got " + minutes);
      }
      if (how.length() > 200) {
        throw new IllegalArgumentException("How somebody is reached has at most 200 letters");
      }
    }
  }

  public CallOrder {
    callees = List.copyOf(callees);
    if (callees.size() > MOST) {
      throw new IllegalArgumentException("At most " + MOST + " people are called");
    }
    if (callees.stream().map(Callee::login).distinct().count() < callees.size()) {
      throw new IllegalArgumentException("Each is called once");
    }
  }

  public static CallOrder none(String stage) {
    return new CallOrder(stage, List.of(), 0);
  }
}
