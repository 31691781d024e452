package plenzo.conformance;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import org.jspecify.annotations.Nullable;
import plenzo.hostprotocol.HostProtocol;
import plenzo.hostprotocol.HostProtocol.Outcome;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.json.JsonMapper;

/** Plain calls of the protocol over one wire, one connection each. */
final class Caller {
  private static final JsonMapper JSON = new JsonMapper();

  private final String address;
  private final int port;
  private final String prefix;
  private final String token;

  Caller(String address, int port, String prefix, String token) {
    this.address = address;
    this.port = port;
    this.prefix = prefix;
    this.token = token;
  }

  Caller with(String otherToken) {
    return new Caller(address, port, prefix, otherToken);
  }

  /** Status and body of an answer. */
  record Answer(int status, String body) {
    <T> T as(Class<T> type) {
      if (status != 200) {
        throw new Failed("answered " + status + " " + body);
      }
      try {
        T value = JSON.readValue(body, type);
        if (value == null) {
          throw new Failed("answered nothing");
        }
        return value;
      } catch (JacksonException | IllegalArgumentException e) {
        throw new Failed("answered with something that is not of the protocol: " + body);
      }
    }
  }

  /** A rule that does not hold. */
  static final class Failed extends RuntimeException {
    Failed(String why) {
      super(why);
    }
  }

  /** A call whose answer did not come. */
  static final class Lost extends RuntimeException {
    Lost(String what, Throwable cause) {
      super(what, cause);
    }
  }

  Answer send(String method, String path, @Nullable Object body) {
    byte[] bytes = body == null ? new byte[0] : JSON.writeValueAsBytes(body);
    String head =
        method
            + " "
            + prefix
            + HostProtocol.ROOT
            + path
            + " HTTP/1.1\r\nHost: "
            + address
            + (token.isEmpty() ? "" : "\r\nAuthorization: Bearer " + token)
            + "\r\nContent-Type: application/json\r\nConnection: close\r\nContent-Length: "
            + bytes.length
            + "\r\n\r\n";
    try (Socket socket = new Socket(address, port)) {
      socket.setSoTimeout(15_000);
      socket.getOutputStream().write(head.getBytes(StandardCharsets.ISO_8859_1));
      socket.getOutputStream().write(bytes);
      socket.getOutputStream().flush();
      byte[] all = socket.getInputStream().readAllBytes();
      String text = new String(all, StandardCharsets.UTF_8);
      int end = text.indexOf("\r\n\r\n");
      if (end < 0) {
        throw new Lost(method + " " + path, new IOException("no answer"));
      }
      int status = Integer.parseInt(text.substring(9, 12));
      boolean chunked =
          text.substring(0, end)
              .toLowerCase(java.util.Locale.ROOT)
              .contains("transfer-encoding: chunked");
      String rest = text.substring(end + 4);
      return new Answer(status, chunked ? unchunked(rest) : rest);
    } catch (IOException e) {
      throw new Lost(method + " " + path, e);
    }
  }

  private static String unchunked(String text) {
    byte[] all = text.getBytes(StandardCharsets.UTF_8);
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    int at = 0;
    while (at < all.length) {
      int end = at;
      while (all[end] != '\r') {
        end++;
      }
      int length =
          Integer.parseInt(new String(all, at, end - at, StandardCharsets.UTF_8).trim(), 16);
      if (length == 0) {
        break;
      }
      out.write(all, end + 2, length);
      at = end + 2 + length + 2;
    }
    return out.toString(StandardCharsets.UTF_8);
  }

  <T> T get(String path, Class<T> type) {
    return send("GET", path, null).as(type);
  }

  Outcome run(String method, long run, String what, @Nullable Object body) {
    return send(method, "/runs/" + run + "/" + what, body).as(Outcome.class);
  }
}
