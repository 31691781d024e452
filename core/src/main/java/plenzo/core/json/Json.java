package plenzo.core.json;

import java.io.BufferedWriter;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.OutputStream;
import java.io.OutputStreamWriter;
import java.io.UncheckedIOException;
import java.io.Writer;
import java.nio.charset.StandardCharsets;
import java.util.AbstractList;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.function.Consumer;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/**
 * A JSON value as Plenzo digests it: objects, arrays, strings, booleans, null and integers within
 * ±(2^53−1). Every other number is carried as a string in its canonical text, because RFC 8785
 * would change it.
 */
public sealed interface Json {
  /** The largest integer that every JSON reader keeps: 2^53 − 1. */
  long MAX_INTEGER = 9007199254740991L;

  /**
   * @throws JsonRefused when it is no object
   */
  default Obj asObject() {
    if (this instanceof Obj object) {
      return object;
    }
    throw new JsonRefused("Expected an object", "");
  }

  record Obj(SortedMap<String, Json> members) implements Json {
    public Obj {
      members = java.util.Collections.unmodifiableSortedMap(new TreeMap<>(members));
    }

    /** The member, or null when there is none or it is null. */
    public @Nullable Json find(String name) {
      Json value = members.get(name);
      return value instanceof Nul ? null : value;
    }

    public String text(String name) {
      if (find(name) instanceof Str s) {
        return s.value();
      }
      throw new JsonRefused("Expected text", "/" + name);
    }

    public @Nullable String findText(String name) {
      return find(name) instanceof Str s ? s.value() : null;
    }

    public boolean flag(String name) {
      return find(name) instanceof Bool b && b.value();
    }

    public List<Json> list(String name) {
      return find(name) instanceof Arr a ? a.items() : List.of();
    }

    public List<String> texts(String name) {
      List<String> out = new ArrayList<>();
      for (Json j : list(name)) {
        if (!(j instanceof Str text)) {
          throw new JsonRefused("Expected texts", "/" + name);
        }
        out.add(text.value());
      }
      return out;
    }
  }

  record Arr(List<Json> items) implements Json {
    public Arr {
      items = items instanceof Made ? items : List.copyOf(items);
    }
  }

  /** Items that are made anew each time they are asked for, so that a long list takes no memory. */
  final class Made<T> extends AbstractList<Json> {
    private final List<T> of;
    private final Function<T, Json> how;

    private Made(List<T> of, Function<T, Json> how) {
      this.of = of;
      this.how = how;
    }

    @Override
    public Json get(int n) {
      return how.apply(of.get(n));
    }

    @Override
    public int size() {
      return of.size();
    }
  }

  record Str(String value) implements Json {}

  record Num(long value) implements Json {
    public Num {
      if (value > MAX_INTEGER || value < -MAX_INTEGER) {
        throw new IllegalArgumentException("Integer out of ±(2^53−1): " + value);
      }
    }
  }

  record Bool(boolean value) implements Json {}

  record Nul() implements Json {}

  static Json of(@Nullable String value) {
    return value == null ? new Nul() : new Str(value);
  }

  static Json of(boolean value) {
    return new Bool(value);
  }

  static Json of(long value) {
    return new Num(value);
  }

  static Json of(Collection<String> values) {
    return new Arr(values.stream().map(v -> (Json) new Str(v)).toList());
  }

  /** An array whose items are made while it is written; the list must not change meanwhile. */
  static <T> Arr each(List<T> of, Function<T, Json> how) {
    return new Arr(new Made<>(of, how));
  }

  static Obj object(Map<String, Json> members) {
    return new Obj(new TreeMap<>(members));
  }

  /** An object from name, value, name, value …; a null value leaves the member out. */
  static Obj object(@Nullable Object... namesAndValues) {
    SortedMap<String, Json> members = new TreeMap<>();
    for (int i = 0; i < namesAndValues.length; i += 2) {
      Object value = namesAndValues[i + 1];
      if (value == null) {
        continue;
      }
      Json json;
      if (value instanceof Json j) {
        json = j;
      } else if (value instanceof String s) {
        json = new Str(s);
      } else if (value instanceof Boolean b) {
        json = new Bool(b);
      } else if (value instanceof Number n) {
        json = new Num(n.longValue());
      } else if (value instanceof Collection<?> c) {
        json =
            new Arr(c.stream().map(e -> e instanceof Json j ? j : new Str(e.toString())).toList());
      } else {
        throw new IllegalArgumentException("No JSON for " + value.getClass());
      }
      members.put(String.valueOf(namesAndValues[i]), json);
    }
    return new Obj(members);
  }

  /** The canonical text by RFC 8785. */
  default String canonical() {
    StringBuilder out = new StringBuilder();
    try {
      JsonWriter.write(this, out);
    } catch (IOException e) {
      throw new UncheckedIOException("A text takes everything", e);
    }
    return out.toString();
  }

  /** Writes the canonical text as UTF-8, without holding all of it; the stream stays open. */
  default void writeTo(OutputStream out) throws IOException {
    Writer text = new BufferedWriter(new OutputStreamWriter(out, StandardCharsets.UTF_8));
    JsonWriter.write(this, text);
    text.flush();
  }

  /**
   * Reads one document.
   *
   * @throws JsonRefused when the text is not JSON, repeats a key, holds a lone surrogate, a
   *     byte-order mark or a number that is not an integer within ±(2^53−1); nothing is returned
   *     then
   */
  static Json parse(String text) {
    return new JsonReader(text).document();
  }

  /**
   * The same of a document that has to be an object.
   *
   * @throws JsonRefused also when it is something else
   */
  static Obj parseObject(String text) {
    if (parse(text) instanceof Obj object) {
      return object;
    }
    throw new JsonRefused("Expected an object", "");
  }

  /**
   * Reads one document of UTF-8 in pieces: the items of the outermost object's lists named here are
   * handed over one by one, and those lists are empty in what is returned.
   *
   * @param longest most characters of one such item, and of all the rest together
   * @throws JsonRefused as {@link #parse(String)}, or when something is too long
   * @throws java.nio.charset.CharacterCodingException when it is no UTF-8
   */
  static Json parse(InputStream in, Map<String, Consumer<Json>> lists, int longest)
      throws IOException {
    try {
      return new JsonReader(
              new InputStreamReader(in, StandardCharsets.UTF_8.newDecoder()), lists, longest)
          .document();
    } catch (UncheckedIOException e) {
      throw e.getCause();
    }
  }
}
