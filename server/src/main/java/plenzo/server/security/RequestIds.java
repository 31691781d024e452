package plenzo.server.security;

import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import org.slf4j.MDC;
import org.springframework.core.Ordered;
import org.springframework.core.annotation.Order;
import org.springframework.security.web.header.HeaderWriter;
import org.springframework.stereotype.Component;
import org.springframework.web.filter.OncePerRequestFilter;
import plenzo.engine.Engine;

/**
 * Each request has an id, in its answer, in its failure and in the log; each answer has the headers
 * that keep browsers safe, also those that the container gives by itself.
 */
@Component
@Order(Ordered.HIGHEST_PRECEDENCE)
class RequestIds extends OncePerRequestFilter {
  private final Engine engine;
  private final HeaderWriter headers;

  RequestIds(Engine engine, HeaderWriter headers) {
    this.engine = engine;
    this.headers = headers;
  }

  @Override
  protected void doFilterInternal(
      HttpServletRequest request, HttpServletResponse response, FilterChain chain)
      throws ServletException, IOException {
    String id = engine.tools().newId().substring(0, 8);
    request.setAttribute(Asking.REQUEST_ID, id);
    response.setHeader("X-Request-Id", id);
    headers.writeHeaders(request, response);
    MDC.put("requestId", id);
    try {
      chain.doFilter(request, response);
    } finally {
      MDC.remove("requestId");
    }
  }
}
