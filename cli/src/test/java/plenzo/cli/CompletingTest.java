package plenzo.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What a shell is told may stand where the cursor is. */
class CompletingTest {
  @TempDir Path home;

  private CannedServer server;

  @BeforeEach
  void listen() throws IOException {
    server = new CannedServer();
    server
        .give("GET /applications", page(Map.of("key", "fares"), Map.of("key", "boarding")))
        .give("GET /promotions", page(Map.of("number", "P-3"), Map.of("number", "P-15")))
        .give("GET /versions", page(Map.of("number", "2.6.0"), Map.of("number", "2.6.1")))
        .give("GET /people", page(Map.of("login", "ines"), Map.of("login", "bram")))
        .give(
            "GET /stages",
            List.of(
                Map.of("key", "test", "sites", List.of(Map.of("key", "main"))),
                Map.of(
                    "key",
                    "production",
                    "sites",
                    List.of(Map.of("key", "north"), Map.of("key", "south")))));
  }

  @AfterEach
  void stop() {
    server.close();
  }

  private static Map<String, Object> page(Map<?, ?>... items) {
    return Map.of("items", List.of(items));
  }

  private CannedServer.Said ask(String line) {
    StringWriter out = new StringWriter();
    StringWriter err = new StringWriter();
    int code =
        Plenzo.run(
            Map.of("HOME", home.toString(), "PLENZO_TOKEN", "t", "PLENZO_SERVER", server.address()),
            new ByteArrayInputStream(new byte[0]),
            new PrintWriter(out),
            new PrintWriter(err),
            Completing.COMMAND,
            line);
    return new CannedServer.Said(code, out.toString(), err.toString());
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          'plenzo prom' | promotion
          'plenzo promotion app' | approve
          'plenzo promotion show ' | P-15 P-3
          'plenzo promotion show P-1' | P-15
          'plenzo promotion prepare ' | boarding@ fares@
          'plenzo promotion prepare fares@2.6' | fares@2.6.0 fares@2.6.1
          'plenzo promotion prepare fares@2.6.1 --to pro' | production/north production/south
          'plenzo promotion prepare fares@2.6.1 --t' | --to
          'plenzo rollback ways fares@production/' | fares@production/north fares@production/south
          'plenzo rollback start fares@test/main --way ear' | earlier-values earlier-version
          'plenzo stage new x --role ' | development production test
          'plenzo connection new test/x --tls r' | require
          'plenzo run list --app f' | fares
          'plenzo role grant ' | bram ines
          'plenzo app show b' | boarding
          'plenzo -o cs' | csv
          'plenzo --json promotion show P-1' | P-15
          """)
  void knowsCommandsOptionsAndNames(String line, String candidates) {
    CannedServer.Said said = ask(line);

    assertThat(said.code()).isZero();
    assertThat(said.out().lines()).containsExactly(candidates.split(" "));
  }

  @Test
  void startsWithEveryCommandAndShowsNoHiddenOne() {
    assertThat(ask("plenzo ").out().lines())
        .contains("standing", "promotion", "completion")
        .doesNotContain(Completing.COMMAND);
  }

  @Test
  void asksTheServerOnceAMinute() {
    ask("plenzo promotion show ");
    ask("plenzo promotion show P-1");

    assertThat(server.asked()).containsExactly("GET /promotions");
  }

  @Test
  void isSilentWhateverGoesWrong() {
    assertThat(ask("plenzo nothing of this sort ").out()).isEmpty();
    assertThat(ask("plenzo binding set fares ").err()).isEmpty();
    server.close();

    CannedServer.Said said = ask("plenzo run show ");
    assertThat(said.code()).isZero();
    assertThat(said.out() + said.err()).isEmpty();
  }

  /** The real bash, which splits words at @ and :, with a client that answers what ours does. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          'plenzo promotion prepare fares@2.6' | 'fares@2.6.0 fares@2.6.1' | '2.6.0 2.6.1'
          'plenzo promotion prepare ' | 'boarding@ fares@' | 'boarding@ fares@'
          'plenzo promotion show P-1' | 'P-15' | 'P-15'
          'plenzo app adopt fares --records fares.band:co' | 'fares.band:code' | 'code'
          """)
  void bashGetsThePartThatItStillHasToWrite(String line, String answer, String reply)
      throws Exception {
    StringWriter script = new StringWriter();
    Plenzo.run(
        Map.of("HOME", home.toString()),
        new ByteArrayInputStream(new byte[0]),
        new PrintWriter(script),
        new PrintWriter(new StringWriter()),
        "completion",
        "bash");
    Path client = Files.writeString(home.resolve("plenzo"), "#!/bin/sh\nprintf '%s\\n' " + answer);
    assertThat(client.toFile().setExecutable(true)).isTrue();
    String asks =
        script
            + "\nCOMP_LINE='"
            + line
            + "'\nCOMP_POINT=${#COMP_LINE}\n_plenzo '"
            + client
            + "'\nprintf '%s\\n' \"${COMPREPLY[@]}\"\n";

    Process bash = new ProcessBuilder("bash", "-c", asks).redirectErrorStream(true).start();
    String said = new String(bash.getInputStream().readAllBytes(), StandardCharsets.UTF_8);

    assertThat(bash.waitFor(20, TimeUnit.SECONDS)).isTrue();
    assertThat(said.lines()).containsExactly(reply.split(" "));
  }

  @Test
  void anUnknownShellIsRefusedWithThoseThatAreKnown() {
    CannedServer.Said said = server.client("completion", "tcsh");

    assertThat(said.code()).isEqualTo(Failed.USAGE);
    assertThat(said.err()).contains("bash, zsh or fish");
    for (String shell : List.of("bash", "zsh", "fish")) {
      assertThat(server.client("completion", shell).out()).contains(Completing.COMMAND);
    }
  }
}
