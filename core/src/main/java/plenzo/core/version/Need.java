package plenzo.core.version;

import java.math.BigInteger;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.Kind;

/**
 * A prerequisite: another application that must be at the same site, a release of the software of
 * one of its targets, or an extension of its database, in a range of versions.
 *
 * @param application its key; {@code server/database} or {@code server/host} for the software of a
 *     target, {@code extension/NAME} for an extension
 * @param range comparisons that must all hold, such as {@code >=1.8.0 <3.0.0}
 */
public record Need(String application, String range) implements Comparable<Need> {
  private static final Pattern ONE = Pattern.compile("(>=|<=|>|<|=)(.+)");

  public Need {
    if (!application.matches(
        "server/(database|host)|extension/[A-Za-z0-9_-]{1,63}|[a-z][a-z0-9-]{0,39}")) {
      throw new IllegalArgumentException(
          "A prerequisite names an application by its key, or server/database, server/host or extension/NAME; got \""
              + application
              + "\"");
    }
    range = String.join(" ", range.strip().split("\\s+"));
    if (range.isEmpty() || range.length() > 200) {
      throw new IllegalArgumentException("A prerequisite needs a range such as >=1.8.0 <3.0.0");
    }
    for (String part : range.split(" ")) {
      String number = comparison(part).group(2);
      boolean extension = application.startsWith(EXTENSION);
      if (extension ? number(number).isEmpty() : new SemVer(number).text().isEmpty()) {
        throw new IllegalArgumentException("\"" + number + "\" does not begin with a number");
      }
    }
  }

  /** The extension that is meant, null for anything else. */
  public @Nullable String extension() {
    return application.startsWith(EXTENSION) ? application.substring(EXTENSION.length()) : null;
  }

  /** That an extension has at least the version that it had where a version was made. */
  public static Need ofExtension(String name, String version) {
    return new Need(EXTENSION + name, ">=" + version);
  }

  /** What the software of targets and extensions tells of itself has two numbers, or more. */
  private static final Pattern NUMBERS = Pattern.compile("(\\d+)(?:\\.(\\d+))?(?:\\.(\\d+))?.*");

  /**
   * Whether an extension of that version is in the range; of one that begins with no number it is
   * not known, and then it is not.
   */
  public boolean holdsExtension(String version) {
    return number(version).filter(this::holds).isPresent();
  }

  private static Optional<SemVer> number(String version) {
    Matcher m = NUMBERS.matcher(version);
    return m.matches()
        ? Optional.of(
            new SemVer(whole(m.group(1)) + "." + whole(m.group(2)) + "." + whole(m.group(3))))
        : Optional.empty();
  }

  private static String whole(@Nullable String digits) {
    return digits == null ? "0" : new BigInteger(digits).toString();
  }

  private SemVer compared(String version) {
    return extension() == null ? new SemVer(version) : number(version).orElseThrow();
  }

  /** Whose software is meant; null for an application. */
  public Kind.@Nullable Holder server() {
    return switch (application) {
      case "server/database" -> Kind.Holder.DATABASE;
      case "server/host" -> Kind.Holder.HOST;
      default -> null;
    };
  }

  /**
   * @throws IllegalArgumentException when the text is not {@code application range}
   */
  public static Need of(String text) {
    String[] parts = text.strip().split("\\s+", 2);
    if (parts.length < 2) {
      throw new IllegalArgumentException(
          "Write a prerequisite as: sailings >=1.8.0 <3.0.0; got \"" + text + "\"");
    }
    return new Need(parts[0], parts[1]);
  }

  private static final String EXTENSION = "extension/";

  private static Matcher comparison(String part) {
    Matcher m = ONE.matcher(part);
    if (!m.matches()) {
      throw new IllegalArgumentException(
          "A range is made of >=, >, <=, < or = and a version, such as >=1.8.0; got \""
              + part
              + "\"");
    }
    return m;
  }

  public boolean holds(SemVer version) {
    return List.of(range.split(" ")).stream()
        .allMatch(
            part -> {
              Matcher m = comparison(part);
              int c = version.compareTo(compared(m.group(2)));
              return switch (m.group(1)) {
                case ">=" -> c >= 0;
                case "<=" -> c <= 0;
                case ">" -> c > 0;
                case "<" -> c < 0;
                default -> c == 0;
              };
            });
  }

  @Override
  public String toString() {
    return application + " " + range;
  }

  @Override
  public int compareTo(Need other) {
    return toString().compareTo(other.toString());
  }
}
