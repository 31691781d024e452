package plenzo.server.security;

import static org.springframework.http.HttpMethod.GET;
import static org.springframework.http.HttpMethod.HEAD;
import static org.springframework.http.HttpMethod.POST;

import jakarta.servlet.http.HttpServletRequest;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.security.authentication.AuthenticationManager;
import org.springframework.security.authentication.BadCredentialsException;
import org.springframework.security.authorization.AuthorizationDecision;
import org.springframework.security.authorization.AuthorizationManager;
import org.springframework.security.config.annotation.web.builders.HttpSecurity;
import org.springframework.security.config.annotation.web.configurers.AbstractHttpConfigurer;
import org.springframework.security.config.http.SessionCreationPolicy;
import org.springframework.security.config.observation.SecurityObservationSettings;
import org.springframework.security.web.SecurityFilterChain;
import org.springframework.security.web.access.intercept.RequestAuthorizationContext;
import org.springframework.security.web.csrf.CsrfFilter;
import org.springframework.security.web.csrf.CsrfTokenRequestAttributeHandler;
import org.springframework.security.web.header.HeaderWriter;
import org.springframework.security.web.header.writers.CompositeHeaderWriter;
import org.springframework.security.web.header.writers.HstsHeaderWriter;
import org.springframework.security.web.header.writers.StaticHeadersWriter;
import plenzo.engine.Engine;

/**
 * The chain: an address is let in here or it is refused (rules M). It is judged by its decoded
 * path. What a person may do there is decided by the engine.
 */
@Configuration(proxyBeanMethods = false)
class Door {
  private static final String HEALTH = "/health";
  private static final String SESSION = "/api/v1/session";
  private static final String POLICY =
      "default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; font-src 'self'; img-src 'self' data:; connect-src 'self'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'";

  @Bean
  SecurityFilterChain chain(HttpSecurity http, Engine engine, Refusals refusals) {
    return http.addFilterBefore(new Recognising(engine), CsrfFilter.class)
        .csrf(
            c ->
                c.requireCsrfProtectionMatcher(SessionKeys::asked)
                    .csrfTokenRepository(new SessionKeys())
                    .csrfTokenRequestHandler(new CsrfTokenRequestAttributeHandler()))
        .headers(AbstractHttpConfigurer::disable) // written by RequestIds, on every answer
        .sessionManagement(s -> s.sessionCreationPolicy(SessionCreationPolicy.STATELESS))
        .requestCache(AbstractHttpConfigurer::disable)
        .logout(AbstractHttpConfigurer::disable)
        .formLogin(AbstractHttpConfigurer::disable)
        .httpBasic(AbstractHttpConfigurer::disable)
        .exceptionHandling(x -> x.authenticationEntryPoint(refusals).accessDeniedHandler(refusals))
        .authorizeHttpRequests(
            a ->
                a.requestMatchers(GET, HEALTH, "/api/openapi")
                    .permitAll()
                    // its address holds a secret that opens nothing else
                    .requestMatchers(GET, Asking.FEEDS + "/*/calendar.ics")
                    .permitAll()
                    .requestMatchers(POST, SESSION, Asking.HOOKS + "/*")
                    .permitAll()
                    .requestMatchers(SESSION + "/**")
                    .authenticated()
                    .requestMatchers("/api/**", Asking.METRICS + "/**")
                    .access(ownPassword())
                    // the console's pages and files; what is none of them is not found
                    .requestMatchers(GET, "/**")
                    .permitAll()
                    .requestMatchers(HEAD, "/**")
                    .permitAll()
                    .anyRequest()
                    .denyAll())
        .build();
  }

  /** Signed in, with a password that nobody else knows. */
  private static AuthorizationManager<RequestAuthorizationContext> ownPassword() {
    return (who, at) ->
        new AuthorizationDecision(
            Asking.known(at.getRequest()).isPresent() && !mustChange(at.getRequest()));
  }

  static boolean mustChange(HttpServletRequest request) {
    return Asking.known(request).map(s -> s.person().mustChange()).orElse(false);
  }

  /** What strangers may send. */
  static boolean open(HttpServletRequest request) {
    return request.getMethod().equals("POST")
        && (Asking.path(request).equals(SESSION) || Asking.below(request, Asking.HOOKS));
  }

  /** On every answer, also on those that the firewall or the container gives. */
  @Bean
  HeaderWriter headers() {
    HeaderWriter stored =
        (request, response) -> {
          if (Asking.below(request, "/api") || Asking.below(request, Asking.METRICS)) {
            response.setHeader("Cache-Control", "no-store");
          }
        };
    return new CompositeHeaderWriter(
        java.util.List.of(
            new StaticHeadersWriter("Content-Security-Policy", POLICY),
            new StaticHeadersWriter("X-Content-Type-Options", "nosniff"),
            new StaticHeadersWriter("X-Frame-Options", "DENY"),
            new StaticHeadersWriter("Referrer-Policy", "no-referrer"),
            new StaticHeadersWriter("Cross-Origin-Opener-Policy", "same-origin"),
            new HstsHeaderWriter(),
            stored));
  }

  /** Requests are measured as a whole; each filter by itself would cost more than it says. */
  @Bean
  SecurityObservationSettings unmeasured() {
    return SecurityObservationSettings.noObservations();
  }

  /** People sign in at the engine; the library keeps no people of its own. */
  @Bean
  AuthenticationManager nobodyElse() {
    return who -> {
      throw new BadCredentialsException("Nobody signs in here");
    };
  }
}
