package plenzo.server.security;

import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.regex.Pattern;
import org.springframework.core.annotation.Order;
import org.springframework.http.HttpStatus;
import org.springframework.stereotype.Component;
import org.springframework.web.filter.OncePerRequestFilter;
import org.springframework.web.util.ContentCachingResponseWrapper;
import plenzo.core.digest.Digest;
import plenzo.core.keeping.Kept;
import plenzo.engine.Engine;
import plenzo.engine.people.AccessKeys.SignedIn;

/** A call that makes something happens once, however often it is sent with its key. */
@Component
@Order(1)
class OnceEach extends OncePerRequestFilter {
  private static final Duration KEPT = Duration.ofDays(7);
  private static final Pattern KEY = Pattern.compile("[A-Za-z0-9_-]{8,100}");

  private final Engine engine;
  private final Refusals refusals;
  private final Instant started = Instant.now();

  OnceEach(Engine engine, Refusals refusals) {
    this.engine = engine;
    this.refusals = refusals;
  }

  @Override
  protected boolean shouldNotFilter(HttpServletRequest request) {
    return !request.getMethod().equals("POST") || Door.open(request);
  }

  @Override
  protected void doFilterInternal(
      HttpServletRequest request, HttpServletResponse response, FilterChain chain)
      throws ServletException, IOException {
    if (!(request instanceof Bodies.WholeBody whole)) {
      throw new IllegalStateException("A call whose body was not bounded");
    }
    once(request, whole.bytes(), Asking.signedIn(request), response, chain);
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
      refusals.refuse(
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
      boolean secret =
          Asking.path(request).endsWith("/tokens") || Asking.path(request).endsWith("/hook");
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
      refusals.refuse(
          request,
          response,
          HttpStatus.UNPROCESSABLE_CONTENT,
          "KEY_USED",
          "This Idempotency-Key was used for another call.",
          List.of("Use a new key for a new call"));
    } else if (before.status() == 0) {
      boolean lost = before.at().isBefore(started);
      refusals.refuse(
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
}
