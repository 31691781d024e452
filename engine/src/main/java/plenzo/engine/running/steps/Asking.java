package plenzo.engine.running.steps;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.Kind.Holder;
import plenzo.core.keeping.Kept;
import plenzo.core.probe.Answer;
import plenzo.core.probe.Probe;
import plenzo.core.run.Run;
import plenzo.core.target.TargetFailed;
import plenzo.engine.running.RunContext;
import plenzo.engine.setup.SiteLook;

/** Asks a site the application's questions. */
final class Asking {
  /** Longest answer that is kept: 20,000 characters (guess: an answer is a small document). */
  private static final int LONGEST = 20_000;

  private Asking() {}

  /** Those that can be asked at the run's site. */
  static List<Probe> questions(RunContext c) {
    return c.work().questions(c.run().application(), c.run().site());
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
   * Every question with its answer; that there was none is said as such. The log says that it was
   * answered, and not how: answers are values.
   *
   * @throws TargetFailed when a target cannot be reached
   */
  static Map<String, Answer> ask(RunContext c) {
    Map<String, Answer> out = new LinkedHashMap<>();
    List<Probe> questions = questions(c);
    List<Holder> asked =
        questions.stream().map(p -> holder(p.sort())).filter(Objects::nonNull).distinct().toList();
    try (SiteLook look = c.targets().look(asked.stream().map(c::place).toList())) {
      for (Probe probe : questions) {
        Answer answer;
        try {
          String text = answer(c, look, probe);
          answer =
              text.length() <= LONGEST
                  ? new Answer(true, text)
                  : new Answer(false, "it is longer than " + LONGEST + " characters");
        } catch (TargetFailed e) {
          answer = new Answer(false, String.valueOf(e.getMessage()));
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

  private static @org.jspecify.annotations.Nullable Holder holder(Probe.Sort sort) {
    return switch (sort) {
      case HOST -> Holder.HOST;
      case QUERY -> Holder.DATABASE;
      case FILE -> Holder.DIRECTORY;
      case PAGE -> null;
    };
  }

  private static String answer(RunContext c, SiteLook look, Probe probe) {
    String question = probe.at(c.run().site());
    return switch (probe.sort()) {
      case HOST -> look.items(Holder.HOST).probe(question);
      case QUERY -> look.tables().query(question);
      case FILE -> file(look, question);
      case PAGE -> c.targets().page(URI.create(question));
    };
  }

  /** The beginning of a file, one character more than is kept. */
  private static String file(SiteLook look, String path) {
    try (InputStream in = look.items(Holder.DIRECTORY).read(new ComponentKey(Kind.FILE, path))) {
      return new String(in.readNBytes(4 * (LONGEST + 1)), StandardCharsets.UTF_8);
    } catch (IOException | UncheckedIOException | IllegalArgumentException e) {
      throw new TargetFailed(path + " cannot be read: " + e.getMessage(), false, e);
    }
  }
}
