package plenzo.core.stage;

import java.util.Locale;
import plenzo.core.words.Codes;

/**
 * How far a version goes by a leg without anybody starting it.
 *
 * @param by whose rights it goes by: whoever said so last; judged again each time
 */
public record Onward(How how, String by) {
  /** How far. */
  public enum How {
    /** A promotion is prepared and compared; people start its run. */
    PREPARED,
    /** Its run starts when every gate is open, where it takes nothing away. */
    RUN;

    public String code() {
      return name().toLowerCase(Locale.ROOT);
    }

    /**
     * @throws IllegalArgumentException when it is none
     */
    public static How of(String code) {
      return Codes.find("how a version goes on", values(), How::code, code);
    }
  }

  /** "a version that may come is prepared by itself, by the rights of ines". */
  public String words() {
    return "a version that may come is "
        + (how == How.RUN ? "prepared and run" : "prepared")
        + " by itself, by the rights of "
        + by;
  }
}
