package plenzo.engine.running;

import java.util.ArrayList;
import java.util.Collection;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.Kind.Holder;
import plenzo.core.keeping.Kept;
import plenzo.core.plan.Plan.Act;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.run.RunStep;
import plenzo.core.stage.SiteRecord;
import plenzo.core.target.Changing;
import plenzo.core.target.RunMark;
import plenzo.core.target.SiteDelta;
import plenzo.engine.Tools;
import plenzo.engine.promoting.CaseWork;
import plenzo.engine.setup.Targets;

/**
 * What the steps of one run have in common. It can be made from the run alone, so that recovery has
 * the same; what only a run under way has (its delta and sessions) is asked for where it is needed.
 * One thread.
 */
public final class RunContext implements AutoCloseable {
  private final Tools tools;
  private final Targets targets;
  private final CaseWork work;
  private final RunBook book;
  private final Run run;
  private final Map<Holder, Changing> sessions = new EnumMap<>(Holder.class);
  private final Map<Holder, Targets.At> found = new EnumMap<>(Holder.class);
  private final List<String> looks = new ArrayList<>();
  private @Nullable SiteDelta delta;
  private boolean nothingToDo;
  private SiteRecord.@Nullable Look look;

  RunContext(Tools tools, Targets targets, CaseWork work, RunBook book, Run run) {
    this.tools = tools;
    this.targets = targets;
    this.work = work;
    this.book = book;
    this.run = run;
  }

  public Tools tools() {
    return tools;
  }

  public Targets targets() {
    return targets;
  }

  public CaseWork work() {
    return work;
  }

  public RunBook book() {
    return book;
  }

  /** The run as it was when this was made; what never changes of it. */
  public Run run() {
    return run;
  }

  public long number() {
    return run.number();
  }

  /** The run as it is now. */
  public Run now() {
    return book.get(run.number());
  }

  public Promotion promotion() {
    return tools
        .keeper()
        .read(kept -> kept.promotions().find(String.valueOf(run.promotion())))
        .orElseThrow();
  }

  public void say(String line) {
    book.say(run.number(), line);
  }

  /**
   * @throws RunStopped when a person asked to abort
   */
  public void alive() {
    if (book.abortAsked(run.number())) {
      throw RunStopped.aborted();
    }
  }

  /**
   * The target that the run was planned on.
   *
   * @throws plenzo.core.target.TargetFailed when it cannot be said to be that one now
   */
  public Targets.At place(Holder holder) {
    return found.computeIfAbsent(
        holder,
        h -> {
          Optional<Run.Place> planned = run.place(h);
          return planned.isPresent()
              ? targets.settled(run.site(), planned.get())
              // a run that was queued before runs knew their targets
              : targets.find(run.site(), h).orElseThrow();
        });
  }

  /** What the plan switches, in its order. */
  public List<Holder> switched() {
    return run.steps().stream()
        .filter(s -> s.act() == Act.SWITCH && s.holder() != null)
        .map(s -> Objects.requireNonNull(s.holder()))
        .toList();
  }

  /** What the run writes; only after the last look and before the last switch is behind it. */
  public SiteDelta delta() {
    return Objects.requireNonNull(delta, "The run has not looked again");
  }

  public void found(SiteDelta toWrite) {
    this.delta = toWrite;
    this.nothingToDo = toWrite.isEmpty();
  }

  /** Known from the last look on, also when nothing of it is held any more. */
  boolean nothingToDo() {
    return nothingToDo;
  }

  /** Keeps a session until the switches are behind it. */
  public Changing opened(Holder holder, Changing session) {
    sessions.put(holder, session);
    return session;
  }

  public Changing session(Holder holder) {
    return Objects.requireNonNull(sessions.get(holder));
  }

  public Collection<Changing> sessions() {
    return sessions.values();
  }

  /** Something that a person should look at when the run has ended. */
  public void toLookAt(String what) {
    looks.add(what);
  }

  public List<String> looks() {
    return List.copyOf(looks);
  }

  /** What was found at the site after the switch; null when it could not be looked at. */
  public SiteRecord.@Nullable Look seen() {
    return look;
  }

  public void seen(SiteRecord.Look after) {
    this.look = after;
  }

  /** The mark of a try to switch, with the history's head of this moment. */
  public RunMark mark(int attempt) {
    return new RunMark(
        run.number(),
        "switch",
        attempt,
        run.version(),
        run.fingerprint(),
        run.startedBy(),
        tools.keeper().read(Kept::head));
  }

  public Optional<RunStep> step(Act act, @Nullable Holder holder) {
    return run.step(act, holder);
  }

  /** Whether the run may still end as if it had never begun: it looks and prepares anew then. */
  public boolean changesNothingYet() {
    Run as = now();
    return as.noReturnAt() == null && !as.recorded();
  }

  /** Closes the sessions; nothing of what is written is held from here. */
  void release() {
    List<Changing> all = new ArrayList<>(sessions.values());
    sessions.clear();
    delta = null;
    if (!all.isEmpty()) {
      // here and not at the end: once it is paused, somebody else may work on it already
      book.working(run.number(), null);
    }
    all.forEach(Changing::close);
  }

  @Override
  public void close() {
    release();
  }
}
