package plenzo.core.plan.step;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import plenzo.core.component.TableName;
import plenzo.core.plan.Plan.Act;
import plenzo.core.table.Renaming;
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
    Renaming names = c.delta().tables().renaming();
    List<String> parts = new ArrayList<>();
    if (!tables.isEmpty()) {
      // by the names that they have when they are copied
      parts.add(
          tables.stream().map(t -> names.before(t).toString()).collect(Collectors.joining(", ")));
    }
    part(parts, c.existingObjects(), "schema object");
    part(parts, c.existing(/* files= */ true), "file");
    part(parts, c.existing(/* files= */ false), "definition");
    return parts.isEmpty() ? "nothing that exists" : plenzo.core.words.Words.and(parts);
  }

  private static void part(List<String> to, long count, String one) {
    if (count > 0) {
      to.add(plenzo.core.words.Words.count(count, one));
    }
  }
}
