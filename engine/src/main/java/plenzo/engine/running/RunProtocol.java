package plenzo.engine.running;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.Kind.Holder;
import plenzo.core.item.ItemDifference;
import plenzo.core.json.Json;
import plenzo.core.plan.Plan.Act;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.run.RunStep;
import plenzo.core.stage.Application;
import plenzo.core.target.Changing;
import plenzo.core.target.ItemsChanging;
import plenzo.core.target.ItemsLooking;
import plenzo.core.target.Question;
import plenzo.core.target.SiteDelta;
import plenzo.core.target.SwitchRefused;
import plenzo.core.target.TablesDelta;
import plenzo.core.target.TablesLooking;
import plenzo.core.target.TargetFailed;
import plenzo.core.words.Words;
import plenzo.engine.Tools;
import plenzo.engine.backup.BackupFile;
import plenzo.engine.promoting.CaseWork;
import plenzo.engine.promoting.Promotions;
import plenzo.engine.setup.SiteLook;
import plenzo.engine.setup.Targets;

/**
 * How a run goes, through crashes too. Before every act outside an INTENT is on the disk, after it
 * an OUTCOME. Everything slow is prepared on every target first; then the targets are switched, the
 * database last because it alone cannot be switched back without loss. After any error or restart
 * {@link Recovery} asks the targets, which makes their outcome final, and only then decides.
 */
final class RunProtocol {
  private static final int LOCK_TRIES = 5;

  /** Room that must be left beside the backup (rules A). */
  private static final long ROOM = 256L << 20;

  /** How long running work is waited for before the run gives up unchanged: 60 s (guess). */
  private static final long DRAIN_NANOS = 60_000_000_000L;

  private final Tools tools;
  private final Targets targets;
  private final CaseWork work;
  private final RunBook book;
  private final Proof proof;
  private final Ending ending;
  private final Recovery recovery;
  private final Map<Long, Changing> changing = new ConcurrentHashMap<>();
  private final Map<Long, Map<String, String>> answers = new ConcurrentHashMap<>();

  RunProtocol(Tools tools, Targets targets, CaseWork work, Promotions promotions, RunBook book) {
    this.tools = tools;
    this.targets = targets;
    this.work = work;
    this.book = book;
    this.proof = new Proof(targets, book);
    this.ending = new Ending(tools, targets, work, promotions, book);
    this.recovery = new Recovery(targets, book, proof, ending);
  }

  /** Stops the statement that a run is executing, when there is one. */
  void interrupt(long run) {
    Changing session = changing.get(run);
    if (session != null) {
      session.abort();
    }
  }

  /** A run that stops; nothing was changed unless another target has switched already. */
  private static final class Stop extends RuntimeException {
    private final List<String> details;
    private final boolean aborted;

    Stop(String why, List<String> details, boolean aborted) {
      super(why);
      this.details = details;
      this.aborted = aborted;
    }

    static Stop of(SwitchRefused e) {
      return new Stop(
          String.valueOf(e.getMessage()), e.details(), e.why() == SwitchRefused.Why.ABORTED);
    }
  }

  /** Carries a run from its first step to its end; never throws. */
  void execute(Run run) {
    long number = run.number();
    try (Watchdog dog =
        new Watchdog(
            tools,
            targets,
            run.site(),
            () -> book.abortAsked(number),
            line -> book.say(number, line))) {
      Promotion p = promotion(run);
      bring(run, p);
      after(book.get(number), p);
    } catch (Stop e) {
      stop(number, e);
    } catch (TargetFailed | SwitchRefused | Problem e) {
      afterFailure(number, String.valueOf(e.getMessage()));
    } catch (RuntimeException e) {
      System.getLogger(RunProtocol.class.getName())
          .log(System.Logger.Level.ERROR, "R-" + number + " failed", e);
      afterFailure(number, "Plenzo could not go on: " + e.getMessage());
    } finally {
      answers.remove(number);
    }
  }

  /** From the last look to the last switch; nothing of it is held when the site is read back. */
  private void bring(Run run, Promotion p) {
    SiteDelta delta = lookAgain(run, p);
    if (delta.isEmpty()) {
      for (RunStep s : run.steps()) {
        if (s.act().compareTo(Act.LOOK_AGAIN) > 0 && s.act().compareTo(Act.READ_BACK) < 0) {
          book.step(run.number(), s.number(), RunStep.State.LEFT_OUT, "Nothing to change");
        }
      }
    } else {
      backUp(run, delta);
      prove(run);
      change(run, delta, p);
    }
  }

  private Promotion promotion(Run run) {
    return tools
        .keeper()
        .read(kept -> kept.promotions().find(String.valueOf(run.promotion())))
        .orElseThrow();
  }

  private void begin(Run run, RunStep step) {
    if (book.abortAsked(run.number())) {
      throw new Stop("Aborted", List.of(), true);
    }
    book.step(run.number(), step.number(), RunStep.State.RUNNING, null);
    book.say(run.number(), "Step " + step.number() + ": " + step.name());
  }

  private RunStep begin(Run run, Act act) {
    RunStep step = run.step(act, null).orElseThrow();
    begin(run, step);
    return step;
  }

  private void done(Run run, RunStep step, String note) {
    book.step(run.number(), step.number(), RunStep.State.DONE, note);
    book.say(run.number(), note);
  }

  private SiteDelta lookAgain(Run run, Promotion p) {
    RunStep step = begin(run, Act.LOOK_AGAIN);
    CaseWork.Outcome out = work.work(p);
    if (!out.plan().fingerprint().digest().hex().equals(run.fingerprint())) {
      List<String> moved =
          p.comparison() == null
              ? List.of()
              : work.comparer().moved(p.comparison(), p.components(), out.compared(), 20);
      List<String> why =
          moved.isEmpty()
              ? List.of("The findings, decisions, bindings or gates of the plan changed")
              : moved;
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
                              out.compared().components(),
                              out.compared().sameFiles())
                          .done());
              return null;
            });
    if (p.comparison() != null) {
      work.comparer().files().remove(p.comparison());
    }
    book.rows(run.number(), 0, out.delta().writes());
    done(run, step, "Nothing moved since the plan was agreed");
    return out.delta();
  }

  private void backUp(Run run, SiteDelta delta) {
    RunStep step = begin(run, Act.BACK_UP);
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
    try (SiteLook look = targets.look(run.site())) {
      long needed = ROOM + (delta.tables().isEmpty() ? 0 : bytes(look.tables(), delta.tables()));
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
              .write(look, delta, name, tools.now(), rows -> aborted(number));
    } catch (UncheckedIOException e) {
      throw new Stop(
          "The backup could not be written: "
              + e.getMessage()
              + (e.getCause() == null ? "" : " (" + e.getCause().getMessage() + ")"),
          List.of(),
          false);
    } catch (IllegalStateException e) {
      throw new Stop(String.valueOf(e.getMessage()), List.of(), false);
    }
    book.change(number, r -> r.withBackup(backup));
    done(run, step, "Backup " + name + ": " + contents(backup));
  }

  private static String contents(Run.Backup backup) {
    StringBuilder out = new StringBuilder();
    if (!backup.tables().isEmpty()) {
      out.append(Words.count(backup.rows(), "row"))
          .append(" of ")
          .append(Words.count(backup.tables().size(), "table"))
          .append(", ");
    }
    if (!backup.pieces().isEmpty()) {
      out.append(
          backup.pieces().size() == 1
              ? "1 file or definition, "
              : backup.pieces().size() + " files and definitions, ");
    }
    return out.append(Words.count(backup.bytes(), "byte")).toString();
  }

  /** What the tables take at the target, which is more than their rows take as CSV. */
  private static long bytes(TablesLooking looking, TablesDelta delta) {
    return delta.touched().stream()
        .filter(t -> looking.table(t).isPresent())
        .mapToLong(t -> looking.answer(Question.of(Question.Type.BYTES, t)).count())
        .sum();
  }

  private void aborted(long number) {
    if (book.abortAsked(number)) {
      throw new Stop("Aborted", List.of(), true);
    }
  }

  private void prove(Run run) {
    RunStep step = begin(run, Act.PROVE);
    long number = run.number();
    Run.Backup backup = Objects.requireNonNull(book.get(number).backup());
    BackupFile file = new BackupFile(tools.files(), backup.file());
    String found;
    try {
      file.readBack(backup);
      found = proof.prove(run, file, backup, () -> aborted(number));
    } catch (IllegalStateException | IllegalArgumentException e) {
      throw new Stop("The backup is not good: " + e.getMessage(), List.of(), false);
    }
    String said = found;
    book.change(number, r -> r.withBackup(backup.proven(said)));
    done(run, step, "The backup is " + found);
  }

  /**
   * Prepares every target, closes the site where it can be closed, and switches target by target.
   */
  private void change(Run run, SiteDelta delta, Promotion p) {
    long number = run.number();
    RunStep step = begin(run, Act.PREPARE);
    Sessions sessions = new Sessions();
    try {
      Watch watch = new Watch(number, delta.writes());
      for (Holder holder : delta.touched()) {
        Targets.At at = targets.find(run.site(), holder).orElseThrow();
        String words = Objects.requireNonNull(delta.of(holder)).words();
        book.intent(
            number, "prepare", 1, at.shown(), null, "Put " + words + " beside the present ones");
        Changing session = sessions.open(holder, targets.change(at));
        changing.put(number, session);
        session.claim();
        session.prepare(number, Objects.requireNonNull(delta.of(holder)), watch);
        book.outcome(number, "prepare", 1, at.shown(), "prepared");
      }
      done(run, step, delta.words() + (delta.writes() == 1 ? " is prepared" : " are prepared"));
      run.step(Act.ASK_BEFORE, null).ifPresent(s -> askBefore(run, s, p));
      run.step(Act.CLOSE, null).ifPresent(s -> close(run, s, delta));
      for (Holder holder : delta.touched()) {
        changing.put(number, sessions.get(holder));
        switchOver(run, holder, sessions.get(holder), delta, watch);
      }
      sessions.all().forEach(s -> s.discard(number));
    } catch (SwitchRefused e) {
      throw Stop.of(e);
    } finally {
      changing.remove(number);
      sessions.close();
    }
  }

  private void switchOver(Run run, Holder holder, Changing session, SiteDelta delta, Watch watch) {
    long number = run.number();
    RunStep step = run.step(Act.SWITCH, holder).orElseThrow();
    String target = targets.find(run.site(), holder).orElseThrow().shown();
    begin(run, step);
    for (int attempt = 1; ; attempt++) {
      book.intent(
          number,
          Recovery.SWITCH,
          attempt,
          target,
          session.session(),
          "Switch to " + run.version());
      try {
        session.switchOver(
            Recovery.mark(run, attempt), Objects.requireNonNull(delta.of(holder)), watch);
        book.outcome(number, Recovery.SWITCH, attempt, target, "applied");
        break;
      } catch (SwitchRefused e) {
        book.outcome(number, Recovery.SWITCH, attempt, target, "refused: " + e.getMessage());
        if (e.why() != SwitchRefused.Why.LOCKED || attempt == LOCK_TRIES) {
          throw e;
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
    String note = holder == Holder.DATABASE ? "Committed" : "Switched";
    book.step(number, step.number(), RunStep.State.DONE, note);
    book.say(number, target + ": " + note.toLowerCase(java.util.Locale.ROOT));
  }

  private void askBefore(Run run, RunStep step, Promotion p) {
    begin(run, step);
    Map<String, String> said = ask(run, p);
    answers.put(run.number(), said);
    done(run, step, said.size() == 1 ? "1 answer kept" : said.size() + " answers kept");
  }

  /** Every question of the application with its answer; a failure is an answer too. */
  private Map<String, String> ask(Run run, Promotion p) {
    Map<String, String> out = new java.util.LinkedHashMap<>();
    Application a =
        tools.keeper().read(kept -> kept.applications().find(p.application())).orElseThrow();
    Targets.At host = targets.find(run.site(), Holder.HOST).orElseThrow();
    try (SiteLook look = targets.look(List.of(host))) {
      for (Application.Probe probe : a.probes()) {
        String answer;
        try {
          answer = look.items(Holder.HOST).probe(probe.question());
        } catch (TargetFailed e) {
          answer = NO_ANSWER + e.getMessage();
        }
        book.say(run.number(), "Asked \"" + probe.name() + "\": " + answer);
        out.put(probe.name(), answer);
      }
    }
    return out;
  }

  private static final String NO_ANSWER = "no answer: ";

  /** Lets only operators in and waits until nobody is in the middle of what changes. */
  private void close(Run run, RunStep step, SiteDelta delta) {
    begin(run, step);
    long number = run.number();
    Targets.At host = targets.find(run.site(), Holder.HOST).orElseThrow();
    book.intent(number, "close", 1, host.shown(), null, "Maintenance on");
    try (ItemsChanging session = (ItemsChanging) targets.change(host)) {
      session.maintenance(true, number, run.version() + " is being put in place");
    }
    book.outcome(number, "close", 1, host.shown(), "maintenance is on");
    book.say(number, "Only operators are let in from here");
    long waits = 0;
    long began = System.nanoTime();
    while (true) {
      try (SiteLook look = targets.look(List.of(host))) {
        ItemsLooking.Work running = look.items(Holder.HOST).work();
        if (running == null || running.running().isEmpty()) {
          break;
        }
        if (System.nanoTime() - began > DRAIN_NANOS) {
          throw new Stop(
              "Running work did not end within 60 s",
              running.running().stream().map(w -> w.what() + " of " + w.person()).toList(),
              false);
        }
        if (waits++ % 10 == 0) {
          book.say(
              number,
              "Waiting for "
                  + Words.count(running.running().size(), "piece")
                  + " of running work to end");
        }
      }
      aborted(number);
      pause();
    }
    done(run, step, "Maintenance is on, no work is running");
  }

  private static void pause() {
    try {
      Thread.sleep(200);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new TargetFailed("Interrupted", false, e);
    }
  }

  /** Sessions to the targets that a run changes. */
  private static final class Sessions implements AutoCloseable {
    private final Map<Holder, Changing> open = new java.util.EnumMap<>(Holder.class);

    Changing open(Holder holder, Changing session) {
      open.put(holder, session);
      return session;
    }

    Changing get(Holder holder) {
      return Objects.requireNonNull(open.get(holder));
    }

    java.util.Collection<Changing> all() {
      return open.values();
    }

    @Override
    public void close() {
      open.values().forEach(Changing::close);
    }
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
      boolean[] first = {false};
      book.change(
          number,
          r -> {
            if (r.abortAsked()) {
              throw new SwitchRefused(SwitchRefused.Why.ABORTED, "The run was aborted", List.of());
            }
            first[0] = r.noReturnAt() == null;
            return first[0] ? r.withNoReturn(tools.now()) : r;
          });
      if (first[0]) {
        book.say(number, "No return from here: the switch is sent");
      }
    }

    @Override
    public java.util.function.BooleanSupplier abortAsked() {
      return () -> book.abortAsked(number);
    }
  }

  /** The site is as planned: read it once more from outside, ask it, open it, record it. */
  private void after(Run run, Promotion p) {
    long odd = ending.readBack(run, p);
    RunStep step = run.step(Act.ASK_AFTER, null).orElse(null);
    String asked = "";
    if (step != null) {
      asked = askAfter(run, step, p);
    }
    ending.open(run);
    ending.record(run.number(), p, odd, asked);
  }

  /** The answers that differ from before although they should not; empty when none do. */
  private String askAfter(Run run, RunStep step, Promotion p) {
    book.step(run.number(), step.number(), RunStep.State.RUNNING, null);
    Map<String, String> before = answers.getOrDefault(run.number(), Map.of());
    List<Application.Probe> probes =
        tools
            .keeper()
            .read(kept -> kept.applications().find(p.application()))
            .orElseThrow()
            .probes();
    Map<String, String> now;
    try {
      now = ask(run, p);
    } catch (TargetFailed e) {
      String note = "The host could not be asked: " + e.getMessage();
      book.step(run.number(), step.number(), RunStep.State.DONE, note);
      return note;
    }
    List<String> odd = new java.util.ArrayList<>();
    for (Application.Probe probe : probes) {
      String was = before.get(probe.name());
      String is = now.getOrDefault(probe.name(), "");
      if (is.startsWith(NO_ANSWER)) {
        odd.add(probe.name() + ": " + is);
      } else if (probe.mustStay() && was != null && !was.equals(is)) {
        odd.add(probe.name() + " answers otherwise than before: " + differences(was, is));
      }
    }
    String note = odd.isEmpty() ? "Every answer is as expected" : String.join("; ", odd);
    book.step(run.number(), step.number(), RunStep.State.DONE, note);
    book.say(run.number(), note);
    return odd.isEmpty() ? "" : note;
  }

  /** "amount was 13.80 and is 138.00": member by member where both answers are JSON. */
  private static String differences(String was, String is) {
    try {
      return ItemDifference.members(Json.parse(was), Json.parse(is)).stream()
          .limit(5)
          .map(d -> d.name() + " was " + d.present() + " and is " + d.incoming())
          .collect(Collectors.joining(", "));
    } catch (IllegalArgumentException e) {
      return was + " was said before and " + is + " now";
    }
  }

  private void stop(long number, Stop e) {
    if (recovery.anyApplied(number)) {
      afterFailure(
          number,
          e.getMessage() + (e.details.isEmpty() ? "" : ": " + String.join("; ", e.details)));
    } else {
      ending.stopped(number, String.valueOf(e.getMessage()), e.details, e.aborted);
    }
  }

  /** After an error: ask the targets, which makes the outcome final, and act on what they say. */
  private void afterFailure(long number, String why) {
    book.say(number, why);
    try {
      recover(book.get(number), why);
    } catch (TargetFailed | Problem e) {
      recovery.unknown(number, String.valueOf(e.getMessage()));
    }
  }

  /**
   * Finds out the truth about a run that was interrupted and ends it. Repeatable.
   *
   * @throws TargetFailed when a target cannot be asked now; nothing is decided then
   */
  void recover(Run run, @Nullable String why) {
    if (recovery.recover(run, why)) {
      after(book.get(run.number()), promotion(run));
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
