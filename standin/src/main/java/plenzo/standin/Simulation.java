package plenzo.standin;

import java.util.ArrayList;
import java.util.Iterator;
import java.util.List;
import java.util.concurrent.TimeUnit;
import plenzo.hostprotocol.HostProtocol.WorkItem;

/** Simulated people and running work, and faults that a test asks for. */
final class Simulation {
  /**
   * A fault of the next calls whose path ends so.
   *
   * @param does slow, fail, fail-after, hang, die or die-after
   * @param millis how long slow takes
   * @param times how many calls it hits
   */
  record Fault(String path, String does, long millis, int times) {}

  /** Work that ends by itself; with no seconds, all work ends now. */
  record Working(String what, String person, String component, long seconds) {}

  private record Until(WorkItem item, long nanos) {}

  private final List<Fault> faults = new ArrayList<>();
  private final List<Until> running = new ArrayList<>();
  private long people;
  private boolean refreshes;
  private boolean spaces = true;
  private long next = 1;

  synchronized void fault(Fault fault) {
    faults.add(fault);
  }

  /** Whether the host keeps a list of forms that must be refreshed. */
  synchronized void spaces(boolean on) {
    spaces = on;
  }

  synchronized boolean spaces() {
    return spaces;
  }

  synchronized void refreshes(boolean on) {
    refreshes = on;
  }

  synchronized boolean refreshes() {
    return refreshes;
  }

  synchronized void people(long count) {
    people = count;
  }

  synchronized void work(Working w) {
    if (w.seconds() == 0) {
      running.clear();
      return;
    }
    running.add(
        new Until(
            new WorkItem("W-" + next++, w.what(), w.person(), w.component()),
            System.nanoTime() + TimeUnit.SECONDS.toNanos(w.seconds())));
  }

  synchronized List<WorkItem> running() {
    running.removeIf(u -> u.nanos() - System.nanoTime() < 0);
    return running.stream().map(Until::item).toList();
  }

  synchronized long people() {
    return people;
  }

  private synchronized String hit(String path, boolean after) {
    for (Iterator<Fault> all = faults.iterator(); all.hasNext(); ) {
      Fault f = all.next();
      if (path.endsWith(f.path()) && f.does().endsWith("-after") == after) {
        all.remove();
        if (f.times() > 1) {
          faults.add(new Fault(f.path(), f.does(), f.millis(), f.times() - 1));
        }
        return f.does().equals("slow") ? "slow " + f.millis() : f.does();
      }
    }
    return "";
  }

  /** A call that fails because a test asked for it. */
  static final class Failing extends RuntimeException {
    Failing() {
      super("A simulated failure");
    }
  }

  void before(String path) {
    act(hit(path, false));
  }

  void after(String path) {
    act(hit(path, true));
  }

  private static void act(String does) {
    try {
      if (does.startsWith("slow ")) {
        TimeUnit.MILLISECONDS.sleep(Long.parseLong(does.substring(5)));
      } else if (does.equals("hang")) {
        TimeUnit.DAYS.sleep(1);
      } else if (does.startsWith("fail")) {
        throw new Failing();
      } else if (does.startsWith("die")) {
        Runtime.getRuntime().halt(137);
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }
}
