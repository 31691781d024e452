package plenzo.engine.recording;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;
import plenzo.core.history.HistoryEntry;
import plenzo.core.person.Person;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion.ComponentResult;
import plenzo.core.report.Report;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.SiteRecord;
import plenzo.core.version.SemVer;
import plenzo.engine.Tools;
import plenzo.engine.looking.History;
import plenzo.engine.looking.Standing;
import plenzo.engine.sealing.Versions;

/**
 * What changed at a site between two moments: what was recorded there at both and how the two
 * versions differ, what came and went in between, and what the history says of it. What people
 * changed by hand and nobody looked at is in no record, and the document says so.
 */
public final class Between {
  /** Longest span. */
  private static final Duration LONGEST = Duration.ofDays(400);

  private final Tools tools;
  private final Standing standing;
  private final Versions versions;
  private final History history;

  public Between(Tools tools, Standing standing, Versions versions, History history) {
    this.tools = tools;
    this.standing = standing;
    this.versions = versions;
    this.history = history;
  }

  /**
   * @throws Problem when the person may not look there, nothing was ever recorded there, or the
   *     span is too long
   */
  public Report of(Person by, String application, SiteKey site, Instant from, Instant until) {
    if (!until.isAfter(from) || Duration.between(from, until).compareTo(LONGEST) > 0) {
      throw Problem.invalid(
          "SPAN", "A report is of " + LONGEST.toDays() + " days at most.", "/until");
    }
    SiteRecord record = standing.record(by, application, site);
    if (record.placements().isEmpty()) {
      throw Problem.notFound("record", application + "@" + site);
    }
    SiteRecord.Placement was = at(record, from);
    SiteRecord.Placement is = at(record, until);
    Report.Builder out =
        new Report.Builder(
            application
                + " at "
                + site
                + " from "
                + Report.time(from)
                + " to "
                + Report.time(until),
            tools.now());
    out.facts(
        "What was recorded there",
        "At the beginning",
        words(was),
        "At the end",
        words(is),
        "Last look at it",
        record.look().at() == null
            ? "none: what people changed there by hand is not known"
            : Report.time(record.look().at())
                + ": what people changed there by hand and changed back before is in no record");
    compared(out, by, application, was, is);
    out.table(
        "What came and went",
        "Nothing.",
        List.of("when", "version", "how", "run", "who"),
        record.placements().stream()
            .filter(p -> within(p.at(), from, until))
            .map(
                p ->
                    Report.row(
                        Report.time(p.at()),
                        p.version().text(),
                        p.how(),
                        p.run() == null ? "" : "R-" + p.run(),
                        p.by()))
            .toList());
    out.table(
        "Verdicts",
        "None.",
        List.of("when", "version", "verdict", "who", "why"),
        record.verdicts().stream()
            .filter(v -> within(v.at(), from, until))
            .map(
                v ->
                    Report.row(
                        Report.time(v.at()),
                        v.version().text(),
                        v.good() ? "good" : "bad",
                        v.by(),
                        v.reason()))
            .toList());
    out.table(
        "What the history says",
        "Nothing, of what " + by.login() + " may see.",
        List.of("entry", "when", "who", "what", "text"),
        history.span(by, null, site.stage(), from, until).stream()
            .filter(e -> concerns(e, application, site))
            .map(
                e ->
                    Report.row(
                        String.valueOf(e.sequence()),
                        Report.time(e.at()),
                        e.actor(),
                        e.event(),
                        (e.promotion() == null ? "" : "P-" + e.promotion() + ": ") + e.text()))
            .toList());
    return out.build();
  }

  /** Events of the whole stage, such as a change of its connections, are about each site of it. */
  private static boolean concerns(HistoryEntry e, String application, SiteKey site) {
    return (e.application() == null || e.application().equals(application))
        && (e.site() == null || e.site().equals(site.site()));
  }

  private static boolean within(Instant at, Instant from, Instant until) {
    return !at.isBefore(from) && at.isBefore(until);
  }

  private static SiteRecord.@Nullable Placement at(SiteRecord r, Instant when) {
    return r.placements().stream()
        .filter(p -> p.at().isBefore(when))
        .reduce((a, b) -> b)
        .orElse(null);
  }

  private static String words(SiteRecord.@Nullable Placement p) {
    return p == null
        ? "nothing yet"
        : p.version().text() + ", " + p.how() + " " + Report.time(p.at()) + " by " + p.by();
  }

  private void compared(
      Report.Builder out,
      Person by,
      String application,
      SiteRecord.@Nullable Placement was,
      SiteRecord.@Nullable Placement is) {
    String heading = "How the two versions differ";
    if (was == null || is == null) {
      out.text(
          heading, "There are not two: " + (is == null ? "neither is recorded." : "only one is."));
      return;
    }
    SemVer from = was.version();
    SemVer to = is.version();
    boolean same = from.equals(to);
    List<ComponentResult> differ = same ? List.of() : versions.compare(by, application, from, to);
    out.table(
        same ? heading : heading + ": " + from + " and " + to,
        same ? "It is the same one." : "They hold the same.",
        Records.COMPONENT,
        differ.stream().map(Records::component).toList());
  }
}
