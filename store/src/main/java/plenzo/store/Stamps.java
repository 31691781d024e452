package plenzo.store;

import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicLong;

/** Numbers that grow when something was written, by whose it was. */
final class Stamps {
  private final AtomicLong clock = new AtomicLong();
  private final Map<String, Long> applications = new ConcurrentHashMap<>();
  private volatile long setUp;
  private volatile long people;

  /** Called when the transaction is committed, before anybody learns of it. */
  void move(Touched touched) {
    touched.applications().forEach(a -> applications.put(a, clock.incrementAndGet()));
    if (touched.setUp()) {
      setUp = clock.incrementAndGet();
    }
    if (touched.people()) {
      people = clock.incrementAndGet();
    }
  }

  long of(String application) {
    return Math.max(setUp, applications.getOrDefault(application, 0L));
  }

  long ofSetUp() {
    return setUp;
  }

  long ofPeople() {
    return people;
  }
}
