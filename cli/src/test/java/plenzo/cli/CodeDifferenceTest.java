package plenzo.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.api.Promotions.AttributeChange;
import plenzo.api.Promotions.ComponentChange;
import plenzo.api.Promotions.CountsView;
import plenzo.api.Promotions.PartChange;

/** Code of a view or a routine is read line by line. */
class CodeDifferenceTest {
  private CannedServer server;

  @BeforeEach
  void listen() throws IOException {
    server = new CannedServer();
  }

  @AfterEach
  void stop() {
    server.close();
  }

  private String compared(@Nullable String was, @Nullable String is) {
    AttributeChange lines =
        new AttributeChange("line 1 to 2", was, is, was == null, is == null, null, null);
    server.give(
        "GET /versions/fares/2.3.0/compare/2.4.0",
        List.of(
            new ComponentChange(
                0,
                "view/fares.v",
                "changed",
                new CountsView(0, 0, 1, 0, 0, 0),
                List.of(new PartChange("content/", "changed", List.of(lines), false)))));
    return server.client("version", "compare", "fares@2.3.0", "2.4.0").out();
  }

  @Test
  void whatComesStandsInLinesOfItsOwn() {
    assertThat(compared(null, "SELECT 1\nFROM t"))
        .contains("      line 1 to 2:\n        + SELECT 1\n        + FROM t\n")
        .as("a name without the slash behind it")
        .contains(" content\n");
  }

  @Test
  void whatWasStandsAboveIt() {
    assertThat(compared("SELECT 2", "SELECT 1\nFROM t"))
        .contains("      line 1 to 2:\n        - SELECT 2\n        + SELECT 1\n        + FROM t\n");
  }

  @Test
  void oneLineStaysOneLine() {
    assertThat(compared("SELECT 2", "SELECT 1")).contains("line 1 to 2: SELECT 2 -> SELECT 1");
  }
}
