package plenzo.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.StringWriter;
import java.net.Socket;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import org.eclipse.jgit.api.Git;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestInstance;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import plenzo.demo.Teller;
import plenzo.demo.World;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.SerializationFeature;
import tools.jackson.databind.cfg.JsonNodeFeature;
import tools.jackson.databind.json.JsonMapper;

/** Whatever is wrong gets a clear answer, changes nothing and shows no stack trace. */
@TestInstance(TestInstance.Lifecycle.PER_CLASS)
class BadInputTest {
  private final Started started = new Started();
  private static final JsonMapper JSON = JsonMapper.builder().build();

  private final HttpClient http = HttpClient.newHttpClient();
  private TestService service;
  private Teller teller;
  private String cookie;
  private String csrf;

  @BeforeAll
  void start() throws Exception {
    service = started.add(new TestService("bad-input"));
    teller = service.teller(new StringWriter());
    World.setUp(teller, service.places, service.cluster.port(), TestService.ADMIN);
    HttpResponse<String> in =
        send(
            "POST",
            "/session",
            "{\"login\":\"admin\",\"password\":\"" + TestService.ADMIN + "\"}",
            null,
            null,
            null);
    cookie = in.headers().firstValue("Set-Cookie").orElseThrow().split(";")[0];
    csrf = JSON.readTree(in.body()).get("csrf").asString();
    assertThat(in.headers().firstValue("Set-Cookie").orElseThrow())
        .contains("HttpOnly")
        .contains("SameSite=Lax");
  }

  @AfterAll
  void stop() {
    started.close();
  }

  private HttpResponse<String> send(
      String method,
      String path,
      @Nullable String body,
      @Nullable String withCookie,
      @Nullable String withCsrf,
      @Nullable String key)
      throws IOException, InterruptedException {
    HttpRequest.Builder r =
        HttpRequest.newBuilder(URI.create(service.address() + "/api/v1" + path))
            .header("Content-Type", "application/json");
    if (withCookie != null) {
      r.header("Cookie", withCookie);
    }
    if (withCsrf != null) {
      r.header("X-Plenzo-Csrf", withCsrf);
    }
    if (key != null) {
      r.header("Idempotency-Key", key);
    }
    r.method(
        method,
        body == null
            ? HttpRequest.BodyPublishers.noBody()
            : HttpRequest.BodyPublishers.ofString(body));
    return http.send(r.build(), HttpResponse.BodyHandlers.ofString());
  }

  private void refused(HttpResponse<String> response, int status, String code) {
    assertThat(response.statusCode()).as(response.body()).isEqualTo(status);
    assertThat(response.headers().firstValue("Content-Type").orElse(""))
        .startsWith("application/problem+json");
    JsonNode problem = JSON.readTree(response.body());
    assertThat(problem.get("code").asString()).isEqualTo(code);
    assertThat(problem.get("detail").asString()).isNotBlank();
    assertThat(response.body())
        .doesNotContain("Exception")
        .doesNotContain("\\tat ")
        .doesNotContain("plenzo.engine");
  }

  @Test
  void refusesWrongSignInsEquallyForKnownAndUnknownNames() throws Exception {
    HttpResponse<String> known =
        send("POST", "/session", "{\"login\":\"ines\",\"password\":\"wrong\"}", null, null, null);
    HttpResponse<String> unknown =
        send("POST", "/session", "{\"login\":\"nobody\",\"password\":\"wrong\"}", null, null, null);

    refused(known, 401, "SIGN_IN_FAILED");
    refused(unknown, 401, "SIGN_IN_FAILED");
    assertThat(JSON.readTree(known.body()).get("detail"))
        .isEqualTo(JSON.readTree(unknown.body()).get("detail"));
  }

  @Test
  void needsASignInTheCsrfHeaderJsonAndAKey() throws Exception {
    refused(send("GET", "/stages", null, null, null, null), 401, "NOT_SIGNED_IN");
    refused(
        send("GET", "/stages", null, "plenzo_session=expired", null, null), 401, "NOT_SIGNED_IN");
    refused(
        send("POST", "/drafts", "{\"application\":\"fares\"}", cookie, null, "key-00000001"),
        403,
        "CSRF");
    refused(
        send("POST", "/drafts", "{\"application\":\"fares\"}", cookie, "guess", "key-00000001"),
        403,
        "CSRF");
    refused(
        send("POST", "/drafts", "{\"application\":\"fares\"}", cookie, csrf, null),
        400,
        "IDEMPOTENCY_KEY");
  }

  /** However a path is written, it is the same door. */
  @ParameterizedTest
  @ValueSource(
      strings = {
        "/api/v1/stages",
        "/%61pi/v1/stages",
        "/api/%761/stages",
        "/api;x=1/v1/stages",
        "/api/v1;x/stages;y",
        "/./api/v1/stages",
        "/x/../api/v1/stages",
        "/x/%2e%2e/api/v1/stages",
        "//api/v1/stages",
        "/API/v1/stages",
        "/metrics",
        "/%6detrics",
        "/metrics;x",
        "/./metrics",
        "/metrics/",
      })
  void letsNoStrangerInHoweverThePathIsWritten(String path) throws Exception {
    String answer = raw("GET " + path + " HTTP/1.1\r\nHost: x\r\nConnection: close\r\n\r\n");

    assertThat(answer.lines().findFirst().orElseThrow())
        .as(answer)
        .containsAnyOf(" 401 ", " 400 ", " 404 ");
    assertThat(answer).doesNotContain("\"production\"").doesNotContain("jvm_");
  }

  @Test
  void boundsABodyHoweverThePathIsWritten() throws Exception {
    String body = "\"" + "x".repeat((1 << 20) + 10) + "\"";
    String answer =
        raw(
            "POST /%61pi/v1/paths HTTP/1.1\r\nHost: x\r\nConnection: close\r\nContent-Type: application/json\r\nCookie: "
                + cookie
                + "\r\nX-Plenzo-Csrf: "
                + csrf
                + "\r\nIdempotency-Key: key-00000077\r\nContent-Length: "
                + body.length()
                + "\r\n\r\n"
                + body);

    assertThat(answer.lines().findFirst().orElseThrow()).contains(" 413 ");
  }

  /** Sends exactly these bytes: a client's library would write the path anew. */
  private String raw(String request) throws IOException {
    URI at = URI.create(service.address());
    try (Socket socket = new Socket(at.getHost(), at.getPort())) {
      socket.setSoTimeout(20_000);
      socket.getOutputStream().write(request.getBytes(StandardCharsets.UTF_8));
      socket.getOutputStream().flush();
      return new String(socket.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    }
  }

  @Test
  void refusesBrokenAndOversizedBodies() throws Exception {
    refused(send("POST", "/paths", "{\"key\":", cookie, csrf, "key-00000002"), 400, "BROKEN_JSON");
    refused(
        send("POST", "/paths", "[".repeat(3000), cookie, csrf, "key-00000003"), 400, "BROKEN_JSON");
    refused(
        send(
            "POST",
            "/paths",
            "{\"key\":\"" + "x".repeat(2_000_000) + "\"}",
            cookie,
            csrf,
            "key-00000004"),
        413,
        "TOO_LARGE");
  }

  /** Each was once an answer of 500. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '~',
      value = {
        "\"zone\":\"Nowhere/Land\"|",
        "\"zone\":\"UTC\"|,\"quietFrom\":\"25:00\",\"quietUntil\":\"07:00\"",
        "\"zone\":\"UTC\"|,\"quietFrom\":\"22:00\",\"quietUntil\":\"soon\"",
      })
  void whatIsNoTimeIsSaid(String zone, @Nullable String quiet) throws Exception {
    refused(
        send(
            "PUT",
            "/notices/following",
            "{\"mail\":\"\",\"stages\":[],\"applications\":[],\"news\":[],"
                + zone
                + (quiet == null ? "" : quiet)
                + "}",
            cookie,
            csrf,
            "key-time-" + Math.abs((zone + quiet).hashCode())),
        422,
        "INVALID");
  }

  @Test
  void answersARepeatedKeyOnceAndRefusesAnotherBody() throws Exception {
    String body = "{\"login\":\"repeat\",\"name\":\"Repeat\",\"password\":\"long-enough-1\"}";
    HttpResponse<String> first = send("POST", "/people", body, cookie, csrf, "key-00000005");
    HttpResponse<String> again = send("POST", "/people", body, cookie, csrf, "key-00000005");

    assertThat(first.statusCode()).isEqualTo(200);
    assertThat(again.statusCode()).isEqualTo(200);
    assertThat(again.body()).isEqualTo(first.body());
    assertThat(again.headers().firstValue("Idempotency-Replayed")).contains("true");
    refused(
        send("POST", "/people", body.replace("Repeat", "Other"), cookie, csrf, "key-00000005"),
        422,
        "KEY_USED");
  }

  /** An edit is of what was looked at, by a header that every HTTP client knows. */
  @Test
  void editsWhatWasLookedAt() throws Exception {
    send(
        "POST",
        "/people",
        "{\"login\":\"tagged\",\"name\":\"T\",\"password\":\"long-enough-1\"}",
        cookie,
        csrf,
        "key-00000091");
    String tag =
        send("GET", "/people/tagged", null, cookie, null, null)
            .headers()
            .firstValue("ETag")
            .orElseThrow();

    HttpResponse<String> first = edit(tag, "key-00000092");
    assertThat(first.statusCode()).as(first.body()).isEqualTo(200);
    assertThat(first.headers().firstValue("ETag")).isPresent().isNotEqualTo(tag);
    refused(edit(tag, "key-00000093"), 412, "CHANGED");
  }

  private HttpResponse<String> edit(String tag, String key) throws Exception {
    return edit("PUT", "/people/tagged", "{\"name\":\"" + key + "\"}", tag, key);
  }

  private HttpResponse<String> edit(String method, String path, String body, String tag, String key)
      throws Exception {
    return http.send(
        HttpRequest.newBuilder(URI.create(service.address() + "/api/v1" + path))
            .header("Content-Type", "application/json")
            .header("Cookie", cookie)
            .header("X-Plenzo-Csrf", csrf)
            .header("Idempotency-Key", key)
            .header("If-Match", tag)
            .method(method, HttpRequest.BodyPublishers.ofString(body))
            .build(),
        HttpResponse.BodyHandlers.ofString());
  }

  private String repositoryWithOneCommit() throws Exception {
    Path at = service.places.root().resolve("fares.git");
    try (Git git = Git.init().setDirectory(at.toFile()).setInitialBranch("main").call()) {
      git.commit()
          .setAuthor("Ada Falk", "ada@ferries.example")
          .setCommitter("Ada Falk", "ada@ferries.example")
          .setMessage("Nothing yet")
          .setAllowEmpty(true)
          .setSign(false)
          .call();
    }
    return at.toString();
  }

  /** Whatever has a revision tells it; an edit of an earlier one changes nothing. */
  @Test
  void editsDraftsReleasesAndRepositoriesAsTheyWereLookedAt() throws Exception {
    Surcharges.adopt(teller);
    String draft = teller.run("ines", 0, "draft", "new", "fares").number("D");
    teller.run("admin", 0, "role", "grant", "admin", "author");
    send(
        "PUT",
        "/releases/tagged",
        "{\"title\":\"First\",\"members\":[\"fares@1.0.0\"]}",
        cookie,
        csrf,
        "key-00000101");
    String repository = repositoryWithOneCommit();
    for (String[] e :
        new String[][] {
          {"/drafts/" + draft, "POST", "/drafts/" + draft + "/removals", "{\"removals\":[]}"},
          {
            "/releases/tagged",
            "PUT",
            "/releases/tagged",
            "{\"title\":\"Next\",\"members\":[\"fares@1.0.0\"]}"
          },
          {
            "/applications/fares/repository",
            "PUT",
            "/applications/fares/repository",
            "{\"address\":\"" + repository + "\"}"
          },
        }) {
      String tag =
          send("GET", e[0], null, cookie, null, null).headers().firstValue("ETag").orElseThrow();

      HttpResponse<String> first = edit(e[1], e[2], e[3], tag, "key-1" + e[2].hashCode());
      assertThat(first.statusCode()).as(first.body()).isEqualTo(200);
      assertThat(first.headers().firstValue("ETag")).as(e[2]).isPresent().isNotEqualTo(tag);
      refused(edit(e[1], e[2], e[3], tag, "key-2" + e[2].hashCode()), 412, "CHANGED");
    }
  }

  @Test
  void givesCommandsTheirExitCodes() {
    teller.run("ines", 5, "app", "candidates", "nothing", "--site", "production/north");
    teller.run(
        "ines",
        2,
        "app",
        "adopt",
        "fares",
        "--site",
        "production/north",
        "--number",
        "2.4",
        "--title",
        "x",
        "--everything",
        "--no-records");
    teller.run(
        "ines",
        5,
        "app",
        "adopt",
        "fares",
        "--site",
        "production/north",
        "--number",
        "2.4.0",
        "--title",
        "x",
        "--table",
        "fares.x; DROP TABLE fares.booking; --");
    teller.run("ines", 2, "promotion", "show", "P-1'; DROP TABLE x; --");
    teller.run("ines", 2, "promotion", "aprove", "P-1");
    teller.run("bram", 4, "draft", "new", "fares");
    teller.run("ines", 7, "draft", "new", "fares");
    teller.run("tove", 4, "user", "list");
    assertThat(service.cluster.query("production", "SELECT count(*) FROM fares.booking"))
        .containsExactly("400");
    assertThat(service.client("no-such-token", "standing").code()).isEqualTo(3);
    assertThat(service.client("no-such-token", "standing", "--json").err())
        .contains("\"code\":\"NOT_SIGNED_IN\"");
  }

  @Test
  void showsRedForACopyOfProductionRegisteredAsTest() {
    teller.run(
        "ines",
        0,
        "app",
        "adopt",
        "sailings",
        "--site",
        "production/north",
        "--number",
        "1.0.0",
        "--title",
        "There",
        "--everything",
        "--no-records");
    service.cluster.sql(
        "postgres",
        "SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = 'production'");
    service.cluster.sql("postgres", "CREATE DATABASE copy TEMPLATE production OWNER test_change");
    service.cluster.sql(
        "copy",
        "GRANT USAGE ON SCHEMA plenzo, fares, sailings TO test_look; GRANT SELECT ON ALL TABLES IN SCHEMA plenzo, fares, sailings TO test_look");
    teller.withInput(
        "admin",
        0,
        plenzo.demo.Cluster.PASSWORD,
        "connection",
        "change",
        "test/look",
        "--database",
        "copy",
        "--secret-stdin");

    Teller.Answer red = teller.run("admin", 7, "site", "check", "test");

    assertThat(red.out()).contains("This database says it is production/north since");
    teller.run("ines", 7, "app", "match", "sailings", "--site", "test", "--number", "1.0.0");
    teller.withInput(
        "admin",
        0,
        plenzo.demo.Cluster.PASSWORD,
        "connection",
        "change",
        "test/look",
        "--database",
        "test",
        "--secret-stdin");
  }

  @Test
  void showsRedForAWrongPasswordAndClearsTheTestWhenTheConnectionLeadsElsewhere() {
    teller.withInput(
        "admin", 0, "not-the-password", "connection", "change", "test/scratch", "--secret-stdin");
    assertThat(teller.run("admin", 7, "site", "check", "test").out())
        .contains("password authentication failed");
    teller.withInput(
        "admin",
        0,
        plenzo.demo.Cluster.PASSWORD,
        "connection",
        "change",
        "test/scratch",
        "--secret-stdin");
    teller.run("admin", 0, "site", "check", "test");

    teller.run("admin", 0, "connection", "change", "test/scratch", "--database", "template1");

    assertThat(teller.run("admin", 0, "connection", "list", "--stage", "test").out())
        .containsPattern("test/scratch.*not set.*not tested");
    teller.withInput(
        "admin",
        0,
        plenzo.demo.Cluster.PASSWORD,
        "connection",
        "change",
        "test/scratch",
        "--database",
        "postgres",
        "--secret-stdin");
  }

  @Test
  void refusesADestinationThatIsNotListed() {
    Teller.Answer refused =
        teller.withInput(
            "admin",
            2,
            "x",
            "connection",
            "new",
            "test/evil",
            "--host",
            "169.254.169.254",
            "--database",
            "x",
            "--account",
            "x");

    assertThat(refused.err()).contains("is not allowed");
  }

  @Test
  void agreesWithTheCommittedApiDocument() throws Exception {
    HttpResponse<String> now =
        http.send(
            HttpRequest.newBuilder(URI.create(service.address() + "/api/openapi")).build(),
            HttpResponse.BodyHandlers.ofString());
    JsonMapper sorted =
        JsonMapper.builder()
            .enable(JsonNodeFeature.WRITE_PROPERTIES_SORTED)
            .enable(SerializationFeature.INDENT_OUTPUT)
            .build();
    JsonNode committed = sorted.readTree(Files.readString(Path.of("../docs/openapi.json")));
    JsonNode served = sorted.readTree(now.body());

    assertThat(sorted.writeValueAsString(served))
        .as(
            "docs/openapi.json is stale: save /api/openapi there, sorted, and run npm run types in console")
        .isEqualTo(sorted.writeValueAsString(committed));
  }
}
