package plenzo.core.item;

import org.jspecify.annotations.Nullable;
import plenzo.core.json.Json;

/**
 * The first line of a file's canonical content, before its bytes: what of a file is content beside
 * them. Owner and times are not.
 *
 * @param executable the one bit of the mode that every system keeps
 * @param link text of a link inside the tree, null for a plain file
 */
public record FileHead(boolean executable, @Nullable String link) {
  /** Longer lines are no head of ours. */
  public static final int LONGEST = 8192;

  public String line() {
    return Json.object("executable", executable ? true : null, "link", link).canonical() + "\n";
  }

  /**
   * @throws IllegalArgumentException when the line is no head
   */
  public static FileHead of(String line) {
    if (!(Json.parse(line) instanceof Json.Obj head)) {
      throw new IllegalArgumentException("A file's content begins with a JSON object in one line");
    }
    return new FileHead(head.flag("executable"), head.findText("link"));
  }
}
