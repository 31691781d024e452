package plenzo.connectors.host;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;
import plenzo.core.target.Access;

/**
 * A host that closes a connection while Plenzo asks by it again takes the call with it, and nobody
 * knows what became of it: Plenzo closes idle ones first.
 */
class IdleConnectionTest {
  /** Servers that close early do so after five seconds. */
  private static final Duration SERVERS = Duration.ofSeconds(5);

  @Test
  void isClosedBeforeAHostWouldCloseIt() throws Exception {
    try (ServerSocket host = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
      CompletableFuture<Integer> next = new CompletableFuture<>();
      Thread answering = new Thread(() -> answer(host, next));
      answering.start();

      String answer =
          new HostCalls(
                  new Access(
                      "127.0.0.1",
                      host.getLocalPort(),
                      "",
                      "",
                      "plenzo",
                      "disable",
                      Map.of(),
                      "token"))
              .get("/identity", String.class);

      assertThat(answer).isEqualTo("a");
      assertThat(next.get(60, TimeUnit.SECONDS)).as("the end of the connection").isEqualTo(-1);
      answering.join();
    }
  }

  /** Answers one call, keeps the connection, and tells what comes by it next. */
  private static void answer(ServerSocket host, CompletableFuture<Integer> next) {
    try (Socket one = host.accept()) {
      BufferedReader in =
          new BufferedReader(
              new InputStreamReader(one.getInputStream(), StandardCharsets.US_ASCII));
      for (String line = in.readLine(); !line.isEmpty(); line = in.readLine()) {}
      one.getOutputStream()
          .write(
              "HTTP/1.1 200 OK\r\nContent-Type: application/json\r\nContent-Length: 3\r\n\r\n\"a\""
                  .getBytes(StandardCharsets.US_ASCII));
      one.getOutputStream().flush();
      one.setSoTimeout((int) SERVERS.toMillis());
      next.complete(in.read());
    } catch (IOException e) {
      next.completeExceptionally(e);
    }
  }
}
