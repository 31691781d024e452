package plenzo.cli;

import com.sun.net.httpserver.HttpServer;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import plenzo.api.Failure;

/** A server on loopback that gives prepared answers, and the client that asks it. */
final class CannedServer implements AutoCloseable {
  /** What the client printed and how it ended. */
  record Said(int code, String out, String err) {}

  private record Answer(int status, String body) {}

  private final HttpServer http;
  private final Map<String, Answer> answers = new TreeMap<>();
  private final List<String> asked = new ArrayList<>();
  private final List<String> queries = new ArrayList<>();

  CannedServer() throws IOException {
    http = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
    http.createContext(
        "/",
        exchange -> {
          String what =
              exchange.getRequestMethod()
                  + " "
                  + exchange.getRequestURI().getPath().replaceFirst("^/api/v1", "");
          String sent =
              new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8);
          queries.add(String.valueOf(exchange.getRequestURI()));
          asked.add(what + (sent.isEmpty() ? "" : " " + sent));
          Answer a =
              answers.getOrDefault(
                  what, new Answer(404, "{\"code\":\"NOT_FOUND\",\"detail\":\"No " + what + "\"}"));
          byte[] body = a.body().getBytes(StandardCharsets.UTF_8);
          exchange.getResponseHeaders().set("Content-Type", "application/json");
          exchange.sendResponseHeaders(a.status(), body.length);
          exchange.getResponseBody().write(body);
          exchange.close();
        });
    http.start();
  }

  String address() {
    return "http://127.0.0.1:" + http.getAddress().getPort();
  }

  /** Gives a record of the API as the answer to "GET /path". */
  CannedServer give(String call, Object answer) {
    answers.put(call, new Answer(200, Api.JSON.writeValueAsString(answer)));
    return this;
  }

  /** Gives a file as the answer. */
  CannedServer file(String call, String content) {
    answers.put(call, new Answer(200, content));
    return this;
  }

  CannedServer refuse(String call, int status, String code, String detail) {
    answers.put(
        call,
        new Answer(
            status,
            Api.JSON.writeValueAsString(
                new Failure("about:blank", "", status, detail, code, List.of(), null, "1"))));
    return this;
  }

  /** Every address that was asked, with its query. */
  List<String> queries() {
    return List.copyOf(queries);
  }

  /** Every call that came, with what it sent. */
  List<String> asked() {
    return List.copyOf(asked);
  }

  Said client(String... words) {
    StringWriter out = new StringWriter();
    StringWriter err = new StringWriter();
    List<String> all = new ArrayList<>(List.of("--server", address()));
    all.addAll(Arrays.asList(words));
    int code =
        Plenzo.run(
            Map.of("HOME", System.getProperty("java.io.tmpdir"), "PLENZO_TOKEN", "token"),
            new ByteArrayInputStream(new byte[0]),
            new PrintWriter(out),
            new PrintWriter(err),
            all.toArray(String[]::new));
    return new Said(code, out.toString(), err.toString());
  }

  @Override
  public void close() {
    http.stop(0);
  }
}
