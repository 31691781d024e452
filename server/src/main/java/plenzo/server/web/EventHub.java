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

/**
 * Server-sent events about runs. Each event is checked against its reader; a stream ends when its
 * reader signed out; a reader that comes back says the last id it saw and gets what it missed. A
 * run never waits for a reader: each has a queue of its own, and one that does not read is let go.
 */
@Component
public class EventHub implements RunListener {
  /** Enough for the busiest minute of a run's log (guess). */
  private static final int REMEMBERED = 2000;

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
    private final SseEmitter emitter = new SseEmitter(0L);
    private final Supplier<@Nullable Person> who;
    private final BlockingQueue<Event> queue = new LinkedBlockingQueue<>(REMEMBERED);
    private final AtomicBoolean sending = new AtomicBoolean();

    Reader(Supplier<@Nullable Person> who) {
      this.who = who;
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
      Person person = who.get();
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

  /**
   * @param who the reader as of now, null once signed out
   */
  SseEmitter open(Supplier<@Nullable Person> who, @Nullable Long after) {
    Reader reader = new Reader(who);
    reader.emitter.onCompletion(() -> readers.remove(reader));
    reader.emitter.onError(e -> readers.remove(reader));
    synchronized (recent) {
      if (after != null) {
        recent.stream().filter(e -> e.id() > after).forEach(reader::take);
      }
      readers.add(reader);
    }
    reader.take(Event.BEAT);
    return reader.emitter;
  }

  /** Keeps connections alive and ends those whose reader signed out; called every ten seconds. */
  void beat() {
    readers.forEach(r -> r.take(Event.BEAT));
  }
}
