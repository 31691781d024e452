package plenzo.engine.running.steps;

import java.util.List;
import java.util.Map;
import java.util.Objects;
import plenzo.core.component.Kind.Holder;
import plenzo.core.keeping.Kept;
import plenzo.core.probe.Answer;
import plenzo.core.probe.Probe;
import plenzo.core.run.Run;
import plenzo.engine.probing.Probing;
import plenzo.engine.running.RunContext;
import plenzo.engine.setup.SiteLook;

/** Asks a site the application's questions. */
final class Asking {
  private Asking() {}

  /** Those that can be asked at the run's site. */
  static List<Probe> questions(RunContext c) {
    return c.work().boundTo().questions(c.run().application(), c.run().site());
  }

  /** What a way back is compared with: what was answered before the run that it takes back. */
  static Map<String, Answer> toCompareWith(RunContext c) {
    Run run = c.now();
    if (!c.promotion().bringsBack()) {
      return run.answers().before();
    }
    return c
        .tools()
        .keeper()
        .read(kept -> kept.runs().list(Kept.Filter.at(run.application(), run.site()).most(20)))
        .stream()
        .filter(r -> r.number() != run.number() && r.state().applied())
        .filter(r -> r.version().equals(run.before()) && !r.answers().before().isEmpty())
        .map(r -> r.answers().before())
        .findFirst()
        .orElse(run.answers().before());
  }

  /**
   * Every question with its answer; that there was none is said as such.
   *
   * @throws plenzo.core.target.TargetFailed when a target cannot be reached
   */
  static Map<String, Answer> ask(RunContext c) {
    List<Probe> questions = questions(c);
    List<Holder> asked =
        questions.stream().map(Probing::holder).filter(Objects::nonNull).distinct().toList();
    try (SiteLook look = c.targets().look(asked.stream().map(c::place).toList())) {
      return Probing.ask(look, c.run().site(), questions, c.targets()::page, c::say);
    }
  }
}
