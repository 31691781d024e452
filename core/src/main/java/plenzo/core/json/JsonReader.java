package plenzo.core.json;

import java.util.ArrayList;
import java.util.List;
import java.util.SortedMap;
import java.util.TreeMap;

/**
 * Strict reader of one JSON document; depth is bounded so that a hostile document cannot end the
 * stack.
 */
final class JsonReader {
  /** Deeper nesting than any component needs (guess); bounds the recursion. */
  private static final int MAX_DEPTH = 100;

  private final String text;
  private int at;
  private String pointer = "";
  private int depth;

  JsonReader(String text) {
    this.text = text;
  }

  Json document() {
    if (text.startsWith("\uFEFF")) {
      throw refused("A byte-order mark");
    }
    Json json = value();
    blank();
    if (at < text.length()) {
      throw refused("Text after the document");
    }
    return json;
  }

  private JsonRefused refused(String what) {
    return new JsonRefused(what, pointer, at);
  }

  private void blank() {
    while (at < text.length() && " \t\n\r".indexOf(text.charAt(at)) >= 0) {
      at++;
    }
  }

  private char peek() {
    blank();
    if (at >= text.length()) {
      throw refused("The document ends too early");
    }
    return text.charAt(at);
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
    } else if (word("true")) {
      json = new Json.Bool(true);
    } else if (word("false")) {
      json = new Json.Bool(false);
    } else if (word("null")) {
      json = new Json.Nul();
    } else {
      throw refused("An unexpected character");
    }
    depth--;
    return json;
  }

  private boolean word(String word) {
    if (text.startsWith(word, at)) {
      at += word.length();
      return true;
    }
    return false;
  }

  private void expect(char c) {
    if (peek() != c) {
      throw refused("Expected '" + c + "'");
    }
    at++;
  }

  private Json object() {
    SortedMap<String, Json> members = new TreeMap<>();
    expect('{');
    if (peek() == '}') {
      at++;
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
      members.put(name, value());
      pointer = outer;
      if (peek() == ',') {
        at++;
      } else {
        expect('}');
        return new Json.Obj(members);
      }
    }
  }

  private Json array() {
    List<Json> items = new ArrayList<>();
    expect('[');
    if (peek() == ']') {
      at++;
      return new Json.Arr(items);
    }
    String outer = pointer;
    while (true) {
      pointer = outer + "/" + items.size();
      items.add(value());
      pointer = outer;
      if (peek() == ',') {
        at++;
      } else {
        expect(']');
        return new Json.Arr(items);
      }
    }
  }

  private Json number() {
    int start = at;
    while (at < text.length() && "+-0123456789.eE".indexOf(text.charAt(at)) >= 0) {
      at++;
    }
    String digits = text.substring(start, at);
    if (!digits.matches("-?(0|[1-9][0-9]{0,15})")) {
      throw refused(
          "The number " + digits + " is not an integer within ±(2^53−1); write it as text");
    }
    long value = Long.parseLong(digits);
    if (Math.abs(value) > Json.MAX_INTEGER) {
      throw refused(
          "The number " + digits + " is not an integer within ±(2^53−1); write it as text");
    }
    return new Json.Num(value);
  }

  private String string() {
    StringBuilder out = new StringBuilder();
    at++;
    while (true) {
      if (at >= text.length()) {
        throw refused("A text that does not end");
      }
      char c = text.charAt(at++);
      if (c == '"') {
        break;
      }
      if (c < 0x20) {
        throw refused("A control character in a text");
      }
      out.append(c == '\\' ? escape() : c);
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
    if (at >= text.length()) {
      throw refused("A text that does not end");
    }
    char c = text.charAt(at++);
    return switch (c) {
      case '"', '\\', '/' -> c;
      case 'b' -> '\b';
      case 'f' -> '\f';
      case 'n' -> '\n';
      case 'r' -> '\r';
      case 't' -> '\t';
      case 'u' -> {
        String hex = at + 4 <= text.length() ? text.substring(at, at + 4) : "";
        if (!hex.matches("[0-9a-fA-F]{4}")) {
          throw refused("A broken escape");
        }
        at += 4;
        yield (char) Integer.parseInt(hex, 16);
      }
      default -> throw refused("An unknown escape");
    };
  }
}
