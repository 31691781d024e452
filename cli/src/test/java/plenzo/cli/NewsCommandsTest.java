package plenzo.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.time.Instant;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.api.Page;
import plenzo.api.Tellings.CallOrderView;
import plenzo.api.Tellings.CallView;
import plenzo.api.Tellings.CalledView;
import plenzo.api.Tellings.CalleeView;
import plenzo.api.Tellings.FollowingView;
import plenzo.api.Tellings.FreshView;
import plenzo.api.Tellings.NightView;
import plenzo.api.Tellings.NoticeView;
import plenzo.api.Tellings.Tried;

/** News, what one follows, and calls, as the client sends and says them. */
class NewsCommandsTest {
  private static final Instant AT = Instant.parse("2027-03-10T02:10:00Z");
  private static final NoticeView NOTICE =
      new NoticeView(
          41,
          AT,
          "plenzo",
          "half written",
          "urgent",
          "fares",
          "production",
          "north",
          "2.4.0",
          "P-7",
          "R-9",
          "database keeps 2.4.0",
          true);
  private static final FollowingView FOLLOWING =
      new FollowingView(
          "bram@morrowick.example",
          List.of("production"),
          List.of(),
          List.of("urgent", "failed"),
          List.of("urgent", "failed", "asked"),
          "22:00",
          "07:00",
          "Europe/Oslo",
          false);

  private CannedServer server;

  @BeforeEach
  void start() throws IOException {
    server = new CannedServer();
    server
        .give("GET /notices", new Page<>(List.of(NOTICE), null))
        .give("GET /notices/fresh", new FreshView(1, false, true))
        .give("POST /notices/seen", new FreshView(0, false, false))
        .give("GET /notices/following", FOLLOWING)
        .give("PUT /notices/following", FOLLOWING)
        .give("POST /notices/try", new Tried("bram@morrowick.example"));
  }

  @AfterEach
  void stop() {
    server.close();
  }

  private String sent() {
    return server.asked().get(server.asked().size() - 1);
  }

  @Test
  void whatIsNewIsMarkedAndSeen() {
    CannedServer.Said said = server.client("notice", "list");
    assertThat(said.out())
        .contains("* 41\t", "urgent\thalf written\tfares@2.4.0\tproduction/north");
    assertThat(said.err()).contains("1 is new, marked *: plenzo notice seen.");

    assertThat(server.client("notice", "seen").out()).isEqualTo("Nothing is new.\n");
    assertThat(sent()).contains("{\"entry\":41}");
  }

  @Test
  void whatIsLeftOutOfWhatOneFollowsStays() {
    server.client("notice", "follow", "--news", "asked,runs", "--quiet-hours", "");
    assertThat(sent())
        .contains(
            "\"mail\":\"bram@morrowick.example\"",
            "\"stages\":[\"production\"]",
            "\"news\":[\"asked\",\"runs\"]",
            "\"quietFrom\":null");

    server.client("notice", "follow", "--stage", "", "--quiet-hours", "23:00-06:30");
    assertThat(sent())
        .contains(
            "\"stages\":[]",
            "\"news\":[\"urgent\",\"failed\"]",
            "\"quietFrom\":\"23:00\"",
            "\"quietUntil\":\"06:30\"");
    assertThat(server.client("notice", "follow", "--quiet-hours", "night").code()).isEqualTo(2);
  }

  @Test
  void whatOneFollowsSaysThatNoLetterIsSentWithoutAServer() {
    assertThat(server.client("notice", "show").out())
        .contains(
            "urgent, failed",
            "everything at production",
            "no letter is sent: the service has no mail server",
            "22:00 to 07:00 Europe/Oslo, but for what is urgent");
    assertThat(server.client("notice", "try").out())
        .isEqualTo("A letter to bram@morrowick.example was taken by the mail server.\n");
  }

  private static CallView call(String state) {
    return new CallView(
        "CL-3",
        "production",
        "fares",
        "north",
        "R-9",
        "Half written: database keeps 2.4.0",
        AT,
        List.of(
            new CalledView("bram", AT, "by mail to bram@morrowick.example"),
            new CalledView("", AT, "nobody is left")),
        null,
        state,
        state.equals("open") ? null : "bram",
        null);
  }

  @Test
  void callsAreListedTakenAndEnded() {
    server
        .give("GET /calls", List.of(call("open")))
        .give("POST /calls/CL-3/take", call("taken"))
        .give("POST /calls/CL-3/over", call("over"));

    assertThat(server.client("call", "list", "--open").out())
        .contains(
            "CL-3\t",
            "production/north\tR-9\tHalf written",
            "bram by mail to bram@morrowick.example; nobody is left\topen");
    assertThat(server.queries().get(0)).contains("state=open");
    assertThat(server.client("call", "take", "CL-3").out()).startsWith("CL-3 is yours;");
    assertThat(server.client("call", "over", "CL-3").out()).isEqualTo("CL-3 is over.\n");
  }

  @Test
  void whoIsCalledIsSaidAnewByTheRevisionThatWasSeen() {
    server
        .give(
            "GET /stages/production/calls",
            new CallOrderView(List.of(new CalleeView("ines", "", 5)), 4))
        .give("PUT /stages/production/calls", new CallOrderView(List.of(), 5));

    assertThat(server.client("call", "order", "production").out()).contains("ines\t\t5");
    assertThat(server.asked()).noneMatch(a -> a.startsWith("PUT"));
    server.client(
        "call",
        "order",
        "production",
        "--who",
        "bram=+47 555 0142",
        "--who",
        "ines",
        "--minutes",
        "10");
    assertThat(sent())
        .contains(
            "{\"login\":\"bram\",\"how\":\"+47 555 0142\",\"minutes\":10}",
            "{\"login\":\"ines\",\"how\":\"\",\"minutes\":10}",
            "\"revision\":4");
    assertThat(server.client("call", "order", "production", "--who", "").err())
        .contains("Nobody is called at production.");
  }

  @Test
  void whatOneReadsAtNightIsTheTextThatIsSentOn() {
    server.give(
        "GET /runs/R-9/night",
        new NightView(
            "R-9",
            "half written",
            null,
            "Users are kept out",
            List.of(),
            "",
            List.of(),
            "",
            List.of(),
            List.of(),
            "R-9 fares\n\nWho may act:\n  bram: +47 555 0142\n"));

    assertThat(server.client("run", "night", "R-9").out())
        .isEqualTo("R-9 fares\n\nWho may act:\n  bram: +47 555 0142\n");
  }
}
