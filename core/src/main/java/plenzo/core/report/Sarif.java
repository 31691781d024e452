package plenzo.core.report;

import java.util.ArrayList;
import java.util.List;
import java.util.TreeSet;
import plenzo.core.impact.Finding;
import plenzo.core.json.Json;

/** Findings in SARIF 2.1.0 (OASIS), for tools that read results of checks. */
public final class Sarif {
  /** The schema of the standard, as the standard names it. */
  private static final String SCHEMA =
      "https://docs.oasis-open.org/sarif/sarif/v2.1.0/errata01/os/schemas/sarif-schema-2.1.0.json";

  private Sarif() {}

  /**
   * @param about what was checked: "fares 2.4.0 to production/north"
   * @param plenzo number of this Plenzo
   */
  public static String of(List<Finding> findings, String about, String plenzo) {
    List<Object> rules = new ArrayList<>();
    new TreeSet<>(findings.stream().map(Finding::rule).toList())
        .forEach(rule -> rules.add(Json.object("id", rule)));
    List<Object> results = new ArrayList<>();
    findings.forEach(f -> results.add(result(f)));
    return Json.object(
            "$schema",
            SCHEMA,
            "version",
            "2.1.0",
            "runs",
            List.of(
                (Object)
                    Json.object(
                        "tool",
                        Json.object(
                            "driver",
                            Json.object("name", "Plenzo", "version", plenzo, "rules", rules)),
                        "automationDetails",
                        Json.object("description", Json.object("text", about)),
                        "results",
                        results)))
        .canonical();
  }

  private static Json result(Finding f) {
    Finding.Acceptance accepted = f.accepted();
    List<Object> suppressions =
        accepted == null
            ? List.of()
            : List.of(
                (Object)
                    Json.object(
                        "kind",
                        "external",
                        "status",
                        "accepted",
                        "justification",
                        accepted.reason()
                            + " ("
                            + accepted.by()
                            + ", until "
                            + accepted.until()
                            + ")"));
    return Json.object(
        "ruleId",
        f.rule(),
        "level",
        level(f.severity()),
        "message",
        Json.object("text", f.sentence() + (f.advice().isBlank() ? "" : " " + f.advice())),
        "locations",
        List.of(
            (Object)
                Json.object(
                    "logicalLocations",
                    List.of((Object) Json.object("fullyQualifiedName", f.place())))),
        "suppressions",
        suppressions,
        "properties",
        Json.object("severity", f.severity().code(), "count", f.count()));
  }

  private static String level(Finding.Severity severity) {
    return switch (severity) {
      case BLOCKER -> "error";
      case RISK -> "warning";
      case NOTE -> "note";
    };
  }
}
