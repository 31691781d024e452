package plenzo.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.api.Stages.CandidateView;

/** What an adoption takes, as the client asks about it. */
class AdoptingTest {
  private CannedServer server;

  @BeforeEach
  void listen() throws IOException {
    server = new CannedServer();
    server.give(
        "GET /applications/fares/candidates",
        List.of(
            table("fares.band", 4, "code", "", ""),
            table("fares.booking", 900, "id", "", "the key id is made by each database"),
            table("fares.note", 3, "", "it has no primary or unique key", ""),
            table("fares.empty", 0, "code", "", ""),
            new CandidateView(
                "notes/",
                0,
                0,
                List.of(),
                "",
                "",
                List.of("passed over: it lies outside the folder fares/"),
                List.of())));
  }

  @AfterEach
  void stop() {
    server.close();
  }

  private static CandidateView table(
      String name, long rows, String key, String problem, String remark) {
    return new CandidateView(
        "table/" + name,
        rows,
        0,
        key.isEmpty() ? List.of() : List.of(key),
        problem,
        remark,
        List.of(),
        List.of());
  }

  private CannedServer.Said adopt(String... more) {
    List<String> command =
        new ArrayList<>(
            List.of(
                "app",
                "adopt",
                "fares",
                "--site",
                "production/north",
                "--number",
                "1.0.0",
                "--title",
                "x",
                "--everything"));
    command.addAll(Arrays.asList(more));
    return server.client(command.toArray(String[]::new));
  }

  private List<String> posted() {
    return server.asked().stream().filter(a -> a.startsWith("POST")).toList();
  }

  @Test
  void asksWhichRowsComeWithVersionsBeforeAnythingIsRecorded() {
    CannedServer.Said said = adopt();

    assertThat(said.code()).isEqualTo(Failed.NEEDS_CONFIRMATION);
    assertThat(said.err())
        .contains("fares.band (4 rows, key code)")
        .contains("fares.booking (900 rows, key id: the key id is made by each database)")
        .contains("--records fares.band fares.booking")
        .contains("--no-records")
        .doesNotContain("fares.empty (")
        .doesNotContain("fares.note (");
    assertThat(posted()).isEmpty();
  }

  @Test
  void namesWhatIsPassedOver() {
    assertThat(adopt("--no-records").err())
        .contains("Left out: notes/: passed over: it lies outside the folder fares/");
  }

  @Test
  void takesTheRowsThatAreNamedAndNoOthers() {
    adopt("--records", "fares.band", "fares.note:code");

    assertThat(posted())
        .singleElement()
        .asString()
        .contains("records/fares.band")
        .contains("\"key\":[\"code\"]")
        .contains("records/fares.note")
        .doesNotContain("records/fares.booking")
        .doesNotContain("\"generatedKeyConfirmed\":true");
  }

  @Test
  void aKeyThatEachDatabaseMakesIsTakenWhereThatIsSaid() {
    adopt("--records", "fares.booking", "--generated-key");

    assertThat(posted())
        .singleElement()
        .asString()
        .contains("records/fares.booking")
        .contains("\"generatedKeyConfirmed\":true");
  }

  @Test
  void noRowsAtAllIsAnAnswerToo() {
    adopt("--no-records");

    assertThat(posted())
        .singleElement()
        .asString()
        .contains("table/fares.band")
        .doesNotContain("records/");
  }

  @Test
  void candidatesSayWhatIsToBeThoughtOfAndWhatIsPassedOver() {
    assertThat(server.client("app", "candidates", "fares", "--site", "production/north").out())
        .contains("the key id is made by each database")
        .contains("no records: it has no primary or unique key")
        .contains("passed over: it lies outside the folder fares/");
  }
}
