package plenzo.cli;

import java.nio.file.Path;
import java.util.List;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import plenzo.api.Drifts.DriftView;
import plenzo.api.Drifts.GroupView;
import plenzo.api.Drifts.LeaveAsked;
import plenzo.api.Drifts.LineView;
import plenzo.api.Drifts.PlacesAsked;
import plenzo.api.Drifts.PutBackAsked;
import plenzo.api.Promotions.PromotionView;
import plenzo.api.Standings.LeftView;
import plenzo.api.Standings.RecordView;
import plenzo.api.Versions.DraftView;
import plenzo.api.Versions.Reason;

@Command(
    name = "drift",
    description = "What a site holds that differs from what is recorded there, and settling it.",
    footer = {
      "",
      "Examples:",
      "  plenzo drift look fares@production/north --fail-on-difference",
      "  plenzo drift show fares@production/north",
      "  plenzo drift prepare fares@production/north records/fares.band",
      "  plenzo drift leave fares@production/north rule/fares.peak --until 2027-03-31 --reason \"Agreed with the harbour\"",
      "  plenzo drift take fares@production/north rule/fares.peak",
      "",
      "A place is a component, or a part of one as \"drift show\" names it."
    })
final class DriftCommand extends Group {
  private String path(String at) {
    String[] p = parts(at, "fares@production");
    return "/records/" + Api.encode(p[0]) + "/" + site(p[1]);
  }

  @Command(name = "look", description = "Looks now.")
  int look(
      @Parameters(paramLabel = "APPLICATION@STAGE[/SITE]") String at,
      @Option(names = "--fail-on-difference") boolean fail) {
    RecordView r = api().post(path(at) + "/look", java.util.Map.of(), RecordView.class);
    show(r);
    if (!r.reachable()) {
      return Failed.NOT_REACHABLE;
    }
    return fail && (r.drift() > 0 || r.older() != null) ? Failed.DIFFERENT : 0;
  }

  @Command(
      name = "show",
      description = "All that the last look found: what is recorded, and what is there.")
  void showLast(
      @Parameters(paramLabel = "APPLICATION@STAGE[/SITE]") String at,
      @Option(names = "--component", description = "Only of this one.") @Nullable String component,
      @Option(names = "--how", description = "Only what is changed, gone or only-there.")
          @Nullable String how,
      @Option(names = "--rows", defaultValue = "50", description = "Parts and rows to show.")
          int rows,
      @Option(names = "--from", description = "Where a part that was not shown begins.")
          @Nullable String from,
      @Option(names = "--export", description = "Saves all of it as CSV instead.")
          @Nullable Path export) {
    if (export != null) {
      long bytes = api().save(path(at) + "/drift/file", export);
      out().line("Saved in " + export + ", " + bytes + " bytes.");
      return;
    }
    DriftView d =
        api()
            .get(
                path(at)
                    + "/drift"
                    + Api.query(
                        "component",
                        component,
                        "how",
                        how,
                        "limit",
                        String.valueOf(rows),
                        "cursor",
                        from),
                DriftView.class);
    if (out().json()) {
      out().document("drift", d);
      return;
    }
    listed(at, d);
  }

  private void listed(String at, DriftView d) {
    out()
        .facts(
            "Site",
            d.application() + "@" + out().site(d.site(), d.production()),
            "Version",
            d.version() == null ? "" : d.version(),
            "Looked",
            d.lookedAt() == null ? "not looked yet" : out().time(d.lookedAt()),
            "Rows",
            d.rowsLookedAt() == null ? "not looked yet" : "looked " + out().time(d.rowsLookedAt()),
            "Ask",
            d.owner());
    if (!d.reachable()) {
      out().line("The site is not reachable now: this is what was found before.");
    }
    out().line("");
    if (d.lookedAt() == null) {
      out().line("Next: plenzo drift look " + at);
      return;
    }
    if (d.all() == 0) {
      out().line("Nothing that Plenzo looked at differs.");
    }
    for (GroupView g : d.groups()) {
      if (d.items().stream().anyMatch(l -> l.component().equals(g.component()))) {
        out().line(DifferenceText.group(g));
        d.items().stream().filter(l -> l.component().equals(g.component())).forEach(this::line);
      }
    }
    if (d.next() != null) {
      out()
          .line(
              "There are more: of "
                  + d.all()
                  + " in all, "
                  + d.items().size()
                  + " are shown. Next: plenzo drift show "
                  + at
                  + " --from "
                  + d.next());
    }
    if (d.listed() < d.all()) {
      out()
          .line(
              (d.all() - d.listed())
                  + " more were counted and are not listed: settle by component, and look again.");
    }
    left(d.left());
  }

  private void line(LineView l) {
    String part =
        l.place().equals(l.component()) ? "" : l.place().substring(l.component().length() + 1);
    out()
        .line(
            "  "
                + DifferenceText.how(l.how())
                + (part.isEmpty() ? "" : " " + part)
                + "  since "
                + out().time(l.since())
                + (l.settled() == null ? "" : ", " + l.settled() + " on purpose"));
    l.attributes().forEach(a -> DifferenceText.beside(out(), a, "recorded", "there"));
  }

  @Command(
      name = "prepare",
      description = "Opens a plan that puts back what is recorded, and waits for its comparison.")
  void prepare(
      @Parameters(index = "0", paramLabel = "APPLICATION@STAGE[/SITE]") String at,
      @Parameters(
              index = "1..*",
              paramLabel = "PLACE",
              description = "What is put back; all that changed or is gone by default.")
          @Nullable List<String> places,
      @Option(names = "--away", paramLabel = "PLACE", description = "What is only there and goes.")
          @Nullable List<String> away,
      @Option(names = "--notes", defaultValue = "") String notes) {
    Cases.opened(
        this,
        Cases.settled(
            this,
            api()
                .post(
                    path(at) + "/put-back",
                    new PutBackAsked(places, away, notes),
                    PromotionView.class)));
  }

  @Command(
      name = "leave",
      description = "Leaves what differs as it is until a day: it counts as no drift until then.")
  void leave(
      @Parameters(index = "0", paramLabel = "APPLICATION@STAGE[/SITE]") String at,
      @Parameters(index = "1..*", arity = "1..*", paramLabel = "PLACE") List<String> places,
      @Option(names = "--until", required = true, paramLabel = "YYYY-MM-DD") String until,
      @Option(names = "--reason", required = true) String reason) {
    show(
        api()
            .post(
                path(at) + "/drift/leave",
                new LeaveAsked(places, reason, until),
                RecordView.class));
  }

  @Command(name = "leave-no-more", description = "Takes back that something is left.")
  void leaveNoMore(
      @Parameters(index = "0", paramLabel = "APPLICATION@STAGE[/SITE]") String at,
      @Parameters(index = "1..*", arity = "1..*", paramLabel = "PLACE") List<String> places) {
    show(api().post(path(at) + "/drift/leave-no-more", new PlacesAsked(places), RecordView.class));
  }

  @Command(name = "take", description = "Begins a draft with components as the site has them.")
  void take(
      @Parameters(index = "0", paramLabel = "APPLICATION@STAGE[/SITE]") String at,
      @Parameters(index = "1..*", arity = "1..*", paramLabel = "PLACE") List<String> places) {
    DraftView d = api().post(path(at) + "/drift/take", new PlacesAsked(places), DraftView.class);
    if (out().json()) {
      out().document("draft", d);
      return;
    }
    out().line("Draft " + d.id() + " from " + d.from() + ", with what is at " + at + ".");
    out().line("Next: plenzo draft show " + d.id());
  }

  @Command(name = "close-failure", description = "Closes a failed run's mark with a note.")
  void close(
      @Parameters(paramLabel = "APPLICATION@STAGE[/SITE]") String at,
      @Option(names = "--reason", required = true) String reason) {
    api().post(path(at) + "/close-failure", new Reason(reason), RecordView.class);
    out().line("Closed.");
  }

  /** What differs, and never "nothing" of a site that could not be asked. */
  private static String differs(RecordView r) {
    String known =
        r.drift() < 0 ? "" : r.drift() == 0 ? "nothing" : counted(r.drift(), "part or row");
    if (!r.reachable()) {
      return "not known now: the site is not reachable"
          + (known.isEmpty() ? "" : " (" + known + " at the last look)");
    }
    return known.isEmpty() ? "not looked yet" : known.replace("part or rows", "parts or rows");
  }

  private void show(RecordView r) {
    if (out().json()) {
      out().document("record", r);
      return;
    }
    out()
        .facts(
            "Site",
            r.application() + "@" + r.site(),
            "Version",
            r.version() == null ? "" : r.version(),
            "Condition",
            out().state(r.condition()),
            "Looked",
            r.lookedAt() == null ? "not looked yet" : out().time(r.lookedAt()),
            "Differs",
            differs(r),
            "Last good",
            r.lastGood() == null ? "" : r.lastGood());
    if (r.older() != null) {
      out()
          .line(
              "The site was changed by "
                  + r.older()
                  + ", which the records do not know: they are older than it. Next: plenzo server"
                  + " newer");
    }
    if (r.closedBy() != null) {
      out().line("Only operators are let in, since " + r.closedBy() + ".");
    }
    r.driftExamples().forEach(e -> out().line("  " + e));
    if (r.drift() > 0) {
      out().line("All of it: plenzo drift show " + r.application() + "@" + r.site());
    }
    if (!r.exceptions().isEmpty()) {
      out().line("Kept or left there on purpose:");
      r.exceptions().forEach(e -> out().line("  " + e));
    }
    left(r.left());
  }

  private void left(List<LeftView> left) {
    if (!left.isEmpty()) {
      out().line("Left for a time:");
      left.forEach(
          l ->
              out()
                  .line(
                      "  "
                          + l.place()
                          + " until "
                          + l.until()
                          + ", by "
                          + l.by()
                          + ": "
                          + l.reason()));
    }
  }
}
