package plenzo.api;

import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** What stood at a site when a run had read it back. */
public interface Sheets {
  /**
   * @param lines of what the plan wrote, the first 500
   * @param more how many there are beyond those
   * @param odd what is not as planned, also beside what the plan wrote
   * @param uncarried what stands there and is only named
   */
  record SheetView(
      String run,
      Instant at,
      boolean asPlanned,
      List<SheetLine> lines,
      int more,
      List<String> odd,
      List<String> uncarried) {}

  /**
   * @param where the target that holds it
   * @param planned what the plan did: "3 added", "removed"
   * @param found what is there: "403 rows", "not there"
   * @param active whether it is switched on; null where there is no such state
   * @param visible whether people can reach it; null where the target does not tell
   * @param unbound names of inputs that have no value there
   * @param by who changed it there last; null where the target does not tell
   */
  record SheetLine(
      String component,
      String where,
      String planned,
      boolean asPlanned,
      String found,
      @Nullable Boolean active,
      @Nullable Boolean visible,
      List<String> unbound,
      @Nullable String by,
      @Nullable Instant changed) {}
}
