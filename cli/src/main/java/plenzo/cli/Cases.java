package plenzo.cli;

import java.util.List;
import java.util.stream.Collectors;
import plenzo.api.Promotions.GateView;
import plenzo.api.Promotions.PromotionView;

/** What commands about promotions and rollbacks have in common. */
final class Cases {
  private Cases() {}

  /** "1 blocker to put right; approval 0 of 1". */
  static String words(List<GateView> gates) {
    return gates.stream().map(GateView::words).collect(Collectors.joining("; "));
  }

  /** What an opened plan is, and what comes next; said after it was compared. */
  static void opened(Group group, PromotionView p) {
    if (group.out().json()) {
      group.out().document("promotion", p);
      return;
    }
    group
        .out()
        .line(
            p.number()
                + RunText.about(p.goal().purpose())
                + " is "
                + p.state()
                + (p.sentence() == null ? "" : ": " + p.sentence())
                + (p.gates().isEmpty() ? "." : ": " + words(p.gates()) + "."));
    group.out().line("Next: plenzo promotion show " + p.number());
  }

  /** Waits while it is being compared. */
  static PromotionView settled(Group group, PromotionView p) {
    String path = "/promotions/" + Api.encode(p.number());
    return p.state().equals("preparing")
        ? Telling.during(
            () ->
                group.until(
                    () -> group.api().get(path, PromotionView.class),
                    now -> !now.state().equals("preparing"),
                    p.number() + " is still being compared.",
                    "plenzo promotion show " + p.number()),
            () -> Telling.soFar(group, "promotion/" + p.number()))
        : p;
  }
}
