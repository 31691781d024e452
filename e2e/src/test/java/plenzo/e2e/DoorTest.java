package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.InputStream;
import java.net.Socket;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestInstance;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import plenzo.demo.Tokens;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** A hostile stranger, and a hostile colleague, at the door: the service goes on for the others. */
@TestInstance(TestInstance.Lifecycle.PER_CLASS)
class DoorTest {
  private static final JsonMapper JSON = JsonMapper.builder().build();
  private static final Duration PATIENCE = Duration.ofSeconds(4);

  private final Started started = new Started();
  private final HttpClient http = HttpClient.newHttpClient();
  private TestService service;
  private String token;
  private int keys;

  @BeforeAll
  void start() throws Exception {
    service = started.add(new TestService("door"));
    token = Tokens.make(service.address(), "admin", TestService.ADMIN);
  }

  @AfterAll
  void stop() {
    started.close();
  }

  private HttpRequest.Builder to(String path) {
    return HttpRequest.newBuilder(URI.create(service.address() + path))
        .timeout(Duration.ofSeconds(30));
  }

  private HttpResponse<String> send(String method, String path, String body)
      throws IOException, InterruptedException {
    return http.send(
        to(path)
            .header("Content-Type", "application/json")
            .header("Authorization", "Bearer " + token)
            .header("Idempotency-Key", "door-key-" + keys++)
            .method(method, HttpRequest.BodyPublishers.ofString(body))
            .build(),
        HttpResponse.BodyHandlers.ofString());
  }

  private void isAlive() throws IOException, InterruptedException {
    HttpResponse<String> health =
        http.send(to("/health").timeout(PATIENCE).build(), HttpResponse.BodyHandlers.ofString());
    assertThat(health.statusCode()).isEqualTo(200);
    HttpResponse<String> me =
        http.send(
            to("/api/v1/session")
                .timeout(PATIENCE)
                .header("Authorization", "Bearer " + token)
                .build(),
            HttpResponse.BodyHandlers.ofString());
    assertThat(me.statusCode()).as(me.body()).isEqualTo(200);
  }

  private Socket open(String head) throws IOException {
    URI at = URI.create(service.address());
    Socket socket = new Socket(at.getHost(), at.getPort());
    socket.setSoTimeout(30_000);
    socket.getOutputStream().write(head.getBytes(StandardCharsets.UTF_8));
    socket.getOutputStream().flush();
    return socket;
  }

  private static String told(Socket socket) throws IOException {
    try (socket) {
      return new String(socket.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    }
  }

  /** The calendar's address is a secret that opens the calendar alone, until it is ended. */
  @Test
  void theCalendarsAddressOpensNothingElse() throws Exception {
    JsonNode made =
        JSON.readTree(send("POST", "/api/v1/calendar/feeds", "{\"label\":\"My phone\"}").body());
    String address = made.get("address").stringValue();
    String secret = address.split("/")[4];
    send("PUT", "/api/v1/stages/frozen-bay", stage("frozen-bay"));
    send(
        "POST",
        "/api/v1/freezes",
        "{\"stage\":\"frozen-bay\",\"from\":\"%s\",\"until\":\"%s\",\"reason\":\"Ice, and; fog\"}"
            .formatted(Instant.now(), Instant.now().plus(Duration.ofDays(3))));

    HttpResponse<String> read = read(address, null);
    assertThat(read.statusCode()).isEqualTo(200);
    assertThat(read.headers().firstValue("Content-Type")).hasValue("text/calendar;charset=UTF-8");
    assertThat(read.body())
        .startsWith("BEGIN:VCALENDAR\r\n")
        .contains("VERSION:2.0", "SUMMARY:Frozen bay is frozen: Ice\\, and\\; fog", "UID:FZ-1@");

    assertThat(read("/api/v1/session", secret).statusCode()).as("as a token").isEqualTo(401);
    assertThat(read("/api/v1/feeds/" + token + "/calendar.ics", null).statusCode())
        .as("a token of another sort in the address")
        .isEqualTo(404);
    assertThat(read("/api/v1/feeds/guess/calendar.ics", null).statusCode()).isEqualTo(404);

    send("DELETE", "/api/v1/tokens/" + made.get("id").stringValue(), "");
    assertThat(read(address, null).statusCode()).isEqualTo(404);
  }

  private static String stage(String key) {
    return "{\"key\":\"%s\",\"name\":\"Frozen bay\",\"role\":\"test\",\"position\":9,\"zone\":\"UTC\",\"driftCloses\":false,\"sites\":[],\"revision\":0}"
        .formatted(key);
  }

  private HttpResponse<String> read(String path, @Nullable String bearer) throws Exception {
    HttpRequest.Builder request = to(path);
    if (bearer != null) {
      request.header("Authorization", "Bearer " + bearer);
    }
    return http.send(request.build(), HttpResponse.BodyHandlers.ofString());
  }

  /** Forty-two bodies that never come held all threads, and health with them. */
  @ParameterizedTest
  @ValueSource(strings = {"/api/v1/session", "/api/v1/hooks/fares", "/api/v1/paths", "/nowhere"})
  void answersWhileStrangersHoldTheirBodiesBack(String path) throws Exception {
    List<Socket> held = new ArrayList<>();
    try {
      for (int n = 0; n < 80; n++) {
        held.add(
            open(
                "POST "
                    + path
                    + " HTTP/1.1\r\nHost: x\r\nContent-Type: application/json\r\nContent-Length: 40000\r\n\r\n{"));
      }

      isAlive();
    } finally {
      for (Socket s : held) {
        s.close();
      }
    }
  }

  /** The same by somebody who is signed in. */
  @Test
  void answersWhileAColleagueHoldsBodiesBack() throws Exception {
    List<Socket> held = new ArrayList<>();
    try {
      for (int n = 0; n < 80; n++) {
        held.add(
            open(
                "POST /api/v1/paths HTTP/1.1\r\nHost: x\r\nContent-Type: application/json\r\nAuthorization: Bearer "
                    + token
                    + "\r\nContent-Length: 40000\r\n\r\n{"));
      }

      isAlive();
    } finally {
      for (Socket s : held) {
        s.close();
      }
    }
  }

  @Test
  void endsABodyThatDoesNotCome() throws Exception {
    String answer =
        told(
            open(
                "POST /api/v1/session HTTP/1.1\r\nHost: x\r\nContent-Type: application/json\r\nContent-Length: 400\r\n\r\n{"));

    assertThat(answer)
        .startsWith("HTTP/1.1 408")
        .contains("X-Content-Type-Options: nosniff")
        .contains("Connection: close");
  }

  /** One reader with five hundred streams left no connection for the others. */
  @Test
  void boundsTheStreamsOfOnePerson() throws Exception {
    List<Socket> streams = new ArrayList<>();
    int refused = 0;
    try {
      for (int n = 0; n < 15; n++) {
        Socket s =
            open(
                "GET /api/v1/events HTTP/1.1\r\nHost: x\r\nAuthorization: Bearer "
                    + token
                    + "\r\n\r\n");
        streams.add(s);
        InputStream in = s.getInputStream();
        String first = new String(in.readNBytes(12), StandardCharsets.US_ASCII);
        refused += first.endsWith("429") ? 1 : 0;
      }

      assertThat(refused).isEqualTo(5);
      isAlive();
    } finally {
      for (Socket s : streams) {
        s.close();
      }
    }
  }

  @Test
  void hasItsHeadersOnEveryAnswer() throws Exception {
    for (String path :
        List.of("/", "/api/v1/stages", "/api/v1;x/stages", "/health", "/none.js", "/api/none")) {
      String answer =
          told(open("GET " + path + " HTTP/1.1\r\nHost: x\r\nConnection: close\r\n\r\n"));
      assertThat(answer)
          .as(path)
          .contains("Content-Security-Policy: default-src 'none'")
          .contains("X-Content-Type-Options: nosniff")
          .contains("X-Frame-Options: DENY")
          .contains("X-Request-Id: ");
    }
    assertThat(told(open("GET /api/v1/stages HTTP/1.1\r\nHost: x\r\nConnection: close\r\n\r\n")))
        .contains("Cache-Control: no-store");
  }

  @Test
  void letsNothingInThatIsNoPageAndNoCall() throws Exception {
    for (String method :
        List.of("POST", "PUT", "DELETE", "PATCH", "OPTIONS", "TRACE", "PROPFIND")) {
      String answer =
          told(open(method + " /index.html HTTP/1.1\r\nHost: x\r\nConnection: close\r\n\r\n"));
      assertThat(answer.substring(0, 12)).as(method).matches("HTTP/1.1 4\\d\\d");
    }
  }

  /** Nobody behind no named proxy chooses where he is, or that the line is private. */
  @Test
  void believesNoForwardedHeaderOfStrangers() throws Exception {
    HttpResponse<String> in =
        http.send(
            to("/api/v1/session")
                .header("Content-Type", "application/json")
                .header("X-Forwarded-Proto", "https")
                .header("X-Forwarded-For", "203.0.113.9")
                .POST(
                    HttpRequest.BodyPublishers.ofString(
                        "{\"login\":\"admin\",\"password\":\"" + TestService.ADMIN + "\"}"))
                .build(),
            HttpResponse.BodyHandlers.ofString());

    assertThat(in.headers().firstValue("Set-Cookie").orElseThrow()).doesNotContain("Secure");
    assertThat(in.headers().firstValue("Strict-Transport-Security")).isEmpty();
  }

  /** Bodies at random for each operation; {@code -Dfuzz.rounds=N} makes them more. */
  private static final int MUTATED = Integer.getInteger("fuzz.rounds", 600) / 100;

  private record Operation(String method, String path, JsonNode body) {}

  private static List<Operation> operations() throws IOException {
    JsonNode document = JSON.readTree(Files.readString(Path.of("../docs/openapi.json")));
    List<Operation> out = new ArrayList<>();
    document
        .get("paths")
        .properties()
        .forEach(
            path ->
                path.getValue()
                    .properties()
                    .forEach(
                        m -> {
                          JsonNode body =
                              m.getValue()
                                  .path("requestBody")
                                  .path("content")
                                  .path("application/json")
                                  .path("schema");
                          if (!body.isMissingNode()) {
                            out.add(
                                new Operation(
                                    m.getKey().toUpperCase(java.util.Locale.ROOT),
                                    path.getKey()
                                        .replace(
                                            "versions/{application}/{number}", "versions/x/1.0.0")
                                        .replace("promotions/{number}", "promotions/P-1")
                                        .replace("runs/{number}", "runs/R-1")
                                        .replaceAll("\\{[^}]*}", "x1"),
                                    schema(document, body)));
                          }
                        }));
    return out;
  }

  private static JsonNode schema(JsonNode document, JsonNode schema) {
    String ref = schema.path("$ref").asString("");
    return ref.isEmpty() ? schema : document.at(ref.substring(1));
  }

  private static List<String> malformed(JsonNode schema) {
    List<String> out =
        new ArrayList<>(
            List.of(
                "",
                "{}",
                "null",
                "[]",
                "\"x\"",
                "{",
                "nonsense",
                "{\"unknown\":1}",
                "\u0000",
                "\uFEFF{}",
                "[".repeat(500) + "]".repeat(500),
                "{\"a\":".repeat(100) + "1" + "}".repeat(100),
                "{\"n\":1e999999999}"));
    for (String value :
        List.of("null", "{}", "[]", "[null]", "\"\"", "\"\\u0000\\ud800\"", "-1", "1e400")) {
      Map<String, String> fields = new LinkedHashMap<>();
      schema.path("properties").propertyNames().forEach(n -> fields.put(n, value));
      out.add(
          fields.entrySet().stream()
              .map(e -> "\"" + e.getKey() + "\":" + e.getValue())
              .collect(java.util.stream.Collectors.joining(",", "{", "}")));
    }
    return out;
  }

  /** Thirty of forty-eight operations answered `{}` with an error of the service's own. */
  @Test
  void answersEveryMalformedBodyOfEveryOperationWithWhatIsWrong() throws Exception {
    List<Operation> all = operations();
    List<String> wrong = new ArrayList<>();
    long seed = Long.getLong("fuzz.seed", System.nanoTime());
    Random random = new Random(seed);
    for (Operation o : all) {
      List<String> bodies = malformed(o.body());
      for (int n = 0; n < MUTATED; n++) {
        bodies.add(mutated(o.body(), random));
      }
      for (String body : bodies) {
        HttpResponse<String> answer = send(o.method(), o.path(), body);
        String shown = body.length() > 60 ? body.substring(0, 60) : body;
        if (answer.statusCode() >= 500
            || answer.body().contains("Exception")
            || answer.body().contains("tools.jackson")
            || answer.body().contains("java.")
            || answer.body().contains("plenzo.api")
            || answer.body().chars().anyMatch(c -> c < 0x20 && c != '\n' && c != '\t')) {
          wrong.add(o.method() + " " + o.path() + " " + shown + " -> " + answer.body());
        }
      }
    }

    assertThat(all).as("operations with bodies").hasSizeGreaterThan(40);
    assertThat(wrong).as("seed " + seed).isEmpty();
  }

  /** A body with something of every field, some of it right, and then a few signs of it changed. */
  private static String mutated(JsonNode schema, Random random) {
    List<String> values =
        List.of(
            "\"x\"",
            "\"fares@1.0.0\"",
            "\"production/north\"",
            "\"2027-01-01T00:00:00Z\"",
            "\"\u202e\\u0007'; --\"",
            "[\"a\",\"b\"]",
            "[{\"component\":\"table/a.b\"}]",
            "{\"a\":\"b\"}",
            "0",
            "2147483648",
            "true",
            "null");
    StringBuilder out = new StringBuilder("{");
    schema
        .path("properties")
        .propertyNames()
        .forEach(
            n ->
                out.append(out.length() > 1 ? "," : "")
                    .append('"')
                    .append(n)
                    .append("\":")
                    .append(values.get(random.nextInt(values.size()))));
    out.append('}');
    for (int n = random.nextInt(3); n > 0; n--) {
      int at = random.nextInt(out.length());
      if (random.nextBoolean()) {
        out.deleteCharAt(at);
      } else {
        out.insert(at, (char) random.nextInt(0x2100));
      }
      out.append(' ');
    }
    return out.toString();
  }

  /** What must be there and is not is named by a pointer. */
  @Test
  void namesWhatIsMissing() throws Exception {
    List<String> wrong = new ArrayList<>();
    for (Operation o : operations()) {
      HttpResponse<String> answer = send(o.method(), o.path(), "{}");
      JsonNode problem =
          answer.body().isEmpty() ? JSON.readTree("{}") : JSON.readTree(answer.body());
      boolean asks = o.body().path("required").size() > 0;
      boolean named = problem.path("field").asString("").startsWith("/");
      if (asks && !(List.of(400, 422).contains(answer.statusCode()) && named)) {
        wrong.add(o.method() + " " + o.path() + " -> " + answer.statusCode() + " " + answer.body());
      }
    }

    assertThat(wrong).isEmpty();
  }
}
