package plenzo.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.api.Drifts.ComparedSidesView;
import plenzo.api.Drifts.DriftView;
import plenzo.api.Drifts.GroupView;
import plenzo.api.Drifts.LeftOverItem;
import plenzo.api.Drifts.LeftOverView;
import plenzo.api.Drifts.LineView;
import plenzo.api.Drifts.SettleMay;
import plenzo.api.Drifts.SideLineView;
import plenzo.api.Promotions.AttributeChange;
import plenzo.api.Promotions.MayView;
import plenzo.api.Stages.StageView;
import plenzo.api.Standings.LeftView;

/** All that differs at a site, as the client says it. */
class DriftTest {
  private static final String DRIFT = "GET /records/fares/production/north/drift";
  private static final MayView YES = new MayView(true, null, "", List.of());

  private CannedServer server;

  @BeforeEach
  void listen() throws Exception {
    server = new CannedServer();
  }

  @AfterEach
  void stop() {
    server.close();
  }

  private static LineView line(String place, String how, @Nullable String settled) {
    int hash = place.indexOf('#');
    return new LineView(
        place,
        hash < 0 ? place : place.substring(0, hash),
        how,
        how.equals("changed")
            ? List.of(new AttributeChange("amount", "99.00", "25.00", false, false, null, null))
            : List.of(),
        false,
        Instant.EPOCH,
        settled);
  }

  private static DriftView drift(
      @Nullable Instant lookedAt, long all, long listed, @Nullable String next, LineView... lines) {
    return new DriftView(
        "fares",
        "production/north",
        "1.1.0",
        "Production",
        true,
        "Harbour office",
        lookedAt,
        null,
        true,
        all,
        listed,
        lines.length == 0
            ? List.of()
            : List.of(
                new GroupView("records/fares.band", 1, 0, 1, "R-7", "tove"),
                new GroupView("rule/fares.peak", 0, 1, 0, null, null)),
        List.of(lines),
        next,
        List.of(new LeftView("rule/fares.peak", "agreed", "tove", Instant.EPOCH, "2027-03-31")),
        new SettleMay(YES, YES, YES));
  }

  private String shown(DriftView d) {
    return server.give(DRIFT, d).client("drift", "show", "fares@production/north").out();
  }

  @Test
  void saysWhatIsRecordedAndWhatIsThereComponentByComponent() {
    String out =
        shown(
            drift(
                Instant.EPOCH,
                3,
                3,
                null,
                line("records/fares.band#row/\"PEAK\"", "changed", null),
                line("records/fares.band#row/\"NIGHT\"", "only-there", null),
                line("rule/fares.peak", "gone", "left")));

    assertThat(out)
        .contains(
            "records/fares.band: 1 changed, 1 only there; R-7 wrote it last; last changed there by tove")
        .contains("changed row/\"PEAK\"")
        .contains("amount: recorded 25.00, there 99.00")
        .contains("only there row/\"NIGHT\"")
        .containsPattern("gone  since .*, left on purpose")
        .contains("Ask      Harbour office")
        .contains("rule/fares.peak until 2027-03-31, by tove: agreed")
        .doesNotContain("There are more");
  }

  @Test
  void neverSaysThatNothingDiffersOfWhatNobodyLookedAt() {
    assertThat(shown(drift(null, 0, 0, null)))
        .contains("not looked yet", "Next: plenzo drift look fares@production/north")
        .doesNotContain("Nothing that");
    assertThat(shown(drift(Instant.EPOCH, 0, 0, null)))
        .contains("Nothing that Plenzo looked at differs.", "Rows     not looked yet");
  }

  @Test
  void saysWhatIsNotShownAndWhatIsNotListed() {
    String out = shown(drift(Instant.EPOCH, 120, 100, "88", line("rule/fares.peak", "gone", null)));

    assertThat(out)
        .contains(
            "of 120 in all, 1 are shown. Next: plenzo drift show fares@production/north --from 88")
        .contains("20 more were counted and are not listed");
  }

  private CannedServer.Said compared(long all, SideLineView... lines) {
    return server
        .give(
            "GET /records/fares/production/north/compare",
            new ComparedSidesView(
                "fares",
                "production/north",
                "test/main",
                all,
                all == 0
                    ? List.of()
                    : List.of(new GroupView("records/fares.band", all, 0, 0, null, null)),
                List.of(lines)))
        .client(
            "component",
            "compare",
            "fares@production/north",
            "--with",
            "test/main",
            "--fail-on-difference");
  }

  @Test
  void twoSitesStandBesideOneAnotherByTheirNames() {
    CannedServer.Said said =
        compared(
            812,
            new SideLineView(
                "records/fares.band#row/\"PEAK\"",
                "records/fares.band",
                "changed",
                List.of(new AttributeChange("amount", "99.00", "25.00", false, false, null, null)),
                false));

    assertThat(said.code()).isEqualTo(Failed.DIFFERENT);
    assertThat(said.out())
        .contains("fares at production/north, held against test/main:")
        .contains("records/fares.band: 812 changed")
        .contains("amount: test/main 25.00, production/north 99.00")
        .contains("Of 812 in all, the first 1 are shown");
    assertThat(compared(0).code()).isZero();
    assertThat(compared(0).out()).contains("nothing that Plenzo compares differs");
  }

  private static StageView stage(boolean driftCloses) {
    return new StageView(
        "production",
        "Production",
        "production",
        2,
        "UTC",
        driftCloses,
        List.of(),
        4,
        List.of(),
        List.of());
  }

  @Test
  void aStageIsClosedByDriftAndKeepsTheRest() {
    CannedServer.Said said =
        server
            .give("GET /stages", List.of(stage(false)))
            .give("PUT /stages/production", stage(true))
            .client("stage", "change", "production", "--drift-closes", "true");

    assertThat(said.code()).as(said.out()).isZero();
    assertThat(said.out())
        .isEqualTo(
            "Stage production: Production; a site that differs takes no version until that is settled.\n");
  }

  private static final String OVER = "GET /records/fares/production/north/left-over";

  private static LeftOverView over(LeftOverItem... items) {
    return new LeftOverView("fares", "production/north", true, List.of(items), YES);
  }

  @Test
  void saysWhatIsLeftOverAndHowToClearIt() {
    String said =
        server
            .give(
                OVER,
                over(
                    new LeftOverItem(
                        "database",
                        "before",
                        "as it was before a switch",
                        "before_12_0",
                        "R-12",
                        8192L,
                        Instant.EPOCH,
                        ""),
                    new LeftOverItem(
                        "", "kept", "kept on purpose", "records/fares.band", null, null, null, "")))
            .client("site", "left-over", "fares@production/north")
            .out();

    assertThat(said)
        .contains("before_12_0", "R-12", "9 kB", "as it was before a switch", "kept on purpose")
        .contains("Next: plenzo site clear fares@production/north NAME");
  }

  @Test
  void saysThatNothingIsLeftOver() {
    assertThat(
            server.give(OVER, over()).client("site", "left-over", "fares@production/north").out())
        .contains("Nothing is left over at production/north that Plenzo knows of.");
  }

  @Test
  void clearsWhatIsNamed() {
    server
        .give("POST /records/fares/production/north/left-over/clear", over())
        .client("site", "clear", "fares@production/north", "before_12_0", "stage_12_0");

    assertThat(server.asked()).last().asString().contains("[\"before_12_0\",\"stage_12_0\"]");
  }
}
