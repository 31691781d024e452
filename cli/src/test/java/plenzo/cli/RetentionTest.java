package plenzo.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.api.Retentions.KeepingNote;
import plenzo.api.Retentions.RetentionPreview;
import plenzo.api.Retentions.RetentionView;
import plenzo.api.Retentions.StoredLine;

/** What is cleared is listed first, and only the list that was read is cleared. */
class RetentionTest {
  private static final Instant AT = Instant.parse("2027-03-10T02:10:00Z");
  private static final RetentionView RULES =
      new RetentionView(Map.of("backup", 90), false, "backups 90 days, the rest for ever");
  private static final RetentionPreview LIST =
      new RetentionPreview(
          RULES,
          List.of(
              new StoredLine(
                  "backup/R-1", "backup", "fares 2.3.0 at production/north", AT, 512, true, "old"),
              new StoredLine(
                  "backup/R-9",
                  "backup",
                  "fares 2.4.0 at production/north",
                  AT,
                  700,
                  false,
                  "the way back needs it")),
          3,
          "1 backup",
          512,
          "abc123");

  private CannedServer server;

  @BeforeEach
  void start() throws IOException {
    server = new CannedServer();
    server
        .give("GET /retention", RULES)
        .give("PUT /retention", RULES)
        .give("GET /retention/preview", LIST)
        .give("POST /retention/clear", LIST)
        .give(
            "PUT /retention/notes",
            new KeepingNote("R-1", "Asked", LocalDate.of(2028, 1, 1), "ines", AT));
  }

  @AfterEach
  void stop() {
    server.close();
  }

  private String sent(String call) {
    return server.asked().stream()
        .filter(a -> a.startsWith(call))
        .findFirst()
        .orElseThrow(() -> new AssertionError(call + " was not asked: " + server.asked()));
  }

  @Test
  void aPreviewSaysWhatGoesWhatStaysAndWhy() {
    String out =
        server.client("retention", "preview", "--days", "backup=90", "--days", "log=30").out();

    assertThat(out)
        .containsSubsequence(
            "backup/R-1", "goes", "old", "backup/R-9", "stays", "the way back needs it")
        .contains("Would go: 1 backup, 512 bytes. Not old: 3.");
    assertThat(server.queries()).anyMatch(q -> q.contains("days=backup%3D90&days=log%3D30"));
  }

  @Test
  void withoutATerminalNothingIsClearedUntilTheListIsNamed() {
    CannedServer.Said said = server.client("retention", "clear");

    assertThat(said.err()).contains("For good: 1 backup, 512 bytes.", "--yes --expect abc123");
    assertThat(said.code()).isEqualTo(Failed.NEEDS_CONFIRMATION);
    assertThat(server.asked()).noneMatch(a -> a.startsWith("POST /retention/clear"));
  }

  @Test
  void theListThatWasReadIsCleared() {
    assertThat(server.client("--yes", "--expect", "abc123", "retention", "clear").out())
        .contains("Cleared: 1 backup, 512 bytes.");
    assertThat(sent("POST /retention/clear")).contains("\"expect\":\"abc123\"");
  }

  @Test
  void rulesAndNotesAreSentAsTheyAreSaid() {
    assertThat(server.client("retention", "set", "--days", "backup=90", "--daily").out())
        .contains("Kept: backups 90 days, the rest for ever.");
    assertThat(sent("PUT /retention ")).contains("\"backup\":90", "\"daily\":true");

    assertThat(
            server
                .client("retention", "keep", "R-1", "--reason", "Asked", "--until", "2028-01-01")
                .out())
        .contains("All that is stored of R-1 stays until 2028-01-01.");
    assertThat(sent("PUT /retention/notes")).contains("\"until\":\"2028-01-01\"");
  }
}
