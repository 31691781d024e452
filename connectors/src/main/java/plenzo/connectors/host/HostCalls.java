package plenzo.connectors.host;

import java.io.IOException;
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse;
import java.net.http.HttpTimeoutException;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.Optional;
import java.util.concurrent.CancellationException;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import javax.net.ssl.SSLContext;
import org.jspecify.annotations.Nullable;
import plenzo.core.json.Whole;
import plenzo.core.target.Access;
import plenzo.core.target.TargetFailed;
import plenzo.hostprotocol.ClientTls;
import plenzo.hostprotocol.HostProtocol;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.DeserializationFeature;
import tools.jackson.databind.cfg.MapperConfig;
import tools.jackson.databind.introspect.AnnotatedMember;
import tools.jackson.databind.introspect.JacksonAnnotationIntrospector;
import tools.jackson.databind.json.JsonMapper;

/**
 * Calls to one host: bounded in time and size, no redirects, the token in the header alone. Any
 * thread may cut it.
 */
final class HostCalls {
  /**
   * Longest answer: 24 MiB, of which two copies fit beside all else in 256 MB (guess: an inventory
   * of a hundred thousand definitions is less).
   */
  private static final int LONGEST = 24 << 20;

  private static final Duration CONNECT = Duration.ofSeconds(5);

  /** Total time of a call (guess: a switch of thousands of definitions takes less). */
  private static final Duration TOTAL = Duration.ofSeconds(30);

  /** A number or a yes or no that a host leaves out is not 0 and not no. */
  private static final class Told extends JacksonAnnotationIntrospector {
    private static final long serialVersionUID = 1;

    @Override
    public Boolean hasRequiredMarker(MapperConfig<?> config, AnnotatedMember member) {
      return member.getRawType().isPrimitive() ? Boolean.TRUE : null;
    }
  }

  private static final JsonMapper JSON =
      JsonMapper.builder()
          .disable(DeserializationFeature.FAIL_ON_UNKNOWN_PROPERTIES)
          .annotationIntrospector(new Told())
          .build();

  /** How long a connection is used again that nothing was asked by. */
  private static final Duration IDLE = Duration.ofSeconds(2);

  static {
    // a call by the judged address still says which name it asks for; the library reads this once,
    // when it is first used
    System.setProperty("jdk.httpclient.allowRestrictedHeaders", "host");
    // a connection that its server closes as it is used again takes the call with it: servers keep
    // idle ones for 5 s and more, the library would use them for twenty minutes
    System.setProperty("jdk.httpclient.keepalive.timeout", String.valueOf(IDLE.toSeconds()));
  }

  /** Whether a call may say its host; it may not where the library was used before this class. */
  private static final boolean SAYS_HOST = saysHost();

  /** What is set above, before the library is used first. */
  static void sayHosts() {
    // loading this class did it
  }

  static boolean saysHosts() {
    return SAYS_HOST;
  }

  private static boolean saysHost() {
    try {
      HttpRequest.newBuilder(URI.create("http://127.0.0.1/")).header("Host", "x").build();
      return true;
    } catch (IllegalArgumentException e) {
      return false;
    }
  }

  /** One client for all hosts that need nothing of their own; connections are used again. */
  private static final HttpClient CLIENT = build(null);

  private final Access access;
  private final HttpClient client;
  private final String root;
  private final boolean byAddress;
  private final Duration total;
  private volatile boolean cut;
  private volatile @Nullable CompletableFuture<?> open;

  private static HttpClient build(@Nullable SSLContext tls) {
    HttpClient.Builder builder =
        HttpClient.newBuilder()
            .version(HttpClient.Version.HTTP_1_1)
            .followRedirects(HttpClient.Redirect.NEVER)
            .connectTimeout(CONNECT);
    return tls == null ? builder.build() : builder.sslContext(tls).build();
  }

  /** Whether a client certificate stands for the token: the secret is then key and certificates. */
  private static boolean byCertificate(Access access) {
    return "certificate".equals(access.options().get("sign-in"));
  }

  private static HttpClient client(Access access) {
    String authority = access.options().getOrDefault("authority", "");
    if (authority.isEmpty() && !byCertificate(access)) {
      return CLIENT;
    }
    if (access.tls().equals("disable")) {
      throw new IllegalArgumentException("A certificate needs TLS: set it to verify-full");
    }
    return build(ClientTls.context(authority, byCertificate(access) ? access.secret() : ""));
  }

  /**
   * @throws TargetFailed when the key or the certificates of the access cannot be used
   */
  HostCalls(Access access) {
    this(access, TOTAL);
  }

  /**
   * @param total time of a call, from its first byte to the last one of its answer
   */
  HostCalls(Access access, Duration total) {
    this.access = access;
    this.total = total;
    try {
      this.client = client(access);
    } catch (IllegalArgumentException e) {
      throw new TargetFailed(String.valueOf(e.getMessage()), /* notReachable= */ false, e);
    }
    this.byAddress = SAYS_HOST && HostAddress.byAddress(access);
    String space = access.options().getOrDefault(HostSpace.OPTION, "");
    this.root =
        (byAddress ? HostAddress.reached(access) : HostAddress.root(access))
            + (space.isEmpty() ? "" : "/spaces/" + part(space));
  }

  static String part(String text) {
    return URLEncoder.encode(text, StandardCharsets.UTF_8).replace("+", "%20");
  }

  <T> T get(String path, Class<T> answer) {
    return call("GET", path, null, answer);
  }

  /** Empty when the host does not know the call: members of the protocol that are optional. */
  <T> Optional<T> find(String path, Class<T> answer) {
    try {
      return Optional.of(get(path, answer));
    } catch (TargetFailed e) {
      if (e.getCause() instanceof Status s && s.code == 404) {
        return Optional.empty();
      }
      throw e;
    }
  }

  /** An answer other than 200. */
  private static final class Status extends IOException {
    private final int code;

    Status(int code) {
      super("status " + code);
      this.code = code;
    }
  }

  /**
   * @throws TargetFailed when the host does not answer, or answers that it could not serve the call
   */
  <T> T call(String method, String path, @Nullable Object body, Class<T> answer) {
    HttpRequest.Builder builder = HttpRequest.newBuilder(URI.create(root + path)).timeout(total);
    if (byAddress) {
      builder.header("Host", URI.create(HostAddress.root(access)).getRawAuthority());
    }
    if (!byCertificate(access)) {
      builder.header("Authorization", "Bearer " + access.secret());
    }
    HttpRequest request =
        builder
            .header("Accept", "application/json")
            .header("Content-Type", "application/json")
            .method(
                method,
                body == null
                    ? BodyPublishers.noBody()
                    : BodyPublishers.ofByteArray(JSON.writeValueAsBytes(body)))
            .build();
    byte[] bytes = send(method + " " + path, request);
    try {
      return Whole.require(JSON.readValue(bytes, answer));
    } catch (Whole.Missing e) {
      String what = e.pointer().isEmpty() ? "the answer" : e.pointer();
      throw foreign(method + " " + path, " (" + what + " is missing)", e);
    } catch (JacksonException e) {
      throw foreign(method + " " + path, "", e);
    }
  }

  /** What came back is not of the protocol. */
  static TargetFailed foreign(String asked, String what, RuntimeException why) {
    return new TargetFailed(
        "The host answered " + asked + " with something that is not of the protocol" + what,
        /* notReachable= */ false,
        why);
  }

  private byte[] send(String what, HttpRequest request) {
    if (cut) {
      throw new TargetFailed("The session was cut", true, new IllegalStateException(what));
    }
    // the whole answer is one future, so that a host that drips cannot hold the call
    CompletableFuture<HttpResponse<byte[]>> sent =
        client.sendAsync(request, head -> new WholeAnswer(LONGEST));
    open = sent;
    if (cut) { // between the question above and now: then nobody saw that it is open
      sent.cancel(true);
    }
    try {
      HttpResponse<byte[]> response = sent.get(total.toMillis(), TimeUnit.MILLISECONDS);
      byte[] bytes = response.body();
      if (response.statusCode() != 200) {
        throw new TargetFailed(
            "The host answered "
                + what
                + " with "
                + response.statusCode()
                + trouble(bytes)
                + (response.statusCode() == 401 ? ": the token is not accepted" : ""),
            /* notReachable= */ false,
            new Status(response.statusCode()));
      }
      return bytes;
    } catch (ExecutionException | CancellationException | TimeoutException e) {
      sent.cancel(true);
      Throwable cause = e instanceof ExecutionException && e.getCause() != null ? e.getCause() : e;
      throw new TargetFailed(
          "The host at "
              + access.host()
              + ":"
              + access.port()
              + " did not answer "
              + what
              + why(cause),
          /* notReachable= */ true,
          cause);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new TargetFailed("Interrupted while the host was asked", true, e);
    } finally {
      open = null;
    }
  }

  private String why(Throwable cause) {
    if (cause instanceof TimeoutException || cause instanceof HttpTimeoutException) {
      return " within " + total.toSeconds() + " s";
    }
    if (cause instanceof CancellationException) {
      return ": the session was cut";
    }
    String said = cause.getMessage();
    return said == null ? ": the connection failed" : ": " + said;
  }

  private static String trouble(byte[] bytes) {
    try {
      HostProtocol.Trouble t = JSON.readValue(bytes, HostProtocol.Trouble.class);
      return t.message() == null ? "" : " (" + t.message() + ")";
    } catch (JacksonException e) {
      return "";
    }
  }

  void cut() {
    cut = true;
    CompletableFuture<?> now = open;
    if (now != null) {
      now.cancel(true);
    }
  }
}
