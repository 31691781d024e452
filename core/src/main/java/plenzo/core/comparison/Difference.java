package plenzo.core.comparison;

import java.util.Locale;
import plenzo.core.words.Codes;

/** What a promotion would do to one part of a site, or why it leaves it alone. */
public enum Difference {
  /** Both the site and the version moved since the base; a person decides. */
  CONFLICT("!"),
  /** In the version's removals and present: goes. */
  REMOVED("−"),
  /** Present as the base had it, and the version has it otherwise. */
  CHANGED("≠"),
  /** Only in the version. */
  ADDED("+"),
  /** Only at the site, or moved only there: left alone. */
  KEPT("○"),
  /** Equal on both sides. */
  SAME("=");

  private final String sign;

  Difference(String sign) {
    this.sign = sign;
  }

  public String sign() {
    return sign;
  }

  public String code() {
    return name().toLowerCase(Locale.ROOT);
  }

  public static Difference of(String code) {
    return Codes.find("a difference", values(), Difference::code, code);
  }

  /** True when the site would be written to. */
  public boolean writes() {
    return this == ADDED || this == CHANGED || this == REMOVED;
  }
}
