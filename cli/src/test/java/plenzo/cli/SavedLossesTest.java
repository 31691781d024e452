package plenzo.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class SavedLossesTest {
  private static final String LONG = "(a long value of 210.4 MB, SHA-256 9f12ab34cd56…)";

  @TempDir Path folder;

  private CannedServer server;

  @BeforeEach
  void start() throws IOException {
    server = new CannedServer();
  }

  @AfterEach
  void stop() {
    server.close();
  }

  private static String line(String column, String value) {
    return "\"fares.scan\",\"\"\"K1\"\"\",\"" + column + "\",\"" + value + "\"\n";
  }

  private String saved(String content) throws IOException {
    server.file("GET /rollback/lost", content);
    Path file = folder.resolve("lost.csv");
    CannedServer.Said said =
        server.client(
            "rollback",
            "save-lost",
            "fares@test/main",
            "--way",
            "backup",
            "--file",
            file.toString());
    assertThat(said.err()).isEmpty();
    assertThat(Files.readString(file)).isEqualTo(content);
    return said.out();
  }

  @Test
  void whatAFileHoldsIsSavedAndNothingMoreIsSaid() throws IOException {
    assertThat(saved(line("note", "by " + LONG))).contains("Saved in").doesNotContain("too long");
  }

  @Test
  void whatItNamesAloneIsSaid() throws IOException {
    assertThat(saved(line("page", LONG) + line("note", "x")))
        .contains(
            "1 value is too long for it and stands in it by size and digest alone: the backup that the way back takes holds it.");
    assertThat(saved(line("page", LONG) + line("back", LONG)))
        .contains("2 values are too long for it and stand in it by size and digest alone");
  }
}
