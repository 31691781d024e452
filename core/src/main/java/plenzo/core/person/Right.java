package plenzo.core.person;

import java.util.Arrays;
import java.util.Locale;
import java.util.Optional;
import plenzo.core.words.Codes;

/**
 * What a person may do; granted per stage and application, judged at the destination (decision
 * D23).
 */
public enum Right {
  LOOK("see what is there and what happens"),
  AUTHOR("make drafts, seal versions, put releases together"),
  PREPARE("open a promotion, decide its conflicts, withdraw it"),
  APPROVE("say yes or no to somebody else's plan, and accept its risks"),
  JUDGE("say whether a version is good where it is"),
  RUN("start what is agreed, and abort it"),
  GO_BACK("open a rollback, start it and abort it"),
  OPERATE("connections, values of inputs, maintenance and activation"),
  SEE_VALUES("see what stands in rows, and save what would be lost"),
  HAND_OUT("build packages and write documents, which carry rows"),
  BRING_IN("receive packages and bring their versions in"),
  ADMINISTER("set up stages, applications, people and keys"),
  AUDIT("see the whole history and verify it");

  private final String words;

  Right(String words) {
    this.words = words;
  }

  /** What it lets one do, after "may". */
  public String words() {
    return words;
  }

  public String code() {
    return name().toLowerCase(Locale.ROOT).replace('_', '-');
  }

  /** The right of that code; empty when there is none. */
  public static Optional<Right> find(String code) {
    return Arrays.stream(values()).filter(r -> r.code().equals(code)).findFirst();
  }

  public static Right of(String code) {
    return Codes.find("a right", values(), Right::code, code);
  }
}
