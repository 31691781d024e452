package plenzo.core.plan;

import java.util.ArrayList;
import java.util.List;
import plenzo.core.component.TableName;
import plenzo.core.version.SemVer;

/** Which ways back there will be after a run, as far as it can be known before it. */
public final class WaysBack {
  private WaysBack() {}

  /**
   * After a version has come.
   *
   * @param present the version that is left
   * @param keyless touched tables that hold rows and have no key to tell them apart
   * @param held what keeps objects from becoming again what they were, such as "operator fares.===
   *     is built on the composite type fares.place"
   */
  public static List<Plan.WayBack> afterVersion(
      SemVer present, List<TableName> keyless, List<String> held) {
    if (!held.isEmpty()) {
      return List.of(held(Plan.Way.EARLIER_VERSION, held), held(Plan.Way.BACKUP, held));
    }
    List<Plan.WayBack> out = new ArrayList<>();
    out.add(
        new Plan.WayBack(
            Plan.Way.EARLIER_VERSION,
            true,
            "Re-apply "
                + present
                + "; what was written since is kept as far as it can hold it"
                + (keyless.isEmpty()
                    ? ""
                    : "; values in "
                        + names(keyless)
                        + " that it cannot hold would close this way, as the rows have no key"),
            0));
    out.add(backup("Restore the backup that the run takes", keyless));
    return List.copyOf(out);
  }

  /** After a rollback: only the backup leads to what was there before it. */
  public static List<Plan.WayBack> afterRollback(List<TableName> keyless, List<String> held) {
    return held.isEmpty()
        ? List.of(backup("Restore the backup that this run takes first", keyless))
        : List.of(held(Plan.Way.BACKUP, held));
  }

  private static Plan.WayBack held(Plan.Way way, List<String> held) {
    return new Plan.WayBack(
        way,
        false,
        "Cannot be used until it is dropped at the site: "
            + String.join("; ", held)
            + ", which goes on this way before it is made again",
        0);
  }

  /**
   * After values alone.
   *
   * @param known whether it is kept what the host was given before
   */
  public static List<Plan.WayBack> afterValues(boolean known) {
    return List.of(
        new Plan.WayBack(
            Plan.Way.EARLIER_VALUES,
            known,
            known
                ? "Give the host again what it was given before"
                : "It is not kept what the host was given before: set the earlier value again, and"
                    + " give it by a plan of its own",
            0));
  }

  private static String names(List<TableName> tables) {
    return String.join(", ", tables.stream().map(TableName::toString).toList());
  }

  private static Plan.WayBack backup(String sentence, List<TableName> keyless) {
    if (keyless.isEmpty()) {
      return new Plan.WayBack(Plan.Way.BACKUP, true, sentence, 0);
    }
    return new Plan.WayBack(
        Plan.Way.BACKUP,
        false,
        "Cannot be used: rows of " + names(keyless) + " have no key by which they are told apart",
        0);
  }
}
