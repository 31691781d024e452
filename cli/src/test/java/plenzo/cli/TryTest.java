package plenzo.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What a tester reads before a verdict. */
class TryTest {
  private static final Map<String, Object> RUN =
      Map.of(
          "number",
          "R-7",
          "promotion",
          "P-7",
          "goal",
          Map.of(
              "application",
              "fares",
              "version",
              "2.6.1",
              "site",
              "test/main",
              "notes",
              "For June",
              "production",
              false),
          "steps",
          List.of(
              Map.of("number", 1, "name", "Switch", "state", "done"),
              Map.of(
                  "number",
                  2,
                  "name",
                  "By hand",
                  "state",
                  "done",
                  "manual",
                  Map.of(
                      "asked",
                      Map.of("title", "Hang up the plan"),
                      "by",
                      "bram",
                      "note",
                      "Hangs",
                      "evidence",
                      "E-9",
                      "overdue",
                      false))),
          "ended",
          true,
          "noReturnStep",
          1,
          "place",
          0);

  private CannedServer server;

  @BeforeEach
  void start() throws IOException {
    server = new CannedServer();
    server.give("GET /runs/R-7", RUN);
  }

  @AfterEach
  void stop() {
    server.close();
  }

  private static Map<String, Object> evidence(String number, String version, String run) {
    return Map.of(
        "step",
        0,
        "bytes",
        1,
        "number",
        number,
        "version",
        version,
        "run",
        run,
        "site",
        "development/main",
        "name",
        number + ".xml",
        "by",
        "tove",
        "about",
        "All quotes");
  }

  private String tried(List<Map<String, Object>> brings, List<Map<String, Object>> given) {
    server.give("GET /promotions/P-7", Map.of("compared", Map.of("brings", brings), "revision", 1));
    server.give("GET /evidence", Map.of("items", given));
    var said = server.client("run", "try", "R-7");
    assertThat(said.err()).isEmpty();
    return said.out();
  }

  @Test
  void saysWhatChangedWhatWasDoneAndWhatOthersShowed() {
    String out =
        tried(
            List.of(
                Map.of(
                    "number", "2.6.1",
                    "title", "Pets on board",
                    "notes", "Quote a pet.\nAnd a car.",
                    "tasks", List.of("CHG-7"))),
            List.of(
                evidence("E-1", "2.6.1", "R-3"),
                evidence("E-2", "2.6.0", "R-2"),
                evidence("E-3", "2.6.1", "R-7")));

    assertThat(out)
        .contains("fares@2.6.1 at test/main, brought by R-7", "For June")
        .containsSubsequence("2.6.1 Pets on board, CHG-7", "  Quote a pet.", "  And a car.")
        .contains("By hand: Hang up the plan, done by bram: Hangs (E-9)")
        .contains("Shown at development/main: E-1 E-1.xml by tove, All quotes")
        .doesNotContain("E-2", "E-3")
        .contains("plenzo run sheet R-7", "plenzo run judge R-7 --good");
  }

  @Test
  void whatNobodyShowedIsSaid() {
    assertThat(tried(List.of(), List.of())).contains("Nothing was shown of it by another run.");
  }
}
