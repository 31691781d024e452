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
 * @param letIn who let users in although an answer is not as it should be; null when nobody did
 * @param endsHere whether it ends with users out, to be gone back from
 */
public record Course(
    @Nullable Pause pause,
    List<Charge> charges,
    List<String> looks,
    @Nullable LetIn letIn,
    boolean endsHere) {
  public static final Course NONE = new Course(null, List.of(), List.of(), null, false);

  public Course {
    charges = List.copyOf(charges);
    looks = List.copyOf(looks);
  }

  /** What a paused run waits for. */
  public enum Why {
    /** The word about work by hand. */
    BY_HAND,
    /** A word about answers that are not as they should be. */
    ANSWERS,
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

  /** A person's word that users come in all the same. */
  public record LetIn(String by, Instant at, String reason) {}

  Course paused(@Nullable Pause now) {
    return new Course(now, charges, looks, letIn, endsHere);
  }

  Course letIn(LetIn by) {
    return new Course(pause, charges, looks, by, endsHere);
  }

  Course endingHere() {
    return new Course(pause, charges, looks, letIn, true);
  }

  /** Whether it is decided what becomes of its answers, so that they are not asked again. */
  public boolean answersSettled() {
    return letIn != null || endsHere;
  }

  Course taken(Charge by) {
    List<Charge> all = new ArrayList<>(charges);
    all.add(by);
    return new Course(pause, all, looks, letIn, endsHere);
  }

  Course withLooks(List<String> all) {
    return new Course(pause, charges, all, letIn, endsHere);
  }
}
