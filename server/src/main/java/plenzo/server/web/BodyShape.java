package plenzo.server.web;

import java.lang.reflect.AnnotatedParameterizedType;
import java.lang.reflect.AnnotatedType;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.RecordComponent;
import java.lang.reflect.Type;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.springframework.core.MethodParameter;
import org.springframework.http.HttpInputMessage;
import org.springframework.http.converter.HttpMessageConverter;
import org.springframework.web.bind.annotation.ControllerAdvice;
import org.springframework.web.servlet.mvc.method.annotation.RequestBodyAdviceAdapter;

/**
 * Every body is held against its record before anybody sees it: what is not marked as nullable
 * there has to be there, in lists and maps too. Records are the one description of a body; the
 * API's document is made of them.
 */
@ControllerAdvice
class BodyShape extends RequestBodyAdviceAdapter {
  /** Something is missing; the pointer (RFC 6901) says what. */
  static final class Missing extends RuntimeException {
    private static final long serialVersionUID = 1;
    private final String pointer;

    Missing(String pointer) {
      super(pointer + " is missing", null, false, false);
      this.pointer = pointer;
    }

    String pointer() {
      return pointer;
    }
  }

  @Override
  public boolean supports(
      MethodParameter parameter, Type target, Class<? extends HttpMessageConverter<?>> converter) {
    return true;
  }

  /** Also called for the word {@code null}, which is no body. */
  @Override
  public Object afterBodyRead(
      @Nullable Object body,
      HttpInputMessage input,
      MethodParameter parameter,
      Type target,
      Class<? extends HttpMessageConverter<?>> converter) {
    if (body == null) {
      throw new Missing("");
    }
    check(body, "");
    return body;
  }

  /**
   * @throws Missing when a part is null that must not be
   */
  static void check(Object value, String at) {
    if (!value.getClass().isRecord()) {
      return;
    }
    for (RecordComponent c : value.getClass().getRecordComponents()) {
      part(read(c, value), c.getAnnotatedType(), at + "/" + c.getName());
    }
  }

  private static void part(@Nullable Object value, AnnotatedType type, String at) {
    if (value == null) {
      if (!type.isAnnotationPresent(Nullable.class)) {
        throw new Missing(at);
      }
      return;
    }
    AnnotatedType[] inside =
        type instanceof AnnotatedParameterizedType p
            ? p.getAnnotatedActualTypeArguments()
            : new AnnotatedType[0];
    if (value instanceof List<?> list && inside.length == 1) {
      for (int n = 0; n < list.size(); n++) {
        part(list.get(n), inside[0], at + "/" + n);
      }
    } else if (value instanceof Map<?, ?> map && inside.length == 2) {
      map.forEach((k, v) -> part(v, inside[1], at + "/" + k));
    } else {
      check(value, at);
    }
  }

  private static @Nullable Object read(RecordComponent c, Object from) {
    try {
      c.getAccessor().setAccessible(true);
      return c.getAccessor().invoke(from);
    } catch (IllegalAccessException | InvocationTargetException e) {
      throw new IllegalStateException("A body's record cannot be read", e);
    }
  }
}
