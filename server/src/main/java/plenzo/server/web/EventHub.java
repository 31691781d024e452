package plenzo.server.web;

import java.io.IOException;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.Set;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Executor;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Component;
import org.springframework.web.servlet.mvc.method.annotation.SseEmitter;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.run.Run;
import plenzo.engine.running.RunListener;
import plenzo.server.security.Shown;

/**
 * Server-sent events about runs. Each event is checked against its reader; a stream ends when its
 * reader signed out; a reader that comes back says the last id it saw and gets what it missed. A
 * run never waits for a reader: each has a queue of its own, and one that does not read is let go.
 */
@Component
public class EventHub implements RunListener {
  /** Enough for the busiest minute of a run's log (guess). */
  private static final int REMEMBERED = 2000;

  /** Streams of one person: a browser shares one among its pages (guess: a few browsers). */
  static final int EACH = 10;

  /** Streams of all, of the connections that the service takes (guess). */
  static final int MOST = 400;

  /** A reader's sign-in is looked up again after so long; a stream may outlive it by this. */
  private static final long KNOWN_NANOS = 2_000_000_000L;

  private final AtomicLong next = new AtomicLong(System.currentTimeMillis());
  private final Deque<Event> recent = new ArrayDeque<>();
  private final Set<Reader> readers = ConcurrentHashMap.newKeySet();
  private final Executor background;

  public EventHub(Executor background) {
    this.background = background;
  }

  /** One event: what changed, never its values. A beat has no name. */
  private record Event(long id, String name, String data, String stage, String application) {
    static final Event BEAT = new Event(0, "", "", "", "");
  }

  /** One open stream; what it is sent waits in its queue. */
  private final class Reader {
    private final String login;
    private final SseEmitter emitter = new SseEmitter(0L);
    private final Supplier<@Nullable Person> who;
    private final BlockingQueue<Event> queue = new LinkedBlockingQueue<>(REMEMBERED);
    private final AtomicBoolean sending = new AtomicBoolean();

    private @Nullable Person known;
    private long knownAt;

    Reader(String login, Supplier<@Nullable Person> who) {
      this.login = login;
      this.who = who;
    }

    /** Asked by one sender at a time. */
    private @Nullable Person who() {
      if (known == null || System.nanoTime() - knownAt > KNOWN_NANOS) {
        known = who.get();
        knownAt = System.nanoTime();
      }
      return known;
    }

    void take(Event event) {
      if (!queue.offer(event)) {
        close();
      } else if (sending.compareAndSet(false, true)) {
        background.execute(this::send);
      }
    }

    private void send() {
      do {
        for (Event e = queue.poll(); e != null; e = queue.poll()) {
          send(e);
        }
        sending.set(false);
      } while (!queue.isEmpty() && sending.compareAndSet(false, true));
    }

    private void send(Event event) {
      Person person = who();
      if (person == null) {
        close();
        return;
      }
      try {
        if (event == Event.BEAT) {
          emitter.send(SseEmitter.event().comment("here"));
        } else if (person.may(Right.LOOK, event.stage(), event.application())) {
          emitter.send(
              SseEmitter.event()
                  .id(String.valueOf(event.id()))
                  .name(event.name())
                  .data(event.data()));
        }
      } catch (IOException | IllegalStateException e) {
        readers.remove(this);
      }
    }

    private void close() {
      readers.remove(this);
      queue.clear();
      emitter.complete();
    }
  }

  @Override
  public void changed(Run run) {
    publish(
        "run",
        "{\"run\":\""
            + run.shown()
            + "\",\"promotion\":\"P-"
            + run.promotion()
            + "\",\"state\":\""
            + run.state().code()
            + "\",\"rowsDone\":"
            + run.rows().done()
            + ",\"rowsToDo\":"
            + run.rows().toDo()
            + "}",
        run);
  }

  @Override
  public void said(Run run, String line) {
    publish(
        "log",
        plenzo.core.json.Json.object("run", run.shown(), "line", Shown.plain(line)).canonical(),
        run);
  }

  private void publish(String name, String data, Run run) {
    synchronized (recent) {
      Event event =
          new Event(next.incrementAndGet(), name, data, run.site().stage(), run.application());
      recent.addLast(event);
      if (recent.size() > REMEMBERED) {
        recent.removeFirst();
      }
      readers.forEach(r -> r.take(event));
    }
  }

  /** There are as many streams as there may be. */
  static final class TooMany extends RuntimeException {
    private static final long serialVersionUID = 1;

    TooMany(String message) {
      super(message);
    }
  }

  /**
   * @param who the reader as of now, null once signed out
   */
  SseEmitter open(String login, Supplier<@Nullable Person> who, @Nullable Long after) {
    Reader reader = new Reader(login, who);
    reader.emitter.onCompletion(() -> readers.remove(reader));
    reader.emitter.onError(e -> readers.remove(reader));
    synchronized (recent) {
      if (readers.stream().filter(r -> r.login.equals(login)).count() >= EACH) {
        throw new TooMany(login + " has " + EACH + " streams of events open; that is the most.");
      }
      if (readers.size() >= MOST) {
        throw new TooMany("There are " + MOST + " streams of events open; that is the most.");
      }
      if (after != null) {
        recent.stream().filter(e -> e.id() > after).forEach(reader::take);
      }
      readers.add(reader);
    }
    reader.take(Event.BEAT);
    return reader.emitter;
  }

  /**
   * Ends every stream: the service is stopping, and a stream is an answer that never comes to its
   * end by itself.
   */
  void end() {
    readers.forEach(Reader::close);
  }

  /** Keeps connections alive and ends those whose reader signed out; called every ten seconds. */
  void beat() {
    readers.forEach(r -> r.take(Event.BEAT));
  }
}
