package plenzo.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.api.Manuals.SteeringView;
import plenzo.api.Promotions.MayView;
import plenzo.api.Runs.RowsView;
import plenzo.api.Runs.RunGoal;
import plenzo.api.Runs.RunTimes;
import plenzo.api.Runs.RunView;

/** Ending the client ends no run, and that is said: the real client, in a process of its own. */
class WatchingTest {
  private CannedServer server;

  @BeforeEach
  void listen() throws IOException {
    server = new CannedServer();
  }

  @AfterEach
  void stop() {
    server.close();
  }

  private static RunView running(@Nullable Instant noReturn) {
    Instant at = Instant.now();
    return new RunView(
        "R-12",
        "P-9",
        new RunGoal(
            "fares", "2.6.1", "2.6.0", "production/north", "Production", true, "version", "", "7c"),
        "running",
        false,
        "ines",
        new RunTimes(at, at, null, noReturn, null, null, null, null, null, false),
        new MayView(false, null, "", List.of()),
        List.of(),
        0,
        new RowsView(0, 0),
        null,
        null,
        List.of(),
        0,
        null,
        new SteeringView("ines", List.of(), null, Map.of()),
        null);
  }

  /** What the client says when it is ended while it watches. */
  private String interrupted(RunView run) throws Exception {
    return interrupted(run, "watch", "R-12");
  }

  private String interrupted(RunView run, String... command) throws Exception {
    server.give("GET /runs/R-12", run);
    List<String> all =
        new ArrayList<>(
            List.of(
                Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                "-cp",
                System.getProperty("java.class.path"),
                Plenzo.class.getName(),
                "--server",
                server.address(),
                "run"));
    all.addAll(List.of(command));
    ProcessBuilder client = new ProcessBuilder(all);
    client.environment().put("PLENZO_TOKEN", "token");
    Process process = client.start();
    try (BufferedReader err =
        new BufferedReader(
            new InputStreamReader(process.getErrorStream(), StandardCharsets.UTF_8))) {
      assertThat(err.readLine()).contains("R-12 running");

      // the virtual machine ends by TERM as by Ctrl-C; what runs tests in the background has its
      // children ignore the latter
      new ProcessBuilder("kill", "-TERM", String.valueOf(process.pid())).start().waitFor();

      assertThat(process.waitFor(20, TimeUnit.SECONDS)).isTrue();
      StringBuilder rest = new StringBuilder();
      err.lines().forEach(l -> rest.append(l).append('\n'));
      return rest.toString();
    } finally {
      process.destroyForcibly();
    }
  }

  @Test
  void saysThatTheRunGoesOnAndHowToWatchAndToStopIt() throws Exception {
    assertThat(interrupted(running(null)))
        .contains("R-12 goes on at the server")
        .contains("plenzo run watch R-12")
        .contains("plenzo run abort R-12");
  }

  @Test
  void showingWaitsWhereItIsAskedTo() throws Exception {
    assertThat(interrupted(running(null), "show", "R-12", "--wait"))
        .contains("R-12 goes on at the server");
  }

  @Test
  void saysThatItCanBeStoppedNoMore() throws Exception {
    assertThat(interrupted(running(Instant.now())))
        .contains("past its point of no return")
        .contains("plenzo run watch R-12")
        .doesNotContain("abort");
  }

  @Test
  void judgingByTheRunIsAboutWhatItBroughtThere() {
    server.give("GET /runs/R-12", running(null));
    server.refuse("POST /versions/fares/2.6.1/verdict", 403, "NOT_ALLOWED", "ines lacks it.");

    CannedServer.Said said =
        server.client("run", "judge", "R-12", "--bad", "--reason", "Children pay full price");

    assertThat(said.code()).isEqualTo(Failed.NOT_ALLOWED);
    assertThat(server.asked())
        .contains(
            "POST /versions/fares/2.6.1/verdict {\"site\":\"production/north\",\"good\":false,\"reason\":\"Children pay full price\",\"evidence\":[]}");
    assertThat(server.client("run", "judge", "R-12", "--reason", "x").code())
        .isEqualTo(Failed.USAGE);
  }
}
