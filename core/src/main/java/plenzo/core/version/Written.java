package plenzo.core.version;

import java.util.Collection;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import plenzo.core.person.Person;

/**
 * Who wrote what a version took from a repository: authors of the commits since the version before
 * it, as Git says them.
 *
 * @param commits full names of the commits that were taken from
 * @param authors "Name <address>" each once; those of the commits that touched its documents
 * @param whole whether every commit was looked at; not, where there were too many
 */
public record Written(List<String> commits, List<String> authors, boolean whole) {
  /** Of a version without a commit. */
  public static final Written NOTHING = new Written(List.of(), List.of(), true);

  private static final Pattern ADDRESS = Pattern.compile("<([^<>]*)>\\s*$");

  public Written {
    commits = List.copyOf(commits);
    authors = List.copyOf(new TreeSet<>(authors));
  }

  /** Whether it names somebody as Git does, not by a sign-in name. */
  private static Optional<String> address(String author) {
    Matcher m = ADDRESS.matcher(author);
    return m.find() ? Optional.of(m.group(1).strip().toLowerCase(Locale.ROOT)) : Optional.empty();
  }

  /**
   * Who they are.
   *
   * @param logins people among them, by the addresses that an administrator said
   * @param strangers as Git says them: any of them may be anybody
   */
  public record Known(Set<String> logins, List<String> strangers) {
    public Known {
      logins = Set.copyOf(logins);
      strangers = List.copyOf(strangers);
    }

    /** Of one person alone. */
    public static Known only(@Nullable String login) {
      return new Known(login == null ? Set.of() : Set.of(login), List.of());
    }
  }

  /** The person who writes under an author of Git; empty when nobody is known to. */
  public static Optional<String> person(String author, Collection<Person> everybody) {
    return address(author)
        .flatMap(
            a ->
                everybody.stream()
                    .filter(p -> p.writesAs().contains(a))
                    .map(Person::login)
                    .findFirst());
  }

  /** Whoever made a version: who sealed it, and the authors of what it took from a repository. */
  public static Known madeBy(VersionHead version, Collection<Person> everybody) {
    Set<String> all = new TreeSet<>(version.written().authors());
    all.add(version.author());
    Set<String> logins = new TreeSet<>();
    List<String> strangers = new java.util.ArrayList<>();
    for (String author : all) {
      if (address(author).isEmpty()) {
        logins.add(author);
      } else {
        person(author, everybody).ifPresentOrElse(logins::add, () -> strangers.add(author));
      }
    }
    if (!version.written().whole()) {
      strangers.add("others, of commits that were too many to look at");
    }
    return new Known(logins, strangers);
  }
}
