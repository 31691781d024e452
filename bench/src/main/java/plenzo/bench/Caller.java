package plenzo.bench;

import java.io.BufferedInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.Socket;
import java.nio.charset.StandardCharsets;

/**
 * One connection that asks one question after the other and throws the answers away: it shares the
 * two cores with the service that it measures, so it does as little as it can.
 */
final class Caller implements AutoCloseable {
  private final int port;
  private final String secret;
  private final byte[] room = new byte[1 << 16];
  private Socket socket;
  private InputStream in;
  private OutputStream out;

  Caller(int port, String secret) throws IOException {
    this.port = port;
    this.secret = secret;
    socket = open();
    in = new BufferedInputStream(socket.getInputStream(), 1 << 16);
    out = socket.getOutputStream();
  }

  private Socket open() throws IOException {
    Socket opened = new Socket(InetAddress.getLoopbackAddress(), port);
    opened.setTcpNoDelay(true);
    opened.setSoTimeout(300_000); // the whole past may take long
    return opened;
  }

  /** A server ends a connection after a number of answers and says so. */
  private void again() throws IOException {
    socket.close();
    socket = open();
    in = new BufferedInputStream(socket.getInputStream(), 1 << 16);
    out = socket.getOutputStream();
  }

  /**
   * @return bytes of the answer
   * @throws IOException when it is not 200
   */
  long ask(String path) throws IOException {
    out.write(
        ("GET /api/v1"
                + path
                + " HTTP/1.1\r\nHost: localhost\r\nAuthorization: Bearer "
                + secret
                + "\r\nAccept: application/json\r\n\r\n")
            .getBytes(StandardCharsets.US_ASCII));
    out.flush();
    String status = line();
    long length = -1;
    boolean chunked = false;
    boolean ends = false;
    for (String header = line(); !header.isEmpty(); header = line()) {
      String low = header.toLowerCase(java.util.Locale.ROOT);
      if (low.startsWith("content-length:")) {
        length = Long.parseLong(low.substring(15).trim());
      } else if (low.startsWith("transfer-encoding:")) {
        chunked = true;
      } else if (low.equals("connection: close")) {
        ends = true;
      }
    }
    long bytes = chunked ? chunks() : skip(length);
    if (ends) {
      again();
    }
    if (!status.contains(" 200")) {
      throw new IOException(path + " answered " + status);
    }
    return bytes;
  }

  private long chunks() throws IOException {
    long all = 0;
    while (true) {
      int size = Integer.parseInt(line().trim(), 16);
      skip(size);
      line();
      if (size == 0) {
        return all;
      }
      all += size;
    }
  }

  private long skip(long length) throws IOException {
    for (long left = length; left > 0; ) {
      int read = in.read(room, 0, (int) Math.min(room.length, left));
      if (read < 0) {
        throw new IOException("The answer ended early");
      }
      left -= read;
    }
    return length;
  }

  private String line() throws IOException {
    StringBuilder text = new StringBuilder();
    for (int c = in.read(); c != '\n'; c = in.read()) {
      if (c < 0) {
        throw new IOException("The connection ended");
      }
      if (c != '\r') {
        text.append((char) c);
      }
    }
    return text.toString();
  }

  @Override
  public void close() throws IOException {
    socket.close();
  }
}
