package plenzo.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import plenzo.api.Versions.ComponentView;
import plenzo.api.Versions.DraftChecked;
import plenzo.api.Versions.DraftRemovals;
import plenzo.api.Versions.DraftView;
import plenzo.api.Versions.DraftWriting;
import plenzo.api.Versions.DroppingView;
import plenzo.api.Versions.EntryPage;
import plenzo.api.Versions.FateView;
import plenzo.api.Versions.Going;
import plenzo.api.Versions.VersionView;

/** Choosing components, and what became of a version, as the client says it. */
class ChoosingTest {
  private CannedServer server;

  @BeforeEach
  void listen() throws IOException {
    server = new CannedServer();
    server.give("GET /drafts/D-3", draft()).give("POST /drafts/D-3/add", draft("table/x: no key"));
  }

  @AfterEach
  void stop() {
    server.close();
  }

  private static DraftView draft(String... notTaken) {
    return new DraftView(
        "D-3",
        "fares",
        "2.6.1",
        "open",
        List.of(),
        new DraftRemovals(List.of(), List.of()),
        new DraftChecked(null, List.of(), List.of(), List.of(), List.of(), List.of(), List.of()),
        new DraftWriting(List.of(), List.of(), List.of()),
        "ines",
        Instant.EPOCH,
        "2.7.0",
        List.of(notTaken),
        "- rule/fares.peak: its content changed",
        1);
  }

  private String asked() {
    return String.valueOf(server.asked().get(server.asked().size() - 1));
  }

  @Test
  void takesWhatMatchesAndNamesWhatCouldNotBe() {
    server.give(
        "GET /components",
        List.of(
            new ComponentView("rule/fares.peak", "changed", "its content", "", "tove", null),
            new ComponentView("rule/fares.same", "same", "", "", null, null)));

    CannedServer.Said said =
        server.client(
            "draft",
            "add",
            "D-3",
            "--site",
            "development/main",
            "--matching",
            "surch",
            "--kind",
            "rule");

    assertThat(said.code()).as(said.err()).isZero();
    assertThat(server.queries()).anyMatch(a -> a.matches(".*/components.*find=surch.*kind=rule"));
    assertThat(asked())
        .contains("rule/fares.peak")
        .contains("\"whatCanBe\":true")
        .doesNotContain("same");
    assertThat(said.err()).contains("Not taken: table/x: no key");
  }

  /** A policy is of rows: what is taken beside them has none. */
  @Test
  void namesWhatIsDoneToOtherRowsOfASite() {
    CannedServer.Said said =
        server.client(
            "draft",
            "add",
            "D-3",
            "records/fares.band",
            "table/fares.band",
            "--site",
            "development/main",
            "--policy",
            "mirror");

    assertThat(said.code()).as(said.err()).isZero();
    assertThat(asked())
        .containsPattern("\"component\":\"records/fares.band\"[^}]*\"policy\":\"mirror\"")
        .doesNotContainPattern("\"component\":\"table/fares.band\"[^}]*mirror");
  }

  /** Two words are tables, the gone one first; three a table with its columns. */
  @Test
  void saysOfTablesAndOfColumnsWhatBecameOfThem() {
    server.give("POST /drafts/D-3/renamed", draft()).give("POST /drafts/D-3/two-columns", draft());

    server.client("draft", "renamed", "D-3", "table/fares.band", "table/fares.rate");
    assertThat(asked())
        .contains(
            "\"component\":\"table/fares.rate\"",
            "\"was\":\"table/fares.band\"",
            "\"is\":\"table/fares.rate\"");

    server.client("draft", "renamed", "D-3", "table/fares.band", "price", "amount");
    assertThat(asked())
        .contains("\"component\":\"table/fares.band\"", "\"was\":\"price\"", "\"is\":\"amount\"");

    server.client("draft", "two-tables", "D-3", "table/fares.band", "table/fares.rate");
    assertThat(asked()).contains("\"was\":\"table/fares.band\"");

    CannedServer.Said said = server.client("draft", "renamed", "D-3", "table/fares.band");
    assertThat(said.code()).isEqualTo(2);
  }

  @Test
  void saysWhatColumnsAreWorkedOutFrom() {
    server.give("POST /drafts/D-3/convert", draft());
    String[] stated = {"draft", "convert", "D-3", "table/fares.band", "price", "price * 100"};

    assertThat(server.client(stated).code()).isZero();
    assertThat(asked())
        .contains(
            "\"component\":\"table/fares.band\"",
            "\"column\":\"price\"",
            "\"expression\":\"price * 100\"",
            "\"back\":false");

    server.client("draft", "convert", "D-3", "table/fares.band", "price", "--back", "--none");
    assertThat(asked()).contains("\"back\":true").doesNotContain("\"expression\":\"");

    assertThat(server.client("draft", "convert", "D-3", "table/fares.band", "price").code())
        .as("neither an expression nor that there is none")
        .isEqualTo(2);
    assertThat(
            server
                .client("draft", "convert", "D-3", "table/fares.band", "price", "x", "--none")
                .code())
        .isEqualTo(2);
  }

  @Test
  void takesWhatAFileNames(@TempDir Path folder) throws IOException {
    Path file = Files.writeString(folder.resolve("names"), "# mine\nrule/fares.peak\n\ntable/x\n");

    server.client("draft", "add", "D-3", "--site", "development/main", "--file", file.toString());

    assertThat(asked())
        .contains("rule/fares.peak", "table/x", "\"whatCanBe\":true")
        .doesNotContain("mine");
  }

  @Test
  void takesWhatWasChangedSinceADayAndNamesWhatTellsNoTime() {
    CannedServer.Said said =
        server
            .give(
                "GET /components",
                List.of(
                    new ComponentView("rule/fares.peak", "changed", "", "", "tove", Instant.EPOCH),
                    new ComponentView("table/fares.band", "changed", "", "", null, null)))
            .client(
                "draft",
                "add",
                "D-3",
                "--site",
                "development/main",
                "--changed-since",
                "2027-03-01");

    assertThat(said.code()).as(said.err()).isZero();
    assertThat(server.queries()).anyMatch(a -> a.contains("changedSince=2027-03-01"));
    assertThat(server.asked())
        .filteredOn(a -> a.startsWith("POST"))
        .singleElement()
        .asString()
        .contains("rule/fares.peak")
        .doesNotContain("fares.band");
    assertThat(said.err())
        .contains("Left out: table/fares.band: its source does not tell when it was changed");
  }

  @Test
  void saysWhatGoesWithWhatIsRemoved() {
    CannedServer.Said said =
        server
            .give(
                "GET /drafts/D-3/drop",
                new DroppingView(
                    "records/fares.band",
                    List.of(new Going("table/fares.band", "needed by records/fares.band")),
                    ""))
            .client("draft", "remove", "D-3", "records/fares.band", "--dry-run");

    assertThat(said.err())
        .contains("Goes with it: table/fares.band, needed by records/fares.band.");
    assertThat(said.out()).contains("2 picks would go.");
    assertThat(server.asked()).as("nothing was sent").noneMatch(a -> a.startsWith("POST"));
  }

  @Test
  void saysThatWhatIsNeededStays() {
    CannedServer.Said said =
        server
            .give(
                "GET /drafts/D-3/drop",
                new DroppingView("table/fares.band", List.of(), "needed by records/fares.band"))
            .give("POST /drafts/D-3/drop", draft())
            .client("draft", "remove", "D-3", "table/fares.band");

    assertThat(said.code()).as(said.err()).isZero();
    assertThat(said.err()).contains("table/fares.band stays picked: needed by records/fares.band.");
    assertThat(asked()).startsWith("POST /drafts/D-3/drop");
  }

  @Test
  void takesNothingWhenOneOfThoseNamedCannotBe() {
    server.client("draft", "add", "D-3", "rule/fares.peak", "--site", "development/main");

    assertThat(asked()).contains("\"whatCanBe\":false");
  }

  @Test
  void takesRowsByKeyAndCondition() {
    server.client(
        "draft",
        "add",
        "D-3",
        "records/fares.band",
        "--site",
        "development/main",
        "--key",
        "line,code",
        "--where",
        "zone = 'N'");

    assertThat(asked()).contains("\"key\":[\"line\",\"code\"]", "\"where\":\"zone = 'N'\"");
  }

  @Test
  void takesTheRowsThatAFileNames(@TempDir Path folder) throws IOException {
    Path file = Files.writeString(folder.resolve("rows"), "1,FOOT\n2,CAR\n");

    server.client(
        "draft",
        "add",
        "D-3",
        "records/fares.band",
        "--site",
        "development/main",
        "--key",
        "line,code",
        "--rows",
        file.toString());

    assertThat(asked())
        .contains("\"operator\":\"or\"", "\"column\":\"code\",\"value\":\"CAR\"")
        .contains("\"column\":\"line\",\"value\":\"1\"");
  }

  @Test
  void saysWhichLineOfAFileOfRowsIsWrong(@TempDir Path folder) throws IOException {
    Path file = Files.writeString(folder.resolve("rows"), "1,FOOT\n2\n");

    CannedServer.Said said =
        server.client(
            "draft",
            "add",
            "D-3",
            "records/fares.band",
            "--site",
            "development/main",
            "--key",
            "line,code",
            "--rows",
            file.toString());

    assertThat(said.code()).isNotZero();
    assertThat(said.err()).contains("1 value,", "2 columns: 2");
  }

  @Test
  void beginsFromANewerVersion() {
    server.give("POST /drafts/D-3/take-up", draft());

    server.client("draft", "take-up", "D-3", "2.6.2");

    assertThat(asked()).contains("\"version\":\"2.6.2\"");
  }

  @Test
  void saysWhatWentWithADiscardedDraft() {
    assertThat(server.give("DELETE /drafts/D-3", draft()).client("draft", "discard", "D-3").out())
        .contains("D-3 is discarded, with 0 picks. Sources, versions and stages are as they were.");
  }

  private static FateView fate(String what, String site, String text) {
    return new FateView(what, site, Instant.EPOCH, "ines", text);
  }

  @Test
  void tellsWhatBecameOfAVersion() {
    server
        .give(
            "GET /versions/fares/2.6.1",
            new VersionView(
                "fares",
                "2.6.1",
                "2.6.0",
                "ab",
                "Concessions",
                "",
                "ines",
                Instant.EPOCH,
                "development/main",
                true,
                Map.of(),
                List.of(),
                List.of(),
                List.of(),
                List.of(),
                List.of(),
                List.of(),
                true,
                List.of(),
                List.of()))
        .give("GET /versions/fares/2.6.1/components", new EntryPage(List.of(), null, 0))
        .give(
            "GET /versions/fares/2.6.1/fate",
            List.of(
                fate("came", "production/north", "R-12"),
                fate("judged-bad", "production/north", "Undercharges"),
                fate("left", "production/north", "2.6.0 by R-13"),
                fate("withdrawn", "", "Too low")));

    assertThat(server.client("version", "show", "fares@2.6.1").out())
        .contains("came to production/north R-12, ines")
        .contains("judged bad at production/north: Undercharges, ines")
        .contains("left production/north for 2.6.0 by R-13, ines")
        .contains("withdrawn: Too low, ines");
  }
}
