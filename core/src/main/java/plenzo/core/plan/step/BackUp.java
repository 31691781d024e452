package plenzo.core.plan.step;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import plenzo.core.component.TableName;
import plenzo.core.plan.Plan.Act;
import plenzo.core.target.TablesDelta;
import plenzo.core.words.Words;

/** Copies everything that the run can touch. */
final class BackUp implements PlannedStep {
  @Override
  public Act act() {
    return Act.BACK_UP;
  }

  @Override
  public List<Words> of(PlanCase c) {
    return List.of(
        new Words(null, "Back up", c.everywhere(), "Copy " + copied(c), "nothing to undo"));
  }

  private static String copied(PlanCase c) {
    Set<TableName> tables = new LinkedHashSet<>(c.delta().tables().touched());
    c.delta().tables().tables().stream()
        .filter(t -> t.present() == null)
        .map(TablesDelta.TableDelta::table)
        .forEach(tables::remove);
    List<String> parts = new ArrayList<>();
    if (!tables.isEmpty()) {
      parts.add(tables.stream().map(TableName::toString).collect(Collectors.joining(", ")));
    }
    long pieces = c.existing(/* files= */ true) + c.existing(/* files= */ false);
    if (pieces > 0) {
      parts.add(pieces == 1 ? "1 file or definition" : pieces + " files and definitions");
    }
    return parts.isEmpty() ? "nothing that exists" : String.join(" and ", parts);
  }
}
