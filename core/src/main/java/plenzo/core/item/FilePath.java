package plenzo.core.item;

import java.text.Normalizer;
import java.util.Locale;

/** The rule for names of files, which become paths below a directory. */
public final class FilePath {
  /** Bytes of one part that common file systems keep (ext4, xfs, NTFS: 255). */
  private static final int PART = 255;

  private FilePath() {}

  /**
   * Why the text is no safe path inside a tree; empty when it is: relative, no empty part, "." or
   * "..", no NUL, backslash or control character, in Unicode's normal form C.
   */
  public static String problem(String path) {
    if (path.isEmpty() || path.startsWith("/")) {
      return "it is not relative";
    }
    for (int i = 0; i < path.length(); i++) {
      char c = path.charAt(i);
      if (c == '\\' || c < ' ' || c == 0x7f) {
        return "it has a backslash or a control character";
      }
      if (Character.isSurrogate(c)) {
        boolean pair =
            Character.isHighSurrogate(c)
                && i + 1 < path.length()
                && Character.isLowSurrogate(path.charAt(i + 1));
        if (!pair) {
          return "it has half a character";
        }
        i++;
      }
    }
    if (!Normalizer.isNormalized(path, Normalizer.Form.NFC)) {
      return "it is not in Unicode's normal form C";
    }
    for (String part : path.split("/", -1)) {
      if (part.isEmpty() || part.equals(".") || part.equals("..")) {
        return "it has an empty part, \".\" or \"..\"";
      }
      if (part.getBytes(java.nio.charset.StandardCharsets.UTF_8).length > PART) {
        return "a part of it is longer than " + PART + " bytes";
      }
    }
    return "";
  }

  /** What is refused is said back no longer than it can be read. */
  private static String shown(String path) {
    return path.length() <= 200 ? path : path.substring(0, 200) + "…";
  }

  /**
   * @throws IllegalArgumentException when it is no safe path
   */
  public static String require(String path) {
    String problem = problem(path);
    if (!problem.isEmpty()) {
      throw new IllegalArgumentException("The path \"" + shown(path) + "\" is refused: " + problem);
    }
    return path;
  }

  /** Whether a link at the path with this text leads to something inside the tree. */
  public static boolean staysInside(String path, String link) {
    if (link.isEmpty() || link.startsWith("/") || link.indexOf('\\') >= 0) {
      return false;
    }
    int depth = path.split("/").length - 1;
    for (String part : link.split("/")) {
      if (part.equals("..")) {
        depth--;
      } else if (!part.isEmpty() && !part.equals(".")) {
        depth++;
      }
      if (depth < 0) {
        return false;
      }
    }
    return true;
  }

  /** What two names share that a file system without upper and lower case cannot tell apart. */
  public static String folded(String path) {
    return path.toLowerCase(Locale.ROOT);
  }
}
