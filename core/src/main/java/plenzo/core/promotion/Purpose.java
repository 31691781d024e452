package plenzo.core.promotion;

import java.util.Locale;
import plenzo.core.words.Codes;

/** What a case file is about. */
public enum Purpose {
  /** A version comes. */
  VERSION,
  /** Going back to the values that the host was given before. */
  EARLIER_VALUES,
  /** Going back by an earlier version. */
  EARLIER_VERSION,
  /** Going back by the backup of a run. */
  BACKUP,
  /** What is recorded is made true again. */
  PUT_BACK,
  /** Values of the stage are given to the version that is there. */
  VALUES;

  public String code() {
    return name().toLowerCase(Locale.ROOT).replace('_', '-');
  }

  public static Purpose of(String code) {
    return Codes.find("a purpose", values(), Purpose::code, code);
  }

  public boolean rollback() {
    return this == EARLIER_VALUES || this == EARLIER_VERSION || this == BACKUP;
  }
}
