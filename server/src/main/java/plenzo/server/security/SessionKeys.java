package plenzo.server.security;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import org.jspecify.annotations.Nullable;
import org.springframework.security.web.csrf.CsrfToken;
import org.springframework.security.web.csrf.CsrfTokenRepository;
import org.springframework.security.web.csrf.DefaultCsrfToken;
import plenzo.engine.people.AccessKeys.SignedIn;

/** The page's key is the one that was told with its session. */
final class SessionKeys implements CsrfTokenRepository {
  private static final String HEADER = "X-Plenzo-Csrf";

  /** Only a browser sends its session unasked; a token is sent by whoever holds it. */
  static boolean asked(HttpServletRequest request) {
    return switch (request.getMethod()) {
      case "GET", "HEAD", "OPTIONS", "TRACE" -> false;
      default ->
          Asking.known(request).isPresent()
              && !Asking.signedIn(request).key().token()
              && !Door.open(request);
    };
  }

  @Override
  public CsrfToken generateToken(HttpServletRequest request) {
    return token("none");
  }

  @Override
  public void saveToken(
      @Nullable CsrfToken token, HttpServletRequest request, HttpServletResponse response) {}

  @Override
  public @Nullable CsrfToken loadToken(HttpServletRequest request) {
    return Asking.known(request)
        .map(SignedIn::key)
        .map(key -> token(String.valueOf(key.csrf())))
        .orElse(null);
  }

  private static CsrfToken token(String value) {
    return new DefaultCsrfToken(HEADER, "_csrf", value);
  }
}
