package plenzo.core.manual;

import java.time.Duration;
import java.util.List;
import org.jspecify.annotations.Nullable;
import plenzo.core.digest.Digest;
import plenzo.core.json.Json;
import plenzo.core.json.Json.Obj;
import plenzo.core.words.Codes;

/**
 * Work that somebody does outside Plenzo when a version comes to a site.
 *
 * @param when where it stands in a run
 * @param who key of the role whose holders at the site confirm it; empty for whoever may run there
 * @param text what is to be done: the first line names it, the others say how
 * @param link where more is said, an https address; empty for none
 * @param minutes by when it is done, counted from when it is asked; 0 for no limit
 * @param proof whether it is confirmed with a file that shows it
 * @param mayBeLeftOut whether a run may go on without it, with a reason
 */
public record ManualStep(
    When when,
    String who,
    String text,
    String link,
    int minutes,
    boolean proof,
    boolean mayBeLeftOut) {
  /** Most of one version, one leg or one promotion (guess: more is a project). */
  public static final int MOST = 50;

  /** Longest text (guess: more is a document, which the link names). */
  private static final int LONGEST = 4000;

  /** Thirty days. */
  private static final int LONGEST_MINUTES = 30 * 24 * 60;

  public ManualStep {
    text = text.strip();
    who = who.strip();
    link = link.strip();
    if (text.isEmpty() || text.length() > LONGEST) {
      throw new IllegalArgumentException(
          "Work by hand is said in 1 to " + LONGEST + " characters; got " + text.length());
    }
    if (!who.matches("|[a-z][a-z0-9-]{1,39}")) {
      throw new IllegalArgumentException(
          "Who does work by hand is the key of a role, or left out; got \"" + who + "\"");
    }
    if (!link.matches("|https://[^\\s]{1,500}")) {
      throw new IllegalArgumentException(
          "A link about work by hand is an https address; got \"" + link + "\"");
    }
    if (minutes < 0 || minutes > LONGEST_MINUTES) {
      throw new IllegalArgumentException(
          "Work by hand is done within 1 to "
              + LONGEST_MINUTES
              + " minutes, or without a limit (0); got "
              + minutes);
    }
  }

  /** Where in a run it stands. */
  public enum When {
    /** First of all: people work on, and everything is looked at again after it. */
    BEFORE("before", "before anything is looked at, with users working"),
    /** Before the first switch, where the site has a host that closes with users out. */
    CLOSED("closed", "once the site is closed, before the switch"),
    /** After the last switch, before anybody is let in. */
    SWITCHED("switched", "after the switch, before users are let in"),
    /** When everything is there and recorded. */
    AFTER("after", "after users are let in again");

    private final String code;
    private final String words;

    When(String code, String words) {
      this.code = code;
      this.words = words;
    }

    public String code() {
      return code;
    }

    public String words() {
      return words;
    }

    public static When of(String code) {
      return Codes.find("a time of work by hand", values(), When::code, code);
    }
  }

  /** A step that asks for no more than that. */
  public static ManualStep of(When when, String who, String text) {
    return new ManualStep(when, who, text, "", 0, false, false);
  }

  /** Its first line. */
  public String title() {
    return text.lines().findFirst().orElse(text);
  }

  /** How it is done: its other lines. */
  public List<String> how() {
    return text.lines().skip(1).filter(l -> !l.isBlank()).toList();
  }

  public Duration within() {
    return Duration.ofMinutes(minutes);
  }

  public Json toJson() {
    return Json.object(
        "when",
        when.code(),
        "who",
        who.isEmpty() ? null : who,
        "text",
        text,
        "link",
        link.isEmpty() ? null : link,
        "minutes",
        minutes == 0 ? null : (Object) (long) minutes,
        "proof",
        proof ? true : null,
        "mayBeLeftOut",
        mayBeLeftOut ? true : null);
  }

  /**
   * @throws IllegalArgumentException when it is none
   */
  public static ManualStep of(Obj json) {
    long minutes = json.find("minutes") instanceof Json.Num n ? n.value() : 0;
    return new ManualStep(
        When.of(json.text("when")),
        or(json.findText("who")),
        json.text("text"),
        or(json.findText("link")),
        (int) Math.min(minutes, Integer.MAX_VALUE),
        json.flag("proof"),
        json.flag("mayBeLeftOut"));
  }

  private static String or(@Nullable String text) {
    return text == null ? "" : text;
  }

  /** What is covered by a yes: another word of it is another step. */
  public Digest digest() {
    return Digest.of(toJson());
  }

  /**
   * @throws IllegalArgumentException when there are too many, or one stands there twice
   */
  public static List<ManualStep> all(List<ManualStep> steps) {
    if (steps.size() > MOST) {
      throw new IllegalArgumentException(
          "At most " + MOST + " pieces of work by hand; got " + steps.size());
    }
    if (steps.stream().distinct().count() < steps.size()) {
      throw new IllegalArgumentException("The same work by hand stands there twice");
    }
    return List.copyOf(steps);
  }
}
