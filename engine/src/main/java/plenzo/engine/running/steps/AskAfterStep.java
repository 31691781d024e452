package plenzo.engine.running.steps;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.AttributeDifference;
import plenzo.core.item.ItemDifference;
import plenzo.core.json.Json;
import plenzo.core.plan.Plan.Act;
import plenzo.core.run.Run;
import plenzo.core.run.RunStep;
import plenzo.core.stage.Application;
import plenzo.core.target.TargetFailed;
import plenzo.engine.running.RunContext;

/**
 * Asks the running system the same again. An answer is "as expected" only when both were given and
 * compared; whatever is missing is something to look at.
 */
final class AskAfterStep implements Step {
  @Override
  public Act act() {
    return Act.ASK_AFTER;
  }

  @Override
  public Phase phase() {
    return Phase.AFTER;
  }

  @Override
  public boolean withoutChanges() {
    return false; // none was asked for before, so there is nothing to compare with
  }

  @Override
  public boolean again(RunContext c) {
    return !c.now().recorded();
  }

  @Override
  public String take(RunContext c, RunStep step) {
    Map<String, Run.Answer> before = c.now().answers().before();
    Map<String, Run.Answer> now;
    try {
      now = Asking.ask(c);
    } catch (TargetFailed e) {
      String note = "The host could not be asked: " + e.getMessage();
      c.toLookAt(note);
      return note;
    }
    Map<String, Run.Answer> said = now;
    c.book().change(c.number(), r -> r.answeredAfter(said));
    List<String> odd = new ArrayList<>();
    for (Application.Probe probe : Asking.questions(c)) {
      String found = odd(probe, before.get(probe.name()), now.get(probe.name()));
      if (!found.isEmpty()) {
        odd.add(probe.name() + " " + found);
      }
    }
    if (odd.isEmpty()) {
      return now.size() == 1 ? "The answer is as expected" : "Every answer is as expected";
    }
    String note = String.join("; ", odd);
    c.toLookAt(note);
    return note;
  }

  /** What is not as expected of one answer; empty when nothing is. */
  private static String odd(
      Application.Probe probe, Run.@Nullable Answer was, Run.@Nullable Answer is) {
    if (is == null || !is.given()) {
      return "was not answered: " + (is == null ? "it was not asked" : is.text());
    }
    if (!probe.mustStay()) {
      return "";
    }
    if (was == null) {
      return "was not asked before, so that its answer cannot be compared";
    }
    if (!was.given()) {
      return "was not answered before, so that its answer cannot be compared: " + was.text();
    }
    return was.text().equals(is.text())
        ? ""
        : "answers otherwise than before" + differences(was.text(), is.text());
  }

  /** Which members, where both answers are JSON; never their values. */
  private static String differences(String was, String is) {
    try {
      return ItemDifference.members(Json.parse(was), Json.parse(is)).stream()
          .limit(5)
          .map(AttributeDifference::name)
          .collect(Collectors.joining(", ", ": ", ""));
    } catch (IllegalArgumentException e) {
      return "";
    }
  }
}
