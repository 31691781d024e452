package plenzo.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.net.ConnectException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.net.SocketTimeoutException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.TimeUnit;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * A call is sent once, and how it ended is told apart: nothing sent, may have happened, refused.
 */
class CallTest {
  private static final Duration LONG = Duration.ofSeconds(20);

  @TempDir Path folder;
  private ServerSocket server;

  /** The head of each call that came. */
  private final BlockingQueue<String> came = new LinkedBlockingQueue<>();

  @BeforeEach
  void listen() throws IOException {
    server = new ServerSocket(0, 50, InetAddress.getLoopbackAddress());
  }

  @AfterEach
  void stop() throws IOException {
    server.close();
  }

  /** Answers every call so; null goes away without a word, an empty text says nothing for long. */
  private void answers(@Nullable String text) {
    Thread t =
        new Thread(
            () -> {
              while (!server.isClosed()) {
                try {
                  Socket s = server.accept();
                  came.add(head(s.getInputStream()));
                  if (text == null) {
                    s.close();
                  } else if (!text.isEmpty()) {
                    s.getOutputStream().write(text.getBytes(StandardCharsets.US_ASCII));
                    s.getOutputStream().flush();
                  }
                } catch (IOException e) {
                  return;
                }
              }
            });
    t.setDaemon(true);
    t.start();
  }

  private static String head(InputStream in) throws IOException {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    while (!out.toString(StandardCharsets.US_ASCII).endsWith("\r\n\r\n")) {
      int c = in.read();
      if (c < 0) {
        break;
      }
      out.write(c);
    }
    return out.toString(StandardCharsets.US_ASCII);
  }

  private String address() {
    return "http://127.0.0.1:" + server.getLocalPort() + "/api/v1/runs";
  }

  private Call call(String method, Duration silence) throws IOException {
    return new Call(method, address(), silence);
  }

  @Test
  void saysWhatItCarriesAndReadsWhatCameBack() throws Exception {
    answers("HTTP/1.1 201 Created\r\nX-Request-Id: r1\r\nContent-Length: 4\r\n\r\ndone");

    Call.Answer a =
        call("PUT", LONG).header("If-Match", "\"7\"").header("Cookie", null).send("{\"ä\":1}");

    assertThat(a.status()).isEqualTo(201);
    assertThat(a.header("X-Request-Id")).isEqualTo("r1");
    assertThat(a.header("ETag")).isNull();
    assertThat(a.text()).isEqualTo("done");
    assertThat(came.poll(20, TimeUnit.SECONDS))
        .startsWith("PUT /api/v1/runs HTTP/1.1\r\n")
        .contains("If-Match: \"7\"\r\n", "Content-Length: 8\r\n")
        .doesNotContain("Cookie");
  }

  @Test
  void readsWhatARefusalSays() throws Exception {
    answers("HTTP/1.1 409 Conflict\r\nContent-Length: 7\r\n\r\nstopped");

    Call.Answer a = call("DELETE", LONG).send((String) null);

    assertThat(a.status()).isEqualTo(409);
    assertThat(a.text()).isEqualTo("stopped");
  }

  /** Elsewhere is where the token must not go. */
  @Test
  void followsNobodyElsewhere() throws Exception {
    answers("HTTP/1.1 307 Elsewhere\r\nLocation: " + address() + "/x\r\nContent-Length: 0\r\n\r\n");

    assertThat(call("GET", LONG).send((String) null).status()).isEqualTo(307);

    assertThat(came).hasSize(1);
  }

  @Test
  void isNotSentTwiceWhenItBreaksOff() throws Exception {
    answers(null);

    assertThatThrownBy(() -> call("POST", LONG).send("{}"))
        .isInstanceOf(IOException.class)
        .isNotInstanceOf(ConnectException.class);

    assertThat(came).hasSize(1);
  }

  @Test
  void givesUpOnASilentServer() throws Exception {
    answers("");

    assertThatThrownBy(() -> call("POST", Duration.ofMillis(300)).send("{}"))
        .isInstanceOf(SocketTimeoutException.class);

    assertThat(came).hasSize(1);
  }

  @Test
  void tellsThatNothingWasSent() throws Exception {
    server.close();

    assertThatThrownBy(() -> call("POST", LONG).send("{}")).isInstanceOf(ConnectException.class);
    assertThatThrownBy(() -> call("GET", LONG).send((String) null))
        .isInstanceOf(ConnectException.class);
    assertThatThrownBy(() -> new Call("GET", "http://ferries.invalid:1/", LONG).send((String) null))
        .isInstanceOf(ConnectException.class);
  }

  /** A file of a gigabyte is not sent to its end to learn that one is not signed in. */
  @Test
  void readsARefusalThatComesBeforeAllWasSent() throws Exception {
    answers(
        "HTTP/1.1 401 Unauthorized\r\nWWW-Authenticate: Bearer\r\nConnection: close\r\nContent-Length: 2\r\n\r\nno");
    Path file = folder.resolve("fares.zip");
    Files.write(file, new byte[64 << 10]);

    Call.Answer a = call("PUT", LONG).header("Content-Type", "application/zip").send(file);

    assertThat(a.status()).isEqualTo(401);
    assertThat(came.poll(20, TimeUnit.SECONDS)).contains("Content-Length: 65536\r\n");
  }
}
