package plenzo.cli;

import java.util.Locale;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.function.Function;
import java.util.function.Supplier;
import plenzo.api.Standings.UnderwayView;

/** Says on the error stream how far a call is that takes its time. */
final class Telling {
  /** Seconds between two lines; whatever is shorter says nothing. */
  private static final int EVERY = 2;

  private Telling() {}

  /**
   * Waits for a call, and lets it be said how far it is meanwhile.
   *
   * @param soFar says it; what it throws is not the call's matter, and nothing more is said then
   */
  static <T> T during(Supplier<T> call, Runnable soFar) {
    ScheduledExecutorService telling =
        Executors.newSingleThreadScheduledExecutor(
            r -> {
              Thread t = new Thread(r, "telling");
              t.setDaemon(true);
              return t;
            });
    telling.scheduleAtFixedRate(soFar, EVERY, EVERY, TimeUnit.SECONDS);
    try {
      return call.get();
    } finally {
      telling.shutdownNow();
    }
  }

  /**
   * The same for what the server lists as work.
   *
   * @param about what it is done to, such as {@code draft/D-3}
   */
  static <T> T work(Group group, String about, Function<Api, T> call) {
    return during(() -> call.apply(group.api().patient()), () -> soFar(group, about));
  }

  /** One line about what is at work on that; none when nothing is. */
  static void soFar(Group group, String about) {
    group.api().list("/underway" + Api.query("about", about), UnderwayView.class).stream()
        .filter(w -> w.ended() == null)
        .findFirst()
        .ifPresent(w -> group.out().note(words(w)));
  }

  /** Such as "12 of 40 components, at records/fares.booking, 120,000 rows; about 12 s to go". */
  static String words(UnderwayView w) {
    StringBuilder out = new StringBuilder();
    if (w.of() > 0) {
      out.append(String.format(Locale.ROOT, "%,d of %,d %s", w.done(), w.of(), w.unit()));
    }
    if (!w.at().isEmpty()) {
      out.append(out.length() == 0 ? "" : ", at ").append(w.at());
    }
    if (w.secondsLeft() != null) {
      out.append(String.format(Locale.ROOT, "; about %.0f s to go", w.secondsLeft()));
    }
    return out.length() == 0 && w.ended() == null ? "at work" : out.toString();
  }
}
