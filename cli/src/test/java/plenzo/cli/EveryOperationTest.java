package plenzo.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * Every operation of the API document is asked for by some command, or it is said why not: by the
 * texts of addresses that the client's sources hold.
 */
class EveryOperationTest {
  /** Operations that no command asks for, each with the reason. */
  private static final Map<String, String> NOT_BY_COMMANDS =
      Map.of(
          "/events", "a stream for browsers; the client waits by asking again",
          "/hooks/{application}", "called by a repository",
          "/feeds/{secret}/calendar.ics", "read by calendar programs",
          "/session/may", "asked by pages before a button is pressed; a command asks by acting");

  private static final Path SOURCES = Path.of("src/main/java");
  private static final Pattern ADDRESS = Pattern.compile("\"(/[a-z][^\"]*)\"");

  private static Set<String> addresses() throws IOException {
    try (Stream<Path> files = Files.walk(SOURCES)) {
      return files
          .filter(f -> f.toString().endsWith(".java"))
          .flatMap(f -> ADDRESS.matcher(read(f)).results().map(m -> m.group(1)))
          .collect(Collectors.toCollection(TreeSet::new));
    }
  }

  private static String read(Path file) {
    try {
      return Files.readString(file);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private static Map<String, List<String>> operations() throws IOException {
    Map<String, List<String>> out = new TreeMap<>();
    JsonNode document =
        new JsonMapper().readTree(Files.readString(Path.of("../docs/openapi.json")));
    document
        .path("paths")
        .properties()
        .forEach(
            p ->
                out.put(
                    p.getKey().replaceFirst("^/api/v1", ""),
                    p.getValue().properties().stream().map(Map.Entry::getKey).toList()));
    return out;
  }

  /** The parts of an address that are no names of things, such as /records/ and /drift/leave. */
  private static List<String> parts(String path) {
    List<String> out = new ArrayList<>();
    Matcher m = Pattern.compile("[^{}]+(?=\\{|$)").matcher(path.replaceAll("\\{[^}]*\\}", "{}"));
    while (m.find()) {
      String part = m.group().replaceAll("^\\}|/$", "");
      if (!part.isBlank() && !part.equals("/")) {
        out.add(part);
      }
    }
    return out;
  }

  /** An address may be put together of several texts. */
  private static boolean known(String part, Set<String> addresses) {
    return addresses.stream().anyMatch(a -> a.contains(part))
        || part.lastIndexOf('/') > 0
            && Pattern.compile("(?=/)")
                .splitAsStream(part)
                .allMatch(piece -> addresses.stream().anyMatch(a -> a.contains(piece)));
  }

  @Test
  void isAskedForBySomeCommand() throws IOException {
    Set<String> known = addresses();
    List<String> missing = new ArrayList<>();
    operations()
        .keySet()
        .forEach(
            path -> {
              boolean asked = parts(path).stream().allMatch(part -> known(part, known));
              if (!asked && !NOT_BY_COMMANDS.containsKey(path)) {
                missing.add(path + " lacks one of " + parts(path));
              }
            });
    assertThat(missing).isEmpty();
  }

  @Test
  void anExceptionIsOne() throws IOException {
    Set<String> known = addresses();
    assertThat(operations().keySet()).containsAll(NOT_BY_COMMANDS.keySet());
    assertThat(NOT_BY_COMMANDS.keySet())
        .noneMatch(path -> parts(path).stream().allMatch(part -> known(part, known)));
  }
}
