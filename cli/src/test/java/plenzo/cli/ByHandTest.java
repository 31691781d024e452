package plenzo.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import plenzo.api.Manuals.AskedByHand;
import plenzo.api.Manuals.ChargeView;
import plenzo.api.Manuals.HandedView;
import plenzo.api.Manuals.ManualView;
import plenzo.api.Manuals.PauseView;
import plenzo.api.Manuals.SteeringView;
import plenzo.api.Promotions.MayView;
import plenzo.api.Runs.RowsView;
import plenzo.api.Runs.RunGoal;
import plenzo.api.Runs.RunStepView;
import plenzo.api.Runs.RunTimes;
import plenzo.api.Runs.RunView;

/** Work by hand at the client: how it is asked for, waited for and answered. */
class ByHandTest {
  private static final Instant AT = Instant.parse("2027-03-01T08:00:00Z");
  private static final MayView YES = new MayView(true, null, "", List.of());

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

  private static HandedView handed(boolean overdue, @Nullable String outcome, String... who) {
    return new HandedView(
        new AskedByHand(
            new ManualView(
                "switched", "desk", "Tell the desk\n- zone 7", "https://a.example", 30, true, true),
            "Tell the desk",
            "fares@2.6.1",
            "after the switch, before users are let in"),
        AT,
        AT.plusSeconds(1800),
        overdue,
        "edda",
        outcome,
        outcome == null ? null : "bram",
        null,
        outcome == null ? null : "no answer",
        null,
        List.of(who),
        YES,
        YES,
        YES);
  }

  private static RunView run(String state, @Nullable HandedView work, @Nullable PauseView pause) {
    return new RunView(
        "R-12",
        "P-9",
        new RunGoal(
            "fares", "2.6.1", "2.6.0", "production/north", "Production", true, "version", "", "7c"),
        state,
        state.startsWith("done"),
        "ines",
        new RunTimes(AT, AT, null, AT, null, null, null, null, null, false),
        new MayView(false, null, "", List.of()),
        List.of(
            new RunStepView(1, "Switch", "done", AT, AT, "Committed", null, null),
            new RunStepView(2, "By hand", "running", AT, null, null, null, work)),
        1,
        new RowsView(0, 0),
        null,
        null,
        List.of(),
        0,
        null,
        new SteeringView(
            "bram",
            List.of(new ChargeView("ines", "bram", AT, "she sleeps")),
            pause,
            Map.of("end", YES)),
        null);
  }

  private static final PauseView WAITS = new PauseView("by-hand", 2, "plenzo", AT, "Tell the desk");

  @Test
  void aPausedRunSaysWhatItWaitsForAndHowItGoesOn() {
    server.give("GET /runs/R-12", run("paused", handed(true, "not-done", "bram", "edda"), WAITS));

    assertThat(server.client("run", "show", "R-12").out())
        .contains("Taken over by bram from ines", "she sleeps")
        .contains("Paused since", "before step 2")
        .contains(
            "By hand, after the switch, before users are let in, by desk: Tell the desk (fares@2.6.1)")
        .contains("- zone 7", "more: https://a.example")
        .contains("within 30 minutes, with a file that shows it, may be left out")
        .contains(": overdue", "edda is at it", "bram says it could not be done: no answer")
        .contains("asked of bram, edda")
        .contains("plenzo run done R-12 2 --note …", "plenzo run not-done R-12 2 --reason …")
        .contains("plenzo run leave-out R-12 2 --reason …")
        .contains("To go back from here: plenzo run end R-12 --reason …");
  }

  @Test
  void whatNobodyMayAnswerIsSaid() {
    server.give("GET /runs/R-12", run("paused", handed(false, null), WAITS));
    assertThat(server.client("run", "show", "R-12").out())
        .contains("nobody may say that it is done: plenzo role grant")
        .doesNotContain("overdue");
  }

  @Test
  void watchingEndsWhereAPersonIsNeeded() {
    server.give("GET /runs/R-12", run("paused", handed(false, null, "bram"), WAITS));

    CannedServer.Said watched = server.client("run", "watch", "R-12");

    assertThat(watched.code()).isEqualTo(Failed.PAUSED);
    assertThat(watched.out()).contains("asked of bram");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "done R-12 2 --note told      | POST /runs/R-12/steps/2/done {\"note\":\"told\",\"evidence\":null}",
        "not-done R-12 2 --reason no  | POST /runs/R-12/steps/2/not-done {\"reason\":\"no\"}",
        "leave-out R-12 2 --reason no | POST /runs/R-12/steps/2/leave-out {\"reason\":\"no\"}",
        "end R-12 --reason no         | POST /runs/R-12/end {\"reason\":\"no\"}",
        "pause R-12 --reason no       | POST /runs/R-12/pause {\"reason\":\"no\"}",
        "take-over R-12 --step 2      | POST /runs/R-12/steps/2/take {\"from\":\"edda\",\"reason\":null}",
        "take-over R-12 --reason me   | POST /runs/R-12/take-over {\"from\":\"bram\",\"reason\":\"me\"}"
      })
  void eachWordIsOneCall(String command, String call) {
    RunView now = run("running", handed(false, null, "bram"), null);
    server.give("GET /runs/R-12", now).give(call.substring(0, call.indexOf(" {")), now);

    CannedServer.Said said = server.client(("run " + command).split(" "));

    assertThat(said.code()).isZero();
    assertThat(server.asked()).contains(call);
  }

  @ParameterizedTest
  @ValueSource(strings = {"Tell the desk", "after the desk: x", ": x"})
  void aLineThatIsNoneIsRefusedWithAnExample(String line) {
    CannedServer.Said said = server.client("promotion", "by-hand", "P-7", "--by-hand", line);

    assertThat(said.code()).isEqualTo(Failed.USAGE);
    assertThat(said.err()).contains("after desk: Grant the desk access to zones 7 to 9");
    assertThat(server.asked()).isEmpty();
  }

  @Test
  void aFileOfItIsReadAndABrokenOneIsNot() throws IOException {
    Path file = folder.resolve("steps.json");
    Files.writeString(
        file, "[{\"when\":\"before\",\"text\":\"Ring\",\"minutes\":5,\"mayBeLeftOut\":true}]");
    server.client(
        "promotion",
        "by-hand",
        "P-7",
        "--by-hand-file",
        file.toString(),
        "--by-hand",
        "after desk: Tell");
    assertThat(server.asked().get(0))
        .startsWith("POST /promotions/P-7/manual {\"steps\":[{\"when\":\"before\"")
        .contains("\"minutes\":5", "\"when\":\"after\",\"who\":\"desk\",\"text\":\"Tell\"");

    Files.writeString(file, "{]");
    CannedServer.Said broken =
        server.client("promotion", "by-hand", "P-7", "--by-hand-file", file.toString());
    assertThat(broken.code()).isEqualTo(Failed.USAGE);
    assertThat(broken.err()).contains("is no JSON list of work by hand");
  }

  @Test
  void nothingSaidForNoneTakesAllAway() {
    server.client("promotion", "by-hand", "P-7", "--by-hand", "");
    assertThat(server.asked()).containsExactly("POST /promotions/P-7/manual {\"steps\":[]}");
  }
}
