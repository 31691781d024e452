package plenzo.core.target;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.time.Instant;
import java.util.List;
import java.util.function.BooleanSupplier;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import plenzo.core.history.Anchor;
import plenzo.core.target.Connector.Capability;

/**
 * What every connector promises of a target that it changes: the same rules for a database, a
 * directory, an application host, and the scripted ones of the engine's kit.
 */
public abstract class TargetContract {
  protected static final String OLD = "1.00";
  protected static final String NEW = "2.00";
  private static final String OURS = "a".repeat(64);
  private static final String ANOTHERS = "b".repeat(64);
  private static final Anchor ANCHOR = new Anchor(4711, "c".repeat(64));

  protected abstract Connector connector();

  protected abstract Access looking();

  protected abstract Access changing();

  /** What sets the one value of the target from what it is now. */
  protected abstract Delta to(String value);

  /** The one value, read from outside: not by the connector. */
  protected abstract String held();

  /** Writes the one value from outside, as somebody else does. */
  protected abstract void write(String value);

  protected static RunMark mark(long run) {
    return new RunMark(run, "switch", 1, "2.4.0", OURS, "ines", ANCHOR);
  }

  private Changing open() {
    Changing session = connector().change(changing());
    session.declare(
        new TargetIdentity("service", "test", "main", "test/main/it", Instant.EPOCH),
        looking().account());
    return session;
  }

  private void run(long number, Delta delta) {
    try (Changing session = open()) {
      session.claim();
      session.prepare(number, delta, new Passing());
      session.switchOver(mark(number), delta, new Passing());
      session.discard(number);
    }
  }

  private List<RunSeen> runs(int limit) {
    try (Looking look = connector().look(looking())) {
      return look.runs(limit);
    }
  }

  @Test
  @DisplayName("1 what was declared is who it says it is")
  void saysWhoItIs() {
    open().close();
    try (Looking look = connector().look(looking())) {
      assertThat(look.identity())
          .hasValueSatisfying(
              is -> {
                assertThat(is.target()).isEqualTo("test/main/it");
                assertThat(is.service()).isEqualTo("service");
              });
    }
  }

  @Test
  @DisplayName("2 nothing is seen of what is prepared, and it can be taken away repeatedly")
  void preparesOutOfSight() {
    Delta delta = to(NEW);
    try (Changing session = open()) {
      session.prepare(7, delta, new Passing());
      session.prepare(7, delta, new Passing());
      assertThat(held()).isEqualTo(OLD);
      session.discard(7);
      session.discard(7);
    }
    assertThat(held()).isEqualTo(OLD);
    assertThat(runs(10)).isEmpty();
  }

  @Test
  @DisplayName("3 a switch is there, is final, and is remembered with what it was told")
  void switchesAndRemembers() {
    run(7, to(NEW));

    assertThat(held()).isEqualTo(NEW);
    try (Changing session = open()) {
      assertThat(session.settle(mark(7), List.of())).isEqualTo(Settled.APPLIED);
      assertThat(session.settle(mark(7), List.of())).as("again").isEqualTo(Settled.APPLIED);
    }
    assertThat(runs(10)).containsExactly(new RunSeen(7, "2.4.0", OURS, ANCHOR));
  }

  @Test
  @DisplayName("4 after \"void\" the run can never be applied, however late it comes")
  void neverAppliesAfterVoid() {
    Delta delta = to(NEW);
    try (Changing session = open()) {
      session.prepare(7, delta, new Passing());
      assertThat(session.settle(mark(7), List.of())).isEqualTo(Settled.VOID);
      assertThatThrownBy(() -> session.switchOver(mark(7), delta, new Passing()))
          .isInstanceOf(SwitchRefused.class);
      assertThat(session.settle(mark(7), List.of())).as("again").isEqualTo(Settled.VOID);
    }
    assertThat(held()).isEqualTo(OLD);
    assertThat(runs(10)).isEmpty();
  }

  @Test
  @DisplayName("5 a run of that number with another plan is never this run's")
  void tellsAnothersRun() {
    run(7, to(NEW));
    RunMark other = new RunMark(7, "switch", 1, "2.4.0", ANOTHERS, "ines", ANCHOR);

    try (Changing session = open()) {
      assertThat(session.settle(other, List.of())).isEqualTo(Settled.ANOTHER);
      assertThat(session.settle(mark(7), List.of())).as("it stays").isEqualTo(Settled.APPLIED);
    }
    assertThat(held()).isEqualTo(NEW);
  }

  @Test
  @DisplayName("6 what moved since the plan was made stops the switch, and stays")
  void refusesWhatMoved() {
    Delta delta = to(NEW);
    try (Changing session = open()) {
      session.prepare(7, delta, new Passing());
      write("9.00");
      assertThatThrownBy(() -> session.switchOver(mark(7), delta, new Passing()))
          .isInstanceOfSatisfying(
              SwitchRefused.class,
              e -> {
                assertThat(e.why()).isEqualTo(SwitchRefused.Why.MOVED);
                assertThat(e.details()).isNotEmpty();
              });
      session.discard(7);
    }
    assertThat(held()).isEqualTo("9.00");
  }

  @Test
  @DisplayName("7 runs are told newest first, no more than asked for")
  void tellsRunsNewestFirst() {
    run(7, to(NEW));
    run(8, to("3.00"));
    run(12, to("4.00"));

    assertThat(runs(2)).extracting(RunSeen::run).containsExactly(12L, 8L);
    assertThat(runs(1)).extracting(RunSeen::run).containsExactly(12L);
  }

  @Test
  @DisplayName("8 the switch back brings back what was there, repeatedly")
  void switchesBack() {
    assumeTrue(connector().capabilities().contains(Capability.UNDO), "it cannot be switched back");
    Delta delta = to(NEW);
    try (ItemsChanging session = (ItemsChanging) open()) {
      session.prepare(7, delta, new Passing());
      session.switchOver(mark(7), delta, new Passing());
      session.undo(mark(7));
      session.undo(mark(7));
    }
    assertThat(held()).isEqualTo(OLD);
  }

  @Test
  @DisplayName("9 what was touched since is not switched back")
  void leavesWhatWasTouchedSince() {
    assumeTrue(connector().capabilities().contains(Capability.UNDO), "it cannot be switched back");
    Delta delta = to(NEW);
    try (ItemsChanging session = (ItemsChanging) open()) {
      session.prepare(7, delta, new Passing());
      session.switchOver(mark(7), delta, new Passing());
      write("9.00");
      assertThatThrownBy(() -> session.undo(mark(7))).isInstanceOf(SwitchRefused.class);
    }
    assertThat(held()).isEqualTo("9.00");
  }

  @Test
  @DisplayName("10 a person's wish to abort stops the switch, and nothing was changed")
  void obeysAnAbort() {
    Delta delta = to(NEW);
    try (Changing session = open()) {
      session.prepare(7, delta, new Passing());
      Passing aborting =
          new Passing() {
            @Override
            public void beforeCommit() {
              throw new SwitchRefused(SwitchRefused.Why.ABORTED, "aborted", List.of());
            }
          };
      assertThatThrownBy(() -> session.switchOver(mark(7), delta, aborting))
          .isInstanceOf(SwitchRefused.class);
      assertThat(session.settle(mark(7), List.of())).isEqualTo(Settled.VOID);
    }
    assertThat(held()).isEqualTo(OLD);
  }

  /** Lets everything pass. */
  public static class Passing implements Changing.Watch {
    @Override
    public void say(String line) {}

    @Override
    public void rows(long done) {}

    @Override
    public void beforeCommit() {}

    @Override
    public BooleanSupplier abortAsked() {
      return () -> false;
    }
  }
}
