package plenzo.engine.probing;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.function.Consumer;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.Kind.Holder;
import plenzo.core.probe.Answer;
import plenzo.core.probe.Probe;
import plenzo.core.stage.SiteKey;
import plenzo.core.target.TargetFailed;
import plenzo.engine.setup.SiteLook;

/** Asks questions of what is looked at. */
public final class Probing {
  /** Longest answer that is kept: 20,000 characters (guess: an answer is a small document). */
  private static final int LONGEST = 20_000;

  private Probing() {}

  /** Which target is asked; null for a page. */
  public static @Nullable Holder holder(Probe probe) {
    return switch (probe.sort()) {
      case HOST -> Holder.HOST;
      case QUERY -> Holder.DATABASE;
      case FILE -> Holder.DIRECTORY;
      case PAGE -> null;
    };
  }

  /**
   * Every question with its answer; that there was none is said as such. It is told that it was
   * answered, and not how: answers are values.
   *
   * @param site whose words stand in the questions
   * @param page reads a page by its address
   */
  public static Map<String, Answer> ask(
      SiteLook look,
      SiteKey site,
      Collection<Probe> questions,
      Function<URI, String> page,
      Consumer<String> say) {
    Map<String, Answer> out = new LinkedHashMap<>();
    for (Probe probe : questions) {
      Answer answer;
      try {
        String text = answer(look, site, probe, page);
        answer =
            text.length() <= LONGEST
                ? new Answer(true, text)
                : new Answer(false, "it is longer than " + LONGEST + " characters");
      } catch (TargetFailed e) {
        answer = new Answer(false, String.valueOf(e.getMessage()));
      }
      say.accept(
          "Asked \""
              + probe.name()
              + "\": "
              + (answer.given() ? "answered" : "no answer: " + answer.text()));
      out.put(probe.name(), answer);
    }
    return out;
  }

  private static String answer(
      SiteLook look, SiteKey site, Probe probe, Function<URI, String> page) {
    String question = probe.at(site);
    return switch (probe.sort()) {
      case HOST -> look.items(Holder.HOST).probe(question);
      case QUERY -> look.tables().query(question);
      case FILE -> file(look, question);
      case PAGE -> page.apply(URI.create(question));
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
