package plenzo.standin;

import com.sun.net.httpserver.HttpExchange;
import java.io.IOException;
import java.io.InputStream;
import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import tools.jackson.databind.json.JsonMapper;

/** What a call says. */
final class Calls {
  private static final JsonMapper JSON = new JsonMapper();

  /** Longest body: 64 MiB, as the protocol says. */
  private static final int LONGEST = 64 << 20;

  private Calls() {}

  static <T> T body(HttpExchange call, Class<T> type) throws IOException {
    byte[] bytes;
    try (InputStream in = call.getRequestBody()) {
      bytes = in.readNBytes(LONGEST + 1);
    }
    if (bytes.length > LONGEST) {
      throw new Trouble(413, "TOO_LONG", "The body is longer than 64 MiB");
    }
    return JSON.readValue(bytes, type);
  }

  static String query(HttpExchange call, String name) {
    String query = call.getRequestURI().getRawQuery();
    for (String pair : query == null ? new String[0] : query.split("&")) {
      if (pair.startsWith(name + "=")) {
        return URLDecoder.decode(pair.substring(name.length() + 1), StandardCharsets.UTF_8);
      }
    }
    return "";
  }
}
