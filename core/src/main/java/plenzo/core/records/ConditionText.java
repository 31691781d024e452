package plenzo.core.records;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Objects;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;

/**
 * Reads a condition on rows as people write it: {@code zone = 'N' and (amount > 10 or not note is
 * null)}. It is no SQL: columns, =, <>, <, <=, >, >=, is null, and, or, not, parentheses; values
 * bare or in single quotes, a quote in them doubled. "and" binds closer than "or".
 */
public final class ConditionText {
  private static final Pattern TOKEN =
      Pattern.compile(
          "\\s*(?:(?<sign>\\(|\\)|<>|<=|>=|=|<|>)|'(?<text>(?:[^']|'')*)'|(?<word>[^\\s()<>=']+))");

  private record Token(String text, boolean quoted) {
    boolean is(String word) {
      return !quoted && text.toLowerCase(Locale.ROOT).equals(word);
    }
  }

  private final String whole;
  private final List<Token> tokens = new ArrayList<>();
  private int at;

  private ConditionText(String whole) {
    this.whole = whole;
    Matcher m = TOKEN.matcher(whole);
    int end = 0;
    while (end < whole.stripTrailing().length()) {
      if (!m.find(end) || m.start() != end) {
        throw wrong("\"" + whole.substring(end).strip() + "\" is not understood");
      }
      String text = m.group("text");
      tokens.add(
          text != null
              ? new Token(text.replace("''", "'"), true)
              : new Token(m.group("sign") != null ? m.group("sign") : m.group("word"), false));
      end = m.end();
    }
  }

  /**
   * @throws IllegalArgumentException when it is no condition; the message says where
   */
  public static RowCondition of(String text) {
    ConditionText t = new ConditionText(text);
    RowCondition out = t.any();
    if (t.at < t.tokens.size()) {
      throw t.wrong("\"" + t.tokens.get(t.at).text() + "\" is one too many");
    }
    return out;
  }

  /** As {@link #of} reads it. */
  public static String text(RowCondition c) {
    return switch (c.operator()) {
      case "and", "or" ->
          c.parts().stream()
              .map(p -> p.parts().size() > 1 ? "(" + text(p) + ")" : text(p))
              .collect(Collectors.joining(" " + c.operator() + " "));
      case "not" -> "not (" + text(c.parts().get(0)) + ")";
      case "is null" -> c.column() + " is null";
      default ->
          c.column()
              + " "
              + c.operator()
              + " '"
              + Objects.requireNonNull(c.value()).replace("'", "''")
              + "'";
    };
  }

  private RowCondition any() {
    return joined("or", this::all);
  }

  private RowCondition all() {
    return joined("and", this::one);
  }

  private RowCondition joined(String word, java.util.function.Supplier<RowCondition> part) {
    List<RowCondition> parts = new ArrayList<>(List.of(part.get()));
    while (next(word)) {
      parts.add(part.get());
    }
    return parts.size() == 1 ? parts.get(0) : new RowCondition(word, null, null, parts);
  }

  private RowCondition one() {
    if (next("not")) {
      return new RowCondition("not", null, null, List.of(one()));
    }
    if (next("(")) {
      RowCondition inside = any();
      require(")");
      return inside;
    }
    String column = take("a column").text();
    if (next("is")) {
      require("null");
      return new RowCondition("is null", column, null, List.of());
    }
    String operator = take("=, <>, <, <=, >, >= or \"is null\"").text();
    return new RowCondition(operator, column, take("a value").text(), List.of());
  }

  private boolean next(String word) {
    boolean is = at < tokens.size() && tokens.get(at).is(word);
    at += is ? 1 : 0;
    return is;
  }

  private void require(String word) {
    if (!next(word)) {
      throw wrong("\"" + word + "\" is missing");
    }
  }

  private Token take(String what) {
    if (at == tokens.size()) {
      throw wrong(what + " is missing at the end");
    }
    return tokens.get(at++);
  }

  private IllegalArgumentException wrong(String why) {
    return new IllegalArgumentException("The condition \"" + whole + "\" cannot be read: " + why);
  }
}
