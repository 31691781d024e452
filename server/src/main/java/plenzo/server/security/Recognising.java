package plenzo.server.security;

import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.List;
import java.util.Optional;
import org.springframework.security.core.context.SecurityContext;
import org.springframework.security.core.context.SecurityContextHolder;
import org.springframework.security.web.authentication.preauth.PreAuthenticatedAuthenticationToken;
import org.springframework.web.filter.OncePerRequestFilter;
import plenzo.engine.Engine;
import plenzo.engine.people.AccessKeys.SignedIn;

/** Tells who is asking, by the browser's session or by a token, and decides nothing. */
final class Recognising extends OncePerRequestFilter {
  private final Engine engine;

  Recognising(Engine engine) {
    this.engine = engine;
  }

  @Override
  protected boolean shouldNotFilter(HttpServletRequest request) {
    return !Asking.below(request, "/api") && !Asking.below(request, Asking.METRICS);
  }

  @Override
  protected void doFilterInternal(
      HttpServletRequest request, HttpServletResponse response, FilterChain chain)
      throws ServletException, IOException {
    String bearer = Asking.bearer(request);
    Optional<SignedIn> who =
        Optional.ofNullable(Asking.secret(request))
            .flatMap(secret -> engine.accessKeys().whoHolds(secret))
            .filter(s -> s.key().token() == (bearer != null));
    if (who.isPresent()) {
      request.setAttribute(Asking.SIGNED_IN, who.get());
      SecurityContext context = SecurityContextHolder.createEmptyContext();
      context.setAuthentication(
          new PreAuthenticatedAuthenticationToken(who.get().person().login(), "", List.of()));
      SecurityContextHolder.setContext(context);
    }
    chain.doFilter(request, response);
  }
}
