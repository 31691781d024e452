package plenzo.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import plenzo.api.Stages.ConnectionView;

/** A connection is registered and changed by the same options; what is not named stays. */
class ConnectionTest {
  @TempDir Path folder;

  private CannedServer server;

  @BeforeEach
  void listen() throws IOException {
    server = new CannedServer();
    server
        .give("GET /connections", List.of(view(true)))
        .give("PUT /connections/test/look", view(false));
  }

  @AfterEach
  void stop() {
    server.close();
  }

  private static ConnectionView view(boolean secret) {
    return new ConnectionView(
        "test",
        "look",
        "postgresql",
        "db.example",
        5433,
        "fares",
        "",
        "fares_look",
        "verify-full",
        Map.of("authority", "old"),
        List.of("fares"),
        "fares_look@db.example:5433/fares",
        secret,
        null,
        null,
        null,
        3);
  }

  private String sent() {
    return server.asked().get(server.asked().size() - 1);
  }

  @Test
  void tlsIsChangedAndTheSecretThatIsForgottenIsAskedFor() {
    CannedServer.Said said = server.client("connection", "change", "test/look", "--tls", "disable");

    assertThat(sent())
        .contains("\"tls\":\"disable\"")
        .contains("\"host\":\"db.example\"")
        .contains("\"port\":5433")
        .contains("\"authority\":\"old\"")
        .contains("\"lentTo\":[\"fares\"]")
        .contains("\"revision\":3");
    assertThat(said.code()).isZero();
    assertThat(said.err())
        .contains("It has no secret any more")
        .contains("plenzo connection change test/look --secret-stdin");
  }

  @Test
  void anAuthorityIsReadFromItsFile() throws IOException {
    Path file = Files.writeString(folder.resolve("ca.pem"), "of the harbour");

    server.client("connection", "change", "test/look", "--authority", file.toString());
    assertThat(sent()).contains("\"authority\":\"of the harbour\"");

    server.client(
        "connection",
        "new",
        "test/look",
        "--host",
        "db.example",
        "--database",
        "fares",
        "--account",
        "fares_look",
        "--authority",
        file.toString());
    assertThat(sent())
        .contains("\"authority\":\"of the harbour\"")
        .contains("\"tls\":\"verify-full\"")
        .contains("\"port\":5432");

    assertThat(
            server
                .client("connection", "change", "test/look", "--authority", file + ".none")
                .code())
        .isEqualTo(Failed.USAGE);
  }

  @Test
  void whatASortOfConnectionNeedsIsNamed() {
    CannedServer.Said said =
        server.client("connection", "new", "test/look", "--host", "db.example");

    assertThat(said.code()).isEqualTo(Failed.USAGE);
    assertThat(said.err()).contains("--database");
    assertThat(server.client("connection", "change", "look", "--port", "1").code()).isNotZero();
  }
}
