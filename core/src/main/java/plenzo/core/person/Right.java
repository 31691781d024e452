package plenzo.core.person;

import java.util.Locale;

/**
 * What a person may do; granted per stage and application, judged at the destination (decision
 * D23).
 */
public enum Right {
  LOOK,
  AUTHOR,
  PREPARE,
  APPROVE,
  JUDGE,
  RUN,
  GO_BACK,
  OPERATE,
  SEE_VALUES,
  HAND_OUT,
  BRING_IN,
  ADMINISTER,
  AUDIT;

  public String code() {
    return name().toLowerCase(Locale.ROOT).replace('_', '-');
  }

  public static Right of(String code) {
    for (Right r : values()) {
      if (r.code().equals(code)) {
        return r;
      }
    }
    throw new IllegalArgumentException("Unknown right \"" + code + "\"");
  }
}
