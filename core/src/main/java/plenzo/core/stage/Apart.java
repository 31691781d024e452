package plenzo.core.stage;

import java.util.Locale;
import java.util.Optional;
import plenzo.core.words.Codes;

/** Two duties of one promotion that one person may not have: separation of duties. */
public record Apart(Duty one, Duty other) implements Comparable<Apart> {
  /** What people do about a promotion, in the order in which they do it. */
  public enum Duty {
    /** Put the version together and sealed it. */
    AUTHOR,
    /** Opened the promotion. */
    PREPARER,
    /** Said yes to its plan. */
    APPROVER,
    /** Started its run. */
    RUNNER,
    /** Judged it afterwards. */
    TESTER;

    public String code() {
      return name().toLowerCase(Locale.ROOT);
    }

    public static Duty of(String code) {
      return Codes.find("a duty", values(), Duty::code, code);
    }
  }

  public Apart {
    if (one == other) {
      throw new IllegalArgumentException("One duty cannot be kept apart from itself");
    }
    if (one.compareTo(other) > 0) {
      Duty first = other;
      other = one;
      one = first;
    }
  }

  /** "author-approver", in the order of the work. */
  public String code() {
    return one.code() + "-" + other.code();
  }

  /**
   * @param code two duties with a hyphen, in any order
   */
  public static Apart of(String code) {
    int hyphen = code.indexOf('-');
    if (hyphen < 0) {
      throw new IllegalArgumentException(
          "Who may not be whom is written as two duties, such as author-approver; got \""
              + code
              + "\"");
    }
    return new Apart(Duty.of(code.substring(0, hyphen)), Duty.of(code.substring(hyphen + 1)));
  }

  /** The one of the two that is not this; empty when this is neither. */
  Optional<Duty> other(Duty duty) {
    return duty == one ? Optional.of(other) : duty == other ? Optional.of(one) : Optional.empty();
  }

  /** "author and approver to be two people". */
  public String words() {
    return one.code() + " and " + other.code() + " to be two people";
  }

  @Override
  public int compareTo(Apart that) {
    int first = one.compareTo(that.one);
    return first == 0 ? other.compareTo(that.other) : first;
  }
}
