package plenzo.core.run;

import java.util.List;
import java.util.Objects;
import plenzo.core.run.JournalEntry.Deed;
import plenzo.core.run.JournalEntry.Outcome;
import plenzo.core.run.JournalEntry.Type;
import plenzo.core.target.TargetId;

/**
 * Everything that one run journaled.
 *
 * @param entries oldest first
 */
public record Journal(List<JournalEntry> entries) {
  public Journal {
    entries = List.copyOf(entries);
  }

  /** Every try to switch the target, oldest first. */
  public List<JournalEntry> tries(TargetId target) {
    return entries.stream()
        .filter(j -> j.is(Deed.SWITCH, target) && j.type() == Type.INTENT)
        .toList();
  }

  /** Whether the target is known to have been switched back after its last switch. */
  public boolean undone(TargetId target) {
    return entries.stream()
        .filter(
            j ->
                j.is(Deed.UNDO, target) && j.outcome() == Outcome.UNDONE
                    || j.is(Deed.SWITCH, target) && j.outcome() == Outcome.APPLIED)
        .reduce((a, b) -> b)
        .filter(j -> j.outcome() == Outcome.UNDONE)
        .isPresent();
  }

  /** What a target holds after a run worked on it. */
  public enum Holds {
    /** What was there before. */
    OLD,
    NEW,
    /** A switch was sent, and the target has not said what became of it. */
    UNKNOWN;

    public String code() {
      return name().toLowerCase(java.util.Locale.ROOT);
    }
  }

  /** What the target holds, as far as it was journaled. */
  public Holds holds(TargetId target) {
    List<JournalEntry> tries = tries(target);
    if (tries.isEmpty() || undone(target)) {
      return Holds.OLD;
    }
    boolean undoing =
        entries.stream()
            .filter(j -> j.is(Deed.UNDO, target))
            .reduce((a, b) -> b)
            .filter(j -> j.type() == Type.INTENT)
            .isPresent();
    if (undoing) {
      return Holds.UNKNOWN;
    }
    boolean applied = false;
    for (JournalEntry one : tries) {
      List<Outcome> said =
          entries.stream()
              .filter(j -> j.is(Deed.SWITCH, target) && j.attempt() == one.attempt())
              .map(JournalEntry::outcome)
              .filter(Objects::nonNull)
              .toList();
      if (said.isEmpty()) {
        return Holds.UNKNOWN;
      }
      applied |= said.contains(Outcome.APPLIED);
    }
    return applied ? Holds.NEW : Holds.OLD;
  }

  /** The last try that is known to have been applied, else 1. */
  public int appliedTry(TargetId target) {
    return entries.stream()
        .filter(j -> j.is(Deed.SWITCH, target) && j.outcome() == Outcome.APPLIED)
        .mapToInt(JournalEntry::attempt)
        .max()
        .orElse(1);
  }

  /** Whether a target is known to have been switched, and not back since. */
  public boolean anyApplied() {
    return entries.stream()
        .filter(j -> j.deed() == Deed.SWITCH && j.outcome() == Outcome.APPLIED)
        .map(j -> Objects.requireNonNull(j.target()))
        .anyMatch(target -> !undone(target));
  }

  public boolean intended(Deed deed) {
    return entries.stream().anyMatch(j -> j.deed() == deed && j.type() == Type.INTENT);
  }

  /** Whether users were kept out somewhere, as far as is known, and not let in again. */
  public boolean closed() {
    return !closedTargets().isEmpty();
  }

  /** Targets that were closed, as far as is known, and not opened again; the first closed first. */
  public List<TargetId> closedTargets() {
    return entries.stream()
        .filter(j -> j.deed() == Deed.CLOSE && j.type() == Type.INTENT)
        .map(j -> Objects.requireNonNull(j.target()))
        .distinct()
        .filter(
            target ->
                entries.stream()
                    .noneMatch(j -> j.is(Deed.OPEN, target) && j.outcome() == Outcome.OPENED))
        .toList();
  }
}
