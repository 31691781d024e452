package plenzo.connectors.host;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.Executors;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.target.TargetFailed;

/** A document is posted to an address, and answered within its time or not at all. */
class WebPagesPostTest {
  private HttpServer server;
  private final CountDownLatch over = new CountDownLatch(1);
  private volatile String got = "";

  @BeforeEach
  void start() throws IOException {
    server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
    server.setExecutor(
        Executors.newCachedThreadPool(
            r -> {
              Thread t = new Thread(r);
              t.setDaemon(true);
              return t;
            }));
    server.createContext(
        "/ask",
        call -> {
          got =
              call.getRequestMethod()
                  + " "
                  + call.getRequestHeaders().getFirst("Content-Type")
                  + " "
                  + new String(call.getRequestBody().readAllBytes(), StandardCharsets.UTF_8);
          byte[] answer = "{\"yes\":true}".getBytes(StandardCharsets.UTF_8);
          call.sendResponseHeaders(200, answer.length);
          call.getResponseBody().write(answer);
          call.close();
        });
    server.createContext(
        "/taken",
        call -> {
          got =
              call.getRequestHeaders().getFirst("Plenzo-Signature")
                  + " "
                  + call.getRequestHeaders().getFirst("Content-Type")
                  + " "
                  + new String(call.getRequestBody().readAllBytes(), StandardCharsets.UTF_8);
          call.sendResponseHeaders(204, -1);
          call.close();
        });
    server.createContext(
        "/refused",
        call -> {
          call.sendResponseHeaders(503, -1);
          call.close();
        });
    server.createContext(
        "/never",
        call -> {
          try {
            over.await();
          } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
          }
          call.close();
        });
    server.createContext(
        "/elsewhere",
        call -> {
          call.getResponseHeaders().add("Location", "/ask");
          call.sendResponseHeaders(302, -1);
          call.close();
        });
    server.start();
  }

  @AfterEach
  void stop() {
    over.countDown();
    server.stop(0);
  }

  private String post(String path, int seconds) {
    return new WebPages()
        .post(
            "http://127.0.0.1:" + server.getAddress().getPort() + path,
            List.of("127.0.0.1"),
            "{\"a\":1}",
            Duration.ofSeconds(seconds));
  }

  @Test
  void theDocumentArrivesAndTheAnswerIsRead() {
    assertThat(post("/ask", 10)).isEqualTo("{\"yes\":true}");
    assertThat(got).isEqualTo("POST application/json {\"a\":1}");
  }

  private void tell(String path) {
    new WebPages()
        .tell(
            "http://127.0.0.1:" + server.getAddress().getPort() + path,
            List.of("127.0.0.1"),
            "{\"a\":1}",
            Duration.ofSeconds(10),
            Map.of("Plenzo-Signature", "abc", "Content-Type", "application/cloudevents+json"));
  }

  @Test
  void whatIsToldCarriesItsHeadersAndIsTakenWithoutAnAnswer() {
    tell("/taken");

    assertThat(got).isEqualTo("abc application/cloudevents+json {\"a\":1}");
  }

  @Test
  void whatIsToldAndRefusedOrSentElsewhereIsNotTaken() {
    assertThatThrownBy(() -> tell("/refused"))
        .isInstanceOf(TargetFailed.class)
        .hasMessageContaining("status 503");
    assertThatThrownBy(() -> tell("/elsewhere"))
        .isInstanceOf(TargetFailed.class)
        .hasMessageContaining("status 302");
  }

  @Test
  void whoDoesNotAnswerInTimeDoesNotAnswer() {
    assertThatThrownBy(() -> post("/never", 1))
        .isInstanceOf(TargetFailed.class)
        .hasMessageContaining("/never");
  }

  @Test
  void whoSendsItElsewhereDoesNotAnswer() {
    assertThatThrownBy(() -> post("/elsewhere", 10))
        .isInstanceOf(TargetFailed.class)
        .hasMessageContaining("status 302");
    assertThat(got).isEmpty();
  }
}
