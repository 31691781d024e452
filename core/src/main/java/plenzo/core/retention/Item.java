package plenzo.core.retention;

import java.time.Instant;
import java.util.List;

/**
 * One file, or one folder of files, that lies among Plenzo's own.
 *
 * @param id such as {@code backup/R-7}: by which it is named, and cleared
 * @param of what it is of, for people: "fares 2.4.0 at production/north"
 * @param at when it was written
 * @param file where it lies
 * @param subjects what a note may name that keeps it: the run, the case, the version
 */
public record Item(
    Sort sort, String id, String of, Instant at, String file, List<String> subjects) {
  public Item {
    subjects = List.copyOf(subjects);
  }
}
