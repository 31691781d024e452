package plenzo.engine.running;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.BooleanSupplier;
import org.jspecify.annotations.Nullable;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.plan.Plan;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.run.JournalEntry;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.run.RunStep;
import plenzo.core.stage.SiteRecord;
import plenzo.core.target.Changing;
import plenzo.core.target.Delta;
import plenzo.core.target.Looking;
import plenzo.core.target.Question;
import plenzo.core.target.RunMark;
import plenzo.core.target.SwitchRefused;
import plenzo.core.target.TargetFailed;
import plenzo.core.words.Words;
import plenzo.engine.Tools;
import plenzo.engine.backup.BackupFile;
import plenzo.engine.promoting.CaseWork;
import plenzo.engine.promoting.Promotions;
import plenzo.engine.setup.Targets;

/**
 * How a run goes, through crashes too. Before every act outside an INTENT is on the disk, after it
 * an OUTCOME. The point of no return is the sending of COMMIT. After any error or restart the
 * target is settled first, which makes its outcome final, and only then is anything decided.
 */
final class RunProtocol {
  private static final String SWITCH = "switch";
  private static final int LOCK_TRIES = 5;

  /** Room that must be left beside the backup (rules A). */
  private static final long ROOM = 256L << 20;

  private final Tools tools;
  private final Targets targets;
  private final CaseWork work;
  private final Promotions promotions;
  private final RunBook book;
  private final Proof proof;
  private final Map<Long, Changing> changing = new ConcurrentHashMap<>();

  RunProtocol(Tools tools, Targets targets, CaseWork work, Promotions promotions, RunBook book) {
    this.tools = tools;
    this.targets = targets;
    this.work = work;
    this.promotions = promotions;
    this.book = book;
    this.proof = new Proof(targets, book);
  }

  /** Stops the statement that a run is executing, when there is one. */
  void interrupt(long run) {
    Changing session = changing.get(run);
    if (session != null) {
      session.abort();
    }
  }

  /** A run that stops having changed nothing. */
  private static final class Stop extends RuntimeException {
    private final List<String> details;
    private final boolean aborted;

    Stop(String why, List<String> details, boolean aborted) {
      super(why);
      this.details = details;
      this.aborted = aborted;
    }
  }

  /** Carries a run from its first step to its end; never throws. */
  void execute(Run run) {
    long number = run.number();
    int step = 1;
    Targets.At at = targets.at(run.site());
    try (Watchdog dog =
        new Watchdog(
            tools,
            targets,
            at,
            () -> book.get(number).abortAsked(),
            line -> book.say(number, line))) {
      Promotion p = promotion(run);
      step = 1;
      CaseWork.Outcome out = lookAgain(run, p);
      if (!out.delta().isEmpty()) {
        backUp(run, at, out.delta());
        step = 3;
        prove(run, at);
        step = 4;
        switchOver(run, at, out.delta());
      } else {
        for (int left = 2; left <= 5; left++) {
          book.step(number, left, RunStep.State.LEFT_OUT, "Nothing to change");
        }
      }
      after(book.get(number));
    } catch (Stop e) {
      stopped(number, at, String.valueOf(e.getMessage()), e.details, e.aborted);
    } catch (TargetFailed | SwitchRefused | Problem e) {
      afterFailure(number, at, String.valueOf(e.getMessage()));
    } catch (RuntimeException e) {
      System.getLogger(RunProtocol.class.getName())
          .log(System.Logger.Level.ERROR, "R-" + number + " failed in or after step " + step, e);
      afterFailure(number, at, "Plenzo could not go on: " + e.getMessage());
    }
  }

  private Promotion promotion(Run run) {
    return tools
        .keeper()
        .read(kept -> kept.promotions().find(String.valueOf(run.promotion())))
        .orElseThrow();
  }

  private void begin(Run run, int step) {
    if (book.get(run.number()).abortAsked()) {
      throw new Stop("Aborted", List.of(), true);
    }
    book.step(run.number(), step, RunStep.State.RUNNING, null);
    book.say(run.number(), "Step " + step + ": " + run.steps().get(step - 1).name());
  }

  private void done(Run run, int step, String note) {
    book.step(run.number(), step, RunStep.State.DONE, note);
    book.say(run.number(), note);
  }

  private CaseWork.Outcome lookAgain(Run run, Promotion p) {
    begin(run, 1);
    CaseWork.Outcome out = work.work(p);
    if (!out.plan().fingerprint().digest().hex().equals(run.fingerprint())) {
      List<String> moved =
          p.comparison() == null
              ? List.of()
              : work.comparer().moved(p.comparison(), p.components(), out.compared(), 20);
      List<String> why =
          moved.isEmpty() ? List.of("The findings, decisions or gates of the plan changed") : moved;
      throw new Stop("Something moved since the plan was agreed", why, false);
    }
    List<String> closed = work.gates().closed(p);
    if (!closed.isEmpty()) {
      throw new Stop("A gate is closed again: " + String.join("; ", closed), List.of(), false);
    }
    tools
        .keeper()
        .write(
            kept -> {
              Promotion now = kept.promotions().find(String.valueOf(p.number())).orElseThrow();
              kept.promotions()
                  .update(
                      now.change()
                          .compared(
                              out.present(),
                              out.base(),
                              out.compared().id(),
                              tools.now(),
                              out.compared().components())
                          .done());
              return null;
            });
    if (p.comparison() != null) {
      work.comparer().files().remove(p.comparison());
    }
    book.rows(run.number(), 0, out.delta().rows());
    done(run, 1, "Nothing moved since the plan was agreed");
    return out;
  }

  private String targetName(Targets.At at) {
    return at.site() + " " + at.target().key();
  }

  private void backUp(Run run, Targets.At at, Delta delta) {
    begin(run, 2);
    long number = run.number();
    String name =
        run.site().stage()
            + "-"
            + run.site().site()
            + "-"
            + run.application()
            + "-"
            + tools.now().toString().substring(0, 19).replace(":", "")
            + "Z";
    Run.Backup backup;
    try (Looking looking = targets.look(at)) {
      long needed = ROOM + bytes(looking, delta);
      if (tools.files().room() < needed) {
        throw new Stop(
            "There is no room for a backup: "
                + (tools.files().room() >> 20)
                + " MB are free where Plenzo keeps its files, "
                + (needed >> 20)
                + " MB are needed",
            List.of(),
            false);
      }
      backup =
          new BackupFile(tools.files(), "backup/R-" + number)
              .write(looking, delta, name, tools.now(), rows -> aborted(number));
    } catch (UncheckedIOException e) {
      throw new Stop(
          "The backup could not be written: "
              + e.getMessage()
              + (e.getCause() == null ? "" : " (" + e.getCause().getMessage() + ")"),
          List.of(),
          false);
    }
    book.change(number, r -> r.withBackup(backup));
    done(
        run,
        2,
        "Backup "
            + name
            + ": "
            + Words.count(backup.rows(), "row")
            + " of "
            + Words.count(backup.tables().size(), "table")
            + ", "
            + Words.count(backup.bytes(), "byte"));
  }

  /** What the tables take at the target, which is more than their rows take as CSV. */
  private static long bytes(Looking looking, Delta delta) {
    return delta.touched().stream()
        .filter(t -> looking.table(t).isPresent())
        .mapToLong(t -> looking.answer(Question.of(Question.Type.BYTES, t)).count())
        .sum();
  }

  private void aborted(long number) {
    if (book.get(number).abortAsked()) {
      throw new Stop("Aborted", List.of(), true);
    }
  }

  private void prove(Run run, Targets.At at) {
    begin(run, 3);
    long number = run.number();
    Run.Backup backup = Objects.requireNonNull(book.get(number).backup());
    BackupFile file = new BackupFile(tools.files(), backup.file());
    String found;
    try {
      file.readBack(backup);
      if (at.target().scratch().isEmpty()) {
        found = "read back, not restored";
      } else {
        book.intent(
            number, "prove", 1, targetName(at), null, "Restore the backup in the scratch place");
        found = proof.restore(number, at, file, backup);
        book.outcome(number, "prove", 1, targetName(at), found);
      }
    } catch (IllegalStateException | IllegalArgumentException e) {
      throw new Stop("The backup is not good: " + e.getMessage(), List.of(), false);
    }
    String said = found;
    book.change(
        number,
        r ->
            r.withBackup(
                new Run.Backup(
                    backup.name(),
                    backup.file(),
                    backup.bytes(),
                    backup.rows(),
                    backup.tables(),
                    backup.digest(),
                    said,
                    backup.at())));
    done(run, 3, "The backup is " + found);
  }

  private void switchOver(Run run, Targets.At at, Delta delta) {
    long number = run.number();
    begin(run, 4);
    book.intent(
        number,
        "prepare",
        1,
        targetName(at),
        null,
        "Put " + Words.count(delta.rows(), "row") + " beside the present ones");
    try (Changing session = targets.change(at)) {
      changing.put(number, session);
      session.claim();
      Watch watch = new Watch(number, delta.rows());
      session.prepare(number, delta, watch);
      book.outcome(number, "prepare", 1, targetName(at), "prepared");
      done(
          run,
          4,
          Words.count(delta.rows(), "row")
              + (delta.rows() == 1 ? " is prepared" : " are prepared"));
      begin(run, 5);
      for (int attempt = 1; ; attempt++) {
        RunMark mark = mark(run, attempt);
        book.intent(
            number,
            SWITCH,
            attempt,
            targetName(at),
            session.session(),
            "Switch to " + run.version());
        try {
          session.switchOver(mark, delta, watch);
          book.outcome(number, SWITCH, attempt, targetName(at), "applied");
          break;
        } catch (SwitchRefused e) {
          book.outcome(number, SWITCH, attempt, targetName(at), "refused: " + e.getMessage());
          if (e.why() != SwitchRefused.Why.LOCKED || attempt == LOCK_TRIES) {
            throw new Stop(
                String.valueOf(e.getMessage()), e.details(), e.why() == SwitchRefused.Why.ABORTED);
          }
          book.say(
              number,
              "Locked by others, trying again ("
                  + attempt
                  + " of "
                  + LOCK_TRIES
                  + "): "
                  + String.join("; ", e.details()));
        }
      }
      book.step(number, 5, RunStep.State.DONE, "Committed");
      book.say(number, "Committed");
      session.discard(number);
    } catch (SwitchRefused e) {
      throw new Stop(
          String.valueOf(e.getMessage()), e.details(), e.why() == SwitchRefused.Why.ABORTED);
    } finally {
      changing.remove(number);
    }
  }

  private static RunMark mark(Run run, int attempt) {
    return new RunMark(
        run.number(), SWITCH, attempt, run.version(), run.fingerprint(), run.startedBy());
  }

  /** What the connector tells while it works. */
  private final class Watch implements Changing.Watch {
    private final long number;
    private final long toDo;
    private long told;

    Watch(long number, long toDo) {
      this.number = number;
      this.toDo = toDo;
    }

    @Override
    public void say(String line) {
      book.say(number, line);
    }

    @Override
    public void rows(long done) {
      long now = System.nanoTime();
      if (done == toDo || now - told > 300_000_000L) {
        told = now;
        book.rows(number, done, toDo);
      }
    }

    @Override
    public void beforeCommit() {
      book.change(
          number,
          r -> {
            if (r.abortAsked()) {
              throw new SwitchRefused(SwitchRefused.Why.ABORTED, "The run was aborted", List.of());
            }
            return r.withNoReturn(tools.now());
          });
      book.say(number, "No return from here: COMMIT is sent");
    }

    @Override
    public BooleanSupplier abortAsked() {
      return () -> book.get(number).abortAsked();
    }
  }

  /** The site is as planned: read it once more from outside, then record it. */
  private void after(Run run) {
    long number = run.number();
    Promotion p = promotion(run);
    book.step(number, 6, RunStep.State.RUNNING, null);
    book.say(number, "Step 6: Read back");
    String note = "What is there is what was planned";
    long odd = 0;
    try {
      CaseWork.Outcome now = work.work(p);
      odd =
          now.delta().rows()
              + now.delta().tables().stream().filter(Delta.TableDelta::structureChanges).count();
      work.comparer().files().remove(now.compared().id());
      if (odd > 0) {
        note = odd + " to look at: somebody wrote right after the run";
      }
    } catch (RuntimeException e) {
      odd = 1;
      note = "Reading back failed: " + e.getMessage();
    }
    book.step(number, 6, RunStep.State.DONE, note);
    book.say(number, note);
    record(number, p, odd, note);
  }

  private void record(long number, Promotion p, long odd, String note) {
    book.step(number, 7, RunStep.State.RUNNING, null);
    tools
        .keeper()
        .write(
            kept -> {
              Run run = kept.runs().find(String.valueOf(number)).orElseThrow();
              SiteRecord record = kept.sites().find(p.application() + "@" + p.site()).orElseThrow();
              SiteRecord.Placement placed =
                  new SiteRecord.Placement(
                      p.version(),
                      p.rollback() ? "rollback" : "run",
                      number,
                      tools.now(),
                      run.startedBy());
              List<String> exceptions =
                  p.way() == Plan.Way.BACKUP
                      ? record.exceptions()
                      : CaseWork.exceptions(p.decisions());
              if (!kept.sites()
                  .update(
                      record.placed(placed, exceptions, p.rollback() ? record.present() : null))) {
                throw new IllegalStateException("The record of " + record.id() + " moved");
              }
              Promotion now = kept.promotions().find(String.valueOf(p.number())).orElseThrow();
              kept.promotions().update(now.change().state(PromotionState.DONE).done());
              RunState state = odd == 0 ? RunState.DONE : RunState.DONE_TO_LOOK_AT;
              RunStep last = run.steps().get(6);
              Run ended =
                  run.withStep(
                          new RunStep(
                              7,
                              last.name(),
                              RunStep.State.DONE,
                              last.began(),
                              tools.now(),
                              "Recorded"))
                      .withState(state, tools.now(), odd == 0 ? sentence(p) : note);
              kept.runs().update(ended);
              kept.note(
                  event(
                      run,
                      p.rollback() ? "rolled back" : "run done",
                      odd == 0 ? sentence(p) : note),
                  tools.now());
              return null;
            });
    book.change(number, r -> r);
    book.say(number, sentence(p));
    book.forgetProgress(number);
    promotions.compareOthers(p);
  }

  private static String sentence(Promotion p) {
    return p.rollback()
        ? p.site() + " is back at " + p.version() + "."
        : p.version() + " is at " + p.site() + ".";
  }

  private static Event event(Run run, String what, String text) {
    return new Event(
        run.startedBy(),
        what,
        run.application(),
        run.site().stage(),
        run.site().site(),
        run.version(),
        run.promotion(),
        run.number(),
        text);
  }

  /** The run changed nothing: discard what it prepared, say why, and open the promotion again. */
  private void stopped(
      long number, Targets.At at, String why, List<String> details, boolean aborted) {
    try (Changing session = targets.change(at)) {
      session.discard(number);
    } catch (TargetFailed e) {
      book.say(number, "What was prepared could not be discarded yet: " + e.getMessage());
    }
    details.forEach(d -> book.say(number, d));
    String sentence =
        aborted
            ? "Aborted by " + book.get(number).abortedBy() + "; nothing was changed."
            : why
                + (details.isEmpty() ? "" : ": " + String.join("; ", details))
                + ". Nothing was changed.";
    Promotion reopened =
        tools
            .keeper()
            .write(
                kept -> {
                  Run run = kept.runs().find(String.valueOf(number)).orElseThrow();
                  Run ended = run;
                  for (RunStep s : run.steps()) {
                    if (s.state() == RunStep.State.RUNNING || s.state() == RunStep.State.UNKNOWN) {
                      ended =
                          ended.withStep(
                              new RunStep(
                                  s.number(),
                                  s.name(),
                                  RunStep.State.FAILED,
                                  s.began(),
                                  tools.now(),
                                  sentence));
                    } else if (s.state() == RunStep.State.TO_COME) {
                      ended =
                          ended.withStep(
                              new RunStep(
                                  s.number(), s.name(), RunStep.State.LEFT_OUT, null, null, null));
                    }
                  }
                  kept.runs()
                      .update(
                          ended
                              .withNoReturn(null)
                              .withState(RunState.STOPPED, tools.now(), sentence));
                  kept.note(
                      event(run, aborted ? "run aborted" : "run stopped", sentence), tools.now());
                  kept.sites()
                      .find(run.application() + "@" + run.site())
                      .ifPresent(
                          r -> kept.sites().update(r.withFailed(aborted ? null : run.shown())));
                  Promotion p =
                      kept.promotions().find(String.valueOf(run.promotion())).orElseThrow();
                  kept.promotions().update(p.change().state(PromotionState.PREPARING).done());
                  return p;
                });
    book.change(number, r -> r);
    book.say(number, sentence);
    book.forgetProgress(number);
    promotions.compareSoon(reopened.number());
  }

  /** After an error: ask the target, which makes the outcome final, and act on what it says. */
  private void afterFailure(long number, Targets.At at, String why) {
    book.say(number, why);
    try {
      recover(book.get(number), why);
    } catch (TargetFailed e) {
      int step =
          book.get(number).steps().stream()
              .filter(s -> s.state() == RunStep.State.RUNNING)
              .mapToInt(RunStep::number)
              .findFirst()
              .orElse(5);
      book.step(
          number,
          step,
          RunStep.State.UNKNOWN,
          targetName(at) + " cannot be asked: " + e.getMessage());
      book.say(
          number,
          "What happened at "
              + targetName(at)
              + " is not known until it can be asked; asking again every few seconds");
    }
  }

  /**
   * Finds out the truth about a run that was interrupted and ends it. Repeatable.
   *
   * @throws TargetFailed when the target cannot be asked now; nothing is decided then
   */
  void recover(Run run, @Nullable String why) {
    long number = run.number();
    Targets.At at = targets.at(run.site());
    List<JournalEntry> attempts =
        book.journal(number).stream()
            .filter(j -> j.step().equals(SWITCH) && j.type() == JournalEntry.Type.INTENT)
            .toList();
    boolean applied = false;
    if (!attempts.isEmpty()) {
      List<String> sessions =
          attempts.stream().map(JournalEntry::session).filter(Objects::nonNull).toList();
      try (Changing session = targets.change(at)) {
        for (JournalEntry j : attempts) {
          boolean was = session.settle(mark(run, j.attempt()), sessions);
          book.outcome(
              number,
              SWITCH,
              j.attempt(),
              targetName(at),
              was ? "settled: applied" : "settled: void");
          applied |= was;
        }
        session.discard(number);
      }
    }
    proof.forget(number, at);
    if (applied) {
      book.step(number, 5, RunStep.State.DONE, "Committed, as the target says");
      book.say(number, "The target says that the switch was applied; going on with the checks");
      after(book.get(number));
    } else {
      stopped(
          number,
          at,
          why == null ? "Plenzo was stopped in the middle of the run" : why,
          List.of(),
          false);
    }
  }

  /** Where the log of a run lies; empty text when there is none yet. */
  String log(long number) {
    String name = RunBook.logName(number);
    if (!tools.files().exists(name)) {
      return "";
    }
    long skip = Math.max(0, tools.files().size(name) - (1 << 20));
    try (java.io.InputStream in = tools.files().open(name, skip)) {
      return new String(in.readAllBytes(), java.nio.charset.StandardCharsets.UTF_8);
    } catch (IOException e) {
      throw new UncheckedIOException("The log of R-" + number + " cannot be read", e);
    }
  }
}
