package plenzo.server.web;

import jakarta.servlet.FilterChain;
import jakarta.servlet.ReadListener;
import jakarta.servlet.ServletException;
import jakarta.servlet.ServletInputStream;
import jakarta.servlet.http.Cookie;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletRequestWrapper;
import jakarta.servlet.http.HttpServletResponse;
import java.io.BufferedReader;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import org.slf4j.MDC;
import org.springframework.core.Ordered;
import org.springframework.core.annotation.Order;
import org.springframework.http.HttpStatus;
import org.springframework.stereotype.Component;
import org.springframework.web.filter.OncePerRequestFilter;
import org.springframework.web.util.ContentCachingResponseWrapper;
import plenzo.core.digest.Digest;
import plenzo.core.keeping.Kept;
import plenzo.engine.Engine;
import plenzo.engine.people.People.SignedIn;
import tools.jackson.databind.json.JsonMapper;

/**
 * The one door: a request id, security headers, who is asking, the CSRF header for browsers, a
 * bounded body, and idempotency keys for whatever changes something.
 */
@Component
@Order(Ordered.HIGHEST_PRECEDENCE)
class AccessFilter extends OncePerRequestFilter {
  static final String COOKIE = "plenzo_session";
  private static final String SIGNED_IN = "plenzo.signedIn";
  private static final String REQUEST_ID = "plenzo.requestId";
  private static final int MAX_BODY = 1 << 20;
  private static final Duration KEPT = Duration.ofDays(7);
  private static final Pattern KEY = Pattern.compile("[A-Za-z0-9_-]{8,100}");
  private static final Set<String> CHANGING = Set.of("POST", "PUT", "PATCH", "DELETE");
  private static final String POLICY =
      "default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; font-src 'self'; img-src 'self' data:; connect-src 'self'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'";

  private final Engine engine;
  private final JsonMapper json;
  private final Instant started = Instant.now();

  AccessFilter(Engine engine, JsonMapper json) {
    this.engine = engine;
    this.json = json;
  }

  /**
   * The path as whoever answers sees it: decoded, without parameters. What is decided about the
   * written one would be decided about another ({@code /%61pi} is {@code /api}).
   */
  private static String path(HttpServletRequest request) {
    String below = request.getPathInfo();
    return request.getServletPath() + (below == null ? "" : below);
  }

  static String requestId(HttpServletRequest request) {
    return String.valueOf(request.getAttribute(REQUEST_ID));
  }

  /** Who is asking; the filter made sure that somebody is. */
  static SignedIn signedIn(HttpServletRequest request) {
    if (request.getAttribute(SIGNED_IN) instanceof SignedIn s) {
      return s;
    }
    throw new IllegalStateException("A request without its person");
  }

  @Override
  protected boolean shouldNotFilterAsyncDispatch() {
    return true;
  }

  @Override
  protected void doFilterInternal(
      HttpServletRequest request, HttpServletResponse response, FilterChain chain)
      throws ServletException, IOException {
    String id = engine.tools().newId().substring(0, 8);
    request.setAttribute(REQUEST_ID, id);
    MDC.put("requestId", id);
    try {
      headers(response, id);
      String path = path(request);
      if (!below(path, "/api") && !below(path, "/actuator")) {
        chain.doFilter(request, response);
        return;
      }
      response.setHeader("Cache-Control", "no-store");
      boolean open =
          path.equals("/actuator/health")
              || path.equals("/api/openapi")
              || (request.getMethod().equals("POST")
                  && (path.equals("/api/v1/session")
                      || path.startsWith(HookController.PATH + "/")));
      guarded(request, response, chain, open);
    } finally {
      MDC.remove("requestId");
    }
  }

  private static boolean below(String path, String root) {
    return path.equals(root) || path.startsWith(root + "/");
  }

  private static void headers(HttpServletResponse response, String id) {
    response.setHeader("X-Request-Id", id);
    response.setHeader("Content-Security-Policy", POLICY);
    response.setHeader("X-Content-Type-Options", "nosniff");
    response.setHeader("X-Frame-Options", "DENY");
    response.setHeader("Referrer-Policy", "no-referrer");
    response.setHeader("Cross-Origin-Opener-Policy", "same-origin");
  }

  private void guarded(
      HttpServletRequest request, HttpServletResponse response, FilterChain chain, boolean open)
      throws ServletException, IOException {
    String cookie = cookie(request);
    String bearer = bearer(request);
    Optional<SignedIn> who =
        Optional.ofNullable(bearer != null ? bearer : cookie)
            .flatMap(secret -> engine.people().whoHolds(secret))
            .filter(s -> s.key().token() == (bearer != null));
    boolean changes = CHANGING.contains(request.getMethod());
    if (who.isEmpty() && !open) {
      refuse(
          request,
          response,
          HttpStatus.UNAUTHORIZED,
          "NOT_SIGNED_IN",
          "Nobody is signed in, or the sign-in has expired.",
          List.of("Sign in: plenzo login"));
      return;
    }
    if (who.isPresent()
        && changes
        && !open
        && bearer == null
        && !java.util.Objects.equals(who.get().key().csrf(), request.getHeader("X-Plenzo-Csrf"))) {
      refuse(
          request,
          response,
          HttpStatus.FORBIDDEN,
          "CSRF",
          "The page's key is missing or old.",
          List.of("Reload the page"));
      return;
    }
    boolean file =
        request.getMethod().equals("PUT")
            && path(request).equals(PackageController.RECEIVED)
            && "application/zip".equals(request.getContentType());
    if (changes
        && !file
        && !String.valueOf(request.getContentType()).startsWith("application/json")
        && !request.getMethod().equals("DELETE")) {
      refuse(
          request,
          response,
          HttpStatus.UNSUPPORTED_MEDIA_TYPE,
          "NOT_JSON",
          "Send application/json.",
          List.of());
      return;
    }
    if (who.isPresent()
        && who.get().person().mustChange()
        && !path(request).startsWith("/api/v1/session")) {
      refuse(
          request,
          response,
          HttpStatus.FORBIDDEN,
          "PASSWORD_CHANGE",
          "The first password must be changed before anything else.",
          List.of("plenzo login --new-password-stdin, or sign in at the console"));
      return;
    }
    who.ifPresent(s -> request.setAttribute(SIGNED_IN, s));
    if (!changes || file) {
      chain.doFilter(request, response); // a package is bounded while it is received
      return;
    }
    byte[] body = request.getInputStream().readNBytes(MAX_BODY + 1);
    if (body.length > MAX_BODY) {
      refuse(
          request,
          response,
          HttpStatus.CONTENT_TOO_LARGE,
          "TOO_LARGE",
          "The body has more than " + MAX_BODY + " bytes.",
          List.of());
      return;
    }
    HttpServletRequest whole = new WholeBody(request, body);
    if (open || !request.getMethod().equals("POST")) {
      chain.doFilter(whole, response);
    } else {
      once(whole, body, who.orElseThrow(), response, chain);
    }
  }

  private void once(
      HttpServletRequest request,
      byte[] body,
      SignedIn who,
      HttpServletResponse response,
      FilterChain chain)
      throws ServletException, IOException {
    String key = request.getHeader("Idempotency-Key");
    if (key == null || !KEY.matcher(key).matches()) {
      refuse(
          request,
          response,
          HttpStatus.BAD_REQUEST,
          "IDEMPOTENCY_KEY",
          "A call that changes something carries an Idempotency-Key of 8 to 100 letters, digits, - and _.",
          List.of());
      return;
    }
    String id = who.person().login() + "|" + key;
    String digest =
        Digest.of(
                request.getMethod()
                    + " "
                    + request.getRequestURI()
                    + "\n"
                    + new String(body, StandardCharsets.UTF_8))
            .hex();
    Instant now = engine.tools().now();
    Kept.Answered before =
        engine
            .tools()
            .keeper()
            .write(
                kept -> {
                  Kept.Answered known = kept.answered().find(id).orElse(null);
                  if (known != null && known.at().plus(KEPT).isBefore(now)) {
                    kept.answered().remove(id);
                    known = null;
                  }
                  if (known == null) {
                    kept.answered().insert(new Kept.Answered(id, digest, 0, "", now, 0));
                  }
                  return known;
                });
    if (before != null) {
      repeat(request, response, before, digest);
      return;
    }
    ContentCachingResponseWrapper caching = new ContentCachingResponseWrapper(response);
    boolean finished = false;
    try {
      chain.doFilter(request, caching);
      finished = true;
    } finally {
      int status = caching.getStatus();
      String answer = new String(caching.getContentAsByteArray(), StandardCharsets.UTF_8);
      boolean keep = finished && status < 500;
      boolean secret = path(request).endsWith("/tokens") || path(request).endsWith("/hook");
      engine
          .tools()
          .keeper()
          .write(
              kept -> {
                kept.answered().remove(id);
                if (keep) {
                  kept.answered()
                      .insert(new Kept.Answered(id, digest, status, secret ? "" : answer, now, 0));
                }
                return null;
              });
      caching.copyBodyToResponse();
    }
  }

  private void repeat(
      HttpServletRequest request, HttpServletResponse response, Kept.Answered before, String digest)
      throws IOException {
    if (!before.body().equals(digest)) {
      refuse(
          request,
          response,
          HttpStatus.UNPROCESSABLE_CONTENT,
          "KEY_USED",
          "This Idempotency-Key was used for another call.",
          List.of("Use a new key for a new call"));
    } else if (before.status() == 0) {
      boolean lost = before.at().isBefore(started);
      refuse(
          request,
          response,
          HttpStatus.CONFLICT,
          lost ? "MAY_HAVE_HAPPENED" : "STILL_RUNNING",
          lost ? "This call was interrupted; it may have happened." : "This call is still running.",
          List.of("Look what is there before you try again with a new key"));
    } else {
      response.setStatus(before.status());
      response.setContentType(
          before.status() < 400 ? "application/json" : "application/problem+json");
      response.setHeader("Idempotency-Replayed", "true");
      response.getOutputStream().write(before.answer().getBytes(StandardCharsets.UTF_8));
    }
  }

  private void refuse(
      HttpServletRequest request,
      HttpServletResponse response,
      HttpStatus status,
      String code,
      String detail,
      List<String> next)
      throws IOException {
    response.setStatus(status.value());
    response.setContentType("application/problem+json");
    response
        .getOutputStream()
        .write(json.writeValueAsBytes(Failures.failure(status, code, detail, next, null, request)));
  }

  static @Nullable String cookie(HttpServletRequest request) {
    Cookie[] cookies = request.getCookies();
    for (Cookie c : cookies == null ? new Cookie[0] : cookies) {
      if (c.getName().equals(COOKIE)) {
        return c.getValue();
      }
    }
    return null;
  }

  static @Nullable String bearer(HttpServletRequest request) {
    String header = request.getHeader("Authorization");
    return header != null && header.startsWith("Bearer ") ? header.substring(7).strip() : null;
  }

  /** A body that was read whole, so that it can be digested and read again. */
  private static final class WholeBody extends HttpServletRequestWrapper {
    private final byte[] body;

    WholeBody(HttpServletRequest request, byte[] body) {
      super(request);
      this.body = body;
    }

    @Override
    public ServletInputStream getInputStream() {
      ByteArrayInputStream in = new ByteArrayInputStream(body);
      return new ServletInputStream() {
        @Override
        public int read() {
          return in.read();
        }

        @Override
        public boolean isFinished() {
          return in.available() == 0;
        }

        @Override
        public boolean isReady() {
          return true;
        }

        @Override
        public void setReadListener(ReadListener listener) {
          throw new IllegalStateException("The body is there already");
        }
      };
    }

    @Override
    public BufferedReader getReader() {
      return new BufferedReader(new InputStreamReader(getInputStream(), StandardCharsets.UTF_8));
    }
  }
}
