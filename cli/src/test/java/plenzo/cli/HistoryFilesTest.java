package plenzo.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.time.Instant;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import plenzo.api.Copies.SourceCopiesView;
import plenzo.api.Copies.SourceCopyView;
import plenzo.api.People.BlankedView;
import plenzo.api.People.BlankingView;
import plenzo.api.Records.ReportFact;
import plenzo.api.Records.ReportSection;
import plenzo.api.Records.WholeRecord;
import plenzo.core.digest.Digest;
import plenzo.core.history.Anchor;
import plenzo.core.history.HistoryEntry;
import plenzo.core.history.Names;
import plenzo.packages.SavedHistory;
import plenzo.packages.Signatures;
import plenzo.packages.SignedHead;

/**
 * What changed between two moments, a saved history, copies and blanking, as the client says them.
 */
class HistoryFilesTest {
  private static final Instant AT = Instant.parse("2027-03-10T02:10:00Z");
  private static final Signatures.Keys KEYS = Signatures.make(new SecureRandom());

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

  private static HistoryEntry entry(long n, String before, String text) {
    return HistoryEntry.after(
        n, before, AT.plusSeconds(n), HistoryEntry.Event.of("ines", "adopted", text), Names.NONE);
  }

  /** Two entries, the newest first, as the service saves them. */
  private Path saved(HistoryEntry first, HistoryEntry second) {
    Path file = folder.resolve("saved.zip");
    byte[] lines = (second.line() + "\n" + first.line() + "\n").getBytes(StandardCharsets.UTF_8);
    SavedHistory.write(
        file,
        new SavedHistory.Facts("here", AT, AT, AT.plusSeconds(9), List.of("E-1: not yours")),
        List.of(
            new SavedHistory.Part(
                SavedHistory.ENTRIES,
                lines.length,
                Digest.of(new String(lines, StandardCharsets.UTF_8)),
                () -> new ByteArrayInputStream(lines))),
        KEYS);
    return file;
  }

  private Path head(HistoryEntry of) throws IOException {
    Path file = folder.resolve("head.json");
    Files.writeString(
        file, SignedHead.sign(new Anchor(of.sequence(), of.hash()), "here", AT, KEYS));
    return file;
  }

  @Test
  void aSavedHistoryIsCheckedFromAHeadAndNoServiceIsAsked() throws IOException {
    HistoryEntry first = entry(1, HistoryEntry.START, "What production held");
    HistoryEntry second = entry(2, first.hash(), "And more");
    String file = saved(first, second).toString();

    CannedServer.Said said =
        server.client("history", "verify", "--saved", file, "--head", head(first).toString());

    assertThat(said.code()).isZero();
    assertThat(said.out())
        .contains(
            "Entries 1 to 2 of service here, unbroken.",
            "1 file, each as it was listed.",
            "not given: E-1: not yours",
            "The head of entry 1 holds: every entry up to it is as it was then. Those behind it");
    assertThat(server.asked()).isEmpty();
  }

  @Test
  void withoutAHeadItIsSaidThatItProvesNothing() {
    HistoryEntry first = entry(1, HistoryEntry.START, "What production held");
    CannedServer.Said said =
        server.client(
            "history", "verify", "--saved", saved(first, entry(2, first.hash(), "")).toString());

    assertThat(said.code()).isEqualTo(Failed.NOT_INTACT);
    assertThat(said.out()).contains("whoever has the key could have made all of it up");
  }

  @Test
  void aPastThatWasAlteredEndsWithAnExitCodeOfItsOwn() throws IOException {
    HistoryEntry first = entry(1, HistoryEntry.START, "What production held");
    HistoryEntry other = entry(1, HistoryEntry.START, "What somebody says that it held");
    String head = head(first).toString();
    String file = saved(other, entry(2, other.hash(), "")).toString();

    CannedServer.Said said = server.client("history", "verify", "--saved", file, "--head", head);

    assertThat(said.code()).isEqualTo(Failed.NOT_INTACT);
    assertThat(said.out()).contains("Entry 1 is another one than that of the head");
  }

  @Test
  void aFileThatIsNoneIsRefused() throws IOException {
    Path no = folder.resolve("no.zip");
    Files.writeString(no, "no");

    assertThat(server.client("history", "verify", "--saved", no.toString()).err())
        .contains("is refused");
    assertThat(server.client("history", "verify", "--saved", folder + "/none.zip").code())
        .isEqualTo(2);
  }

  @Test
  void aStretchIsAskedForWithItsEndsAndItsEvidence() {
    server.refuse("GET /history/saved", 403, "NOT_ALLOWED", "ines lacks the right \"audit\".");

    server.client(
        "history", "save", "--from", "2027-01-01T00:00", "--with-evidence", folder + "/q.zip");

    assertThat(server.queries())
        .anyMatch(q -> q.contains("from=2027-01-01T00%3A00%3A00Z") && q.contains("evidence=true"));
    assertThat(server.client("history", "save", "--with-evidence", folder + "/q.zip").code())
        .isEqualTo(2);
  }

  @Test
  void whatChangedIsSaidSectionBySection() {
    server.give(
        "GET /records/fares/production/north/between",
        new WholeRecord(
            "fares at production/north",
            AT,
            List.of(
                new ReportSection(
                    "What was recorded there",
                    "",
                    List.of(new ReportFact("At the end", "2.4.0, run")),
                    List.of(),
                    List.of()))));

    assertThat(server.client("history", "between", "fares@production/north", "--days", "7").out())
        .contains("What was recorded there", "At the end: 2.4.0, run");
  }

  @Test
  void copiesSayWhatTheyAreWithoutAndWhenOneIsLate() {
    SourceCopyView copy =
        new SourceCopyView(
            "C-2", AT, "plenzo", "development/main", 420, "abc", List.of("table/fares.odd"));
    server
        .give(
            "GET /applications/fares/copies",
            new SourceCopiesView(1, "", AT, "The newest copy is of 2027-03-01", List.of(copy)))
        .give("POST /applications/fares/copies", copy)
        .give("PUT /applications/fares/copies", new SourceCopiesView(7, "", null, "", List.of()));

    CannedServer.Said list = server.client("copy", "list", "fares");
    assertThat(list.out()).contains("C-2", "table/fares.odd");
    assertThat(list.err()).contains("One is taken every day.", "The newest copy is of");
    assertThat(server.client("copy", "take", "fares").out())
        .contains("C-2 of fares at development/main", "without table/fares.odd");
    assertThat(server.client("copy", "every", "fares", "7").err())
        .contains("One is taken every 7 days.");
  }

  @Test
  void blankingSaysItsCostFirstAndDoesNothingWithoutAWord() {
    server
        .give(
            "GET /people/edda/blanking",
            new BlankingView(List.of("edda", "Edda Brandt"), List.of(), List.of("Signed packages")))
        .give("POST /people/edda/blank", new BlankedView(List.of("ab"), 7, 3, 1));

    assertThat(server.client("user", "blank", "edda").out())
        .contains(
            "Names: edda, Edda Brandt",
            "Keeps them: Signed packages",
            "Nothing is done yet. Next: plenzo user blank edda --yes");
    assertThat(server.asked()).noneMatch(a -> a.startsWith("POST"));

    assertThat(server.client("user", "blank", "edda", "--yes").out())
        .contains(
            "Read otherwise now: in the history 7, of the records 3. Of before, keeping the name: 1.");
  }
}
