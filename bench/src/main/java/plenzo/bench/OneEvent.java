package plenzo.bench;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.keeping.Keeper;
import plenzo.core.promotion.Promotion;
import plenzo.store.H2Keeper;

/**
 * What one event costs in a house with few cases and in one with many: a case file is found,
 * written with another sentence, and noted in the history, in one transaction that is flushed.
 *
 * <p>{@code OneEvent [applications few many]}; 100, 100 and 50,000 when nothing is said.
 */
public final class OneEvent {
  private static final int WARM = 500;
  private static final int MEASURED = 1_500;

  private OneEvent() {}

  public static void main(String[] args) throws IOException {
    int applications = args.length > 0 ? Integer.parseInt(args[0]) : 100;
    int few = args.length > 1 ? Integer.parseInt(args[1]) : 100;
    int many = args.length > 2 ? Integer.parseInt(args[2]) : 50_000;
    for (int cases : new int[] {few, many}) {
      Path folder = Path.of("bench/target/events-" + cases).toAbsolutePath();
      clear(folder);
      Files.createDirectories(folder);
      try (H2Keeper keeper = new H2Keeper(folder, () -> "bench", 1 << 20)) {
        long began = System.nanoTime();
        new ManyRecords(applications, cases, cases).fill(keeper);
        long filled = TimeUnit.NANOSECONDS.toSeconds(System.nanoTime() - began);
        List<Long> took = new ArrayList<>();
        for (int n = 0; n < WARM + MEASURED; n++) {
          long at = System.nanoTime();
          one(keeper, 1 + n % Math.min(cases, 90));
          if (n >= WARM) {
            took.add(System.nanoTime() - at);
          }
        }
        long[] sorted = took.stream().mapToLong(Long::longValue).sorted().toArray();
        System.out.printf(
            "%,d cases (filled in %d s): one event %.2f ms, 95 of 100 within %.2f ms%n",
            cases, filled, sorted[sorted.length / 2] / 1e6, sorted[sorted.length * 95 / 100] / 1e6);
      }
      clear(folder);
    }
  }

  private static void one(Keeper keeper, int which) {
    keeper.write(
        kept -> {
          Promotion p =
              kept.promotions()
                  .find(String.valueOf(which))
                  .orElseThrow(() -> new IllegalStateException("No case " + which));
          if (!kept.promotions().update(p.change().sentence("At " + System.nanoTime()).done())) {
            throw new IllegalStateException("Nobody else writes here");
          }
          return kept.note(
              Event.of("bench", "looked at", "P-" + which), Instant.parse("2027-01-01T00:00:00Z"));
        });
  }

  private static void clear(Path folder) throws IOException {
    if (Files.exists(folder)) {
      try (Stream<Path> all = Files.walk(folder)) {
        for (Path p : all.sorted(Comparator.reverseOrder()).toList()) {
          Files.delete(p);
        }
      }
    }
  }
}
