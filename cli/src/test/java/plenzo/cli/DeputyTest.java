package plenzo.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.api.Deputies.DeputyView;
import plenzo.api.Page;

class DeputyTest {
  private CannedServer server;

  @BeforeEach
  void start() throws IOException {
    server = new CannedServer();
  }

  @AfterEach
  void stop() {
    server.close();
  }

  private static final Instant AT = Instant.parse("2027-03-02T22:00:00Z");

  private static DeputyView deputy(String role, String stage, String state) {
    return new DeputyView(
        "DP-2", "ines", "bram", role, stage, AT, AT.plusSeconds(60), state, "ines", "Ill", true);
  }

  @Test
  void aDayIsMeantToItsEndAndATimeAsItIs() {
    assertThat(DeputyCommand.time("2026-12-24", 1))
        .isEqualTo(LocalDate.of(2026, 12, 25).atStartOfDay(ZoneId.systemDefault()).toInstant());
    assertThat(DeputyCommand.time("2026-12-24", 0))
        .isEqualTo(LocalDate.of(2026, 12, 24).atStartOfDay(ZoneId.systemDefault()).toInstant());
    assertThat(DeputyCommand.time("2026-12-24T18:00:00Z", 1))
        .isEqualTo(Instant.parse("2026-12-24T18:00:00Z"));
    assertThatThrownBy(() -> DeputyCommand.time("Christmas", 1))
        .hasMessageContaining("\"Christmas\" is no day");
  }

  @Test
  void oneIsNamedWithWhatWasSaidAndNothingElse() {
    server.give("POST /deputies", deputy("", "*", "now"));

    String out =
        server
            .client(
                "deputy",
                "name",
                "bram",
                "--for",
                "ines",
                "--until",
                "2027-03-03T10:00:00Z",
                "--reason",
                "Ill")
            .out();

    assertThat(out).contains("DP-2: bram stands in for ines from");
    assertThat(server.asked().get(server.asked().size() - 1))
        .contains("\"of\":\"ines\"", "\"deputy\":\"bram\"", "\"role\":null", "\"stage\":null")
        .contains("\"from\":null", "\"until\":\"2027-03-03T10:00:00Z\"", "\"reason\":\"Ill\"");
  }

  @Test
  void theListSaysAsWhatAndWhere() {
    server.give(
        "GET /deputies",
        new Page<>(
            List.of(deputy("board", "production", "to-come"), deputy("", "*", "over")), null));

    assertThat(server.client("deputy", "list").out())
        .containsSubsequence("board", "production", "to come", "Ill")
        .containsSubsequence("approver and tester", "every one", "over");
  }

  @Test
  void oneIsEnded() {
    server.give("POST /deputies/DP-2/end", deputy("", "*", "over"));
    assertThat(server.client("deputy", "end", "DP-2").out())
        .contains("bram stands in for ines no more.");
  }
}
