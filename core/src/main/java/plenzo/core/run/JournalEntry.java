package plenzo.core.run;

import java.time.Instant;
import java.util.Locale;
import org.jspecify.annotations.Nullable;
import plenzo.core.target.TargetId;
import plenzo.core.words.Codes;

/**
 * An intent before an act outside, or its outcome after. An intent without outcome means unknown:
 * the target is asked, never guessed.
 *
 * @param attempt from 1
 * @param target null for a decision about the whole run
 * @param outcome null for an intent
 * @param session process id and start time of the database session, so that settling can end it
 * @param text for people; nothing reads it
 */
public record JournalEntry(
    long sequence,
    long run,
    Deed deed,
    int attempt,
    Type type,
    @Nullable TargetId target,
    @Nullable Outcome outcome,
    @Nullable String session,
    String text,
    Instant at) {
  public JournalEntry {
    if ((type == Type.OUTCOME) != (outcome != null)) {
      throw new IllegalArgumentException("An outcome, and only that, says how it ended: " + text);
    }
  }

  /** Intent or outcome. */
  public enum Type {
    INTENT,
    OUTCOME
  }

  /** What is done outside. */
  public enum Deed {
    PROVE,
    PREPARE,
    /** People are told that they will be kept out. */
    ANNOUNCE,
    CLOSE,
    SWITCH,
    UNDO,
    OPEN,
    /** What was decided from the targets' answers. */
    SETTLE;

    public String code() {
      return name().toLowerCase(Locale.ROOT);
    }

    public static Deed of(String code) {
      return Codes.find("a deed of a run", values(), Deed::code, code);
    }
  }

  /** How a deed ended. */
  public enum Outcome {
    /** A backup was restored and compared. */
    RESTORED,
    PREPARED,
    /** People are told. */
    TOLD,
    /** Users are kept out. */
    CLOSED,
    /** The switch is there and final. */
    APPLIED,
    /** The target refused and changed nothing. */
    REFUSED,
    /** It did not happen and never can. */
    VOID,
    /** Switched back. */
    UNDONE,
    /** Users are let in. */
    OPENED,
    /** Decided: no target has it. */
    NOTHING,
    /** Decided: every target has it. */
    ALL,
    /** Decided: those that have it are switched back. */
    BACK,
    /** Decided: the site is half written. */
    HALF;

    public String code() {
      return name().toLowerCase(Locale.ROOT);
    }

    public static Outcome of(String code) {
      return Codes.find("an outcome of a deed", values(), Outcome::code, code);
    }
  }

  boolean is(Deed wanted, TargetId at) {
    return deed == wanted && at.equals(target);
  }
}
