package plenzo.cli;

import static plenzo.cli.Group.counted;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import plenzo.api.Manuals.AskedByHand;
import plenzo.api.Promotions.AskedView;
import plenzo.api.Promotions.BroughtView;
import plenzo.api.Promotions.ComponentChange;
import plenzo.api.Promotions.CountsView;
import plenzo.api.Promotions.FindingView;
import plenzo.api.Promotions.LockedView;
import plenzo.api.Promotions.MayView;
import plenzo.api.Promotions.OutsideStanding;
import plenzo.api.Promotions.PlanView;
import plenzo.api.Promotions.PromotionView;
import plenzo.api.Promotions.PutBackView;
import plenzo.api.Promotions.RehearsedView;
import plenzo.api.Promotions.StepView;
import plenzo.api.Promotions.UrgencyView;
import plenzo.api.Proposals.GuardChange;
import plenzo.api.Rollbacks.ObstacleView;

/** A case file as text: all that its page says. */
final class PromotionText {
  /** What the plan says of a step that leaves nothing behind. */
  private static final String NOTHING_TO_UNDO = "nothing to undo";

  private PromotionText() {}

  /** How many of each, and each with its place and what to do. */
  static void findings(Out out, PromotionView p) {
    long blockers =
        p.impact().findings().stream().filter(f -> f.severity().equals("blocker")).count();
    long risks = p.impact().findings().stream().filter(f -> f.severity().equals("risk")).count();
    out.line(
        counted(blockers, "blocker")
            + ", "
            + counted(risks, "risk")
            + ", "
            + counted(p.impact().findings().size() - blockers - risks, "note")
            + ". "
            + p.impact().checks()
            + " checks ran.");
    for (FindingView f : p.impact().findings()) {
      out.line(
          out.state(f.severity())
              + " "
              + f.sentence()
              + (f.built() == null ? "" : " (a " + f.built() + " elsewhere)")
              + (f.acceptedBy() == null
                  ? ""
                  : " (accepted by "
                      + f.acceptedBy()
                      + " until "
                      + f.acceptedUntil()
                      + ": "
                      + f.acceptedReason()
                      + ")"));
      out.line(
          "    "
              + f.rule()
              + " at "
              + f.place()
              + (f.examples().isEmpty()
                  ? ""
                  : " For example: " + String.join("; ", f.examples()) + ".")
              + (f.advice().isEmpty() ? "" : " " + f.advice() + "."));
    }
  }

  /** How far an approval covers a way back. */
  private static String covered(long rows) {
    return rows == 0
        ? ". A yes to this plan covers it while nothing is lost, until the version is judged good"
        : ". A yes to this plan covers it while no more than "
            + counted(rows, "row")
            + (rows == 1 ? " is" : " are")
            + " lost, until the version is judged good";
  }

  /** What a yes agrees to. */
  static String sentence(PromotionView p) {
    long risks = p.impact().findings().stream().filter(f -> f.severity().equals("risk")).count();
    String counted =
        DifferenceText.written(p.compared().counts()) + "; " + counted(risks, "risk") + ".";
    String what = p.goal().version() + " of " + p.goal().application();
    return switch (p.goal().purpose()) {
      case "values" ->
          counted(p.compared().gives().size(), "value")
              + " for "
              + what
              + " given to the host at "
              + p.goal().site()
              + ", and nothing else moves.";
      case "earlier-values" ->
          counted(p.compared().gives().size(), "value")
              + " of before given again to the host at "
              + p.goal().site()
              + "; "
              + what
              + " stays, and nothing else moves.";
      case "put-back" ->
          "What was changed by hand at "
              + p.goal().site()
              + " becomes as "
              + what
              + " has it: "
              + counted;
      default -> "Version " + what + " goes to " + p.goal().site() + ": " + counted;
    };
  }

  /** What is chosen about on a way back that is open, with the words that decide it. */
  private static void obstacle(Out out, PromotionView p, ObstacleView o) {
    out.line("In the way: " + o.sentence());
    o.offers()
        .forEach(
            f ->
                out.line(
                    "    "
                        + (f.choice().equals(o.chosen()) ? "chosen: " : "")
                        + f.words()
                        + ": plenzo promotion decide "
                        + p.number()
                        + " "
                        + o.at()
                        + "="
                        + f.choice()));
  }

  /** A version that comes along, with what its author said of it. */
  private static void brought(Out out, BroughtView v) {
    out.line(
        "Brings "
            + v.number()
            + " "
            + v.title()
            + (v.tasks().isEmpty() ? "" : ", " + String.join(", ", v.tasks())));
    v.notes().lines().filter(n -> !n.isBlank()).forEach(n -> out.line("    " + n));
  }

  /** Everything about it; answers with the exit code of whoever looks. */
  static int shown(Group group, PromotionView p) {
    Out out = group.out();
    if (out.json()) {
      out.document("promotion", p);
    } else {
      facts(out, p);
      matter(out, p);
      out.line("");
      findings(out, p);
      if (p.plan() != null) {
        out.line("");
        plan(out, p, p.plan());
      }
      out.line("");
      agreement(out, p);
    }
    boolean blocked = p.impact().findings().stream().anyMatch(f -> f.severity().equals("blocker"));
    return p.state().equals("failed") || blocked ? Failed.STOPPED : 0;
  }

  private static void facts(Out out, PromotionView p) {
    out.facts(
        "Promotion",
        p.number() + RunText.about(p.goal().purpose()),
        "Version",
        p.goal().application() + "@" + p.goal().version() + " \"" + p.goal().title() + "\"",
        "Carries",
        p.goal().coverage() == null ? "" : p.goal().coverage(),
        "To",
        out.site(p.goal().site(), p.goal().production()),
        "Instead of",
        p.compared().present() == null || p.compared().base() == null
            ? ""
            : p.compared().present() + " (base " + p.compared().base() + ")",
        "Path",
        p.goal().path(),
        "Release",
        p.goal().release() == null
            ? ""
            : p.goal().release() + ", which is approved and started as a whole",
        "In waves",
        p.goal().waves() == null
            ? ""
            : p.goal().waves() + ", which is approved and started as a whole",
        "Notes",
        p.goal().notes(),
        "Prepared",
        "by " + p.prepared().by() + " " + out.time(p.prepared().at()),
        "State",
        out.state(p.state()) + (p.sentence() == null ? "" : ": " + p.sentence()),
        "Run",
        p.run() == null ? "" : p.run(),
        "Compared",
        out.time(p.compared().at()),
        "Differences",
        DifferenceText.counts(out, p.compared().counts()),
        "Fingerprint",
        p.plan() == null ? "" : p.plan().fingerprint());
  }

  /** What it is about: the sentence that is agreed to, what was chosen, what else comes along. */
  private static void matter(Out out, PromotionView p) {
    if (p.plan() != null) {
      out.line(sentence(p));
    }
    PutBackView back = p.goal().putBack();
    if (back != null) {
      putBack(out, back);
    }
    p.compared().gives().forEach(g -> out.line(GivesText.of(g)));
    if (p.compared().brings().size() > 1) {
      p.compared().brings().forEach(v -> brought(out, v));
    }
    p.compared().takesAway().forEach(t -> out.line("Takes away: " + t));
    p.choices().obstacles().forEach(o -> obstacle(out, p, o));
    p.choices().decisions().forEach((at, what) -> out.line("Decided: " + at + "=" + what));
    activation(out, p);
    byHand(p).forEach(a -> ByHand.asked(out, a));
    p.compared().moved().forEach(m -> out.line("Moved: " + m));
  }

  private static void putBack(Out out, PutBackView back) {
    if (!back.saved().isEmpty()) {
      out.line("Brings in what was saved: " + String.join(", ", back.saved()));
    } else if (!back.only().isEmpty()) {
      out.line("Puts back only " + String.join(", ", back.only()));
    } else if (back.away().isEmpty()) {
      out.line("Puts back all that is recorded.");
    }
    if (!back.away().isEmpty()) {
      out.line("Takes away what is only there: " + String.join(", ", back.away()));
    }
  }

  /** Rules, forms and integrations that come: which the run switches on, and which arrive off. */
  private static void activation(Out out, PromotionView p) {
    List<String> on = new ArrayList<>();
    List<String> asTheyAre = new ArrayList<>();
    for (ComponentChange c : p.compared().components()) {
      boolean definition = c.key().matches("(rule|form|integration)/.*");
      boolean comes = c.difference().equals("added") || c.difference().equals("changed");
      if (definition && comes) {
        (p.choices().activate().contains(c.key()) ? on : asTheyAre).add(c.key());
      }
    }
    if (!on.isEmpty()) {
      out.line("Switched on by the run: " + String.join(", ", on));
    }
    if (!asTheyAre.isEmpty()) {
      out.line(
          "Not switched on by the run (what is new arrives off): "
              + String.join(", ", asTheyAre)
              + ". To switch on: plenzo promotion activate "
              + p.number()
              + " KIND/NAME …");
    }
  }

  /** What people do around its run, in the plan's order. */
  static List<AskedByHand> byHand(PromotionView p) {
    return p.plan() == null
        ? List.of()
        : p.plan().steps().stream().map(StepView::manual).filter(Objects::nonNull).toList();
  }

  private static void plan(Out out, PromotionView p, PlanView plan) {
    // a database is the last that is switched
    StepView held =
        plan.steps().stream()
            .filter(s -> s.act().equals("switch"))
            .reduce((a, b) -> b)
            .orElse(null);
    for (StepView s : plan.steps()) {
      out.line(
          s.number()
              + ". "
              + s.name()
              + (s.manual() == null ? " at " + s.target() : "")
              + ": "
              + s.what()
              + (s.number() == plan.noReturn() ? "  [no return once it is sent]" : ""));
      if (s.manual() == null && !s.undo().equals(NOTHING_TO_UNDO)) {
        out.line("    undone by: " + s.undo());
      }
      if (s == held) {
        locks(out, plan.locked());
      }
    }
    out.line(
        counted(plan.statements().size(), "statement")
            + (plan.statements().isEmpty()
                ? "."
                : "; as they run: plenzo promotion show " + p.number() + " --sql"));
    out.line(
        p.expected() == null
            ? "No estimate: the first run here."
            : "Takes " + RunText.span(p.expected()) + "." + usersOut(p));
    out.line(rehearsed(p.rehearsed()));
    plan.waysBack()
        .forEach(
            w ->
                out.line(
                    "Way back, "
                        + w.way()
                        + ": "
                        + w.sentence()
                        + (w.possible() ? covered(w.ceiling()) : "")));
    if (!plan.gates().isEmpty()) {
      out.line(
          "In force: "
              + plan.gates().stream().map(g -> g.words()).collect(Collectors.joining("; ")));
    }
    guards(out, p);
  }

  /** Whom the switch keeps waiting. */
  private static void locks(Out out, LockedView locked) {
    if (locked.seconds() == null) {
      return;
    }
    out.line("    holds for " + locked.about() + ", " + locked.basis() + ":");
    locked
        .tables()
        .forEach(
            t ->
                out.line(
                    "      "
                        + t.table()
                        + ": "
                        + t.words()
                        + " ("
                        + String.join("; ", t.because())
                        + ")"));
  }

  /** Somebody else's yes over the network. */
  private static void outside(Out out, PromotionView p) {
    OutsideStanding o = p.outside();
    if (o == null) {
      return;
    }
    out.line(
        o.yes() == null
            ? "Needs the yes of " + o.name() + ": plenzo promotion ask-outside " + p.number()
            : o.name()
                + (o.yes() ? " said yes" : " said no")
                + (o.said().isEmpty() ? "" : ": " + o.said())
                + (o.ofThisPlan() ? "" : ", of another plan than this one")
                + ", asked by "
                + o.by()
                + (o.yes() && o.ofThisPlan()
                    ? ""
                    : "; again: plenzo promotion ask-outside " + p.number()));
  }

  /** What was changed of what it must pass. */
  private static void guards(Out out, PromotionView p) {
    for (GuardChange g : p.guards()) {
      out.line(
          (g.state().equals("open") ? "Waits to be changed: " : "Changed since it was prepared: ")
              + g.what()
              + " by "
              + g.by()
              + (g.second() == null ? "" : ", agreed by " + g.second())
              + (g.state().equals("alone") ? ", alone: nobody else administered" : "")
              + ", "
              + out.time(g.at()));
      out.line("    " + g.number() + ": " + g.words());
    }
  }

  private static String rehearsed(@Nullable RehearsedView r) {
    if (r == null) {
      return "Its plan was not rehearsed.";
    }
    return "Rehearsal "
        + r.number()
        + (r.ofThisPlan() ? "" : ", of another plan than this one,")
        + " "
        + RehearsalCommand.words(r.result())
        + (r.switchSeconds() == null
            ? ""
            : ", its switches in "
                + RunText.duration(Duration.ofMillis((long) (r.switchSeconds() * 1000))))
        + (r.beside() == 0 ? "" : "; " + Group.counted(r.beside(), "thing") + " of it not")
        + ": plenzo rehearsal show "
        + r.number();
  }

  private static String usersOut(PromotionView p) {
    return p.usersOutExpected() == null
        ? ""
        : " Users are out " + RunText.span(p.usersOutExpected()) + ".";
  }

  private static void urgency(Out out, PromotionView p) {
    UrgencyView u = p.agreement().urgency();
    if (u == null) {
      return;
    }
    u.said()
        .forEach(
            s ->
                out.line(
                    "An emergency, says " + s.by() + " " + out.time(s.at()) + ": " + s.reason()));
    if (u.said().size() < u.people()) {
      out.line(
          "    "
              + u.people()
              + " people must declare it: plenzo promotion emergency "
              + p.number()
              + " --reason …");
    }
    if (!u.passes().isEmpty()) {
      out.line("    passes, and owes: " + String.join("; ", u.passes()));
    }
    Instant until = u.until();
    if (until != null) {
      out.line(
          u.owed()
              ? "    owes a yes until "
                  + out.time(until)
                  + ": plenzo promotion approve "
                  + p.number()
                  + " --expect …"
              : "    owes nothing any more");
    }
  }

  private static void question(Out out, PromotionView p, AskedView q) {
    out.line("Question " + q.number() + " by " + q.by() + " " + out.time(q.at()) + ": " + q.text());
    if (q.answer() == null) {
      out.line(
          "    not answered: plenzo promotion answer " + p.number() + " " + q.number() + " \"…\"");
    } else {
      out.line("    " + q.answeredBy() + " " + out.time(q.answeredAt()) + ": " + q.answer());
    }
  }

  /** Who said what, what is still asked, and what the reader may do. */
  private static void agreement(Out out, PromotionView p) {
    out.line(
        p.agreement().coveredBy() != null
            ? "Covered by the approvals of " + p.agreement().coveredBy() + "."
            : p.agreement().needed() == 0
                ? "The way there needs no approval."
                : "Needs "
                    + String.join(" and ", p.agreement().asks())
                    + (p.agreement().approvers().isEmpty()
                        ? "; nobody may give one: grant somebody the right approve."
                        : ", given by " + String.join(" or ", p.agreement().approvers()) + "."));
    outside(out, p);
    p.agreement()
        .approvals()
        .forEach(
            a ->
                out.line(
                    (a.yes() ? "Approved" : "Rejected")
                        + " by "
                        + a.by()
                        + (a.of() == null ? "" : " for " + a.of())
                        + " "
                        + out.time(a.at())
                        + (a.comment().isEmpty() ? "" : ": " + a.comment())
                        + (a.voidBecause() == null ? "" : " (void: " + a.voidBecause() + ")")));
    urgency(out, p);
    p.agreement().questions().forEach(q -> question(out, p, q));
    if (!p.gates().isEmpty()) {
      out.line("Waits for: " + Cases.words(p.gates()));
    }
    String now =
        p.may().entrySet().stream()
            .filter(m -> m.getValue().allowed())
            .map(Map.Entry::getKey)
            .sorted()
            .collect(Collectors.joining(", "));
    out.line(now.isEmpty() ? "There is nothing that you may do with it now." : "You may: " + now);
    for (String act : List.of("approve", "run")) {
      MayView may = p.may().get(act);
      if (may != null && !may.allowed() && !may.why().isEmpty()) {
        out.line("You may not " + act + ": " + may.why());
      }
    }
  }

  /** "−0 ≠1 +2, 1 risks": what one of several brings, for a cell. */
  static String changes(CountsView counts, long blockers, long risks) {
    return "−"
        + counts.removed()
        + " ≠"
        + counts.changed()
        + " +"
        + counts.added()
        + (blockers > 0 ? ", " + counted(blockers, "blocker") : "")
        + (risks > 0 ? ", " + counted(risks, "risk") : "");
  }
}
