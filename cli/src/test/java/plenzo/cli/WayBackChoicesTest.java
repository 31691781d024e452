package plenzo.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import plenzo.api.Promotions.CountsView;
import plenzo.api.Promotions.GivesView;
import plenzo.api.Promotions.MayView;
import plenzo.api.Rollbacks.BroughtIn;
import plenzo.api.Rollbacks.ObstacleView;
import plenzo.api.Rollbacks.OfferView;
import plenzo.api.Rollbacks.Started;
import plenzo.api.Rollbacks.UsedRowView;
import plenzo.api.Rollbacks.WayOption;
import plenzo.api.Rollbacks.Ways;

/** What is in the way of going back is said with the options that remove it, and those are sent. */
class WayBackChoicesTest {
  private static final String PLACE = "records/fares.concession";
  private CannedServer server;

  @BeforeEach
  void start() throws IOException {
    server = new CannedServer();
  }

  @AfterEach
  void stop() {
    server.close();
  }

  private static Ways ways(boolean possible, @Nullable String chosen, boolean production) {
    return ways(possible, production, used(chosen));
  }

  private static ObstacleView used(@Nullable String chosen) {
    return new ObstacleView(
        PLACE + "#in-use",
        60,
        "60 rows of fares.concession that 2.5.0 brought are used by 61 rows of fares.booking.",
        List.of(
            new OfferView("keep", "Leave them there, left over from 2.5.0", 0),
            new OfferView("take-incoming", "Remove them, with what hangs on them", 61)),
        chosen,
        List.of(
            new UsedRowView(
                PLACE + "#row/\"FAMILY\"", "FAMILY", "2 rows of fares.booking", chosen)));
  }

  private static Ways ways(boolean possible, boolean production, ObstacleView obstacle) {
    WayOption way =
        new WayOption(
            "earlier-version",
            possible,
            possible ? "" : "61 rows of fares.booking point at rows that go.",
            false,
            "2.4.0",
            null,
            null,
            new CountsView(0, 0, 0, 0, 0, 0),
            List.of("database"),
            0,
            "Nothing is lost.",
            List.of(),
            true,
            "P-9",
            "7c1e-90ab-k3mz",
            null,
            List.of(),
            List.of(obstacle),
            List.of(),
            List.of(),
            0);
    return ways(production, way);
  }

  private static Ways ways(boolean production, WayOption way) {
    return new Ways(
        "fares",
        production ? "production/north" : "test/main",
        production,
        "2.5.0",
        List.of(way),
        new MayView(true, null, "", List.of()));
  }

  @Test
  void saysWhatIsInTheWayAndWhatRemovesIt() {
    CannedServer.Said said =
        server
            .give("GET /rollback/ways", ways(false, null, true))
            .client("rollback", "ways", "fares@production/north");

    assertThat(said.out())
        .contains(
            "60 rows of fares.concession that 2.5.0 brought are used by 61 rows of fares.booking.",
            "Leave them there, left over from 2.5.0 (loses nothing): --leave " + PLACE,
            "Remove them, with what hangs on them (loses 61 rows or values): --remove " + PLACE,
            PLACE + ":FAMILY, used by 2 rows of fares.booking",
            "and 59 more")
        .doesNotContain("#in-use");
  }

  @Test
  void offersToLeaveAStructureOrToTakeTheEarlierOne() {
    String at = "table/fares.booking#column/note";
    ObstacleView unfit =
        new ObstacleView(
            at,
            3,
            "3 values of fares.booking.note do not fit character varying(40), which 2.4.0 has.",
            List.of(
                new OfferView("keep", "Leave it as 2.5.0 has it, and the rows too", 0),
                new OfferView("take-incoming", "Make it as 2.4.0 had it", -1)),
            "take-incoming",
            List.of());

    CannedServer.Said said =
        server
            .give("GET /rollback/ways", ways(true, true, unfit))
            .client("rollback", "ways", "fares@production/north");

    assertThat(said.out())
        .contains(
            "    Leave it as 2.5.0 has it, and the rows too (loses nothing): --leave " + at,
            "    chosen: Make it as 2.4.0 had it (loses what is said above): --take " + at);
  }

  @Test
  void saysWhatWasChosen() {
    CannedServer.Said said =
        server
            .give("GET /rollback/ways", ways(true, "keep", true))
            .client("rollback", "ways", "fares@production/north", "--leave", PLACE);

    assertThat(said.out())
        .contains("chosen: Leave them there")
        .contains(":FAMILY, used by 2 rows of fares.booking: is left");
  }

  @Test
  void sendsWhatWasChosen() {
    CannedServer.Said said =
        server
            .give("GET /rollback/ways", ways(true, "keep", false))
            .give("POST /rollback", new Started("P-9", "R-9", List.of()))
            .client(
                "rollback",
                "start",
                "fares@test/main",
                "--way",
                "earlier-version",
                "--reason",
                "Undercharges",
                "--leave",
                PLACE,
                "--remove",
                PLACE + ":FAMILY");

    assertThat(said.code()).as(said.err()).isZero();
    assertThat(server.asked())
        .last()
        .asString()
        .startsWith("POST /rollback ")
        .contains(
            "\"choices\":{\"records/fares.concession#in-use\":\"keep\",\"records/fares.concession#row/\\\"FAMILY\\\"\":\"take-incoming\"}");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '~',
      value = {
        "records/fares.fare | records/fares.fare#in-use",
        "records/fares.fare:PET | records/fares.fare#row/\"PET\"",
        "records/fares.fare:1,PET | records/fares.fare#row/\"1\",\"PET\"",
        "records/fares.fare:a\"b | records/fares.fare#row/\"a\"\"b\"",
        "table/fares.fare#column/zone | table/fares.fare#column/zone",
      })
  void namesPlacesAsTheServiceDoes(String text, String place) {
    assertThat(RollbackCommand.Choices.place(text, "#in-use")).isEqualTo(place);
  }

  /** Values came last: what each becomes, secrets as what they are. */
  private static WayOption earlierValues() {
    return new WayOption(
        "earlier-values",
        true,
        "",
        false,
        "2.5.0",
        "R-31",
        null,
        new CountsView(0, 0, 0, 0, 0, 7),
        List.of("host"),
        0,
        "Nothing is lost.",
        List.of(),
        true,
        "P-30",
        "7c1e-90ab-k3mz",
        null,
        List.of(),
        List.of(),
        List.of(
            new GivesView("terminal-address", "production", "https://a.example", null, true),
            new GivesView("desk-token", "production/north", null, null, true)),
        List.of(),
        0);
  }

  @Test
  void saysWhichValuesComeBackAndWhatStays() {
    CannedServer.Said said =
        server
            .give("GET /rollback/ways", ways(true, earlierValues()))
            .client("rollback", "ways", "fares@production/north");

    assertThat(said.out())
        .contains(
            "the values of before R-31, 2.5.0 stays",
            "Gives anew terminal-address: https://a.example, set at production",
            "Has the host forget desk-token",
            "the host alone");
  }

  @Test
  void namesTheWaysThatThereAre() {
    CannedServer.Said said =
        server
            .give("GET /rollback/ways", ways(true, earlierValues()))
            .client(
                "rollback", "start", "fares@test/main", "--way", "restore", "--reason", "Wrong");

    assertThat(said.code()).isEqualTo(Failed.USAGE);
    assertThat(said.err()).contains("The ways back there are earlier-values; got \"restore\".");
  }

  @Test
  void takesOneChoiceForAPlace() {
    RollbackCommand.Choices choices = new RollbackCommand.Choices();
    choices.leave = List.of(PLACE);
    choices.remove = List.of(PLACE);

    assertThatThrownBy(choices::all)
        .isInstanceOf(Failed.class)
        .hasMessageContaining("Two choices for");
  }

  /** What people changed since has options of its own. */
  @Test
  void keepsOrTakesWhatPeopleChangedSince() {
    RollbackCommand.Choices choices = new RollbackCommand.Choices();
    choices.keep = List.of("records/fares.surcharge");
    choices.take = List.of("records/fares.surcharge:PEAK", "rule/fares.quote");

    assertThat(choices.all())
        .containsEntry("records/fares.surcharge", "keep")
        .containsEntry("records/fares.surcharge#row/\"PEAK\"", "take-incoming")
        .containsEntry("rule/fares.quote", "take-incoming");
    assertThat(choices.query()).startsWith("&choice=records%2Ffares.surcharge%3Dkeep");
  }

  @Test
  void bringsInWhatWasSavedAndNamesWhatDoesNotFit(@TempDir Path folder) throws IOException {
    Path file =
        Files.writeString(folder.resolve("lost.csv"), "\"fares.booking\",\"7\",\"note\",\"x\"");

    CannedServer.Said said =
        server
            .give(
                "POST /rollback/bring-in", new BroughtIn("P-21", List.of("fares.booking 8: gone")))
            .client("rollback", "bring-in", "fares@production/north", "--file", file.toString());

    assertThat(said.code()).as(said.err()).isZero();
    assertThat(said.out()).contains("P-21 is prepared. Next: plenzo promotion show P-21");
    assertThat(said.err()).contains("Not taken: fares.booking 8: gone");
    assertThat(server.asked()).last().asString().contains("fares.booking");
  }
}
