package plenzo.cli;

import java.io.IOException;
import java.io.PrintWriter;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Model.OptionSpec;
import picocli.CommandLine.Model.PositionalParamSpec;

/**
 * What may stand where the cursor is: commands, options, and names that the server knows. A shell
 * asks at every press of a key, so whatever goes wrong is silent.
 */
final class Completing {
  /** How a shell asks. */
  static final String COMMAND = "__complete";

  private static final Pattern WORD = Pattern.compile("\"([^\"]*)\"?|(\\S+)");

  private final Plenzo plenzo;
  private final Known known;

  Completing(Plenzo plenzo, Known known) {
    this.plenzo = plenzo;
    this.known = known;
  }

  /**
   * @param line what was typed as far as the cursor, the command itself first
   */
  static void answer(Plenzo plenzo, String line, PrintWriter out) {
    new Completing(plenzo, new Known(plenzo.settings(), plenzo.address()))
        .candidates(line)
        .forEach(out::println);
  }

  List<String> candidates(String line) {
    List<String> words = new ArrayList<>();
    Matcher m = WORD.matcher(line);
    while (m.find()) {
      words.add(m.group(1) != null ? m.group(1) : m.group(2));
    }
    boolean fresh = line.isEmpty() || Character.isWhitespace(line.charAt(line.length() - 1));
    String at = fresh || words.isEmpty() ? "" : words.remove(words.size() - 1);
    List<String> before = words.isEmpty() ? List.of() : words.subList(1, words.size());
    return new TreeSet<>(all(before, at))
        .stream().filter(c -> c.startsWith(at) && !c.equals(at)).toList();
  }

  private List<String> all(List<String> before, String at) {
    CommandLine line = Plenzo.line(plenzo, before);
    CommandSpec here = line.getCommandSpec();
    int positional = 0;
    OptionSpec waiting = null;
    for (String word : before) {
      CommandLine next = here.subcommands().get(word);
      if (waiting != null) {
        waiting = null; // this word is its value
      } else if (word.startsWith("-")) {
        OptionSpec option = here.findOption(word);
        waiting = option == null || option.arity().max() == 0 ? null : option;
      } else if (next != null && positional == 0) {
        here = next.getCommandSpec();
      } else {
        positional++;
      }
    }
    if (waiting != null) {
      return values(waiting.longestName(), waiting.paramLabel(), here, at);
    }
    if (at.startsWith("-")) {
      return here.options().stream()
          .filter(o -> !o.hidden())
          .map(OptionSpec::longestName)
          .filter(n -> n.startsWith("--"))
          .toList();
    }
    if (here.parent() == null) {
      return positional == 0 ? Plenzo.names() : List.of();
    }
    List<String> out =
        new ArrayList<>(positional == 0 ? here.subcommands().keySet() : List.<String>of());
    PositionalParamSpec parameter = parameter(here, positional);
    if (parameter != null) {
      out.addAll(values("", parameter.paramLabel(), here, at));
    }
    return out;
  }

  private static @Nullable PositionalParamSpec parameter(CommandSpec here, int index) {
    return here.positionalParameters().stream()
        .filter(p -> p.index().contains(index))
        .findFirst()
        .orElse(null);
  }

  /** What may be given for an option, or for a parameter of that label. */
  private List<String> values(String option, String label, CommandSpec here, String at) {
    String group = here.parent() == null ? "" : here.parent().name();
    List<String> choices = choices(option, label);
    return choices.isEmpty() ? known.names(what(option, label, group), at) : choices;
  }

  /** Few words that are always the same. */
  private static List<String> choices(String option, String label) {
    return switch (option) {
      case "--output" -> List.of("table", "text", "csv", "json", "ndjson", "ids");
      case "--color" -> List.of("auto", "always", "never");
      case "--way" -> List.of("earlier-version", "earlier-values", "backup");
      case "--role" -> List.of("development", "test", "production");
      case "--leads-to" -> List.of("postgresql", "directory", "host");
      default ->
          label.matches("[a-z-]+(\\|[a-z-]+)+") ? Arrays.asList(label.split("\\|")) : List.of();
    };
  }

  /** Which names of the server are meant. */
  private static Known.What what(String option, String label, String group) {
    return switch (option.isEmpty() ? label : option) {
      case "--app", "APPLICATION" -> Known.What.APPLICATION;
      case "--stage", "--leg", "--source", "STAGE" -> Known.What.STAGE;
      case "--site", "--to", "--at", "STAGE[/SITE]", "STAGE/SITE" -> Known.What.SITE;
      case "--path" -> Known.What.PATH;
      case "PROMOTION", "--promotion" -> Known.What.PROMOTION;
      case "RUN" -> Known.What.RUN;
      case "DRAFT" -> Known.What.DRAFT;
      case "APPLICATION@NUMBER" -> Known.What.VERSION;
      case "APPLICATION@STAGE[/SITE]", "APPLICATION@STAGE" -> Known.What.PLACE;
      case "STAGE/NAME" -> Known.What.CONNECTION;
      case "KEY", "NAME" ->
          switch (group.toLowerCase(Locale.ROOT)) {
            case "app" -> Known.What.APPLICATION;
            case "stage" -> Known.What.STAGE;
            case "path" -> Known.What.PATH;
            case "user", "role" -> Known.What.PERSON;
            case "release" -> Known.What.RELEASE;
            default -> Known.What.NOTHING;
          };
      default -> Known.What.NOTHING;
    };
  }

  /** The script by which a shell asks. */
  static String script(String shell) throws IOException {
    try (var in = Completing.class.getResourceAsStream("completion." + shell)) {
      if (in == null) {
        throw Failed.usage("Completion is written for bash, zsh or fish; got \"" + shell + "\".");
      }
      return new String(in.readAllBytes(), java.nio.charset.StandardCharsets.UTF_8);
    }
  }
}
