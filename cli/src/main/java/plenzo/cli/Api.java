package plenzo.cli;

import java.io.IOException;
import java.io.InputStream;
import java.io.PrintWriter;
import java.net.ConnectException;
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.net.http.HttpTimeoutException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import plenzo.api.Failure;
import plenzo.api.Page;
import tools.jackson.core.JacksonException;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.json.JsonMapper;

/** Calls of the API: token, idempotency key, bounded retries, errors as {@link Failed}. */
final class Api {
  static final JsonMapper JSON = JsonMapper.builder().build();
  private static final List<Integer> WAITS = List.of(1, 2, 4, 8);

  /** One for the whole process: making one costs a tenth of a second. */
  static final HttpClient HTTP =
      HttpClient.newBuilder()
          .connectTimeout(Duration.ofSeconds(5))
          .followRedirects(HttpClient.Redirect.NEVER)
          .build();

  private final String server;
  private final Optional<String> token;
  private final @Nullable String retryKey;
  private final @Nullable PrintWriter verbose;

  Api(
      String server,
      Optional<String> token,
      @Nullable String retryKey,
      @Nullable PrintWriter verbose) {
    this.server = server.endsWith("/") ? server.substring(0, server.length() - 1) : server;
    this.token = token;
    this.retryKey = retryKey;
    this.verbose = verbose;
  }

  static String encode(String part) {
    return URLEncoder.encode(part, StandardCharsets.UTF_8).replace("+", "%20");
  }

  /** A query of name, value, name, value …; null values are left out. */
  static String query(@Nullable String... namesAndValues) {
    StringBuilder out = new StringBuilder();
    for (int i = 0; i < namesAndValues.length; i += 2) {
      if (namesAndValues[i + 1] != null) {
        out.append(out.isEmpty() ? '?' : '&')
            .append(namesAndValues[i])
            .append('=')
            .append(encode(String.valueOf(namesAndValues[i + 1])));
      }
    }
    return out.toString();
  }

  <T> T get(String path, Class<T> type) {
    return read(send("GET", path, null), type);
  }

  <T> List<T> list(String path, Class<T> type) {
    return JSON.readValue(
        send("GET", path, null), JSON.getTypeFactory().constructCollectionType(List.class, type));
  }

  /** Items of a page at the server, when everything is asked for. */
  private static final int PAGE = 500;

  /**
   * The first of a list that the server hands out in pages.
   *
   * @param most how many, {@link Integer#MAX_VALUE} for all
   */
  <T> Listed<T> pages(String path, Class<T> type, int most) {
    List<T> items = new ArrayList<>();
    String next = null;
    do {
      int wanted = Math.min(PAGE, most - items.size());
      String query = query("limit", String.valueOf(wanted), "cursor", next);
      Page<T> page =
          JSON.readValue(
              send("GET", path + (path.contains("?") ? query.replace('?', '&') : query), null),
              JSON.getTypeFactory().constructParametricType(Page.class, type));
      items.addAll(page.items());
      next = page.next();
    } while (next != null && items.size() < most);
    return new Listed<>(items, next);
  }

  /** All of such a list. */
  <T> List<T> all(String path, Class<T> type) {
    return pages(path, type, Integer.MAX_VALUE).items();
  }

  <T> T post(String path, Object body, Class<T> type) {
    return read(send("POST", path, body), type);
  }

  <T> List<T> postList(String path, Object body, Class<T> type) {
    return JSON.readValue(
        send("POST", path, body), JSON.getTypeFactory().constructCollectionType(List.class, type));
  }

  <T> T put(String path, Object body, Class<T> type) {
    return read(send("PUT", path, body), type);
  }

  <T> T delete(String path, Class<T> type) {
    return read(send("DELETE", path, null), type);
  }

  /**
   * Saves an answer in a file; the file is there wholly or not at all.
   *
   * @return its size in bytes
   */
  long save(String path, Path file) {
    Path aside = file.resolveSibling(file.getFileName() + ".part");
    try {
      HttpResponse<InputStream> response =
          HTTP.send(request("GET", path, null), HttpResponse.BodyHandlers.ofInputStream());
      try (InputStream in = response.body()) {
        if (response.statusCode() >= 300) {
          throw failed(
              response.statusCode(), new String(in.readAllBytes(), StandardCharsets.UTF_8));
        }
        Files.copy(in, aside, StandardCopyOption.REPLACE_EXISTING);
      }
      Files.move(aside, file, StandardCopyOption.REPLACE_EXISTING);
      return Files.size(file);
    } catch (ConnectException e) {
      throw notReachable();
    } catch (IOException e) {
      throw Failed.usage("The file " + file + " could not be saved: " + e.getMessage() + ".");
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new Failed(130, "INTERRUPTED", "Interrupted.", List.of(), "");
    }
  }

  /** Sends a file as it is. */
  <T> T upload(String path, Path file, String contentType, Class<T> type) {
    try {
      HttpRequest.Builder request =
          HttpRequest.newBuilder(URI.create(server + "/api/v1" + path))
              .header("Accept", "application/json, application/problem+json")
              .header("Content-Type", contentType)
              .PUT(HttpRequest.BodyPublishers.ofFile(file));
      token.ifPresent(t -> request.header("Authorization", "Bearer " + t));
      return read(answer(HTTP.send(request.build(), HttpResponse.BodyHandlers.ofString())), type);
    } catch (java.io.FileNotFoundException e) {
      throw Failed.usage("There is no file " + file + ".");
    } catch (ConnectException e) {
      throw notReachable();
    } catch (IOException e) {
      throw new Failed(
          Failed.NOT_REACHABLE,
          "BROKEN_OFF",
          "Sending " + file + " broke off: " + e.getMessage(),
          List.of("Try again: nothing was kept of it"),
          "");
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new Failed(130, "INTERRUPTED", "Interrupted.", List.of(), "");
    }
  }

  private Failed notReachable() {
    return new Failed(
        Failed.NOT_REACHABLE,
        "NOT_REACHABLE",
        "Plenzo at " + server + " cannot be reached.",
        List.of("Is it running? Another server: --server URL"),
        "");
  }

  private static <T> T read(String text, Class<T> type) {
    if (type == Void.class || text.isEmpty()) {
      return type.cast(null);
    }
    return JSON.readValue(text, type);
  }

  private HttpRequest request(String method, String path, @Nullable Object body) {
    HttpRequest.Builder request =
        HttpRequest.newBuilder(URI.create(server + "/api/v1" + path))
            .timeout(Duration.ofSeconds(120))
            .header(
                "Accept", "application/json, application/problem+json, text/csv, application/zip");
    token.ifPresent(t -> request.header("Authorization", "Bearer " + t));
    if (method.equals("POST")) {
      request.header("Idempotency-Key", retryKey == null ? UUID.randomUUID().toString() : retryKey);
    }
    request.header("Content-Type", "application/json");
    request.method(
        method,
        body == null
            ? HttpRequest.BodyPublishers.ofString(
                method.equals("POST") || method.equals("PUT") ? "{}" : "")
            : HttpRequest.BodyPublishers.ofString(JSON.writeValueAsString(body)));
    return request.build();
  }

  private String send(String method, String path, @Nullable Object body) {
    HttpRequest ready = request(method, path, body);
    for (int attempt = 0; ; attempt++) {
      long began = System.nanoTime();
      try {
        HttpResponse<String> response = HTTP.send(ready, HttpResponse.BodyHandlers.ofString());
        if (verbose != null) {
          verbose.println(
              method
                  + " "
                  + path
                  + " "
                  + response.statusCode()
                  + " in "
                  + (System.nanoTime() - began) / 1_000_000
                  + " ms, request "
                  + response.headers().firstValue("X-Request-Id").orElse("?"));
        }
        boolean busy = List.of(429, 503, 504).contains(response.statusCode());
        if (!busy || attempt == WAITS.size()) {
          return answer(response);
        }
      } catch (HttpTimeoutException e) {
        throw new Failed(
            Failed.NOT_REACHABLE,
            "TIMEOUT",
            server
                + " did not answer in time. "
                + (method.equals("GET") ? "" : "It may have happened."),
            List.of("Look before you try again"),
            "");
      } catch (ConnectException e) {
        if (attempt == WAITS.size() || attempt == 1) {
          throw notReachable();
        }
      } catch (IOException e) {
        throw new Failed(
            Failed.NOT_REACHABLE,
            "BROKEN_OFF",
            "The connection to "
                + server
                + " broke off: "
                + e.getMessage()
                + (method.equals("GET") ? "" : ". It may have happened."),
            List.of("Look before you try again"),
            "");
      } catch (InterruptedException e) {
        Thread.currentThread().interrupt();
        throw new Failed(130, "INTERRUPTED", "Interrupted.", List.of(), "");
      }
      pause(WAITS.get(attempt));
    }
  }

  private static void pause(int seconds) {
    try {
      Thread.sleep(seconds * 1000L);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  private String answer(HttpResponse<String> response) {
    if (response.statusCode() < 300) {
      return response.body();
    }
    throw failed(response.statusCode(), response.body());
  }

  private Failed failed(int status, String body) {
    Failure failure;
    try {
      failure = JSON.readValue(body, new TypeReference<Failure>() {});
    } catch (JacksonException e) {
      return new Failed(
          16,
          "NO_FIT",
          server + " answered " + status + " in a form that this client does not know.",
          List.of("Is it a Plenzo service of the same version?"),
          "");
    }
    return new Failed(
        exitCode(status, failure.code()),
        failure.code(),
        failure.detail(),
        failure.next(),
        failure.requestId());
  }

  private static int exitCode(int status, String code) {
    return switch (status) {
      case 401 -> Failed.NOT_SIGNED_IN;
      case 403 -> Failed.NOT_ALLOWED;
      case 404 -> Failed.NOT_FOUND;
      case 412 -> Failed.CHANGED;
      case 409 ->
          switch (code) {
            case "CONFIRM" -> Failed.NEEDS_CONFIRMATION;
            case "NOT_TRUSTED" -> Failed.NOT_INTACT;
            default -> Failed.STOPPED;
          };
      case 400, 413, 415, 422 -> code.equals("PACKAGE_REFUSED") ? Failed.NOT_INTACT : Failed.USAGE;
      case 429, 502, 503, 504 -> Failed.NOT_REACHABLE;
      default -> Failed.BUG;
    };
  }
}
