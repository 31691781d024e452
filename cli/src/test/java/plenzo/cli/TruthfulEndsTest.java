package plenzo.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import plenzo.api.Manuals.SteeringView;
import plenzo.api.Promotions.CountsView;
import plenzo.api.Promotions.MayView;
import plenzo.api.Rollbacks.Loss;
import plenzo.api.Rollbacks.TouchedView;
import plenzo.api.Rollbacks.WayOption;
import plenzo.api.Rollbacks.Ways;
import plenzo.api.Runs.NextView;
import plenzo.api.Runs.RowsView;
import plenzo.api.Runs.RunGoal;
import plenzo.api.Runs.RunTimes;
import plenzo.api.Runs.RunView;
import plenzo.api.Stages.CandidateView;
import plenzo.api.Standings.AnchorView;
import plenzo.api.Standings.ChainView;
import plenzo.api.Standings.HeadView;
import plenzo.api.Standings.NewerView;
import plenzo.api.Standings.RecordView;
import plenzo.api.Standings.VerifyingView;
import plenzo.api.Versions.ComponentView;
import plenzo.api.Versions.DraftChecked;
import plenzo.api.Versions.DraftRemovals;
import plenzo.api.Versions.DraftView;
import plenzo.api.Versions.DraftWriting;

/** The client never ends well, nor says "nothing", of what was not looked at. */
class TruthfulEndsTest {
  private static final String LOOK = "POST /records/fares/production/north/look";
  private static final CountsView NOTHING = new CountsView(0, 0, 0, 0, 0, 0);

  private CannedServer server;

  @BeforeEach
  void start() throws IOException {
    server = new CannedServer();
  }

  @AfterEach
  void stop() {
    server.close();
  }

  private static RecordView record(long drift, boolean reachable, @Nullable String older) {
    return record(drift, reachable, older, List.of());
  }

  private static RecordView record(
      long drift, boolean reachable, @Nullable String older, List<String> exceptions) {
    return new RecordView(
        "fares",
        "production/north",
        "2.6.0",
        "good",
        drift,
        List.of(),
        Instant.EPOCH,
        reachable,
        older,
        null,
        List.of(),
        List.of(),
        exceptions,
        List.of(),
        null);
  }

  private CannedServer.Said look(RecordView record) {
    return server
        .give(LOOK, record)
        .client("drift", "look", "fares@production/north", "--fail-on-difference");
  }

  @Test
  void aLookThatFoundNothingEndsWell() {
    CannedServer.Said said = look(record(0, true, null));
    assertThat(said.code()).isZero();
    assertThat(said.out()).contains("nothing");
  }

  @Test
  void aLookThatFoundSomethingDoesNotWhenThatIsAsked() {
    assertThat(look(record(1, true, null)).code()).isEqualTo(Failed.DIFFERENT);
    server.give(LOOK, record(1, true, null));
    assertThat(server.client("drift", "look", "fares@production/north").code()).isZero();
  }

  @Test
  void aLookThatReachedNobodySaysSo() {
    CannedServer.Said said = look(record(0, false, null));
    assertThat(said.code()).isEqualTo(Failed.NOT_REACHABLE);
    assertThat(said.out()).contains("not known now: the site is not reachable");
  }

  @Test
  void recordsThatAreOlderThanTheSiteAreADifference() {
    CannedServer.Said said = look(record(0, true, "R-12"));
    assertThat(said.code()).isEqualTo(Failed.DIFFERENT);
    assertThat(said.out()).contains("R-12");
  }

  @Test
  void aSiteThatNobodyLookedAtYetIsNotEqual() {
    assertThat(look(record(-1, true, null)).out()).contains("not looked yet");
  }

  private static WayOption way(boolean possible, boolean unreachable, long lost) {
    return new WayOption(
        "earlier-version",
        possible,
        possible ? "" : "The site does not answer",
        unreachable,
        "2.5.0",
        null,
        null,
        NOTHING,
        possible ? List.of("database") : List.of(),
        lost,
        lost == 0 ? "Nothing is lost." : lost + " rows would be lost.",
        lost == 0 ? List.of() : List.of(new Loss("fares.band", "rows", lost)),
        lost == 0,
        lost == 0 ? "P-3" : "",
        "7c1e-90ab-k3mz",
        null,
        List.of(),
        List.of(),
        List.of(),
        Collections.nCopies(
            21, new TouchedView("records/fares.band", /* removed= */ 2, /* changed= */ 0, 1)),
        /* more= */ 3);
  }

  private CannedServer.Said ways(WayOption way) {
    return server
        .give(
            "GET /rollback/ways",
            new Ways(
                "fares",
                "production/north",
                true,
                "2.6.0",
                List.of(way),
                new MayView(true, null, "", List.of())))
        .client("rollback", "ways", "fares@production/north");
  }

  @Test
  void waysBackOfASiteThatDoesNotAnswerAreNoSuccess() {
    CannedServer.Said said = ways(way(false, true, -1));
    assertThat(said.code()).isEqualTo(Failed.NOT_REACHABLE);
    assertThat(said.out()).contains("no: The site does not answer").doesNotContain("nothing");
  }

  @Test
  void waysBackSayWhatTheyLose() {
    assertThat(ways(way(true, false, 0)).out()).contains("nothing").contains("covered by P-3");
    CannedServer.Said said = ways(way(true, false, 3));
    assertThat(said.code()).isZero();
    assertThat(said.out()).contains("3 rows would be lost").contains("needs approval of its own");
  }

  @Test
  void aWayNamesWhatItWritesAndHowManyOthers() {
    assertThat(ways(way(true, false, 0)).out())
        .containsOnlyOnce("  and 4 more")
        .contains("  records/fares.band: 2 removed, 1 put back");
    assertThat(ways(way(false, true, -1)).out()).doesNotContain("put back");
  }

  @Test
  void goingBackWithLossesIsNotStartedWithoutTheApplicationsName() {
    ways(way(true, false, 3));
    server.refuse("POST /rollback", 409, "CONFIRM", "3 rows would be lost.");
    CannedServer.Said said =
        server.client(
            "rollback",
            "start",
            "fares@production/north",
            "--way",
            "earlier-version",
            "--reason",
            "x",
            "--yes",
            "--expect",
            "7c1e-90ab-k3mz");
    assertThat(said.code()).isEqualTo(Failed.NEEDS_CONFIRMATION);
    assertThat(said.err()).contains("3 rows would be lost.");
  }

  private CannedServer.Said verify(ChainView chain, String... more) {
    server.give("POST /history/verify", chain);
    String[] words = new String[2 + more.length];
    words[0] = "history";
    words[1] = "verify";
    System.arraycopy(more, 0, words, 2, more.length);
    return server.client(words);
  }

  private static ChainView chain(long broken, List<AnchorView> anchors, List<String> silent) {
    return new ChainView(
        9,
        "9 " + "a".repeat(64),
        broken,
        broken == 0 && anchors.stream().allMatch(AnchorView::holds),
        anchors,
        silent);
  }

  private static AnchorView anchor(boolean holds) {
    return new AnchorView(
        "production/north database, R-12", 12, "b".repeat(64), holds, holds ? "" : "it was cut");
  }

  @Test
  void aHistoryWithoutAHeadOutsideIsNotSaidToBeComplete() {
    CannedServer.Said said = verify(chain(0, List.of(), List.of()));
    assertThat(said.code()).isZero();
    assertThat(said.out()).contains("a tail that was cut off would not be noticed");
  }

  @Test
  void aHistoryThatWasCutIsNotIntact() {
    CannedServer.Said said = verify(chain(0, List.of(anchor(true), anchor(false)), List.of()));
    assertThat(said.code()).isEqualTo(Failed.NOT_INTACT);
    assertThat(said.out()).contains("1 of 2 heads").contains("(entry 12): it was cut");
  }

  @Test
  void aHistoryThatWasEditedIsNotIntact() {
    CannedServer.Said said = verify(chain(4, List.of(), List.of()));
    assertThat(said.code()).isEqualTo(Failed.NOT_INTACT);
    assertThat(said.out()).contains("Entry 4 of 9 was altered.");
  }

  @Test
  void whoCouldNotBeAskedForAHeadIsNamed() {
    assertThat(verify(chain(0, List.of(anchor(true)), List.of("test database"))).out())
        .contains("not asked: test database");
  }

  @Test
  void aHeadIsSavedAndSentBackAsItIs(@TempDir Path folder) throws IOException {
    Path file = folder.resolve("head.json");
    server.give("GET /history/head", new HeadView(9, "a".repeat(64), "{\"signed\":true}"));

    assertThat(server.client("history", "save", file.toString()).code()).isZero();
    assertThat(Files.readString(file)).contains("{\"signed\":true}");
    verify(chain(0, List.of(), List.of()), "--head", file.toString());

    assertThat(server.asked().get(server.asked().size() - 1)).contains("{\\\"signed\\\":true}");
  }

  @Test
  void runsThatTheRecordsDoNotKnowAreADifference() {
    server.give("GET /server/newer", List.of());
    assertThat(server.client("server", "newer").code()).isZero();

    server.give(
        "GET /server/newer",
        List.of(new NewerView("production/north", "database", "R-9", "2.7.0")));
    CannedServer.Said said = server.client("server", "newer");
    assertThat(said.code()).isEqualTo(Failed.DIFFERENT);
    assertThat(said.out()).contains("R-9").contains("2.7.0");
  }

  @Test
  void catchingUpSaysItsCostFirst() {
    CannedServer.Said said = server.client("server", "catch-up");
    assertThat(said.code()).isEqualTo(Failed.NEEDS_CONFIRMATION);
    assertThat(server.asked()).isEmpty();
  }

  @Test
  void whatIsNotCarriedIsListedAndNeverAdoptedWithEverything() {
    server.give(
        "GET /applications/fares/candidates",
        List.of(
            new CandidateView(
                "table/fares.band", 4, 0, List.of("code"), "", "", List.of(), List.of()),
            new CandidateView(
                "trigger audit of fares.band",
                0,
                0,
                List.of(),
                "",
                "",
                List.of("not carried, and changes what rows of its table mean"),
                List.of())));

    assertThat(server.client("app", "candidates", "fares", "--site", "production/north").out())
        .contains("trigger audit of fares.band")
        .contains("not carried, and changes what rows");
    server.client(
        "app",
        "adopt",
        "fares",
        "--site",
        "production/north",
        "--number",
        "1.0.0",
        "--title",
        "x",
        "--everything",
        "--no-records");

    assertThat(server.asked())
        .filteredOn(a -> a.startsWith("POST"))
        .singleElement()
        .asString()
        .contains("table/fares.band")
        .doesNotContain("trigger");
  }

  @Test
  void aLostRaceIsSaidAsOne() {
    server.refuse("GET /rollback/ways", 412, "CHANGED", "Somebody else changed it meanwhile.");
    assertThat(server.client("rollback", "ways", "fares@production/north").code())
        .isEqualTo(Failed.CHANGED);
  }

  @Test
  void aServerThatIsGoneIsNotReachable() {
    server.close();
    assertThat(server.client("server", "newer").code()).isEqualTo(Failed.NOT_REACHABLE);
  }

  /** Everything that can be taken is taken; what cannot is named, not passed over. */
  @Test
  void saysWhatEverythingLeavesOut() {
    DraftView draft =
        new DraftView(
            "D-3",
            "fares",
            "2.6.1",
            "open",
            List.of(),
            new DraftRemovals(List.of(), List.of()),
            new DraftChecked(
                null, List.of(), List.of(), List.of(), List.of(), List.of(), List.of()),
            new DraftWriting(List.of(), List.of(), List.of()),
            "ines",
            Instant.parse("2027-03-01T08:00:00Z"),
            "2.7.0",
            List.of("records/fares.lane: its key is generated"),
            "",
            1);
    server
        .give("GET /drafts/D-3", draft)
        .give("POST /drafts/D-3/add", draft)
        .give(
            "GET /components",
            List.of(
                new ComponentView(
                    "rule/fares.ceiling", "changed", "its content changed", "", null, null),
                new ComponentView(
                    "table/fares.lane",
                    "new",
                    "it cannot be read",
                    "cannot be carried: no JSON",
                    null,
                    null),
                new ComponentView(
                    "tables/lane.json",
                    "refused",
                    "no component",
                    "cannot be carried: no schema",
                    null,
                    null),
                new ComponentView("table/fares.band", "same", "", "", null, null)));

    CannedServer.Said said =
        server.client("draft", "add", "D-3", "--everything", "--site", "development/main");

    assertThat(said.code()).isZero();
    assertThat(said.err())
        .contains("Left out: table/fares.lane cannot be carried: no JSON")
        .contains("Left out: tables/lane.json cannot be carried: no schema");
    assertThat(server.asked())
        .anyMatch(
            a ->
                a.startsWith("POST /drafts/D-3/add")
                    && a.contains("rule/fares.ceiling")
                    && !a.contains("lane")
                    && !a.contains("band"));
  }

  @Test
  void aLongCheckSaysHowFarItIs() {
    assertThat(HistoryCommand.soFar(new VerifyingView(400_000, 1_000_000), 8))
        .isEqualTo("400,000 of 1,000,000 entries, about 12 s to go");
  }

  /** What was left or kept on purpose is no drift, and is not forgotten either. */
  @Test
  void whatWasLeftThereIsListed() {
    RecordView left = record(0, true, null, List.of("records/fares.concession#row/\"FAMILY\""));

    assertThat(look(left).out())
        .contains("Kept or left there on purpose:", "records/fares.concession#row/\"FAMILY\"");
    assertThat(look(record(0, true, null)).out()).doesNotContain("on purpose");
  }

  private static RunView ended(String state, @Nullable NextView next) {
    Instant at = Instant.EPOCH;
    return new RunView(
        "R-12",
        "P-9",
        new RunGoal(
            "fares",
            "2.6.1",
            "2.6.0",
            "production/north",
            "Production",
            true,
            "earlier-version",
            "Undercharges",
            "7c1e-90ab-k3mz"),
        state,
        true,
        "tove",
        new RunTimes(at, at, at, null, null, null, null, null, null, false),
        new MayView(false, null, "", List.of()),
        List.of(),
        0,
        new RowsView(0, 0),
        "It stopped.",
        null,
        List.of(),
        0,
        next,
        new SteeringView("tove", List.of(), null, Map.of()),
        null);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "promotion | plenzo promotion show P-9",
        "ways-back | plenzo rollback ways fares@production/north",
        "what-differs | plenzo drift show fares@production/north",
      })
  void saysWhatToDoNextAfterARunThatDidNotGoThrough(String code, String command) {
    CannedServer.Said said =
        server
            .give("GET /runs/R-12", ended("half written", new NextView(code, "Look what moved.")))
            .client("run", "show", "R-12");

    assertThat(said.out()).contains("Look what moved. " + command);
  }

  @Test
  void saysNothingMoreAfterOneThatWentThrough() {
    assertThat(
            server.give("GET /runs/R-12", ended("done", null)).client("run", "show", "R-12").out())
        .contains("It stopped.")
        .doesNotContain("Next");
  }

  @Test
  void saysWhatAWayBackWrites() {
    assertThat(ways(way(true, false, 0)).out()).contains("the database alone");
  }
}
