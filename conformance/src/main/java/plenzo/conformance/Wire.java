package plenzo.conformance;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import org.jspecify.annotations.Nullable;

/** A wire to the host that loses, holds and breaks what it is told to. One connection a call. */
final class Wire implements AutoCloseable {
  /** What happens to the next request that contains the text. */
  enum Does {
    /** The request never arrives. */
    LOSE_REQUEST,
    /** It arrives, and its answer is lost. */
    LOSE_ANSWER,
    /** It is kept back until {@link Wire#deliver}. */
    HOLD,
    /** It arrives, then the host is killed at once. */
    KILL,
    /** It comes from somebody whom the host does not know. */
    STRANGER
  }

  private record Order(String text, Does does) {}

  private final ServerSocket server;
  private final HostUnderTest host;
  private final ExecutorService threads = Executors.newCachedThreadPool();
  private volatile @Nullable Order order;
  private volatile byte @Nullable [] held;

  Wire(HostUnderTest host) throws IOException {
    this.host = host;
    this.server = new ServerSocket(0, 50, InetAddress.getLoopbackAddress());
    threads.execute(this::accept);
  }

  int port() {
    return server.getLocalPort();
  }

  void next(String text, Does does) {
    order = new Order(text, does);
  }

  /** Delivers what was held back, as a network that was slow would; its answer goes nowhere. */
  void deliver() throws IOException {
    byte[] request = held;
    held = null;
    if (request == null) {
      return;
    }
    try (Socket out = host.connect()) {
      out.setSoTimeout(10_000);
      out.getOutputStream().write(request);
      out.getOutputStream().flush();
      out.getInputStream().read();
    }
  }

  private void accept() {
    while (!server.isClosed()) {
      try {
        Socket in = server.accept();
        threads.execute(() -> serve(in));
      } catch (IOException e) {
        return; // closed
      }
    }
  }

  private void serve(Socket in) {
    try (in) {
      byte[] request = request(in.getInputStream());
      Order now = order;
      boolean hit =
          now != null && new String(request, StandardCharsets.ISO_8859_1).contains(now.text());
      if (hit) {
        order = null;
        if (now.does() == Does.LOSE_REQUEST) {
          return;
        }
        if (now.does() == Does.HOLD) {
          held = request;
          return;
        }
      }
      boolean stranger = hit && now.does() == Does.STRANGER;
      try (Socket out = stranger ? host.connectAsStranger() : host.connect()) {
        out.getOutputStream().write(request);
        out.getOutputStream().flush();
        if (hit && now.does() == Does.KILL) {
          out.getInputStream().read(); // the first byte of the answer: it was written by then
          host.kill();
          return;
        }
        byte[] answer = out.getInputStream().readAllBytes();
        if (!hit || stranger) {
          OutputStream back = in.getOutputStream();
          back.write(answer);
          back.flush();
        }
      }
    } catch (IOException e) {
      // the caller sees a broken connection, as it should
    }
  }

  /** One HTTP request with its body; calls ask for the connection to be closed after it. */
  private static byte[] request(InputStream in) throws IOException {
    java.io.ByteArrayOutputStream all = new java.io.ByteArrayOutputStream();
    int end = -1;
    while (end < 0) {
      int b = in.read();
      if (b < 0) {
        throw new IOException("No request");
      }
      all.write(b);
      String text = all.toString(StandardCharsets.ISO_8859_1);
      end = text.endsWith("\r\n\r\n") ? text.length() : -1;
    }
    String head = all.toString(StandardCharsets.ISO_8859_1).toLowerCase(java.util.Locale.ROOT);
    int at = head.indexOf("content-length:");
    int length =
        at < 0 ? 0 : Integer.parseInt(head.substring(at + 15, head.indexOf('\r', at)).trim());
    all.write(in.readNBytes(length));
    return all.toByteArray();
  }

  @Override
  public void close() throws IOException {
    server.close();
    threads.shutdownNow();
  }
}
