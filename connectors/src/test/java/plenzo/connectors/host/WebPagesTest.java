package plenzo.connectors.host;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicReference;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.target.TargetFailed;

/** Pages are read within bounds, and from nowhere else than was judged. */
class WebPagesTest {
  private final WebPages pages = new WebPages();
  private final AtomicReference<String> host = new AtomicReference<>("");
  private final AtomicInteger calls = new AtomicInteger();
  private HttpServer server;

  @BeforeEach
  void start() throws IOException {
    server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
    answer("/ok", 200, "<p>all is well</p>".getBytes(StandardCharsets.UTF_8));
    answer("/gone", 404, "no".getBytes(StandardCharsets.UTF_8));
    answer("/large", 200, new byte[(1 << 20) + 1]);
    server.createContext(
        "/away",
        exchange -> {
          calls.incrementAndGet();
          exchange.getResponseHeaders().set("Location", address("/ok").toString());
          exchange.sendResponseHeaders(302, -1);
          exchange.close();
        });
    server.start();
  }

  @AfterEach
  void stop() {
    server.stop(0);
  }

  private void answer(String path, int status, byte[] body) {
    server.createContext(
        path,
        exchange -> {
          calls.incrementAndGet();
          host.set(String.valueOf(exchange.getRequestHeaders().getFirst("Host")));
          exchange.sendResponseHeaders(status, body.length);
          exchange.getResponseBody().write(body);
          exchange.close();
        });
  }

  private String address(String path) {
    return "http://127.0.0.1:" + server.getAddress().getPort() + path;
  }

  @Test
  void aPageIsItsText() {
    assertThat(pages.read(address("/ok"), List.of())).isEqualTo("<p>all is well</p>");
  }

  @Test
  void theJudgedAddressIsAskedAndTheNameIsSaid() {
    int port = server.getAddress().getPort();
    String named = "http://fares.example:" + port + "/ok";

    assertThat(pages.read(named, List.of("127.0.0.1"))).contains("well");
    assertThat(host.get()).isEqualTo("fares.example:" + port);
  }

  @Test
  void whatIsNoPageIsSaid() {
    assertThatThrownBy(() -> pages.read(address("/gone"), List.of()))
        .isInstanceOf(TargetFailed.class)
        .hasMessageContaining("status 404");
  }

  @Test
  void redirectsAreNotFollowed() {
    assertThatThrownBy(() -> pages.read(address("/away"), List.of()))
        .isInstanceOf(TargetFailed.class)
        .hasMessageContaining("status 302");
    assertThat(calls.get()).isEqualTo(1);
  }

  @Test
  void whatIsLongerThanAMegabyteIsRefused() {
    assertThatThrownBy(() -> pages.read(address("/large"), List.of()))
        .isInstanceOf(TargetFailed.class)
        .hasMessageContaining("longer than 1 MB");
  }

  @Test
  void whoDoesNotAnswerIsSaid() {
    String nobody = address("/ok");
    server.stop(0);
    assertThatThrownBy(() -> pages.read(nobody, List.of()))
        .isInstanceOf(TargetFailed.class)
        .hasMessageContaining("could not be read");
  }
}
