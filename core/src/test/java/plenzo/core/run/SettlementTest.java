package plenzo.core.run;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import plenzo.core.run.JournalEntry.Deed;
import plenzo.core.run.JournalEntry.Outcome;
import plenzo.core.run.JournalEntry.Type;
import plenzo.core.run.Settlement.Answer;
import plenzo.core.run.Settlement.Planned;
import plenzo.core.target.TargetId;

/**
 * What follows from a journal and the answers, for every prefix of every journal of one to three
 * targets and every answer. What must follow is worked out here in another way: from which targets
 * hold the version, as a set.
 */
class SettlementTest {
  private static final List<TargetId> TARGETS =
      List.of(
          new TargetId("production/north/files"),
          new TargetId("production/north/host"),
          new TargetId("production/north/database"));

  private static JournalEntry entry(
      Deed deed, Type type, @Nullable TargetId target, @Nullable Outcome outcome) {
    return new JournalEntry(0, 1, deed, 1, type, target, outcome, null, "", Instant.EPOCH);
  }

  private static JournalEntry intent(Deed deed, TargetId target) {
    return entry(deed, Type.INTENT, target, null);
  }

  private static JournalEntry outcome(Deed deed, TargetId target, Outcome outcome) {
    return entry(deed, Type.OUTCOME, target, outcome);
  }

  /** The last of the targets is a database: it cannot be switched back. */
  private static List<Planned> planned(int targets) {
    return IntStream.range(0, targets)
        .mapToObj(i -> new Planned(TARGETS.get(i), !TARGETS.get(i).text().endsWith("database")))
        .toList();
  }

  /** Every journal that a run of so many targets can write, whole. */
  private static List<List<JournalEntry>> journals(int targets) {
    List<List<JournalEntry>> out = new ArrayList<>();
    for (int refused = 0; refused <= targets; refused++) {
      List<JournalEntry> j = new ArrayList<>();
      for (int i = 0; i < targets; i++) {
        j.add(intent(Deed.PREPARE, TARGETS.get(i)));
        j.add(outcome(Deed.PREPARE, TARGETS.get(i), Outcome.PREPARED));
      }
      for (int i = 0; i < Math.min(refused + 1, targets); i++) {
        j.add(intent(Deed.SWITCH, TARGETS.get(i)));
        boolean refuses = i == refused;
        j.add(outcome(Deed.SWITCH, TARGETS.get(i), refuses ? Outcome.REFUSED : Outcome.APPLIED));
      }
      if (refused < targets) {
        for (int i = refused - 1; i >= 0; i--) {
          j.add(intent(Deed.UNDO, TARGETS.get(i)));
          j.add(outcome(Deed.UNDO, TARGETS.get(i), Outcome.UNDONE));
        }
      }
      out.add(j);
    }
    return out;
  }

  private static List<Map<TargetId, Answer>> answers(List<TargetId> asked) {
    List<Map<TargetId, Answer>> out = new ArrayList<>(List.of(Map.of()));
    for (TargetId t : asked) {
      List<Map<TargetId, Answer>> next = new ArrayList<>();
      for (Map<TargetId, Answer> before : out) {
        for (Answer a : Answer.values()) {
          Map<TargetId, Answer> more = new HashMap<>(before);
          more.put(t, a);
          next.add(more);
        }
      }
      out = next;
    }
    return out;
  }

  @Test
  void followsFromEveryPrefixOfEveryJournalAndEveryAnswer() {
    int cases = 0;
    Set<Class<?>> seen = new HashSet<>();
    for (int n = 1; n <= 3; n++) {
      for (List<JournalEntry> whole : journals(n)) {
        for (int to = 0; to <= whole.size(); to++) {
          Journal journal = new Journal(whole.subList(0, to));
          List<Planned> planned = planned(n);
          for (Map<TargetId, Answer> answers : answers(Settlement.toAsk(planned, journal))) {
            Settlement is = Settlement.of(planned, journal, answers);
            assertThat(is)
                .as("%s, answers %s", journal, answers)
                .isEqualTo(must(n, journal, answers));
            seen.add(is.getClass());
            cases++;
          }
        }
      }
    }
    assertThat(seen).as("each decision occurs").hasSize(5);
    assertThat(cases).isGreaterThan(200);
  }

  /** From the set of targets that hold the version. */
  private static Settlement must(int n, Journal journal, Map<TargetId, Answer> answers) {
    List<TargetId> silent =
        TARGETS.stream().filter(t -> answers.get(t) == Answer.CANNOT_BE_ASKED).toList();
    if (!silent.isEmpty()) {
      return new Settlement.Unknown(silent);
    }
    List<TargetId> hold =
        TARGETS.stream().limit(n).filter(t -> answers.get(t) == Answer.APPLIED).toList();
    boolean wentBack = journal.entries().stream().anyMatch(j -> j.deed() == Deed.UNDO);
    if (hold.isEmpty()) {
      return new Settlement.Nothing(wentBack);
    }
    if (hold.size() == n) {
      return new Settlement.All();
    }
    List<TargetId> reverse = new ArrayList<>();
    hold.forEach(t -> reverse.add(0, t));
    return hold.contains(TARGETS.get(2))
        ? new Settlement.Half(reverse)
        : new Settlement.Back(reverse);
  }

  @Test
  void asksNobodyWhoWasNeverToldToSwitch() {
    Journal prepared = new Journal(List.of(intent(Deed.PREPARE, TARGETS.get(0))));

    assertThat(Settlement.toAsk(planned(3), prepared)).isEmpty();
    assertThat(Settlement.of(planned(3), prepared, Map.of()))
        .isEqualTo(new Settlement.Nothing(false));
  }

  @Test
  void anAnswerThatIsMissingIsNoAnswer() {
    Journal sent = new Journal(List.of(intent(Deed.SWITCH, TARGETS.get(0))));

    assertThat(Settlement.of(planned(1), sent, Map.of()))
        .isEqualTo(new Settlement.Unknown(List.of(TARGETS.get(0))));
  }

  @Test
  void asksAgainWhoWasSwitchedAfterItWasSwitchedBack() {
    TargetId t = TARGETS.get(0);
    Journal twice =
        new Journal(
            List.of(
                intent(Deed.SWITCH, t),
                outcome(Deed.SWITCH, t, Outcome.APPLIED),
                outcome(Deed.UNDO, t, Outcome.UNDONE),
                outcome(Deed.SWITCH, t, Outcome.APPLIED)));

    assertThat(twice.undone(t)).isFalse();
    assertThat(twice.anyApplied()).isTrue();
    assertThat(Settlement.toAsk(planned(1), twice)).containsExactly(t);
  }

  @Test
  void knowsThatMaintenanceIsOnUntilItWasEnded() {
    TargetId host = TARGETS.get(1);
    List<JournalEntry> j = new ArrayList<>();
    assertThat(new Journal(j).closed()).isFalse();
    j.add(intent(Deed.CLOSE, host));
    assertThat(new Journal(j).closed()).as("it may be on from here").isTrue();
    j.add(outcome(Deed.CLOSE, host, Outcome.CLOSED));
    j.add(intent(Deed.OPEN, host));
    assertThat(new Journal(j).closed()).as("not known to be off").isTrue();
    j.add(outcome(Deed.OPEN, host, Outcome.OPENED));
    assertThat(new Journal(j).closed()).isFalse();
  }
}
