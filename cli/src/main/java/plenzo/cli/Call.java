package plenzo.cli;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.ConnectException;
import java.net.HttpRetryException;
import java.net.HttpURLConnection;
import java.net.NoRouteToHostException;
import java.net.SocketTimeoutException;
import java.net.URI;
import java.net.UnknownHostException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import org.jspecify.annotations.Nullable;

/**
 * One call over HTTP: no redirects, bounded in time, never sent twice by itself. It goes by the
 * JDK's plain connection: its newer client takes half a second to begin (measured), and most
 * commands make one call.
 */
final class Call {
  private static final Duration CONNECT = Duration.ofSeconds(5);

  static {
    // a call that broke off may have happened; whether it is sent again is not the library's to say
    System.setProperty("sun.net.http.retryPost", "false");
  }

  private final HttpURLConnection connection;

  /**
   * @param silence longest time without a byte of the answer
   */
  Call(String method, String address, Duration silence) throws IOException {
    connection = (HttpURLConnection) URI.create(address).toURL().openConnection();
    connection.setRequestMethod(method);
    connection.setInstanceFollowRedirects(false);
    connection.setConnectTimeout((int) Math.min(CONNECT.toMillis(), silence.toMillis()));
    connection.setReadTimeout((int) silence.toMillis());
  }

  Call header(String name, @Nullable String value) {
    if (value != null) {
      connection.setRequestProperty(name, value);
    }
    return this;
  }

  /**
   * What came back.
   *
   * @param body to be closed
   */
  record Answer(int status, InputStream body, HttpURLConnection from) {
    String text() throws IOException {
      try (InputStream in = body) {
        return new String(in.readAllBytes(), StandardCharsets.UTF_8);
      }
    }

    @Nullable String header(String name) {
      return from.getHeaderField(name);
    }
  }

  /**
   * @throws ConnectException when nothing was sent
   * @throws java.net.SocketTimeoutException when it did not answer in time
   * @throws IOException when it broke off: it may have happened
   */
  Answer send(@Nullable String body) throws IOException {
    connection.setDoOutput(body != null);
    connect();
    if (body != null) {
      try (OutputStream out = connection.getOutputStream()) {
        out.write(body.getBytes(StandardCharsets.UTF_8));
      }
    }
    return answer();
  }

  /** Sends a file as it is, without holding it. */
  Answer send(Path file) throws IOException {
    connection.setFixedLengthStreamingMode(Files.size(file));
    connection.setDoOutput(true);
    connect();
    try (OutputStream out = connection.getOutputStream()) {
      Files.copy(file, out);
    } catch (IOException e) {
      return early(e); // a refusal may come before all was sent
    }
    return answer();
  }

  /** Whatever fails here, nothing was sent. */
  private void connect() throws IOException {
    try {
      connection.connect();
    } catch (UnknownHostException | SocketTimeoutException | NoRouteToHostException e) {
      throw (ConnectException) new ConnectException(e.getMessage()).initCause(e);
    }
  }

  private Answer early(IOException broken) throws IOException {
    try {
      return answer();
    } catch (IOException e) {
      throw broken;
    }
  }

  private Answer answer() throws IOException {
    int status;
    try {
      status = connection.getResponseCode();
    } catch (HttpRetryException e) {
      status = e.responseCode();
    }
    InputStream in = status >= 400 ? connection.getErrorStream() : connection.getInputStream();
    return new Answer(status, in == null ? new ByteArrayInputStream(new byte[0]) : in, connection);
  }
}
