package plenzo.core.plan.step;

import java.util.ArrayList;
import java.util.List;
import plenzo.core.component.Kind.Holder;
import plenzo.core.plan.Plan.Act;
import plenzo.core.target.Connector.Capability;
import plenzo.core.words.Words;

/** Restores the backup elsewhere and compares it, where there is such a place. */
final class ProveBackup implements PlannedStep {
  @Override
  public Act act() {
    return Act.PROVE;
  }

  @Override
  public List<Words> of(PlanCase c) {
    return List.of(
        new Words(
            null, "Prove the backup", c.everywhere(), proof(c), "what was restored is dropped"));
  }

  /** What is restored, and what can only be read back. */
  private static String proof(PlanCase c) {
    List<String> restored = new ArrayList<>();
    List<String> readBack = new ArrayList<>();
    boolean scratch = c.place(Holder.DATABASE).map(PlanCase.Place::scratch).orElse(false);
    List<String> database = new ArrayList<>();
    if (!c.delta().tables().tables().isEmpty()) {
      database.add("every row");
    }
    if (c.existingObjects() > 0) {
      database.add(plenzo.core.words.Words.count(c.existingObjects(), "schema object"));
    }
    if (!database.isEmpty()) {
      String words = plenzo.core.words.Words.and(database);
      (scratch ? restored : readBack).add(scratch ? words + " in the scratch place" : words);
    }
    long files = c.existing(/* files= */ true);
    if (files > 0) {
      restored.add(plenzo.core.words.Words.count(files, "file") + " beside the tree");
    }
    long definitions = c.existing(/* files= */ false);
    if (definitions > 0) {
      boolean apart = c.host(Capability.SCRATCH).isPresent();
      String words = plenzo.core.words.Words.count(definitions, "definition");
      (apart ? restored : readBack).add(apart ? words + " in a place of its own" : words);
    }
    List<String> out = new ArrayList<>();
    if (!restored.isEmpty()) {
      out.add("Restore and compare " + String.join(" and ", restored));
    }
    if (!readBack.isEmpty()) {
      out.add("Read back " + String.join(" and ", readBack) + ", without restoring");
    }
    return out.isEmpty() ? "Read back that nothing was there" : String.join(". ", out);
  }
}
