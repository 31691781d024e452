package plenzo.core.telling;

import java.util.Locale;
import org.jspecify.annotations.Nullable;
import plenzo.core.history.HistoryEntry;
import plenzo.core.json.Json;

/** An entry of the history as others read it: CloudEvents 1.0, in the structured JSON form. */
public final class CloudEvent {
  /** What the body is (CloudEvents HTTP binding 1.0, 3.2). */
  public static final String TYPE = "application/cloudevents+json; charset=utf-8";

  private CloudEvent() {}

  /**
   * @param service id of the installation
   */
  public static String of(String service, HistoryEntry e) {
    return Json.object(
            "specversion",
            "1.0",
            "id",
            String.valueOf(e.sequence()),
            "source",
            "urn:plenzo:" + service,
            "type",
            type(e.event()),
            "time",
            e.at().toString(),
            "subject",
            subject(e),
            "datacontenttype",
            "application/json",
            "data",
            Json.object(
                "event",
                e.event(),
                "actor",
                e.actor(),
                "application",
                e.application(),
                "stage",
                e.stage(),
                "site",
                e.site(),
                "version",
                e.version(),
                "promotion",
                e.promotion() == null ? null : "P-" + e.promotion(),
                "run",
                e.run() == null ? null : "R-" + e.run(),
                "text",
                e.text()))
        .canonical();
  }

  /** "plenzo.run-done". */
  public static String type(String event) {
    return "plenzo." + event.toLowerCase(Locale.ROOT).replaceAll("[^a-z0-9]+", "-");
  }

  /** What it is about: "fares@production/north", as far as it is said; never empty. */
  private static String subject(HistoryEntry e) {
    String at = part(e.stage(), "") + part(e.site(), "/");
    String what = part(e.application(), "") + (at.isEmpty() ? "" : "@" + at);
    return what.isEmpty() ? "plenzo" : what;
  }

  private static String part(@Nullable String text, String before) {
    return text == null ? "" : before + text;
  }
}
