package plenzo.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.api.Promotions.CountsView;
import plenzo.api.Promotions.GateView;
import plenzo.api.Promotions.MayView;
import plenzo.api.Rollbacks.SiteStarted;
import plenzo.api.Rollbacks.SiteWays;
import plenzo.api.Rollbacks.StageWay;
import plenzo.api.Rollbacks.StageWays;
import plenzo.api.Rollbacks.WayOption;

/** Going back at every site of a stage that a version came to. */
class EverySiteTest {
  private CannedServer server;

  @BeforeEach
  void start() throws IOException {
    server = new CannedServer();
  }

  @AfterEach
  void stop() {
    server.close();
  }

  private static WayOption way(long lost) {
    return new WayOption(
        "earlier-version",
        true,
        "",
        false,
        "2.6.0",
        null,
        null,
        new CountsView(0, 1, 0, 0, 0, 0),
        List.of("database"),
        lost,
        "",
        List.of(),
        true,
        "P-3",
        "1111-2222-3333",
        null,
        List.of(),
        List.of(),
        List.of(),
        List.of(),
        0);
  }

  private static StageWays ways(String why) {
    boolean possible = why.isEmpty();
    return new StageWays(
        "fares",
        "test",
        false,
        "2.6.1",
        List.of(
            new SiteWays("test/north", "2.6.1", true, List.of(way(0))),
            new SiteWays("test/south", "2.6.1", true, List.of(way(2))),
            new SiteWays("test/west", "2.6.0", false, List.of())),
        List.of(
            new StageWay(
                "earlier-version",
                possible,
                why,
                2,
                true,
                possible ? "7c1e-90ab-k3mz" : null,
                null)),
        new MayView(true, null, "", List.of()));
  }

  private CannedServer.Said start(@Nullable SiteStarted... sites) {
    return server
        .give("GET /rollback/sites", ways(""))
        .give("POST /rollback/sites", sites)
        .client(
            "rollback",
            "start",
            "fares@test",
            "--every-site",
            "--leaving",
            "2.6.1",
            "--way",
            "earlier-version",
            "--reason",
            "Wrong fares",
            "--confirm",
            "fares");
  }

  @Test
  void showsEverySiteAndAllOfThemTogether() {
    CannedServer.Said said =
        server
            .give("GET /rollback/sites", ways(""))
            .client("rollback", "ways", "fares@test", "--every-site");

    assertThat(said.code()).as(said.err()).isZero();
    assertThat(said.out())
        .contains(
            "fares@test leaves 2.6.1",
            "test/north holds 2.6.1",
            "test/west holds 2.6.0, and stays as it is",
            "2 rows or values",
            "7c1e-90ab-k3mz");
  }

  @Test
  void goesBackByThePlanOfAllOfThem() {
    CannedServer.Said said =
        start(
            new SiteStarted("test/north", "P-8", "R-8", List.of(), ""),
            new SiteStarted("test/south", "P-9", "R-9", List.of(), ""));

    assertThat(said.code()).as(said.err()).isZero();
    assertThat(said.out()).contains("test/north: R-8 is started", "test/south: R-9 is started");
    assertThat(server.asked())
        .last()
        .asString()
        .contains("\"leaving\":\"2.6.1\"", "\"expect\":\"7c1e-90ab-k3mz\"");
  }

  /** One site keeps no other from going back, and is not passed over. */
  @Test
  void saysWhatDidNotStart() {
    CannedServer.Said said =
        start(
            new SiteStarted("test/north", "P-8", "R-8", List.of(), ""),
            new SiteStarted(
                "test/south", "P-9", null, List.of(new GateView("approval", "1 more yes", "")), ""),
            new SiteStarted("test/east", null, null, List.of(), "The site does not answer."));

    assertThat(said.code()).isEqualTo(Failed.STOPPED);
    assertThat(said.out())
        .contains(
            "test/north: R-8 is started",
            "test/south: P-9 waits for: 1 more yes",
            "test/east: The site does not answer.");
  }

  @Test
  void startsNothingWhereTheWayIsClosed() {
    CannedServer.Said said =
        server
            .give("GET /rollback/sites", ways("test/south: Rows point at rows that go."))
            .client(
                "rollback",
                "start",
                "fares@test",
                "--every-site",
                "--way",
                "earlier-version",
                "--reason",
                "x");

    assertThat(said.code()).isEqualTo(Failed.STOPPED);
    assertThat(said.err()).contains("test/south: Rows point at rows that go.");
    assertThat(server.asked()).noneMatch(a -> a.startsWith("POST"));
  }
}
