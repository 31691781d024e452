package plenzo.core.json;

import java.io.IOException;
import java.util.Map;

/** Writes canonical JSON by RFC 8785: members by UTF-16 order, shortest escapes, no white space. */
final class JsonWriter {
  private JsonWriter() {}

  static void write(Json json, Appendable out) throws IOException {
    if (json instanceof Json.Obj o) {
      char separator = '{';
      if (o.members().isEmpty()) {
        out.append('{');
      }
      for (Map.Entry<String, Json> e : o.members().entrySet()) {
        out.append(separator);
        separator = ',';
        string(e.getKey(), out);
        out.append(':');
        write(e.getValue(), out);
      }
      out.append('}');
    } else if (json instanceof Json.Arr a) {
      out.append('[');
      boolean first = true;
      for (Json item : a.items()) {
        if (!first) {
          out.append(',');
        }
        first = false;
        write(item, out);
      }
      out.append(']');
    } else if (json instanceof Json.Str s) {
      string(s.value(), out);
    } else if (json instanceof Json.Num n) {
      out.append(Long.toString(n.value()));
    } else if (json instanceof Json.Bool b) {
      out.append(Boolean.toString(b.value()));
    } else {
      out.append("null");
    }
  }

  private static void string(String value, Appendable out) throws IOException {
    out.append('"');
    for (int i = 0; i < value.length(); i++) {
      char c = value.charAt(i);
      switch (c) {
        case '"' -> out.append("\\\"");
        case '\\' -> out.append("\\\\");
        case '\b' -> out.append("\\b");
        case '\f' -> out.append("\\f");
        case '\n' -> out.append("\\n");
        case '\r' -> out.append("\\r");
        case '\t' -> out.append("\\t");
        default -> {
          if (c < 0x20) {
            out.append(String.format("\\u%04x", (int) c));
          } else {
            out.append(c);
          }
        }
      }
    }
    out.append('"');
  }
}
