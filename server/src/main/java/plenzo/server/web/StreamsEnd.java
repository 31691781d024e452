package plenzo.server.web;

import org.springframework.context.SmartLifecycle;
import org.springframework.stereotype.Component;

/**
 * Ends the streams of events before the service waits for the answers it still owes: otherwise each
 * open console would hold up its stop until the patience is over.
 */
@Component
class StreamsEnd implements SmartLifecycle {
  private final EventHub events;
  private volatile boolean running;

  StreamsEnd(EventHub events) {
    this.events = events;
  }

  @Override
  public void start() {
    running = true;
  }

  @Override
  public void stop() {
    running = false;
    events.end();
  }

  @Override
  public boolean isRunning() {
    return running;
  }

  /** The highest stops first; the server of requests begins to wait further down. */
  @Override
  public int getPhase() {
    return Integer.MAX_VALUE;
  }
}
