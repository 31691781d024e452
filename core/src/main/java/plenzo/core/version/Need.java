package plenzo.core.version;

import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.Kind;

/**
 * A prerequisite: another application that must be at the same site, or a release of the software
 * of one of its targets, in a range of versions.
 *
 * @param application its key; {@code server/database} or {@code server/host} for the software of a
 *     target
 * @param range comparisons that must all hold, such as {@code >=1.8.0 <3.0.0}
 */
public record Need(String application, String range) implements Comparable<Need> {
  private static final Pattern ONE = Pattern.compile("(>=|<=|>|<|=)(.+)");

  public Need {
    if (!application.matches("server/(database|host)|[a-z][a-z0-9-]{0,39}")) {
      throw new IllegalArgumentException(
          "A prerequisite names an application by its key, or server/database or server/host; got \""
              + application
              + "\"");
    }
    range = String.join(" ", range.strip().split("\\s+"));
    if (range.isEmpty() || range.length() > 200) {
      throw new IllegalArgumentException("A prerequisite needs a range such as >=1.8.0 <3.0.0");
    }
    for (String part : range.split(" ")) {
      comparison(part);
    }
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

  private static Matcher comparison(String part) {
    Matcher m = ONE.matcher(part);
    if (!m.matches()) {
      throw new IllegalArgumentException(
          "A range is made of >=, >, <=, < or = and a version, such as >=1.8.0; got \""
              + part
              + "\"");
    }
    new SemVer(m.group(2));
    return m;
  }

  public boolean holds(SemVer version) {
    return List.of(range.split(" ")).stream()
        .allMatch(
            part -> {
              Matcher m = comparison(part);
              int c = version.compareTo(new SemVer(m.group(2)));
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
