package plenzo.bench;

import java.io.BufferedInputStream;
import java.io.BufferedOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Objects;
import plenzo.core.comparison.Counts;
import plenzo.core.records.CanonicalCsv;
import plenzo.core.records.RecordsComparison;
import plenzo.core.records.Row;
import plenzo.core.records.RowReader;

/**
 * A million rows against a million rows: reading both sides in key order, and comparing them
 * three-way. Run with -Xmx256m; the goal is at most 1.5 times the reading.
 */
public final class CompareRows {
  private static final int ROWS = 1_000_000;

  private CompareRows() {}

  public static void main(String[] args) throws IOException {
    Path folder = Files.createDirectories(Path.of("bench/target/rows"));
    Path present = write(folder.resolve("present.csv"), 0);
    Path incoming = write(folder.resolve("incoming.csv"), 1);
    for (int round = 1; round <= 3; round++) {
      long began = System.nanoTime();
      long read = count(present) + count(incoming);
      Duration reading = Duration.ofNanos(System.nanoTime() - began);
      began = System.nanoTime();
      Counts counts;
      try (RowReader there = open(present);
          RowReader in = open(incoming)) {
        counts =
            RecordsComparison.merge(
                null, there, in, (b, row) -> false, RecordsComparison.Base.PRESENT, row -> {});
      }
      Duration comparing = Duration.ofNanos(System.nanoTime() - began);
      System.out.printf(
          "round %d: reading %,d rows %d ms; comparing %d ms (%.2f times); %,d differ; heap at most %d MB%n",
          round,
          read,
          reading.toMillis(),
          comparing.toMillis(),
          (double) comparing.toMillis() / reading.toMillis(),
          counts.written(),
          Runtime.getRuntime().maxMemory() >> 20);
    }
  }

  private static RowReader open(Path file) throws IOException {
    InputStream in = new BufferedInputStream(Files.newInputStream(file), 1 << 16);
    return new RowReader(in, 1);
  }

  private static long count(Path file) throws IOException {
    long rows = 0;
    try (RowReader reader = open(file)) {
      for (Row row = reader.next(); row != null; row = reader.next()) {
        rows++;
      }
    }
    return rows;
  }

  private static Path write(Path file, int changed) throws IOException {
    try (OutputStream out = new BufferedOutputStream(Files.newOutputStream(file), 1 << 16)) {
      out.write(
          (CanonicalCsv.text(List.of("id", "amount", "name"))
                  + "\n"
                  + CanonicalCsv.text(List.of("integer", "numeric(8,2)", "text"))
                  + "\n")
              .getBytes(StandardCharsets.UTF_8));
      for (int i = 0; i < ROWS; i++) {
        String amount = i % 100 == 0 ? String.valueOf(changed) : "12.50";
        out.write(
            (Objects.requireNonNull(
                        CanonicalCsv.text(
                            List.of(String.valueOf(i), amount, "Passenger number " + i)))
                    + "\n")
                .getBytes(StandardCharsets.UTF_8));
      }
    }
    return file;
  }
}
