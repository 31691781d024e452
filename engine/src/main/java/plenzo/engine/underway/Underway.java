package plenzo.engine.underway;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.Deque;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;

/**
 * Work that takes its time, so that whoever began it sees how far it is, can leave, and finds it
 * again. In the memory alone: nothing depends on it, and a restart ends what it lists. A work
 * belongs to the thread that does it; what that thread calls says how far it is by {@link #now()}.
 */
public final class Underway {
  /** How long what ended can still be found. */
  private static final Duration FOUND = Duration.ofMinutes(10);

  /** Ended works that are kept (guess): bounds memory. */
  private static final int MOST = 200;

  private final Clock clock;
  private final AtomicLong last = new AtomicLong();
  private final Map<Long, Progress> going = new ConcurrentHashMap<>();
  private final Deque<Work> over = new ArrayDeque<>();
  private final ThreadLocal<Progress> mine = new ThreadLocal<>();

  public Underway(Clock clock) {
    this.clock = clock;
  }

  /** How far one work is; told by the thread that does it, read by others. */
  public static final class Progress {
    /** Said where nothing listens. */
    private static final Progress NOBODY = new Progress(null);

    private volatile @Nullable Work work;

    /** What it is at, without how many rows of that were read. */
    private String what = "";

    private Progress(@Nullable Work work) {
      this.work = work;
    }

    /** So many there are, of which none is done. */
    public void of(long many, String unit) {
      Work w = work;
      if (w != null) {
        work = w.on(0, many, unit, "");
      }
    }

    /** What it is at now. */
    public void at(String what) {
      Work w = work;
      if (w != null) {
        this.what = what;
        work = w.on(w.done(), w.of(), w.unit(), what);
      }
    }

    /** So many rows of what it is at were read. */
    public void rows(long many) {
      Work w = work;
      if (w != null) {
        String rows = String.format(Locale.ROOT, "%,d rows", many);
        work = w.on(w.done(), w.of(), w.unit(), what.isEmpty() ? rows : what + ", " + rows);
      }
    }

    /** So many are done. */
    public void done(long many) {
      Work w = work;
      if (w != null) {
        work = w.on(many, w.of(), w.unit(), w.at());
      }
    }

    /** One more is done. */
    public void next() {
      Work w = work;
      if (w != null) {
        done(w.done() + 1);
      }
    }
  }

  /** What the thread is doing; what is said of it goes nowhere when it is doing nothing of this. */
  public Progress now() {
    Progress p = mine.get();
    return p == null ? Progress.NOBODY : p;
  }

  /**
   * Does a work, listed while it goes on and a while after. Inside another work it is a part of
   * that one.
   */
  public <T> T during(
      Work.Act act, String by, String about, @Nullable String application, Supplier<T> work) {
    if (mine.get() != null) {
      return work.get();
    }
    Work begun =
        new Work(
            last.incrementAndGet(),
            by,
            act,
            about,
            application,
            clock.instant(),
            0,
            0,
            "",
            "",
            null,
            "");
    Progress progress = new Progress(begun);
    going.put(begun.number(), progress);
    mine.set(progress);
    String outcome = "It ended without saying why";
    try {
      T out = work.get();
      outcome = "";
      return out;
    } catch (Problem e) {
      outcome = String.valueOf(e.getMessage());
      throw e;
    } finally {
      mine.remove();
      end(progress, outcome);
    }
  }

  private void end(Progress progress, String outcome) {
    Work w = progress.work;
    if (w == null) {
      return;
    }
    going.remove(w.number());
    Work ended = w.over(clock.instant(), outcome);
    synchronized (over) {
      over.addFirst(ended);
      while (over.size() > MOST) {
        over.removeLast();
      }
    }
  }

  /**
   * What a person began, and what is at work on applications that they may look at; what goes on
   * before what has ended, each newest first.
   *
   * @param about what it is done to; null for anything
   */
  public List<Work> list(Person by, @Nullable String about) {
    Instant since = clock.instant().minus(FOUND);
    List<Work> out = new ArrayList<>();
    going
        .values()
        .forEach(
            p -> {
              Work w = p.work;
              if (w != null) {
                out.add(w);
              }
            });
    out.sort(Comparator.comparingLong(Work::number).reversed());
    synchronized (over) {
      over.stream().filter(w -> w.ended() != null && w.ended().isAfter(since)).forEach(out::add);
    }
    return out.stream()
        .filter(w -> about == null || w.about().equals(about))
        .filter(w -> sees(by, w))
        .toList();
  }

  private static boolean sees(Person by, Work w) {
    String application = w.application();
    return w.by().equals(by.login())
        || application != null && by.may(Right.LOOK, Person.ANY, application);
  }
}
