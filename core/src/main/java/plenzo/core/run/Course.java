package plenzo.core.run;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import org.jspecify.annotations.Nullable;
import plenzo.core.words.Codes;

/**
 * How people steer a run.
 *
 * @param pause why nothing works on it now; null while something does
 * @param charges who took it over from whom, oldest first
 * @param looks what a person should look at when it has ended
 */
public record Course(@Nullable Pause pause, List<Charge> charges, List<String> looks) {
  public static final Course NONE = new Course(null, List.of(), List.of());

  public Course {
    charges = List.copyOf(charges);
    looks = List.copyOf(looks);
  }

  /** What a paused run waits for. */
  public enum Why {
    /** The word about work by hand. */
    BY_HAND,
    /** Whoever paused it, or another person. */
    PERSON;

    public String code() {
      return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    public static Why of(String code) {
      return Codes.find("a reason of a pause", values(), Why::code, code);
    }
  }

  /**
   * @param step that it stands before
   * @param by who paused it; "plenzo" where the plan asks for it
   */
  public record Pause(Why why, int step, String by, Instant since, String reason) {}

  /** One person taking a run over from another. */
  public record Charge(String from, String by, Instant at, String reason) {}

  Course paused(@Nullable Pause now) {
    return new Course(now, charges, looks);
  }

  Course taken(Charge by) {
    List<Charge> all = new ArrayList<>(charges);
    all.add(by);
    return new Course(pause, all, looks);
  }

  Course withLooks(List<String> all) {
    return new Course(pause, charges, all);
  }
}
