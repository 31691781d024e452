package plenzo.core.run;

import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import plenzo.core.run.JournalEntry.Deed;
import plenzo.core.run.JournalEntry.Outcome;
import plenzo.core.target.TargetId;

/**
 * What follows from a run's journal and the answers of its targets (rules B5 to B7). It reads
 * nothing else: neither today's set-up nor the clock.
 */
public sealed interface Settlement {
  /** What a target says of a run, in a way that makes it final. */
  enum Answer {
    APPLIED,
    VOID,
    CANNOT_BE_ASKED
  }

  /**
   * A target that the run's plan switches.
   *
   * @param undoable whether it can be switched back without loss
   */
  record Planned(TargetId target, boolean undoable) {}

  /** Nothing is decided: these cannot be asked now. */
  record Unknown(List<TargetId> targets) implements Settlement {
    public Unknown {
      targets = List.copyOf(targets);
    }

    @Override
    public <T> T match(
        Function<Unknown, T> unknown,
        Function<Nothing, T> nothing,
        Function<All, T> all,
        Function<Back, T> back,
        Function<Half, T> half) {
      return unknown.apply(this);
    }
  }

  /**
   * No target has it.
   *
   * @param putBack whether some had it and were switched back
   */
  record Nothing(boolean putBack) implements Settlement {
    @Override
    public <T> T match(
        Function<Unknown, T> unknown,
        Function<Nothing, T> nothing,
        Function<All, T> all,
        Function<Back, T> back,
        Function<Half, T> half) {
      return nothing.apply(this);
    }
  }

  /** Every target has it: the run goes on with its checks. */
  record All() implements Settlement {
    @Override
    public <T> T match(
        Function<Unknown, T> unknown,
        Function<Nothing, T> nothing,
        Function<All, T> all,
        Function<Back, T> back,
        Function<Half, T> half) {
      return all.apply(this);
    }
  }

  /**
   * These have it, others not, and they are switched back in this order, the last switched first.
   */
  record Back(List<TargetId> targets) implements Settlement {
    public Back {
      targets = List.copyOf(targets);
    }

    @Override
    public <T> T match(
        Function<Unknown, T> unknown,
        Function<Nothing, T> nothing,
        Function<All, T> all,
        Function<Back, T> back,
        Function<Half, T> half) {
      return back.apply(this);
    }
  }

  /** These have it, others not, and one of them cannot be switched back: a person decides. */
  record Half(List<TargetId> targets) implements Settlement {
    public Half {
      targets = List.copyOf(targets);
    }

    @Override
    public <T> T match(
        Function<Unknown, T> unknown,
        Function<Nothing, T> nothing,
        Function<All, T> all,
        Function<Back, T> back,
        Function<Half, T> half) {
      return half.apply(this);
    }
  }

  /** Another function for each case; a new case breaks every caller at compile time. */
  <T> T match(
      Function<Unknown, T> unknown,
      Function<Nothing, T> nothing,
      Function<All, T> all,
      Function<Back, T> back,
      Function<Half, T> half);

  /**
   * Which targets have to be asked: those that may have been switched and are not known to be back.
   */
  static List<TargetId> toAsk(List<Planned> planned, Journal journal) {
    return planned.stream()
        .map(Planned::target)
        .filter(t -> !journal.tries(t).isEmpty() && !journal.undone(t))
        .toList();
  }

  /**
   * @param planned in the order of the switches
   * @param answers of every target that {@link #toAsk} names; one that is missing cannot be asked
   */
  static Settlement of(List<Planned> planned, Journal journal, Map<TargetId, Answer> answers) {
    List<TargetId> applied = new ArrayList<>();
    List<TargetId> silent = new ArrayList<>();
    boolean undoable = true;
    List<TargetId> asked = toAsk(planned, journal);
    for (Planned p : planned) {
      if (!asked.contains(p.target())) {
        continue;
      }
      switch (answers.getOrDefault(p.target(), Answer.CANNOT_BE_ASKED)) {
        case APPLIED -> {
          applied.add(p.target());
          undoable &= p.undoable();
        }
        case VOID -> {}
        case CANNOT_BE_ASKED -> silent.add(p.target());
      }
    }
    if (!silent.isEmpty()) {
      return new Unknown(silent);
    }
    if (applied.isEmpty()) {
      return new Nothing(journal.intended(Deed.UNDO));
    }
    if (applied.size() == planned.size()) {
      return new All();
    }
    Collections.reverse(applied);
    return undoable ? new Back(applied) : new Half(applied);
  }

  /** How the decision is journaled. */
  default Outcome outcome() {
    return match(
        unknown -> {
          throw new IllegalStateException("Nothing was decided");
        },
        nothing -> Outcome.NOTHING,
        all -> Outcome.ALL,
        back -> Outcome.BACK,
        half -> Outcome.HALF);
  }
}
