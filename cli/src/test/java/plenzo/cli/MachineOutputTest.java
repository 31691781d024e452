package plenzo.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import plenzo.api.Page;
import plenzo.api.Runs.RunLine;
import tools.jackson.databind.JsonNode;

/** What programs read: words without marks, one envelope, and no column that is not there. */
class MachineOutputTest {
  private static final Instant AT = Instant.parse("2027-01-31T08:00:00.123Z");

  private CannedServer server;

  @BeforeEach
  void listen() throws IOException {
    server = new CannedServer();
    server.give(
        "GET /runs", new Page<>(List.of(line("R-2", "half written"), line("R-1", "done")), null));
  }

  @AfterEach
  void stop() {
    server.close();
  }

  private static RunLine line(String number, String state) {
    return new RunLine(
        number,
        "P-1",
        "fares",
        "2.6.1",
        "2.6.0",
        "production/north",
        true,
        "version",
        state,
        "ines",
        AT,
        AT,
        AT,
        null);
  }

  @ParameterizedTest
  @ValueSource(strings = {"csv", "ids", "json", "ndjson"})
  void carriesNoMarksRulesOrColours(String format) {
    String out = server.client("run", "list", "-o", format, "--color", "always").out();

    assertThat(out).contains("R-2").doesNotContain("◒", "✓", "==", "\u001b");
  }

  @Test
  void csvHasPlainWordsAndTimesInUtc() {
    assertThat(server.client("run", "list", "-o", "csv").out().lines())
        .containsExactly(
            "\"run\",\"promotion\",\"version\",\"at\",\"result\",\"started\",\"by\"",
            "\"R-2\",\"P-1\",\"fares@2.6.1\",\"production/north\",\"half written\",\"2027-01-31T08:00:00Z\",\"ines\"",
            "\"R-1\",\"P-1\",\"fares@2.6.1\",\"production/north\",\"done\",\"2027-01-31T08:00:00Z\",\"ines\"");
  }

  @Test
  void peopleStillSeeTheMark() {
    assertThat(server.client("run", "list").out())
        .contains("◒ half written", "==production/north==");
  }

  @Test
  void aListSaysWhatItAnswersAndHasEntries() {
    JsonNode all = Api.JSON.readTree(server.client("run", "list", "--json").out());

    assertThat(Map.of("answer", all.get("answer").asString(), "format", all.get("format").asInt()))
        .isEqualTo(Map.of("answer", "runs", "format", 1));
    assertThat(all.get("entries")).hasSize(2);
    assertThat(all.has("next")).isTrue();
    assertThat(all.has("kind") || all.has("items")).isFalse();
  }

  @Test
  void aDocumentSaysWhatItAnswersAndHasData() {
    server.give("GET /stages", List.of());
    server.give("GET /applications", new Page<>(List.of(), null));
    JsonNode list = Api.JSON.readTree(server.client("app", "list", "--json").out());
    assertThat(list.get("answer").asString()).isEqualTo("applications");

    server.give("GET /drift/fares/test/main", Map.of());
    server.give("GET /waiting", new Page<>(List.of(), null));
    JsonNode waiting = Api.JSON.readTree(server.client("waiting", "--json").out());
    assertThat(waiting.has("answer")).isTrue();
  }

  @ParameterizedTest
  @ValueSource(strings = {"table", "text", "csv", "ids", "json", "ndjson"})
  void aColumnThatIsNotThereIsRefusedWithThoseThatAre(String format) {
    CannedServer.Said said = server.client("run", "list", "-o", format, "--columns", "run,state");

    assertThat(said.code()).isEqualTo(Failed.USAGE);
    assertThat(said.out()).isEmpty();
    assertThat(said.err())
        .containsPattern("There is no column .*state")
        .contains("result, started, by");
  }
}
