package plenzo.store;

import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicLong;

/** Numbers that grow when something was written, by whose it was. */
final class Stamps {
  private final AtomicLong clock = new AtomicLong();
  private final Map<String, Long> applications = new ConcurrentHashMap<>();
  private volatile long setUp;
  private final AtomicLong keysClock = new AtomicLong();
  private volatile long keys;
  private volatile long people;

  /** Called when the transaction is committed, before anybody learns of it. */
  void move(Touched touched) {
    touched.applications().forEach(a -> applications.put(a, clock.incrementAndGet()));
    if (touched.setUp()) {
      setUp = clock.incrementAndGet();
    }
    if (touched.keys()) {
      keys = keysClock.incrementAndGet();
    }
    if (touched.noted()) {
      clock.incrementAndGet();
    }
    if (touched.people()) {
      people = clock.incrementAndGet();
    }
  }

  long of(String application) {
    return Math.max(setUp, applications.getOrDefault(application, 0L));
  }

  long ofAll() {
    return clock.get();
  }

  long ofKeys() {
    return keys;
  }

  long ofSetUp() {
    return setUp;
  }

  long ofPeople() {
    return people;
  }
}
