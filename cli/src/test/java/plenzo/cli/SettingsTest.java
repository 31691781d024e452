package plenzo.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Which server is meant: what is said, then what is set, then the one that one is signed in at. */
class SettingsTest {
  private static final String ONE = "https://plenzo.example";
  private static final String OTHER = "https://other.example";

  @TempDir Path home;

  private Settings settings(String... more) {
    Map<String, String> environment = new TreeMap<>(Map.of("HOME", home.toString()));
    for (int i = 0; i < more.length; i += 2) {
      environment.put(more[i], more[i + 1]);
    }
    return new Settings(environment);
  }

  @Test
  void isTheBuiltInOneWhereNobodySignedIn() {
    assertThat(settings().server(null).value()).isEqualTo(Settings.DEFAULT_SERVER);
  }

  @Test
  void isTheOneThatOneIsSignedInAt() {
    settings().remember(ONE, "token");

    assertThat(settings().server(null).value()).isEqualTo(ONE);
    assertThat(settings().server(null).origin()).endsWith("credentials.properties");
    assertThat(settings().token(ONE)).contains("token");
  }

  @Test
  void isNotGuessedBetweenTwo() {
    settings().remember(ONE, "token");
    settings().remember(OTHER, "another");

    assertThat(settings().server(null).value()).isEqualTo(Settings.DEFAULT_SERVER);
    assertThat(settings().token(OTHER)).contains("another");

    settings().remember(ONE, null);
    assertThat(settings().server(null).value()).as("signed out at the other").isEqualTo(OTHER);
  }

  @Test
  void isWhatIsSaidOrSetBeforeThat() throws Exception {
    settings().remember(ONE, "token");
    assertThat(settings("PLENZO_SERVER", OTHER).server(null).value()).isEqualTo(OTHER);
    assertThat(settings("PLENZO_SERVER", OTHER).server("http://said").value())
        .isEqualTo("http://said");

    Files.writeString(home.resolve(".config/plenzo/config.properties"), "server=http://set\n");
    assertThat(settings().server(null).value()).isEqualTo("http://set");
  }

  @ParameterizedTest
  @CsvSource({
    "127.0.0.1:7878, http://127.0.0.1:7878",
    "localhost:9000/, http://localhost:9000",
    "[::1]:7878, http://[::1]:7878",
    "plenzo.example, https://plenzo.example",
    "plenzo.example:7878, https://plenzo.example:7878",
    "10.0.0.5:7878, https://10.0.0.5:7878",
    "http://plenzo.example:7878//, http://plenzo.example:7878",
    "https://plenzo.example/below, https://plenzo.example/below"
  })
  void hostAndPortAreEnoughAndATokenLeavesThisMachineInPlainOnlyWhenThatIsSaid(
      String given, String called) {
    assertThat(settings("PLENZO_SERVER", given).server(null).value()).isEqualTo(called);
    assertThat(settings().server(given).value()).isEqualTo(called);
  }

  @ParameterizedTest
  @ValueSource(strings = {"", "ftp://plenzo.example", "two words", "http://", "plenzo example:1"})
  void whatIsNoAddressIsSaidToBeNone(String given) {
    assertThatThrownBy(() -> settings().server(given))
        .isInstanceOfSatisfying(Failed.class, f -> assertThat(f.exitCode()).isEqualTo(Failed.USAGE))
        .hasMessageContaining("no address of a server");
  }

  /** A token is sent to the server that gave it, and to no other. */
  @Test
  void keepsATokenForItsServerAlone() {
    settings().remember(ONE, "token");

    assertThat(settings().token(OTHER)).isEmpty();
    assertThat(home.resolve(".config/plenzo/credentials.properties"))
        .satisfies(
            f ->
                assertThat(
                        java.nio.file.attribute.PosixFilePermissions.toString(
                            Files.getPosixFilePermissions(f)))
                    .isEqualTo("rw-------"));
  }
}
