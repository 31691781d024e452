package plenzo.server.security;

import jakarta.servlet.http.Cookie;
import jakarta.servlet.http.HttpServletRequest;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import plenzo.engine.people.AccessKeys.SignedIn;

/** What a request says of itself: who is asking, by which key, for which address. */
public final class Asking {
  public static final String COOKIE = "plenzo_session";

  /** Where signed calls of repositories arrive. */
  public static final String HOOKS = "/api/v1/hooks";

  /** Where calendar programs read, by a secret in the address. */
  public static final String FEEDS = "/api/v1/feeds";

  public static final String METRICS = "/metrics";

  /** Where packages arrive as files. */
  public static final String RECEIVED = "/api/v1/packages/received";

  /** Where files are given as evidence. */
  private static final String EVIDENCE = "/api/v1/evidence";

  static final String SIGNED_IN = "plenzo.signedIn";
  static final String REQUEST_ID = "plenzo.requestId";

  private Asking() {}

  public static String requestId(HttpServletRequest request) {
    return String.valueOf(request.getAttribute(REQUEST_ID));
  }

  /** Who is asking; the door made sure that somebody is. */
  public static SignedIn signedIn(HttpServletRequest request) {
    return known(request)
        .orElseThrow(() -> new IllegalStateException("A request without its person"));
  }

  static Optional<SignedIn> known(HttpServletRequest request) {
    return Optional.ofNullable((SignedIn) request.getAttribute(SIGNED_IN));
  }

  /**
   * The path as whoever answers sees it: decoded, without parameters. What is decided about the
   * written one would be decided about another ({@code /%61pi} is {@code /api}).
   */
  static String path(HttpServletRequest request) {
    String below = request.getPathInfo();
    return request.getServletPath() + (below == null ? "" : below);
  }

  static boolean below(HttpServletRequest request, String root) {
    String path = path(request);
    return path.equals(root) || path.startsWith(root + "/");
  }

  /** What somebody showed to be let in; null when nothing was shown. */
  public static @Nullable String secret(HttpServletRequest request) {
    String bearer = bearer(request);
    return bearer != null ? bearer : cookie(request);
  }

  private static @Nullable String cookie(HttpServletRequest request) {
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

  /** A file that is received; it is bounded while it is read. */
  static boolean isFile(HttpServletRequest request) {
    String path = path(request);
    String type = String.valueOf(request.getContentType());
    return request.getMethod().equals("PUT")
        && (path.equals(RECEIVED) && type.equals("application/zip")
            || path.equals(EVIDENCE) && type.equals("application/octet-stream"));
  }
}
