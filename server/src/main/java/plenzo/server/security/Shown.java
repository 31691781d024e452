package plenzo.server.security;

/**
 * Texts from outside as they are shown: control, bidirectional and invisible characters become
 * escapes.
 */
public final class Shown {
  private Shown() {}

  public static String plain(String text) {
    StringBuilder out = null;
    for (int i = 0; i < text.length(); i++) {
      char c = text.charAt(i);
      boolean odd =
          (c < 0x20 && c != '\n' && c != '\t')
              || c == 0x7f
              || (c >= 0x80 && c < 0xa0)
              || Character.getType(c) == Character.FORMAT;
      if (odd && out == null) {
        out = new StringBuilder(text.substring(0, i));
      }
      if (out != null) {
        out.append(odd ? String.format("\\u%04x", (int) c) : String.valueOf(c));
      }
    }
    return out == null ? text : out.toString();
  }
}
