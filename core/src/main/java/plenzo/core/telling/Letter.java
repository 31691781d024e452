package plenzo.core.telling;

import org.jspecify.annotations.Nullable;
import plenzo.core.history.HistoryEntry;

/**
 * A letter by mail: the state first, then the sentence, the plan's fingerprint and where it is read
 * whole. Control characters and line breaks of what comes from outside never reach its head.
 *
 * @param id under which receivers tell repetitions
 */
public record Letter(String to, String subject, String text, String id) {
  private static final int SUBJECT = 150;

  /**
   * @param at where the console is reached, without a slash at the end; empty where that is not
   *     known
   * @param fingerprint of the plan, as people see it; null where it is about none
   */
  public static Letter of(
      String to, HistoryEntry e, @Nullable String fingerprint, String at, String service) {
    String what = capital(e.event());
    String where =
        (e.application() == null ? "" : e.application())
            + (e.version() == null ? "" : " " + e.version())
            + (e.stage() == null
                ? ""
                : " at " + e.stage() + (e.site() == null ? "" : "/" + e.site()));
    StringBuilder text = new StringBuilder();
    text.append(what).append(where.isBlank() ? "" : ": " + where.strip()).append("\n\n");
    text.append(plain(e.text())).append("\n\n");
    text.append("By ").append(e.actor()).append(", ").append(e.at()).append(" (UTC)\n");
    if (fingerprint != null) {
      text.append("Plan ").append(fingerprint).append('\n');
    }
    String link =
        e.run() != null
            ? "/runs/R-" + e.run()
            : e.promotion() != null ? "/promotions/P-" + e.promotion() : "/history";
    text.append(at.isEmpty() ? "In the console: " : "").append(at).append(link).append('\n');
    text.append("\nWhat you are told of is yours to say: plenzo notice follow, or")
        .append(at.isEmpty() ? " " : " " + at)
        .append("/you\n");
    return new Letter(
        to,
        head(what + (where.isBlank() ? "" : ": " + where.strip())),
        text.toString(),
        service + "-" + e.sequence());
  }

  private static String capital(String event) {
    return event.isEmpty()
        ? event
        : event.substring(0, 1).toUpperCase(java.util.Locale.ROOT) + event.substring(1);
  }

  /** One line without control characters. */
  private static String head(String text) {
    String one = text.replaceAll("[\\p{Cntrl}\\p{Cf}]+", " ").strip();
    return one.length() <= SUBJECT ? one : one.substring(0, SUBJECT - 1) + "…";
  }

  /** Lines stay; other control and invisible characters go. */
  private static String plain(String text) {
    return text.replaceAll("[\\p{Cntrl}\\p{Cf}&&[^\n\t]]+", " ");
  }
}
