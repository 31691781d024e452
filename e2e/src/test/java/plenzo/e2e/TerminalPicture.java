package plenzo.e2e;

import com.microsoft.playwright.Page;
import java.nio.file.Path;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Draws what a command printed on a terminal. */
final class TerminalPicture {
  private static final Pattern CODE = Pattern.compile("\u001b\\[([0-9;]*)m");
  private static final Map<String, String> COLOURS =
      Map.of(
          "1", "font-weight:700",
          "31", "color:#f4735b",
          "32", "color:#5ce8a0",
          "33", "color:#fdb833",
          "35", "color:#b7a6ff",
          "36", "color:#9ad5f8");

  private TerminalPicture() {}

  static void draw(Page page, String command, String printed, Path file) {
    page.setContent(
        "<body style=\"margin:0;background:#151613;color:#f1f0ea\"><pre style=\"margin:0;padding:20px;font:13px/19px ui-monospace,'DejaVu Sans Mono',monospace;white-space:pre-wrap\">"
            + "<span style=\"color:#b9b8ae\">$ </span><b>"
            + escaped(command)
            + "</b>\n"
            + html(printed)
            + "</pre></body>");
    page.screenshot(new Page.ScreenshotOptions().setPath(file));
  }

  private static String html(String printed) {
    Matcher m = CODE.matcher(printed);
    StringBuilder out = new StringBuilder();
    int at = 0;
    boolean open = false;
    while (m.find()) {
      out.append(escaped(printed.substring(at, m.start())));
      at = m.end();
      String style = COLOURS.get(m.group(1));
      out.append(open ? "</span>" : "");
      open = style != null;
      out.append(open ? "<span style=\"" + style + "\">" : "");
    }
    return out.append(escaped(printed.substring(at))).append(open ? "</span>" : "").toString();
  }

  private static String escaped(String text) {
    return text.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;");
  }
}
