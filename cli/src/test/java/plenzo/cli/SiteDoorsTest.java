package plenzo.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.api.Stages.StageView;

/** How users are kept out of a site's targets, as the client sends it. */
class SiteDoorsTest {
  private CannedServer server;

  @BeforeEach
  void start() throws IOException {
    server = new CannedServer();
    StageView stage =
        new StageView(
            "production",
            "Production",
            "production",
            2,
            "UTC",
            false,
            List.of(),
            1,
            List.of(),
            List.of());
    server.give("GET /stages", List.of(stage));
    server.give("PUT /stages/production/sites/north", stage);
  }

  @AfterEach
  void stop() {
    server.close();
  }

  private String sent(String... more) {
    String[] words = new String[more.length + 7];
    System.arraycopy(
        new String[] {
          "site", "change", "production/north", "--looking", "look", "--schema", "fares"
        },
        0,
        words,
        0,
        7);
    System.arraycopy(more, 0, words, 7, more.length);
    assertThat(server.client(words).code()).isZero();
    return server.asked().get(server.asked().size() - 1);
  }

  @Test
  void accountsOfTheDatabaseAndAFileBesideTheDirectory() {
    assertThat(
            sent(
                "--keep-out",
                "desk",
                "--keep-out",
                "portal",
                "--end-sessions",
                "--directory",
                "files",
                "--closed-file",
                "closed.html"))
        .contains("\"doors\":{\"names\":[\"desk\",\"portal\"],\"end\":true}")
        .contains("\"doors\":{\"names\":[\"closed.html\"],\"end\":false}");
  }

  @Test
  void nobodyWhereNothingIsSaid() {
    assertThat(sent("--directory", "files")).doesNotContain("names");
  }
}
