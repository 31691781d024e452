package plenzo.core.history;

import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.function.Predicate;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import plenzo.core.words.Codes;

/**
 * Something of the set-up whose changes people look back on. Events have no column for it: what an
 * event is about is told by its code, its place and how its text begins.
 *
 * @param key such as {@code test/look} for a connection, {@code fares/test/api.url} for a value
 */
public record Thing(Sort sort, String key) {
  /** What there is of the set-up; each with the codes of its events. */
  public enum Sort {
    STAGE("stage registered", "stage changed"),
    CONNECTION("connection registered", "connection changed", "making ready", "made ready"),
    PATH("path laid", "path changed"),
    APPLICATION(
        "application registered", "application changed", "application retired", "repository named"),
    PERSON(
        "person invited",
        "person changed",
        "person disabled",
        "person enabled",
        "password reset",
        "rights changed",
        "key ended"),
    ROLE("role made", "role changed", "role removed"),
    KEY("key made", "key trusted", "key revoked"),
    VALUE("binding set", "binding cleared", "binding set back");

    private final List<String> events;

    Sort(String... events) {
      this.events = List.of(events);
    }

    public String code() {
      return name().toLowerCase(Locale.ROOT);
    }
  }

  /** Letters of a key's id by which texts name it. */
  private static final int BRIEF = 12;

  /**
   * @param text sort and key, such as {@code connection/test/look}
   * @throws IllegalArgumentException when there is no such sort; the message lists all
   */
  public static Thing of(String text) {
    int slash = text.indexOf('/');
    if (slash < 0 || slash == text.length() - 1) {
      throw new IllegalArgumentException(
          "Write what it is and its key, such as connection/test/look; what it can be: "
              + Arrays.stream(Sort.values()).map(Sort::code).collect(Collectors.joining(", ")));
    }
    Sort sort =
        Codes.find("something that is set up", Sort.values(), Sort::code, text.substring(0, slash));
    return new Thing(sort, text.substring(slash + 1));
  }

  /** Codes of the events that can be about it. */
  public List<String> events() {
    return sort.events;
  }

  /** The application that its events name; null when they name none or any. */
  public @Nullable String application() {
    return switch (sort) {
      case APPLICATION -> key;
      case VALUE -> key.split("/", 2)[0];
      default -> null;
    };
  }

  /** The stage that its events name; null when they name none. */
  public @Nullable String stage() {
    return switch (sort) {
      case STAGE -> key;
      case CONNECTION -> key.split("/", 2)[0];
      case VALUE -> key.contains("/") ? key.split("/")[1] : null;
      default -> null;
    };
  }

  /** Whether an event that has one of its codes is about it. */
  public Predicate<HistoryEntry> about() {
    String stage = stage();
    String application = application();
    Predicate<String> begins = Pattern.compile(begins()).asPredicate();
    return e ->
        (stage == null || stage.equals(e.stage()))
            && (application == null || application.equals(e.application()))
            && begins.test(e.text());
  }

  /** How texts of its events begin, as an expression. */
  private String begins() {
    return switch (sort) {
      case STAGE, APPLICATION -> "";
      case CONNECTION -> "^" + quoted(key) + "( |:|$)";
      case PATH -> "^" + quoted(key) + ":";
      case ROLE -> "^Role " + quoted(key) + "( |$)";
      case PERSON ->
          "^(Invited "
              + quoted(key)
              + " |First administrator \""
              + quoted(key)
              + "\"|"
              + quoted(key)
              + " (is now|can) |Password of "
              + quoted(key)
              + " reset|Rights of "
              + quoted(key)
              + " are |.* of "
              + quoted(key)
              + " ended)";
      case KEY -> ", " + quoted(key.substring(0, Math.min(BRIEF, key.length()))) + "(:|$)";
      case VALUE ->
          "^" + quoted(key.substring(key.indexOf('/', key.indexOf('/') + 1) + 1)) + "(:|$)";
    };
  }

  private static String quoted(String text) {
    return Pattern.quote(text);
  }
}
