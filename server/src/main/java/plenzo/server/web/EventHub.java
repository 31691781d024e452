package plenzo.server.web;

import java.io.IOException;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.concurrent.ConcurrentHashMap;
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
 * reader signed out; a reader that comes back says the last id it saw and gets what it missed.
 */
@Component
public class EventHub implements RunListener {
  /** Enough for the busiest minute of a run's log (guess). */
  private static final int REMEMBERED = 2000;

  private final AtomicLong next = new AtomicLong(System.currentTimeMillis());
  private final Deque<Event> recent = new ArrayDeque<>();
  private final Map<SseEmitter, Supplier<@Nullable Person>> readers = new ConcurrentHashMap<>();

  /** One event: what changed, never its values. */
  private record Event(long id, String name, String data, String stage, String application) {}

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
            + run.rowsDone()
            + ",\"rowsToDo\":"
            + run.rowsToDo()
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
    Event event;
    synchronized (recent) {
      event = new Event(next.incrementAndGet(), name, data, run.site().stage(), run.application());
      recent.addLast(event);
      if (recent.size() > REMEMBERED) {
        recent.removeFirst();
      }
    }
    readers.forEach((emitter, who) -> send(emitter, who, event));
  }

  private void send(SseEmitter emitter, Supplier<@Nullable Person> who, Event event) {
    Person person = who.get();
    if (person == null) {
      close(emitter);
    } else if (person.may(Right.LOOK, event.stage(), event.application())) {
      try {
        synchronized (emitter) {
          emitter.send(
              SseEmitter.event()
                  .id(String.valueOf(event.id()))
                  .name(event.name())
                  .data(event.data()));
        }
      } catch (IOException | IllegalStateException e) {
        readers.remove(emitter);
      }
    }
  }

  private void close(SseEmitter emitter) {
    readers.remove(emitter);
    emitter.complete();
  }

  /**
   * @param who the reader as of now, null once signed out
   */
  SseEmitter open(Supplier<@Nullable Person> who, @Nullable Long after) {
    SseEmitter emitter = new SseEmitter(0L);
    emitter.onCompletion(() -> readers.remove(emitter));
    emitter.onError(e -> readers.remove(emitter));
    List<Event> missed = new ArrayList<>();
    synchronized (recent) {
      if (after != null) {
        recent.stream().filter(e -> e.id() > after).forEach(missed::add);
      }
      readers.put(emitter, who);
    }
    missed.forEach(e -> send(emitter, who, e));
    beat(emitter, who);
    return emitter;
  }

  /** Keeps connections alive and ends those whose reader signed out; called every ten seconds. */
  void beat() {
    readers.forEach(this::beat);
  }

  private void beat(SseEmitter emitter, Supplier<@Nullable Person> who) {
    if (who.get() == null) {
      close(emitter);
      return;
    }
    try {
      synchronized (emitter) {
        emitter.send(SseEmitter.event().comment("here"));
      }
    } catch (IOException | IllegalStateException e) {
      readers.remove(Objects.requireNonNull(emitter));
    }
  }
}
