package plenzo.server.security;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.List;
import java.util.Locale;
import org.jspecify.annotations.Nullable;
import org.springframework.http.HttpStatus;
import org.springframework.security.access.AccessDeniedException;
import org.springframework.security.core.AuthenticationException;
import org.springframework.security.web.AuthenticationEntryPoint;
import org.springframework.security.web.access.AccessDeniedHandler;
import org.springframework.security.web.csrf.CsrfException;
import org.springframework.security.web.firewall.RequestRejectedException;
import org.springframework.security.web.firewall.RequestRejectedHandler;
import org.springframework.stereotype.Component;
import plenzo.api.Failure;
import tools.jackson.databind.json.JsonMapper;

/**
 * What the door answers to what it does not let in, as problem details (RFC 9457). A body that
 * nobody will read is taken in only when it is short and comes at once; else the connection ends.
 */
@Component
public class Refusals
    implements AuthenticationEntryPoint, AccessDeniedHandler, RequestRejectedHandler {
  private final JsonMapper json;
  private final Readers readers;

  Refusals(JsonMapper json, Readers readers) {
    this.json = json;
    this.readers = readers;
  }

  /** The connection ends with this answer; nothing more of the request is taken in. */
  static void close(HttpServletRequest request, HttpServletResponse response) {
    request.setAttribute(UnreadBodies.UNREAD, true);
    response.setHeader("Connection", "close");
  }

  public static Failure failure(
      HttpStatus status,
      String code,
      String detail,
      List<String> next,
      @Nullable String field,
      HttpServletRequest request) {
    return new Failure(
        "urn:plenzo:problem:" + code.toLowerCase(Locale.ROOT).replace('_', '-'),
        status.getReasonPhrase(),
        status.value(),
        Shown.plain(detail),
        code,
        next,
        field,
        Asking.requestId(request));
  }

  void refuse(
      HttpServletRequest request,
      HttpServletResponse response,
      HttpStatus status,
      String code,
      String detail,
      List<String> next)
      throws IOException {
    if (request.getAttribute(UnreadBodies.UNREAD) == null && !readers.drained(request)) {
      close(request, response);
    }
    response.setStatus(status.value());
    response.setContentType("application/problem+json");
    response
        .getOutputStream()
        .write(json.writeValueAsBytes(failure(status, code, detail, next, null, request)));
  }

  @Override
  public void commence(
      HttpServletRequest request, HttpServletResponse response, AuthenticationException e)
      throws IOException {
    refuse(
        request,
        response,
        HttpStatus.UNAUTHORIZED,
        "NOT_SIGNED_IN",
        "Nobody is signed in, or the sign-in has expired.",
        List.of("Sign in: plenzo login"));
  }

  @Override
  public void handle(
      HttpServletRequest request, HttpServletResponse response, AccessDeniedException e)
      throws IOException {
    if (e instanceof CsrfException) {
      refuse(
          request,
          response,
          HttpStatus.FORBIDDEN,
          "CSRF",
          "The page's key is missing or old.",
          List.of("Reload the page"));
    } else if (Door.mustChange(request)) {
      refuse(
          request,
          response,
          HttpStatus.FORBIDDEN,
          "PASSWORD_CHANGE",
          "The first password must be changed before anything else.",
          List.of("plenzo login --new-password-stdin, or sign in at the console"));
    } else {
      refuse(
          request,
          response,
          HttpStatus.FORBIDDEN,
          "NOT_ALLOWED",
          "Nothing is let in at this address.",
          List.of("See /api/openapi"));
    }
  }

  @Override
  public void handle(
      HttpServletRequest request, HttpServletResponse response, RequestRejectedException e)
      throws IOException {
    refuse(
        request,
        response,
        HttpStatus.BAD_REQUEST,
        "ODD_ADDRESS",
        "The address or a header is written in a way that is not let in.",
        List.of("Write the address without \";\", \"//\", \"..\" and needless escapes"));
  }
}
