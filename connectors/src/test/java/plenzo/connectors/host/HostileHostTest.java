package plenzo.connectors.host;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.target.Access;
import plenzo.core.target.TargetFailed;

/** A host that drips, lies or never ends holds no call longer than a call may take. */
class HostileHostTest {
  private static final String HEAD =
      "HTTP/1.1 200 OK\r\nContent-Type: application/json\r\nContent-Length: 2000000000\r\n\r\n";

  private ServerSocket server;
  private final CountDownLatch answered = new CountDownLatch(1);

  @BeforeEach
  void listen() throws IOException {
    server = new ServerSocket(0, 10, InetAddress.getLoopbackAddress());
  }

  @AfterEach
  void stop() throws IOException {
    server.close();
  }

  /** What the host does with a connection, until it fails. */
  private interface Answer {
    void to(OutputStream out) throws Exception;
  }

  private void answers(Answer answer) {
    Thread host =
        new Thread(
            () -> {
              try (Socket s = server.accept()) {
                s.getInputStream().read();
                answer.to(s.getOutputStream());
              } catch (Exception e) {
                // the caller went away, which is what it is about
              }
            });
    host.setDaemon(true);
    host.start();
  }

  private HostCalls calls(Duration total) {
    return new HostCalls(
        new Access("127.0.0.1", server.getLocalPort(), "", "", "", "disable", Map.of(), "token"),
        total);
  }

  /** One byte after the other, far from the end of what it promised. */
  private void drips(OutputStream out) throws Exception {
    out.write(HEAD.getBytes(StandardCharsets.US_ASCII));
    for (; ; ) {
      out.write(' ');
      out.flush();
      answered.countDown();
    }
  }

  @Test
  void endsACallWhoseAnswerDrips() {
    answers(this::drips);

    assertThatThrownBy(() -> calls(Duration.ofSeconds(1)).get("/identity", String.class))
        .isInstanceOfSatisfying(TargetFailed.class, e -> assertThat(e.notReachable()).isTrue())
        .hasMessageContaining("did not answer GET /identity within 1 s");
  }

  /** The watchdog cuts a session from beside. */
  @Test
  void endsACallThatIsCutWhileItsAnswerComes() throws Exception {
    answers(this::drips);
    HostCalls calls = calls(Duration.ofMinutes(10));
    CompletableFuture<String> call =
        CompletableFuture.supplyAsync(() -> calls.get("/identity", String.class));
    assertThat(answered.await(20, TimeUnit.SECONDS)).isTrue();

    calls.cut();

    assertThatThrownBy(() -> call.get(20, TimeUnit.SECONDS))
        .hasCauseInstanceOf(TargetFailed.class)
        .hasMessageContaining("the session was cut");
  }

  /** However soon it is cut after it began: also before anything can be known to be open. */
  @Test
  void endsACallThatIsCutWhileItBegins() throws Exception {
    for (int n = 0; n < 200; n++) {
      HostCalls calls = calls(Duration.ofMinutes(10));
      int later = n * 20;
      CountDownLatch begins = new CountDownLatch(1);
      CompletableFuture<String> call =
          CompletableFuture.supplyAsync(
              () -> {
                begins.countDown();
                return calls.get("/identity", String.class);
              });
      begins.await();
      for (int spun = 0; spun < later; spun++) {
        Thread.onSpinWait();
      }

      calls.cut();

      assertThatThrownBy(() -> call.get(20, TimeUnit.SECONDS))
          .as("cut " + later + " turns after it began")
          .hasCauseInstanceOf(TargetFailed.class);
    }
  }

  @Test
  void takesNoAnswerThatIsTooLong() {
    answers(
        out -> {
          out.write(HEAD.getBytes(StandardCharsets.US_ASCII));
          byte[] some = new byte[1 << 20];
          for (; ; ) {
            out.write(some);
          }
        });

    assertThatThrownBy(() -> calls(Duration.ofMinutes(2)).get("/identity", String.class))
        .isInstanceOf(TargetFailed.class)
        .hasMessageContaining("the answer is longer than 24 MB")
        .hasMessageNotContaining("Exception");
  }

  @Test
  void saysInWordsThatNobodyListens() throws IOException {
    server.close();

    assertThatThrownBy(() -> calls(Duration.ofSeconds(20)).get("/identity", String.class))
        .isInstanceOf(TargetFailed.class)
        .hasMessageContaining("did not answer GET /identity")
        .hasMessageNotContaining("Exception");
  }

  /** A name that leads elsewhere a moment after it was judged leads the token nowhere. */
  @Test
  void goesToTheAddressThatWasJudgedAndSaysTheName() throws Exception {
    CompletableFuture<String> asked = new CompletableFuture<>();
    Thread host =
        new Thread(
            () -> {
              try (Socket s = server.accept()) {
                byte[] some = new byte[4096];
                int read = s.getInputStream().read(some);
                asked.complete(new String(some, 0, read, StandardCharsets.US_ASCII));
              } catch (IOException e) {
                asked.completeExceptionally(e);
              }
            });
    host.setDaemon(true);
    host.start();
    Access access =
        new Access(
            "ferries.invalid",
            server.getLocalPort(),
            "",
            "",
            "",
            "disable",
            Map.of(),
            "token",
            List.of("127.0.0.1"));

    assertThatThrownBy(
            () -> new HostCalls(access, Duration.ofSeconds(1)).get("/identity", String.class))
        .isInstanceOf(TargetFailed.class);

    assertThat(asked.get(20, TimeUnit.SECONDS))
        .contains("\r\nHost: ferries.invalid:" + server.getLocalPort() + "\r\n");
  }
}
