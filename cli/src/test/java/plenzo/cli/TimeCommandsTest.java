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
import plenzo.api.Calendars.Clash;
import plenzo.api.Calendars.ErrandView;
import plenzo.api.Calendars.FeedMade;
import plenzo.api.Calendars.FreezeHolds;
import plenzo.api.Calendars.FreezeView;
import plenzo.api.Calendars.RepeatTime;
import plenzo.api.Calendars.RepeatView;
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
            false,
            null,
            null,
            null);
    server.give("GET /schedules", List.of(s)).give("POST /schedules/SC-1/withdraw", s);

    assertThat(server.client("schedule", "list").out())
        .contains("SC-1\tP-7\tfares@2.4.0\tproduction/north", "refused\tSomething moved");
    assertThat(server.client("schedule", "withdraw", "SC-1").out())
        .isEqualTo("SC-1 is withdrawn; P-7 stays as it is.\n");
    assertThat(server.client("schedule", "add", "P-7").err())
        .contains("Say one of --at, --next-window and --after");
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
                    null)),
            List.of(new RepeatTime("RP-2", "fares", "test", FROM.plusSeconds(60))),
            List.of(new Clash(UNTIL, "production", "SC-2", "then production is frozen"))));

    assertThat(server.client("calendar", "show").out())
        .containsSubsequence(
            "R-3\tfares@2.3.0 done",
            "FZ-1\tfrozen until 2027-01-04 06:00 Europe/Oslo: Year's end",
            "RP-2\tfares: the newest good version goes there",
            "window\tuntil 2026-12-21 04:00 Europe/Oslo",
            "clash\tSC-2 then production is frozen");
  }

  @Test
  void theCalendarsFeedIsToldOnce() {
    server.give(
        "POST /calendar/feeds", new FeedMade("abc", "/api/v1/feeds/s3cr3t/calendar.ics", UNTIL));

    CannedServer.Said said = server.client("calendar", "feed", "My phone");

    assertThat(said.out()).endsWith("/api/v1/feeds/s3cr3t/calendar.ics\n").startsWith("http://");
    assertThat(said.err()).contains("Told once.", "plenzo token revoke abc");
    assertThat(sent()).contains("{\"label\":\"My phone\"}");
  }

  private static RepeatView repeat(String state) {
    return new RepeatView(
        "RP-1",
        "fares",
        "ordinary",
        "production",
        "FREQ=DAILY;BYHOUR=2;BYMINUTE=5",
        UNTIL,
        "ines",
        state,
        FROM,
        null,
        "",
        true);
  }

  @Test
  void whatComesAgainIsARuleInTheStagesZone() {
    server.give("POST /repeats", repeat("active")).give("POST /repeats/RP-1/end", repeat("ended"));
    server.give("GET /repeats", List.of(repeat("active")));

    assertThat(
            server.client("repeat", "add", "fares", "--to", "production", "--daily", "02:05").out())
        .isEqualTo(
            "RP-1: the newest good version of fares goes to production, for the first time"
                + " 2026-12-20 00:00 Europe/Oslo.\n");
    assertThat(sent()).contains("\"rule\":\"FREQ=DAILY;BYHOUR=2;BYMINUTE=5\"");
    assertThat(server.client("repeat", "list").out()).contains("RP-1\tfares\tproduction\tFREQ=");
    assertThat(server.client("repeat", "end", "RP-1").out()).startsWith("RP-1 is ended");
    assertThat(server.client("repeat", "add", "fares", "--to", "production").code()).isEqualTo(2);
    assertThat(
            server.client("repeat", "add", "fares", "--to", "production", "--daily", "25:00").err())
        .contains("Say the time as 02:30");
  }

  @Test
  void whatIsOnItsWayIsListedAndStopped() {
    ErrandView e =
        new ErrandView(
            "ER-3",
            "2.4.0 was sealed",
            "fares",
            "2.4.0",
            "test/main",
            "run",
            "ines",
            FROM,
            "waiting",
            "P-9",
            null,
            "approval 0 of 1",
            true);
    server.give("GET /errands", List.of(e)).give("POST /errands/ER-3/stop", e);

    assertThat(server.client("errand", "list", "--waiting").out())
        .contains(
            "ER-3\tfares@2.4.0\ttest/main\t2.4.0 was sealed\tines\tP-9\t\twaiting\tapproval 0 of 1");
    assertThat(server.queries().get(0)).contains("state=waiting");
    assertThat(server.client("errand", "stop", "ER-3").out())
        .isEqualTo("ER-3 is stopped; P-9 stays as it is.\n");
  }
}
