package plenzo.cli;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import plenzo.api.Standings.PastView;
import plenzo.api.Standings.SourceView;
import plenzo.api.Standings.StandingCell;
import plenzo.api.Standings.StandingLine;
import plenzo.api.Standings.StandingView;

@Command(
    name = "standing",
    description = "Where every version is.",
    footer = {
      "",
      "Examples:",
      "  plenzo standing --find booking",
      "  plenzo standing --at 2026-06-03T20:00:00Z"
    })
final class StandingCommand extends Group {
  @Option(
      names = "--at",
      paramLabel = "TIME",
      description = "What was where at a past time (RFC 3339).")
  @Nullable String at;

  @Option(
      names = "--find",
      paramLabel = "TEXT",
      description = "Only applications whose key, name or owner contains it.")
  @Nullable String find;

  /** Applications that are asked for at once. */
  private static final int PAGE = 500;

  @Override
  public void run() {
    if (at != null) {
      List<PastView> past =
          api().all("/standing/past" + Api.query("at", at), PastView.class).stream()
              .sorted(Comparator.comparing(PastView::application).thenComparing(PastView::site))
              .toList();
      out()
          .list(
              "standing",
              past,
              List.of("application", "site", "version", "how", "since"),
              p -> List.of(p.application(), p.site(), p.version(), p.how(), out().time(p.since())));
      return;
    }
    List<StandingLine> lines = new ArrayList<>();
    StandingView s = page(null);
    lines.addAll(s.lines());
    while (s.next() != null && lines.size() < out().wanted()) {
      s = page(s.next());
      lines.addAll(s.lines());
    }
    if (out().json()) {
      out().document("standing", whole(s, lines));
      return;
    }
    if (s.next() != null) {
      out().note(lines.size() + " of " + s.found() + " applications, the worst first; use --all");
    }
    List<List<String>> rows = new ArrayList<>();
    lines.forEach(
        l ->
            l.cells()
                .forEach(
                    c ->
                        rows.add(
                            List.of(
                                l.application(),
                                out().site(c.site(), c.production()),
                                c.version() == null ? "" : c.version(),
                                out().state(c.condition())
                                    + (c.judged() || c.version() == null ? "" : ", not judged yet"),
                                c.activity() == null
                                    ? ""
                                    : out().state(c.activity())
                                        + ": "
                                        + c.activityText()
                                        + (c.link() == null ? "" : " (" + c.link() + ")"),
                                remark(c)))));
    out().table(List.of("application", "at", "version", "condition", "under way", "remarks"), rows);
    out().line("");
    lines.forEach(this::source);
    out()
        .line(
            s.goodInProduction()
                + " of "
                + s.inProduction()
                + " good in production, of those you may see. "
                + s.waiting()
                + " waiting for you.");
  }

  private StandingView page(@Nullable String cursor) {
    return api()
        .get(
            "/standing"
                + Api.query(
                    "find",
                    find,
                    "limit",
                    String.valueOf(Math.min(out().wanted(), PAGE)),
                    "cursor",
                    cursor),
            StandingView.class);
  }

  private static StandingView whole(StandingView last, List<StandingLine> lines) {
    return new StandingView(
        last.at(),
        last.stages(),
        lines,
        last.next(),
        last.found(),
        last.applications(),
        last.goingIntoProduction(),
        last.waiting(),
        last.goodInProduction(),
        last.inProduction());
  }

  /** What the source has that is in no version, when there is something to say. */
  private void source(StandingLine l) {
    SourceView seen = l.seen();
    if (seen.changed() > 0) {
      out()
          .line(
              l.application()
                  + ": "
                  + seen.changed()
                  + (seen.changed() == 1 ? " component" : " components")
                  + " changed at the source since "
                  + seen.against()
                  + ".");
    }
    if (!seen.trouble().isEmpty()) {
      out().line(l.application() + ": " + seen.trouble() + ".");
    }
    if (!seen.warning().isEmpty()) {
      out().line(l.application() + ": " + seen.warning());
    }
  }

  private String remark(StandingCell c) {
    List<String> out = new ArrayList<>();
    c.yesOwed()
        .forEach(
            o ->
                out.add(
                    o.promotion()
                        + (o.overdue() ? " is overdue: it owed a yes until " : " owes a yes until ")
                        + out().time(o.until())));
    if (!c.note().isEmpty()) {
      out.add(c.note());
    }
    if (c.behind() > 0) {
      out.add(c.behind() + " behind");
    }
    c.owes().forEach(o -> out.add("owes " + o));
    return String.join("; ", out);
  }
}
