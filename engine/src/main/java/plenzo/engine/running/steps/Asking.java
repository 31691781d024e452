package plenzo.engine.running.steps;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import plenzo.core.component.Kind.Holder;
import plenzo.core.run.Run;
import plenzo.core.stage.Application;
import plenzo.core.target.TargetFailed;
import plenzo.engine.running.RunContext;
import plenzo.engine.setup.SiteLook;

/** Asks the running system the application's questions. */
final class Asking {
  /** Longest answer that is kept: 20,000 characters (guess: an answer is a small document). */
  private static final int LONGEST = 20_000;

  private Asking() {}

  static List<Application.Probe> questions(RunContext c) {
    return c.tools()
        .keeper()
        .read(kept -> kept.applications().find(c.run().application()))
        .orElseThrow()
        .probes();
  }

  /**
   * Every question with its answer; that there was none is said as such. The log says that it was
   * answered, and not how: answers are values.
   *
   * @throws TargetFailed when the host cannot be reached
   */
  static Map<String, Run.Answer> ask(RunContext c) {
    Map<String, Run.Answer> out = new LinkedHashMap<>();
    try (SiteLook look = c.targets().look(List.of(c.place(Holder.HOST)))) {
      for (Application.Probe probe : questions(c)) {
        Run.Answer answer;
        try {
          String text = look.items(Holder.HOST).probe(probe.question());
          answer =
              text.length() <= LONGEST
                  ? new Run.Answer(true, text)
                  : new Run.Answer(false, "it is longer than " + LONGEST + " characters");
        } catch (TargetFailed e) {
          answer = new Run.Answer(false, String.valueOf(e.getMessage()));
        }
        c.say(
            "Asked \""
                + probe.name()
                + "\": "
                + (answer.given() ? "answered" : "no answer: " + answer.text()));
        out.put(probe.name(), answer);
      }
    }
    return out;
  }
}
