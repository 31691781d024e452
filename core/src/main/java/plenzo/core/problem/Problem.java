package plenzo.core.problem;

import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * A refusal told to the caller: what failed, why and what to do next. Nothing was changed when it
 * is thrown, unless the message says so.
 */
public final class Problem extends RuntimeException {
  /** What the caller may do about it; every reason maps to one HTTP status and one exit code. */
  public enum Reason {
    /** The request itself is wrong; correct it. */
    INVALID,
    /** Nobody is signed in. */
    NOT_SIGNED_IN,
    /** The person lacks a right. */
    NOT_ALLOWED,
    /** No such thing, or not visible to the person. */
    NOT_FOUND,
    /** Something moved since it was read; look again. */
    CHANGED,
    /** A gate or a rule stops it. */
    STOPPED,
    /** A dangerous act lacks its confirmation. */
    NEEDS_CONFIRMATION,
    /** The other system cannot be asked now. */
    NOT_REACHABLE,
    /** Something stored or received is not intact. */
    NOT_INTACT
  }

  private final Reason reason;
  private final String code;
  private final List<String> next;
  private final @Nullable String field;

  public Problem(
      Reason reason, String code, String message, List<String> next, @Nullable String field) {
    super(message);
    this.reason = reason;
    this.code = code;
    this.next = List.copyOf(next);
    this.field = field;
  }

  public static Problem invalid(String code, String message, @Nullable String field) {
    return new Problem(Reason.INVALID, code, message, List.of(), field);
  }

  public static Problem notFound(String what, String name) {
    return new Problem(
        Reason.NOT_FOUND,
        "NOT_FOUND",
        "There is no " + what + " \"" + name + "\" that you may see.",
        List.of(),
        null);
  }

  public static Problem stopped(String code, String message, String... next) {
    return new Problem(Reason.STOPPED, code, message, List.of(next), null);
  }

  public static Problem changed(String code, String message, String... next) {
    return new Problem(Reason.CHANGED, code, message, List.of(next), null);
  }

  /**
   * A lost race on a record.
   *
   * @param what was changed, as people name it
   */
  public static Problem changedMeanwhile(String what) {
    return changed("CHANGED", "Somebody else changed " + what + " meanwhile.", "Look again");
  }

  /**
   * An edit is of what was looked at.
   *
   * @param seen the revision that was looked at, null when nobody looked
   * @throws Problem when it is another by now
   */
  public static void requireSeen(@Nullable Integer seen, int now, String what) {
    if (seen != null && seen != now) {
      throw changedMeanwhile(what);
    }
  }

  public Reason reason() {
    return reason;
  }

  public String code() {
    return code;
  }

  /** What to do next, most useful first; may be empty. */
  public List<String> next() {
    return next;
  }

  /** JSON pointer of the field that is wrong, when one is. */
  public @Nullable String field() {
    return field;
  }

  /** What failed and what to do next in one sentence, for where both are kept as one. */
  public String withNext() {
    return next.isEmpty()
        ? String.valueOf(getMessage())
        : getMessage() + " Next: " + String.join("; ", next);
  }
}
