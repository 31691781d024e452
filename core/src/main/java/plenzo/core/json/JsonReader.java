package plenzo.core.json;

import java.io.IOException;
import java.io.Reader;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.function.Consumer;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/**
 * Strict reader of one JSON document; depth is bounded so that a hostile document cannot end the
 * stack, and what one read in pieces keeps at a time is bounded too.
 */
final class JsonReader {
  /** Deeper nesting than any component needs (guess); bounds the recursion. */
  private static final int MAX_DEPTH = 100;

  private static final int END = -1;

  private static final Pattern INTEGER = Pattern.compile("-?(0|[1-9][0-9]{0,15})");

  private final @Nullable Reader more;
  private final char[] buffer;
  private final Map<String, Consumer<Json>> lists;
  private final long longest;
  private int next;
  private int filled;

  /** Characters read so far, and where it is refused as too long. */
  private long at;

  private long stop;
  private String pointer = "";
  private int depth;

  JsonReader(String text) {
    more = null;
    buffer = text.toCharArray();
    filled = buffer.length;
    lists = Map.of();
    longest = Long.MAX_VALUE;
    stop = Long.MAX_VALUE;
  }

  JsonReader(Reader in, Map<String, Consumer<Json>> lists, long longest) {
    more = in;
    buffer = new char[1 << 13];
    this.lists = lists;
    this.longest = longest;
    stop = longest;
  }

  Json document() {
    if (ahead() == 0xFEFF) {
      throw refused("A byte-order mark");
    }
    Json json = value();
    blank();
    if (ahead() != END) {
      throw refused("Text after the document");
    }
    return json;
  }

  private JsonRefused refused(String what) {
    return new JsonRefused(what, pointer, at);
  }

  /** The next character, which stays the next one, or {@code END}. */
  private int ahead() {
    if (next == filled) {
      fill();
    }
    return next == filled ? END : buffer[next];
  }

  private void fill() {
    if (more == null) {
      return;
    }
    try {
      next = 0;
      filled = Math.max(0, more.read(buffer, 0, buffer.length));
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  /** Past the character that was seen ahead. */
  private void step() {
    if (at >= stop) {
      throw refused("More than " + longest + " characters");
    }
    next++;
    at++;
  }

  private void blank() {
    for (int c = ahead(); c == ' ' || c == '\t' || c == '\n' || c == '\r'; c = ahead()) {
      step();
    }
  }

  private char peek() {
    blank();
    int c = ahead();
    if (c == END) {
      throw refused("The document ends too early");
    }
    return (char) c;
  }

  private Json value() {
    if (++depth > MAX_DEPTH) {
      throw refused("More than " + MAX_DEPTH + " levels");
    }
    char c = peek();
    Json json;
    if (c == '{') {
      json = object();
    } else if (c == '[') {
      json = array();
    } else if (c == '"') {
      json = new Json.Str(string());
    } else if (c == '-' || (c >= '0' && c <= '9')) {
      json = number();
    } else if (c == 't') {
      json = word("true", new Json.Bool(true));
    } else if (c == 'f') {
      json = word("false", new Json.Bool(false));
    } else if (c == 'n') {
      json = word("null", new Json.Nul());
    } else {
      throw refused("An unexpected character");
    }
    depth--;
    return json;
  }

  private Json word(String word, Json means) {
    for (int i = 0; i < word.length(); i++) {
      if (ahead() != word.charAt(i)) {
        throw refused("An unexpected character");
      }
      step();
    }
    return means;
  }

  private void expect(char c) {
    if (peek() != c) {
      throw refused("Expected '" + c + "'");
    }
    step();
  }

  private Json object() {
    SortedMap<String, Json> members = new TreeMap<>();
    expect('{');
    if (peek() == '}') {
      step();
      return new Json.Obj(members);
    }
    String outer = pointer;
    while (true) {
      if (peek() != '"') {
        throw refused("Expected a name");
      }
      String name = string();
      pointer = outer + "/" + name.replace("~", "~0").replace("/", "~1");
      if (members.containsKey(name)) {
        throw refused("A repeated name");
      }
      expect(':');
      Consumer<Json> each = depth == 1 ? lists.get(name) : null;
      if (each == null) {
        members.put(name, value());
      } else {
        members.put(name, new Json.Arr(List.of()));
        array(each);
      }
      pointer = outer;
      if (peek() == ',') {
        step();
      } else {
        expect('}');
        return new Json.Obj(members);
      }
    }
  }

  private Json array() {
    List<Json> items = new ArrayList<>();
    items(() -> items.add(value()));
    return new Json.Arr(items);
  }

  /** Each item by itself, and each with a length of its own. */
  private void array(Consumer<Json> each) {
    long began = at;
    long rest = stop;
    stop = Long.MAX_VALUE;
    items(
        () -> {
          stop = at + longest;
          each.accept(value());
          stop = Long.MAX_VALUE;
        });
    stop = rest + (at - began);
  }

  private void items(Runnable item) {
    expect('[');
    if (peek() == ']') {
      step();
      return;
    }
    String outer = pointer;
    for (long n = 0; ; n++) {
      pointer = outer + "/" + n;
      item.run();
      pointer = outer;
      if (peek() == ',') {
        step();
      } else {
        expect(']');
        return;
      }
    }
  }

  private Json number() {
    StringBuilder read = new StringBuilder();
    for (int c = ahead(); c != END && "+-0123456789.eE".indexOf(c) >= 0; c = ahead()) {
      read.append((char) c);
      step();
      if (read.length() > 400) {
        throw refused("A number that is too long");
      }
    }
    String digits = read.toString();
    if (!INTEGER.matcher(digits).matches() || Math.abs(Long.parseLong(digits)) > Json.MAX_INTEGER) {
      throw refused(
          "The number " + digits + " is not an integer within ±(2^53−1); write it as text");
    }
    return new Json.Num(Long.parseLong(digits));
  }

  private String string() {
    StringBuilder out = new StringBuilder();
    step();
    while (true) {
      int c = ahead();
      if (c == END) {
        throw refused("A text that does not end");
      }
      step();
      if (c == '"') {
        break;
      }
      if (c < 0x20) {
        throw refused("A control character in a text");
      }
      out.append(c == '\\' ? escape() : (char) c);
    }
    String value = out.toString();
    for (int i = 0; i < value.length(); i++) {
      char c = value.charAt(i);
      if (Character.isHighSurrogate(c)
          && i + 1 < value.length()
          && Character.isLowSurrogate(value.charAt(i + 1))) {
        i++;
      } else if (Character.isSurrogate(c)) {
        throw refused("A lone surrogate");
      }
    }
    return value;
  }

  private char escape() {
    int c = ahead();
    if (c == END) {
      throw refused("A text that does not end");
    }
    step();
    return switch (c) {
      case '"', '\\', '/' -> (char) c;
      case 'b' -> '\b';
      case 'f' -> '\f';
      case 'n' -> '\n';
      case 'r' -> '\r';
      case 't' -> '\t';
      case 'u' -> {
        int code = 0;
        for (int n = 0; n < 4; n++) {
          int digit = ahead() < 0x80 ? Character.digit(ahead(), 16) : -1;
          if (digit < 0) {
            throw refused("A broken escape");
          }
          code = code << 4 | digit;
          step();
        }
        yield (char) code;
      }
      default -> throw refused("An unknown escape");
    };
  }
}
