package plenzo.engine.promoting;

import java.util.ArrayList;
import java.util.List;
import java.util.TreeMap;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind.Holder;
import plenzo.core.digest.Digest;
import plenzo.core.digest.Fingerprint;
import plenzo.core.impact.Finding;
import plenzo.core.json.Json;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.Promotion.ComponentResult;
import plenzo.core.target.ItemsDelta;
import plenzo.core.version.Version;

/**
 * What a yes covers (decision D7): codes and digests alone, never a sentence or a shown name, so
 * that other words do not void an approval and the same words do not keep one.
 */
final class PlanFingerprint {
  /** Grows with whatever enters; approvals of an earlier format fall, and that is said. */
  static final int FORMAT = 3;

  private PlanFingerprint() {}

  static Fingerprint of(
      Plan plan, Promotion p, Version version, Planner.Facts facts, List<String> doors) {
    return new Fingerprint(
        Digest.of(
            Json.object(
                    "format",
                    FORMAT,
                    "version",
                    version.digest().hex(),
                    "number",
                    version.number().text(),
                    "application",
                    p.application(),
                    "site",
                    p.site().toString(),
                    "way",
                    p.way() == null ? null : p.way().code(),
                    "purpose",
                    p.brings() || p.rollback() ? null : p.valuesOnly() ? "values" : "put-back",
                    "touched",
                    touched(facts),
                    "activate",
                    p.activate().stream().sorted().map(ComponentKey::toString).toList(),
                    "bindings",
                    given(facts),
                    "decisions",
                    decisions(facts),
                    "findings",
                    findings(facts),
                    "steps",
                    steps(plan, doors),
                    "statements",
                    plan.statements(),
                    "gates",
                    plan.gates().stream().map(Plan.Condition::code).toList(),
                    "loss",
                    loss(facts),
                    "back",
                    back(plan))
                .canonical()));
  }

  /** What is done to which target, and who is kept out of it meanwhile. */
  private static List<String> steps(Plan plan, List<String> doors) {
    List<String> out = new ArrayList<>(plan.codes());
    out.addAll(doors);
    return out;
  }

  private static List<Json> touched(Planner.Facts facts) {
    List<Json> out = new ArrayList<>();
    for (ComponentResult c : facts.components()) {
      if (!c.touched().isEmpty()) {
        out.add(Json.object("key", c.key().toString(), "touched", c.touched()));
      }
    }
    facts
        .fitted()
        .forEach((table, touched) -> out.add(Json.object("fits", table, "touched", touched)));
    return out;
  }

  private static List<Json> given(Planner.Facts facts) {
    List<Json> out = new ArrayList<>();
    ItemsDelta host = facts.delta().items().get(Holder.HOST);
    if (host != null) {
      new TreeMap<>(facts.bindings())
          .forEach((id, stamp) -> out.add(Json.object("binding", id, "set", stamp)));
    }
    return out;
  }

  private static List<Json> decisions(Planner.Facts facts) {
    List<Json> out = new ArrayList<>();
    new TreeMap<>(facts.decisions())
        .forEach((at, d) -> out.add(Json.object("at", at, "decision", d.code())));
    return out;
  }

  private static List<Json> findings(Planner.Facts facts) {
    List<Json> out = new ArrayList<>();
    facts.findings().stream()
        .filter(f -> f.severity() != Finding.Severity.NOTE)
        .sorted(java.util.Comparator.comparing(Finding::id))
        .forEach(f -> out.add(f.forFingerprint()));
    return out;
  }

  /** A ceiling of lost rows counts for the plan that itself goes back. */
  private static long loss(Planner.Facts facts) {
    return facts.findings().stream()
        .filter(f -> f.rule().equals(WayBack.ROWS_LOST))
        .mapToLong(Finding::ceiling)
        .findFirst()
        .orElse(0);
  }

  private static List<Json> back(Plan plan) {
    List<Json> out = new ArrayList<>();
    for (Plan.WayBack b : plan.waysBack()) {
      out.add(Json.object("way", b.way().code(), "possible", b.possible(), "ceiling", b.ceiling()));
    }
    return out;
  }
}
