package plenzo.server.web;

import jakarta.servlet.http.HttpServletRequest;
import java.util.Arrays;
import org.jspecify.annotations.Nullable;
import org.springframework.core.MethodParameter;
import org.springframework.http.MediaType;
import org.springframework.http.converter.HttpMessageConverter;
import org.springframework.http.server.ServerHttpRequest;
import org.springframework.http.server.ServerHttpResponse;
import org.springframework.web.bind.annotation.ControllerAdvice;
import org.springframework.web.servlet.mvc.method.annotation.ResponseBodyAdvice;
import plenzo.core.problem.Problem;

/**
 * An edit is of what was looked at (RFC 9110, 13.1.1): whatever has a revision is answered with it
 * as its ETag, and an edit that names another is refused with 412.
 */
@ControllerAdvice
final class IfMatch implements ResponseBodyAdvice<Object> {
  private static final String REVISION = "revision";

  /**
   * The revision that was looked at, by the header or by the body.
   *
   * @return null when nobody looked
   * @throws Problem when the header is no revision, or another than the body's
   */
  static @Nullable Integer revision(HttpServletRequest request, @Nullable Integer inBody) {
    String header = request.getHeader("If-Match");
    if (header == null || header.strip().equals("*")) {
      return inBody;
    }
    String tag = header.strip();
    if (!tag.matches("\"[0-9]{1,9}\"")) {
      throw changed(tag);
    }
    int looked = Integer.parseInt(tag.substring(1, tag.length() - 1));
    if (inBody != null && inBody != looked) {
      throw changed(tag);
    }
    return looked;
  }

  private static Problem changed(String tag) {
    return Problem.changed("CHANGED", "It is not what " + tag + " was.", "Look again");
  }

  @Override
  public boolean supports(
      MethodParameter returned, Class<? extends HttpMessageConverter<?>> converter) {
    Class<?> type = returned.getParameterType();
    return type.isRecord()
        && Arrays.stream(type.getRecordComponents()).anyMatch(c -> c.getName().equals(REVISION));
  }

  @Override
  public @Nullable Object beforeBodyWrite(
      @Nullable Object body,
      MethodParameter returned,
      MediaType type,
      Class<? extends HttpMessageConverter<?>> converter,
      ServerHttpRequest request,
      ServerHttpResponse response) {
    if (body != null) {
      try {
        Object revision = body.getClass().getMethod(REVISION).invoke(body);
        if (revision != null) {
          response.getHeaders().setETag("\"" + revision + "\"");
        }
      } catch (ReflectiveOperationException e) {
        throw new IllegalStateException("A view without its revision", e);
      }
    }
    return body;
  }
}
