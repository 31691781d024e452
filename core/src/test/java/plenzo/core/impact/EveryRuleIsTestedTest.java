package plenzo.core.impact;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;

/** A rule that no test of its package names could be taken out, and nobody would notice. */
class EveryRuleIsTestedTest {
  @Test
  void byATestThatNamesIt() throws IOException {
    List<String> rules =
        Stream.of(Rules.TABLES, Rules.ITEMS, Rules.CASE)
            .flatMap(List::stream)
            .map(Rule::id)
            .distinct()
            .toList();
    String tests;
    try (Stream<Path> files = Files.list(Path.of("src/test/java/plenzo/core/impact"))) {
      tests =
          files
              .filter(f -> f.toString().endsWith("RulesTest.java"))
              .map(EveryRuleIsTestedTest::text)
              .collect(Collectors.joining());
    }

    assertThat(rules)
        .hasSizeGreaterThan(30)
        .filteredOn(id -> !tests.matches("(?s).*\"(BLOCKER |RISK |NOTE )?" + id + "[\" ].*"))
        .isEmpty();
  }

  private static String text(Path file) {
    try {
      return Files.readString(file);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }
}
