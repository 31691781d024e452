package plenzo.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.time.Instant;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.api.Calendars.CalendarRun;
import plenzo.api.Calendars.CalendarView;
import plenzo.api.Calendars.FreezeHolds;
import plenzo.api.Calendars.FreezeView;
import plenzo.api.Calendars.ScheduleView;
import plenzo.api.Calendars.SpanOpen;
import plenzo.api.Calendars.StageCalendar;
import plenzo.api.Stages.StageView;
import plenzo.api.Stages.WindowView;

/** Freezes, windows and runs that start by themselves, as the client sends and says them. */
class TimeCommandsTest {
  private static final Instant FROM = Instant.parse("2026-12-19T23:00:00Z");
  private static final Instant UNTIL = Instant.parse("2027-01-04T05:00:00Z");
  private static final FreezeView FREEZE =
      new FreezeView(
          "FZ-1",
          "production",
          FROM,
          UNTIL,
          "Year's end",
          List.of(),
          "ines",
          null,
          null,
          null,
          false);

  private CannedServer server;

  @BeforeEach
  void start() throws IOException {
    server = new CannedServer();
    server.give("GET /stages", List.of(stage()));
    server.give("PUT /stages/production", stage(new WindowView(List.of("tue"), "22:00", "04:00")));
    server.give(
        "POST /freezes/holds",
        new FreezeHolds(
            List.of("P-7 fares 2.4.0 to production/north"),
            List.of("SC-2 P-7 at 2026-12-24T21:00:00Z")));
    server.give("POST /freezes", FREEZE);
  }

  private static StageView stage(WindowView... windows) {
    return new StageView(
        "production",
        "Production",
        "production",
        2,
        "Europe/Oslo",
        false,
        List.of(),
        3,
        List.of(),
        List.of(windows));
  }

  @AfterEach
  void stop() {
    server.close();
  }

  private String sent() {
    return server.asked().get(server.asked().size() - 1);
  }

  @Test
  void aFreezeSaysFirstWhatItHoldsAndIsMeantInTheStagesZone() {
    CannedServer.Said said =
        server.client(
            "freeze",
            "add",
            "production",
            "--from",
            "2026-12-20T00:00",
            "--until",
            "2027-01-04T06:00",
            "--reason",
            "Year's end");

    assertThat(said.code()).as(said.err()).isZero();
    assertThat(said.out())
        .containsSubsequence(
            "Holds P-7 fares 2.4.0 to production/north.",
            "Refuses SC-2 P-7 at 2026-12-24T21:00:00Z.",
            "FZ-1: production is frozen from");
    assertThat(sent())
        .contains("\"from\":\"2026-12-19T23:00:00Z\"", "\"until\":\"2027-01-04T05:00:00Z\"");
  }

  @Test
  void whatAFreezeWouldHoldIsSaidWithoutFreezing() {
    String out =
        server
            .client(
                "freeze",
                "check",
                "production",
                "--from",
                "2026-12-20T00:00",
                "--until",
                "2027-01-04T06:00")
            .out();

    assertThat(out).contains("Holds P-7");
    assertThat(server.asked()).noneMatch(a -> a.startsWith("POST /freezes "));
  }

  @Test
  void anHourThatIsSkippedOrComesTwiceIsRefusedWithWhatToWrite() {
    assertThatThrownBy(() -> Times.of("2027-03-28T02:30", "Europe/Oslo"))
        .hasMessageContaining("There is no 2027-03-28T02:30 in Europe/Oslo");
    assertThatThrownBy(() -> Times.of("2027-10-31T02:30", "Europe/Oslo"))
        .hasMessageContaining("write 2027-10-31T02:30+02:00 or 2027-10-31T02:30+01:00");
    assertThat(Times.of("2027-10-31T02:30+01:00", "Europe/Oslo")).isEqualTo("2027-10-31T01:30:00Z");
    assertThatThrownBy(() -> Times.of("tomorrow", "UTC")).hasMessageContaining("A time is written");
  }

  @Test
  void aWindowIsAddedBesideTheOthersAndTakenAwayByItsNumber() {
    server.give("GET /stages", List.of(stage(new WindowView(List.of("mon"), "01:00", "02:00"))));

    String out =
        server
            .client(
                "window",
                "add",
                "production",
                "--days",
                "tue",
                "--from",
                "22:00",
                "--until",
                "04:00")
            .out();
    assertThat(out).isEqualTo("Runs start at production tue 22:00 to 04:00 (Europe/Oslo).\n");
    assertThat(sent())
        .contains(
            "{\"days\":[\"mon\"],\"from\":\"01:00\",\"until\":\"02:00\"}",
            "{\"days\":[\"tue\"],\"from\":\"22:00\",\"until\":\"04:00\"}");

    server.client("window", "remove", "production", "1");
    assertThat(sent()).contains("\"windows\":[]");
    assertThat(server.client("window", "remove", "production", "7").code())
        .isEqualTo(Failed.NOT_FOUND);
  }

  @Test
  void schedulesAreListedAndWithdrawn() {
    ScheduleView s =
        new ScheduleView(
            "SC-1",
            "P-7",
            "fares",
            "2.4.0",
            "production/north",
            FROM,
            "ines",
            "refused",
            "Something moved",
            null,
            null,
            false);
    server.give("GET /schedules", List.of(s)).give("POST /schedules/SC-1/withdraw", s);

    assertThat(server.client("schedule", "list").out())
        .contains("SC-1\tP-7\tfares@2.4.0\tproduction/north", "refused\tSomething moved");
    assertThat(server.client("schedule", "withdraw", "SC-1").out())
        .isEqualTo("SC-1 is withdrawn; P-7 stays as it is.\n");
    assertThat(server.client("schedule", "add", "P-7").err())
        .contains("Say one of --at and --next-window");
  }

  @Test
  void theCalendarIsOneListInOrder() {
    server.give(
        "GET /calendar",
        new CalendarView(
            List.of(
                new StageCalendar(
                    "production",
                    "Production",
                    "Europe/Oslo",
                    true,
                    List.of(),
                    List.of(
                        new SpanOpen(
                            Instant.parse("2026-12-20T21:00:00Z"),
                            Instant.parse("2026-12-21T03:00:00Z"),
                            null)),
                    List.of(FREEZE))),
            List.of(),
            List.of(
                new CalendarRun(
                    "R-3",
                    "fares",
                    "2.3.0",
                    "test/main",
                    FROM.minusSeconds(60),
                    null,
                    "done",
                    null,
                    null))));

    assertThat(server.client("calendar", "show").out())
        .containsSubsequence(
            "R-3\tfares@2.3.0 done",
            "FZ-1\tfrozen until 2027-01-04 06:00 Europe/Oslo: Year's end",
            "window\tuntil 2026-12-21 04:00 Europe/Oslo");
  }
}
