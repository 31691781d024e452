package plenzo.cli;

import java.io.IOException;
import java.io.InputStream;
import java.io.PrintWriter;
import java.net.ConnectException;
import java.net.SocketTimeoutException;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
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

  /** Longest silence of a server that works on an answer. */
  private static final Duration SILENCE = Duration.ofSeconds(120);

  /** The same where it says how far it is (guess: reading a hundred million rows takes less). */
  private static final Duration PATIENCE = Duration.ofHours(6);

  private final String server;
  private final Optional<String> token;
  private final @Nullable String retryKey;
  private final @Nullable PrintWriter verbose;
  private final Duration silence;

  Api(
      String server,
      Optional<String> token,
      @Nullable String retryKey,
      @Nullable PrintWriter verbose) {
    this(server, token, retryKey, verbose, SILENCE);
  }

  private Api(
      String server,
      Optional<String> token,
      @Nullable String retryKey,
      @Nullable PrintWriter verbose,
      Duration silence) {
    this.silence = silence;
    this.server = server.endsWith("/") ? server.substring(0, server.length() - 1) : server;
    this.token = token;
    this.retryKey = retryKey;
    this.verbose = verbose;
  }

  /** The same for calls of which one can be told meanwhile how far they are. */
  Api patient() {
    return new Api(server, token, retryKey, verbose, PATIENCE);
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

  /** Where it is asked, without a slash at the end. */
  String server() {
    return server;
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
      Call.Answer answer = call("GET", path).send((String) null);
      if (answer.status() >= 300) {
        throw failed(answer.status(), answer.text());
      }
      try (InputStream in = answer.body()) {
        Files.copy(in, aside, StandardCopyOption.REPLACE_EXISTING);
      }
      Files.move(aside, file, StandardCopyOption.REPLACE_EXISTING);
      return Files.size(file);
    } catch (ConnectException e) {
      throw notReachable();
    } catch (IOException e) {
      throw Failed.usage("The file " + file + " could not be saved: " + e.getMessage() + ".");
    }
  }

  /** Sends a file as it is. */
  <T> T upload(String path, Path file, String contentType, Class<T> type) {
    try {
      return read(answer(call("PUT", path).header("Content-Type", contentType).send(file)), type);
    } catch (java.nio.file.NoSuchFileException e) {
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
    }
  }

  private Failed notReachable() {
    return Failed.notReachable(server);
  }

  private static <T> T read(String text, Class<T> type) {
    if (type == Void.class || text.isEmpty()) {
      return type.cast(null);
    }
    return JSON.readValue(text, type);
  }

  private Call call(String method, String path) throws IOException {
    return new Call(method, server + "/api/v1" + path, silence)
        .header("Accept", "application/json, application/problem+json, text/csv, application/zip")
        .header("Content-Type", "application/json")
        .header("Authorization", token.map(t -> "Bearer " + t).orElse(null));
  }

  private String send(String method, String path, @Nullable Object body) {
    boolean writes = method.equals("POST") || method.equals("PUT");
    String text = body != null ? JSON.writeValueAsString(body) : writes ? "{}" : null;
    String key =
        !method.equals("POST") ? null : retryKey == null ? UUID.randomUUID().toString() : retryKey;
    for (int attempt = 0; ; attempt++) {
      long began = System.nanoTime();
      try {
        Call.Answer answer = call(method, path).header("Idempotency-Key", key).send(text);
        if (verbose != null) {
          verbose.println(
              method
                  + " "
                  + path
                  + " "
                  + answer.status()
                  + " in "
                  + (System.nanoTime() - began) / 1_000_000
                  + " ms, request "
                  + Objects.requireNonNullElse(answer.header("X-Request-Id"), "?"));
        }
        boolean busy = List.of(429, 503, 504).contains(answer.status());
        if (!busy || attempt == WAITS.size()) {
          return answer(answer);
        }
        answer.body().close();
      } catch (SocketTimeoutException e) {
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

  private String answer(Call.Answer answer) throws IOException {
    if (answer.status() < 300) {
      return answer.text();
    }
    throw failed(answer.status(), answer.text());
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
