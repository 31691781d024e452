package plenzo.core.json;

import java.lang.reflect.AnnotatedParameterizedType;
import java.lang.reflect.AnnotatedType;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.RecordComponent;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * A record that came from outside is whole: what is not marked as nullable there has to be there,
 * in lists and maps too. Records are the one description of a message.
 */
public final class Whole {
  private Whole() {}

  /** Something is missing; the pointer (RFC 6901) says what. */
  public static final class Missing extends RuntimeException {
    private static final long serialVersionUID = 1;
    private final String pointer;

    Missing(String pointer) {
      super(pointer + " is missing", null, false, false);
      this.pointer = pointer;
    }

    public String pointer() {
      return pointer;
    }
  }

  /**
   * @throws Missing when it is null, or a part of it is that must not be
   */
  public static <T> T require(@Nullable T value) {
    if (value == null) {
      throw new Missing("");
    }
    check(value, "");
    return value;
  }

  private static void check(Object value, String at) {
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
      throw new IllegalStateException("A record cannot be read", e);
    }
  }
}
