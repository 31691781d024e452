package plenzo.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import picocli.CommandLine;
import picocli.CommandLine.Model.CommandSpec;

/** What people copy from the help and the documents is understood by the client. */
class ExamplesTest {
  private static final Pattern WORD = Pattern.compile("(\"[^\"]*\"|'[^']*'|[^\\s\"'])+");

  /** A command of its own line, or one in the text. */
  private static final Pattern IN_DOCUMENT =
      Pattern.compile("^    (?:bin/)?(plenzo .*)$|`(?:bin/)?(plenzo [^`]+)`", Pattern.MULTILINE);

  private static final CommandLine ALL =
      Plenzo.line(new Plenzo(Map.of(), InputStream.nullInputStream()), List.of());

  private static Stream<CommandSpec> below(CommandSpec spec) {
    return Stream.concat(
        Stream.of(spec),
        spec.subcommands().values().stream().distinct().flatMap(c -> below(c.getCommandSpec())));
  }

  /** Why the client would not understand it; empty when it would. */
  private static String trouble(String example) {
    String command = example.strip().replaceFirst(" [<>|] .*$", "").replaceFirst("\\s+#.*$", "");
    List<String> words = new ArrayList<>();
    Matcher m = WORD.matcher(command);
    while (m.find()) {
      words.add(m.group().replaceAll("[\"']", ""));
    }
    try {
      ALL.parseArgs(words.subList(1, words.size()).toArray(String[]::new));
      return "";
    } catch (CommandLine.MissingParameterException e) {
      // a text may name a command without saying with what
      return words.size() <= 3 ? "" : example.strip() + ": " + e.getMessage();
    } catch (CommandLine.ParameterException e) {
      return example.strip() + ": " + e.getMessage();
    }
  }

  @Test
  void everyThingHasExamplesOfItsOwnAndTheyAreUnderstood() {
    String[] general = ALL.getCommandSpec().usageMessage().footer();
    for (CommandLine group : ALL.getSubcommands().values()) {
      CommandSpec spec = group.getCommandSpec();
      if (!spec.name().equals("help")) {
        assertThat(spec.usageMessage().footer()).as(spec.name()).isNotEqualTo(general);
      }
    }
    List<String> examples =
        below(ALL.getCommandSpec())
            .flatMap(spec -> Stream.of(spec.usageMessage().footer()))
            .filter(line -> line.startsWith("  plenzo "))
            .distinct()
            .toList();
    assertThat(examples).hasSizeGreaterThan(40);
    assertThat(examples.stream().map(ExamplesTest::trouble)).allMatch(String::isEmpty);
  }

  @ParameterizedTest
  @ValueSource(strings = {"README.md", "docs/operating.md"})
  void commandsOfTheDocumentsAreUnderstood(String document) throws IOException {
    List<String> commands =
        IN_DOCUMENT
            .matcher(Files.readString(Path.of("..", document)))
            .results()
            .map(r -> r.group(1) != null ? r.group(1) : r.group(2))
            .filter(c -> !c.contains("…"))
            .toList();

    assertThat(commands).hasSizeGreaterThan(5);
    assertThat(commands.stream().map(ExamplesTest::trouble)).allMatch(String::isEmpty);
  }
}
