package plenzo.cli;

import java.util.List;
import plenzo.api.Evidences.EvidenceView;
import plenzo.api.Manuals.HandedView;
import plenzo.api.Promotions.BroughtView;
import plenzo.api.Promotions.PromotionView;
import plenzo.api.Runs.RunStepView;
import plenzo.api.Runs.RunView;

/** What a tester reads before a verdict: what changed in words, what others did and showed. */
final class TryText {
  /** Evidence that is looked through for this version (guess: older is of other versions). */
  private static final int EVIDENCE = 200;

  private TryText() {}

  static void show(Group group, RunView r) {
    Out out = group.out();
    PromotionView p =
        group.api().get("/promotions/" + Api.encode(r.promotion()), PromotionView.class);
    out.line(
        r.goal().application()
            + "@"
            + r.goal().version()
            + " at "
            + r.goal().site()
            + ", brought by "
            + r.number());
    if (!r.goal().notes().isEmpty()) {
      out.line(r.goal().notes());
    }
    p.compared().brings().forEach(v -> brought(out, v));
    if (p.compared().brings().isEmpty() && r.goal().notes().isEmpty()) {
      out.line("Nobody wrote what it is for.");
    }
    r.steps().stream().filter(s -> s.manual() != null).forEach(s -> byHand(out, s));
    List<EvidenceView> others =
        group
            .api()
            .pages(
                "/evidence" + Api.query("application", r.goal().application()),
                EvidenceView.class,
                EVIDENCE)
            .items()
            .stream()
            .filter(e -> e.version().equals(r.goal().version()) && !e.run().equals(r.number()))
            .toList();
    others.forEach(e -> evidence(out, e));
    if (others.isEmpty()) {
      out.line("Nothing was shown of it by another run.");
    }
    out.line("What is there: plenzo run sheet " + r.number());
    out.line(
        "Then say: plenzo run judge "
            + r.number()
            + " --good --reason … --evidence FILE, or --bad");
  }

  private static void brought(Out out, BroughtView v) {
    out.line(
        v.number()
            + " "
            + v.title()
            + (v.tasks().isEmpty() ? "" : ", " + String.join(", ", v.tasks())));
    if (!v.notes().isEmpty()) {
      v.notes().lines().forEach(line -> out.line("  " + line));
    }
  }

  private static void byHand(Out out, RunStepView s) {
    HandedView h = java.util.Objects.requireNonNull(s.manual());
    out.line(
        "By hand: "
            + h.asked().title()
            + ", "
            + (s.state().equals("running") ? "waits" : s.state())
            + (h.by() == null ? "" : " by " + h.by())
            + (h.note() == null ? "" : ": " + h.note())
            + (h.evidence() == null ? "" : " (" + h.evidence() + ")"));
  }

  private static void evidence(Out out, EvidenceView e) {
    out.line(
        "Shown at "
            + e.site()
            + ": "
            + e.number()
            + " "
            + e.name()
            + " by "
            + e.by()
            + ", "
            + (e.report() == null ? e.about() : e.report().words()));
  }
}
