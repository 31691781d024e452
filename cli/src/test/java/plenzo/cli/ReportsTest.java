package plenzo.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import plenzo.api.Records.FigureRow;
import plenzo.api.Records.FiguresView;
import plenzo.api.Records.ReportFact;
import plenzo.api.Records.ReportSection;
import plenzo.api.Records.WentBack;
import plenzo.api.Records.WholeRecord;

/** Documents and figures, at the terminal and as files. */
class ReportsTest {
  private static final Instant AT = Instant.parse("2027-03-10T02:10:00Z");
  private static final WholeRecord RECORD =
      new WholeRecord(
          "P-7: fares",
          AT,
          List.of(
              new ReportSection(
                  "Plan", "", List.of(new ReportFact("Fingerprint", "7c1e")), List.of(), List.of()),
              new ReportSection(
                  "Words",
                  "",
                  List.of(),
                  List.of("who", "what"),
                  List.of(List.of("bram", "two\nlines"))),
              new ReportSection("Evidence", "None was given.", List.of(), List.of(), List.of())));

  @TempDir Path folder;
  private CannedServer server;

  @BeforeEach
  void start() throws IOException {
    server = new CannedServer();
    server
        .give("GET /promotions/P-7/record", RECORD)
        .give("GET /releases/gates/record", RECORD)
        .give("GET /exceptions", RECORD);
  }

  @AfterEach
  void stop() {
    server.close();
  }

  @Test
  void aRecordIsReadAtTheTerminal() {
    assertThat(server.client("promotion", "record", "P-7").out())
        .containsSubsequence(
            "P-7: fares\n",
            "Plan\n  Fingerprint: 7c1e\n",
            "Words\n  who  |  what\n  bram  |  two lines\n",
            "Evidence\n  None was given.\n");
    assertThat(server.client("release", "record", "gates").out()).startsWith("P-7: fares\n");
    assertThat(server.client("promotion", "record", "P-7", "--json").out())
        .contains("\"answer\" : \"report\"", "\"heading\" : \"Plan\"");
  }

  @Test
  void orSavedInTheFormOfItsName() throws IOException {
    server
        .give("GET /promotions/P-7/record/html", "x")
        .give("GET /promotions/P-7/findings/sarif", "x")
        .give("GET /promotions/P-7/comparison/csv", "x");
    Path to = folder.resolve("p7.HTML");

    assertThat(server.client("promotion", "record", "P-7", "--to", to.toString()).out())
        .startsWith("Saved to " + to);
    assertThat(Files.size(to)).isPositive();
    assertThat(server.client("promotion", "record", "P-7", "--to", "p7.pdf").code()).isEqualTo(2);
    Path sarif = folder.resolve("p7.sarif");
    server.client("promotion", "findings", "P-7", "--to", sarif.toString());
    Path csv = folder.resolve("p7.csv");
    server.client("promotion", "comparison", "P-7", "--to", csv.toString());
    assertThat(sarif).exists();
    assertThat(csv).exists();
  }

  @Test
  void exceptionsAreOfASpan() {
    server.client(
        "figures", "exceptions", "--from", "2027-01-01T00:00", "--until", "2027-04-01T00:00");

    assertThat(server.queries().get(0))
        .contains("from=2027-01-01T00%3A00%3A00Z", "until=2027-04-01T00%3A00%3A00Z");
  }

  @Test
  void figuresEndWithAllOfThem() {
    FigureRow row =
        new FigureRow("2027-03", 4, 2, 1, 1, 0, 0, 1, 75, 30L, 90L, 172_800L, null, 60L);
    server.give(
        "GET /figures",
        new FiguresView(
            AT,
            AT,
            new FigureRow("all", 4, 2, 1, 1, 0, 0, 1, 75, 30L, 90L, 172_800L, null, 60L),
            List.of(),
            List.of(),
            List.of(row),
            List.of(new WentBack("R-7", "fares", "production/north", AT, "Undercharges"))));

    assertThat(server.client("figures", "show").out())
        .containsSubsequence("2027-03\t4\t2\t1\t1\t0\t0\t1", "all\t4\t2");
    assertThat(server.client("figures", "show", "--by", "week").code()).isEqualTo(2);
    assertThat(server.client("figures", "backs", "--app", "fares").out())
        .contains("R-7\tfares\tproduction/north", "Undercharges");
    assertThat(server.queries().get(server.queries().size() - 1)).contains("application=fares");
  }
}
