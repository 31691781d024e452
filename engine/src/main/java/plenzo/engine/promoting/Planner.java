package plenzo.engine.promoting;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.Counts;
import plenzo.core.component.TableName;
import plenzo.core.digest.Digest;
import plenzo.core.digest.Fingerprint;
import plenzo.core.impact.Finding;
import plenzo.core.json.Json;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.stage.Stage;
import plenzo.core.target.Connector;
import plenzo.core.target.Delta;
import plenzo.core.version.Version;
import plenzo.core.words.Words;

/**
 * Turns a comparison into the ordered steps that will be taken, and their fingerprint (decision
 * D7).
 */
final class Planner {
  /** The step within which the run can no longer be aborted. */
  static final int SWITCH = 5;

  private Planner() {}

  /**
   * @param loss ceiling of rows lost by this plan itself when it goes back; 0 for a promotion
   */
  static Plan plan(
      Stage stage,
      Stage.Target target,
      Promotion p,
      plenzo.core.version.SemVer present,
      Version version,
      List<Promotion.ComponentResult> components,
      List<Finding> findings,
      Delta delta,
      Connector connector,
      List<String> gates,
      long loss) {
    String name = p.site() + " " + target.key();
    Counts counts =
        components.stream()
            .map(Promotion.ComponentResult::counts)
            .reduce(Counts.NONE, Counts::plus);
    boolean scratch = !target.scratch().isEmpty();
    Set<TableName> copied = new LinkedHashSet<>(delta.touched());
    delta.tables().stream().filter(t -> t.present() == null).forEach(t -> copied.remove(t.table()));
    String backup =
        copied.isEmpty()
            ? "nothing that exists"
            : copied.stream().map(TableName::toString).collect(Collectors.joining(", "));
    List<Plan.Step> steps = new ArrayList<>();
    step(
        steps,
        "Look again",
        name,
        "Compare once more; stop if anything that the plan touches moved",
        "nothing to undo");
    step(steps, "Back up", name, "Copy " + backup, "nothing to undo");
    step(
        steps,
        "Prove the backup",
        name,
        scratch
            ? "Restore it in the scratch place and compare every row"
            : "Read it back; it is not restored",
        "the scratch place is dropped");
    step(
        steps,
        "Prepare",
        name,
        "Put " + Words.count(delta.rows(), "row") + " beside the present ones",
        "they are dropped");
    step(
        steps,
        "Switch",
        name,
        "One transaction: lock, compare, "
            + Words.count(counts.written(), "change")
            + ", read back, commit",
        "rolled back until COMMIT is sent; after it, only by going back");
    step(
        steps,
        "Read back",
        name,
        "Compare what is there now with what was planned",
        "nothing to undo");
    step(
        steps,
        "Record",
        "Plenzo",
        "Record " + version.number() + " as present at " + p.site(),
        "nothing to undo");
    List<String> statements = connector.statements(delta);
    List<Plan.WayBack> back = new ArrayList<>();
    if (p.rollback()) {
      back.add(
          new Plan.WayBack(
              Plan.Way.BACKUP, true, "Restore the backup that this run takes first", 0));
    } else {
      back.add(
          new Plan.WayBack(
              Plan.Way.EARLIER_VERSION,
              true,
              "Re-apply " + present + "; rows written since are kept",
              0));
      back.add(new Plan.WayBack(Plan.Way.BACKUP, true, "Restore the backup that the run takes", 0));
    }
    return new Plan(
        steps,
        statements,
        SWITCH,
        back,
        gates,
        new Fingerprint(
            fingerprint(stage, p, version, components, findings, statements, back, gates, loss)));
  }

  private static void step(
      List<Plan.Step> steps, String name, String target, String what, String undo) {
    steps.add(new Plan.Step(steps.size() + 1, name, target, what, undo));
  }

  private static Digest fingerprint(
      Stage stage,
      Promotion p,
      Version version,
      List<Promotion.ComponentResult> components,
      List<Finding> findings,
      List<String> statements,
      List<Plan.WayBack> back,
      List<String> gates,
      long loss) {
    List<Json> touched = new ArrayList<>();
    for (Promotion.ComponentResult c : components) {
      if (!c.touched().isEmpty()) {
        touched.add(Json.object("key", c.key().toString(), "touched", c.touched()));
      }
    }
    List<Json> decisions = new ArrayList<>();
    p.decisions().entrySet().stream()
        .sorted(java.util.Map.Entry.comparingByKey())
        .forEach(
            e -> decisions.add(Json.object("at", e.getKey(), "decision", e.getValue().code())));
    List<Json> found = new ArrayList<>();
    findings.stream()
        .filter(f -> f.severity() != Finding.Severity.NOTE)
        .sorted(java.util.Comparator.comparing(Finding::id))
        .forEach(f -> found.add(f.forFingerprint()));
    @Nullable String way = p.way() == null ? null : p.way().code();
    return Digest.of(
        Json.object(
                "format",
                1,
                "version",
                version.digest().hex(),
                "number",
                version.number().text(),
                "application",
                p.application(),
                "site",
                p.site().toString(),
                "stage",
                stage.key(),
                "way",
                way,
                "touched",
                touched,
                "decisions",
                decisions,
                "findings",
                found,
                "statements",
                statements,
                "gates",
                gates,
                "loss",
                loss,
                "back",
                back.stream()
                    .map(
                        b ->
                            (Json)
                                Json.object(
                                    "way",
                                    b.way().code(),
                                    "possible",
                                    b.possible(),
                                    "ceiling",
                                    b.ceiling()))
                    .toList())
            .canonical());
  }
}
