package plenzo.engine.promoting;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.Kind.Holder;
import plenzo.core.component.TableName;
import plenzo.core.digest.Digest;
import plenzo.core.digest.Fingerprint;
import plenzo.core.impact.Finding;
import plenzo.core.json.Json;
import plenzo.core.plan.Plan;
import plenzo.core.plan.Plan.Act;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.Promotion.ComponentResult;
import plenzo.core.stage.Application;
import plenzo.core.target.Connector.Capability;
import plenzo.core.target.ItemsDelta;
import plenzo.core.target.SiteDelta;
import plenzo.core.target.TablesDelta;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;
import plenzo.core.words.Words;
import plenzo.engine.setup.Targets;

/**
 * Turns a comparison into the ordered steps that will be taken, and their fingerprint (decision
 * D7).
 */
final class Planner {
  private final Targets targets;
  private final List<Targets.At> ats;
  private final Promotion p;
  private final Version version;
  private final List<Plan.Step> steps = new ArrayList<>();

  Planner(Targets targets, List<Targets.At> ats, Promotion p, Version version) {
    this.targets = targets;
    this.ats = ats;
    this.p = p;
    this.version = version;
  }

  private Targets.@Nullable At at(Holder holder) {
    return ats.stream().filter(a -> a.holder() == holder).findFirst().orElse(null);
  }

  Plan plan(
      SemVer present,
      List<ComponentResult> components,
      List<Finding> findings,
      SiteDelta delta,
      Map<String, Long> bindings,
      List<Application.Probe> probes) {
    steps(delta, probes);
    List<String> statements = new ArrayList<>();
    Targets.At database = at(Holder.DATABASE);
    if (database != null) {
      statements.addAll(targets.tables(database).statements(delta.tables()));
    }
    List<String> gates = Gates.inForce(ats.get(0).stage(), p);
    List<Plan.WayBack> back = waysBack(present);
    int noReturn =
        steps.stream()
            .filter(s -> s.act() == Act.SWITCH)
            .mapToInt(Plan.Step::number)
            .findFirst()
            .orElse(steps.size());
    Digest digest = fingerprint(components, findings, statements, back, gates, bindings, delta);
    return new Plan(steps, statements, noReturn, back, gates, new Fingerprint(digest));
  }

  private void steps(SiteDelta delta, List<Application.Probe> probes) {
    String site = p.site().toString();
    Targets.At database = at(Holder.DATABASE);
    Targets.At host = at(Holder.HOST);
    String all =
        delta.isEmpty()
            ? site
            : delta.touched().stream()
                .map(h -> Objects.requireNonNull(at(h)).target().key())
                .collect(Collectors.joining(", ", site + " ", ""));
    step(
        Act.LOOK_AGAIN,
        null,
        "Look again",
        all,
        "Compare once more; stop if anything that the plan touches moved",
        "nothing to undo");
    step(Act.BACK_UP, null, "Back up", all, "Copy " + copied(delta), "nothing to undo");
    step(
        Act.PROVE,
        null,
        "Prove the backup",
        all,
        proof(delta, database),
        "what was restored is dropped");
    step(
        Act.PREPARE,
        null,
        "Prepare",
        all,
        "Put " + delta.words() + " beside the present ones",
        "they are dropped");
    boolean asks = host != null && targets.can(host, Capability.PROBE) && !probes.isEmpty();
    if (asks) {
      step(Act.ASK_BEFORE, Holder.HOST, "Ask before", all(host), asked(probes), "nothing to undo");
    }
    boolean closes = host != null && targets.can(host, Capability.MAINTENANCE) && !delta.isEmpty();
    if (closes) {
      step(
          Act.CLOSE,
          Holder.HOST,
          "Close",
          all(host),
          "Maintenance on; wait for running work to end",
          "maintenance off");
    }
    boolean alone = delta.touched().size() < 2;
    for (Holder holder : delta.touched()) {
      Targets.At at = Objects.requireNonNull(at(holder));
      step(
          Act.SWITCH,
          holder,
          alone ? "Switch" : "Switch " + at.target().key(),
          all(at),
          act(holder, Objects.requireNonNull(delta.of(holder)).words()),
          alone
              ? "rolled back until it is sent; after it, only by going back"
              : holder == Holder.DATABASE
                  ? "rolled back until it is sent; if it fails, the others are switched back"
                  : "switched back, as long as nobody touched what it wrote");
    }
    if (delta.isEmpty()) {
      step(Act.SWITCH, null, "Switch", all, "Nothing to change", "nothing to undo");
    }
    step(
        Act.READ_BACK,
        null,
        "Read back",
        all,
        "Compare what is there now with what was planned",
        "nothing to undo");
    if (asks) {
      step(
          Act.ASK_AFTER,
          Holder.HOST,
          "Ask after",
          all(host),
          "The same again, and compare the answers",
          "nothing to undo");
    }
    if (closes) {
      step(Act.OPEN, Holder.HOST, "Open", all(host), "Maintenance off", "nothing to undo");
    }
    step(
        Act.RECORD,
        null,
        "Record",
        "Plenzo",
        "Record " + version.number() + " as present at " + site,
        "nothing to undo");
  }

  private static String asked(List<Application.Probe> probes) {
    return "Ask "
        + probes.stream().map(Application.Probe::name).collect(Collectors.joining(", "))
        + " and keep the answers";
  }

  private static String all(Targets.At at) {
    return at.shown();
  }

  private static String act(Holder holder, String words) {
    return switch (holder) {
      case DATABASE -> "One transaction: lock, compare, write " + words + ", read back, commit";
      case DIRECTORY -> "Compare once more, then exchange " + words;
      case HOST -> "One call: compare, exchange " + words;
    };
  }

  private static long existing(SiteDelta delta, boolean files) {
    return delta.itemDeltas().stream()
        .flatMap(d -> d.changes().stream())
        .filter(c -> c.present() != null && (c.key().kind() == Kind.FILE) == files)
        .count();
  }

  /** What is restored to prove the backup, and what can only be read back. */
  private static String proof(SiteDelta delta, Targets.@Nullable At database) {
    List<String> restored = new ArrayList<>();
    List<String> readBack = new ArrayList<>();
    if (!delta.tables().isEmpty()) {
      boolean scratch = database != null && !database.target().scratch().isEmpty();
      (scratch ? restored : readBack).add(scratch ? "every row in the scratch place" : "every row");
    }
    long files = existing(delta, /* files= */ true);
    if (files > 0) {
      restored.add(Words.count(files, "file") + " beside the tree");
    }
    long definitions = existing(delta, /* files= */ false);
    if (definitions > 0) {
      readBack.add(Words.count(definitions, "definition"));
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

  private static String copied(SiteDelta delta) {
    Set<TableName> tables = new LinkedHashSet<>(delta.tables().touched());
    delta.tables().tables().stream()
        .filter(t -> t.present() == null)
        .map(TablesDelta.TableDelta::table)
        .forEach(tables::remove);
    List<String> parts = new ArrayList<>();
    if (!tables.isEmpty()) {
      parts.add(tables.stream().map(TableName::toString).collect(Collectors.joining(", ")));
    }
    long pieces = existing(delta, /* files= */ true) + existing(delta, /* files= */ false);
    if (pieces > 0) {
      parts.add(pieces == 1 ? "1 file or definition" : pieces + " files and definitions");
    }
    return parts.isEmpty() ? "nothing that exists" : String.join(" and ", parts);
  }

  private void step(
      Act act, @Nullable Holder holder, String name, String target, String what, String undo) {
    steps.add(new Plan.Step(steps.size() + 1, act, holder, name, target, what, undo));
  }

  private List<Plan.WayBack> waysBack(SemVer present) {
    if (p.rollback()) {
      return List.of(
          new Plan.WayBack(
              Plan.Way.BACKUP, true, "Restore the backup that this run takes first", 0));
    }
    return List.of(
        new Plan.WayBack(
            Plan.Way.EARLIER_VERSION,
            true,
            "Re-apply " + present + "; what was written since is kept",
            0),
        new Plan.WayBack(Plan.Way.BACKUP, true, "Restore the backup that the run takes", 0));
  }

  private Digest fingerprint(
      List<ComponentResult> components,
      List<Finding> findings,
      List<String> statements,
      List<Plan.WayBack> back,
      List<String> gates,
      Map<String, Long> bindings,
      SiteDelta delta) {
    List<Json> touched = new ArrayList<>();
    for (ComponentResult c : components) {
      if (!c.touched().isEmpty()) {
        touched.add(Json.object("key", c.key().toString(), "touched", c.touched()));
      }
    }
    List<Json> decisions = new ArrayList<>();
    new TreeMap<>(p.decisions())
        .forEach((at, d) -> decisions.add(Json.object("at", at, "decision", d.code())));
    List<Json> found = new ArrayList<>();
    findings.stream()
        .filter(f -> f.severity() != Finding.Severity.NOTE)
        .sorted(java.util.Comparator.comparing(Finding::id))
        .forEach(f -> found.add(f.forFingerprint()));
    // a ceiling of lost rows counts for the plan that itself goes back
    long loss =
        findings.stream()
            .filter(f -> f.rule().equals(CaseWork.ROWS_LOST))
            .mapToLong(Finding::ceiling)
            .findFirst()
            .orElse(0);
    List<Json> given = new ArrayList<>();
    ItemsDelta host = delta.items().get(Holder.HOST);
    if (host != null) {
      new TreeMap<>(bindings)
          .forEach((id, stamp) -> given.add(Json.object("binding", id, "set", stamp)));
    }
    @Nullable String way = p.way() == null ? null : p.way().code();
    return Digest.of(
        Json.object(
                "format",
                2,
                "version",
                version.digest().hex(),
                "number",
                version.number().text(),
                "application",
                p.application(),
                "site",
                p.site().toString(),
                "stage",
                p.site().stage(),
                "way",
                way,
                "touched",
                touched,
                "activate",
                p.activate().stream().sorted().map(ComponentKey::toString).toList(),
                "bindings",
                given,
                "decisions",
                decisions,
                "findings",
                found,
                "steps",
                steps.stream().map(s -> s.act() + " " + s.target()).toList(),
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
