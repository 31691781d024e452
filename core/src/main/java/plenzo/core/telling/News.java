package plenzo.core.telling;

import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import plenzo.core.words.Codes;

/** What sort of news an event of the history is; each event is of one. */
public enum News {
  /** Something is half done, or people stand before closed doors: no quiet hours hold it back. */
  URGENT(
      "half written",
      "not opened as a whole",
      "not closed as a whole",
      "records are older",
      "not gone back by itself",
      "going back by itself",
      "service came back",
      "called"),
  /** Something did not come through, or did not start. */
  FAILED(
      "run stopped",
      "run put back",
      "run aborted",
      "scheduled run refused",
      "schedule missed",
      "schedule moved",
      "repeat missed",
      "errand stopped",
      "release stopped",
      "waves stopped",
      Webhook.GIVEN_UP,
      "judged bad"),
  /** A person is asked for something. */
  ASKED(
      "promotion prepared",
      "rollback prepared",
      "put-back prepared",
      "values prepared",
      "release prepared",
      "waves prepared",
      "change proposed",
      "question asked",
      "gates opened",
      "run paused",
      "pause asked"),
  /** Runs that begin, go on and come through. */
  RUNS(
      "run scheduled",
      "run started",
      "scheduled run started",
      "run resumed",
      "run taken over",
      "run done",
      "rolled back",
      "put back",
      "wave done",
      "waves done",
      "release done",
      "errand done",
      "sent on its way"),
  /** What people say of a promotion or a version. */
  WORDS(
      "approved",
      "rejected",
      "approval taken back",
      "judged good",
      "evidence given",
      "yes from outside",
      "no from outside",
      "question answered",
      "promotion withdrawn",
      "notes changed"),
  /** Versions that come to be. */
  VERSIONS("sealed", "package received", "package brought in", "tag seen", "version withdrawn"),
  /** Sites that are not as they are recorded. */
  DRIFT("drift found", "drift left"),
  /** Everything else: who changed what of the set-up. */
  SETUP;

  private final Set<String> events;

  News(String... events) {
    this.events = Set.of(events);
  }

  public String code() {
    return name().toLowerCase(Locale.ROOT);
  }

  /**
   * @throws IllegalArgumentException when it is none
   */
  public static News of(String code) {
    return Codes.find("a sort of news", values(), News::code, code);
  }

  /** The sort of an event, by its words. */
  public static News about(String event) {
    return Arrays.stream(values()).filter(n -> n.events.contains(event)).findFirst().orElse(SETUP);
  }

  public static List<String> codes() {
    return Arrays.stream(values()).map(News::code).toList();
  }
}
