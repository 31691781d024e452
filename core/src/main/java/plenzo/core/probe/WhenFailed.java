package plenzo.core.probe;

import java.util.Locale;
import plenzo.core.words.Codes;

/** What a run does when an answer after its switch is not as it should be. */
public enum WhenFailed {
  /** Lets users in, and says that there is something to look at. */
  LOOK,
  /** Keeps users out and calls: a person lets them in or goes back. */
  PAUSE,
  /**
   * Keeps users out and goes back by itself where a yes covers that; else it waits for a person.
   */
  BACK;

  public String code() {
    return name().toLowerCase(Locale.ROOT);
  }

  public static WhenFailed of(String code) {
    return Codes.find("what a failed question does", values(), WhenFailed::code, code);
  }

  /** What it comes to, a part of a sentence. */
  public String words() {
    return switch (this) {
      case LOOK -> "an answer that is not as it should be is to be looked at";
      case PAUSE -> "an answer that is not as it should be keeps users out until a person decides";
      case BACK ->
          "an answer that is not as it should be brings the earlier version back by itself";
    };
  }
}
