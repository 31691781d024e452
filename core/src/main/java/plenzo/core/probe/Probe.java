package plenzo.core.probe;

import java.util.Locale;
import org.jspecify.annotations.Nullable;
import plenzo.core.stage.SiteKey;
import plenzo.core.words.Codes;

/**
 * A question that a run asks a site before and after.
 *
 * @param question JSON text that the host understands, an address, a query, or the path of a file;
 *     in an address and a path {@code {stage}} and {@code {site}} stand for the site's
 * @param mustStay whether the same answer is expected after; else it must only be answered
 * @param sort who is asked; null in applications of before, of the host
 * @param expected what is expected after: of a host and a query the whole answer, of a page and a
 *     file a text that it has; null where nothing is
 */
public record Probe(
    String name,
    String question,
    boolean mustStay,
    @Nullable Sort sort,
    @Nullable String expected) {
  /** Longest text, of each (guess: more is a program). */
  private static final int LONGEST = 4000;

  public Probe {
    sort = sort == null ? Sort.HOST : sort;
    if (name.isBlank() || name.length() > 100) {
      throw new IllegalArgumentException("A question has a name of 1 to 100 characters");
    }
    if (question.isBlank() || question.length() > LONGEST) {
      throw new IllegalArgumentException(
          "The question \"" + name + "\" has 1 to " + LONGEST + " characters");
    }
    if (expected != null && (expected.isBlank() || expected.length() > LONGEST)) {
      throw new IllegalArgumentException(
          "What \"" + name + "\" is expected to answer has 1 to " + LONGEST + " characters");
    }
    if (sort == Sort.PAGE && !question.matches("https?://[^\\s]+")) {
      throw new IllegalArgumentException(
          "The question \"" + name + "\" is the address of a page, https://…; got " + question);
    }
    if (sort == Sort.FILE && !question.matches("[^/\\s\\\\][^\\s\\\\]*")) {
      throw new IllegalArgumentException(
          "The question \""
              + name
              + "\" is the path of a published file without a leading /; got "
              + question);
    }
    if (sort == Sort.QUERY && question.contains(";")) {
      throw new IllegalArgumentException(
          "The question \"" + name + "\" is one query without a semicolon");
    }
  }

  /** A question to the host of which nothing is expected but that it stays, or that it comes. */
  public Probe(String name, String question, boolean mustStay) {
    this(name, question, mustStay, Sort.HOST, null);
  }

  @Override
  public Sort sort() {
    return sort == null ? Sort.HOST : sort;
  }

  /** Who is asked. */
  public enum Sort {
    /** The application host, in its own JSON. */
    HOST,
    /** A page, by its address. */
    PAGE,
    /** The database, on the account that looks. */
    QUERY,
    /** A published file. */
    FILE;

    public String code() {
      return name().toLowerCase(Locale.ROOT);
    }

    public static Sort of(String code) {
      return Codes.find("a sort of question", values(), Sort::code, code);
    }
  }

  /** The question as it is asked at a site. */
  public String at(SiteKey site) {
    return sort() == Sort.PAGE || sort() == Sort.FILE
        ? question.replace("{stage}", site.stage()).replace("{site}", site.site())
        : question;
  }

  /** What a yes covers of it, where it decides what a run does. */
  public String code() {
    return sort().code()
        + " "
        + plenzo.core.digest.Digest.of(
                plenzo.core.json.Json.object(
                    "question", question, "mustStay", mustStay, "expected", expected))
            .hex();
  }
}
