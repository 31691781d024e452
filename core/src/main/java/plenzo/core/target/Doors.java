package plenzo.core.target;

import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.Kind.Holder;
import plenzo.core.target.Connector.Capability;

/**
 * How users are kept out of a target that has no maintenance of its own while a version comes.
 *
 * @param names of a database: accounts that may not sign in meanwhile; of a directory: the one file
 *     that is put beside it, for its web server to show
 * @param end whether sessions of these accounts are ended that are still there when the wait is
 *     over
 */
public record Doors(List<String> names, boolean end) {
  /** Nobody is kept out. */
  public static final Doors NONE = new Doors(List.of(), false);

  /** The order in which a site's doors are shut; they are opened the other way. */
  public static final List<Holder> ORDER = List.of(Holder.HOST, Holder.DIRECTORY, Holder.DATABASE);

  /** Accounts that are named at most (guess). */
  private static final int MOST = 50;

  public Doors {
    names = names.stream().map(String::strip).filter(n -> !n.isEmpty()).distinct().toList();
    if (names.size() > MOST) {
      throw new IllegalArgumentException("At most " + MOST + " accounts are kept out");
    }
  }

  public boolean any() {
    return !names.isEmpty();
  }

  /** Whether users are kept out of a target that can so much: by itself, or by these doors. */
  public boolean shut(Set<Capability> can) {
    return any() || can.contains(Capability.MAINTENANCE);
  }

  /** What they can be at a sort of target; null when they may be so. */
  public static @Nullable String problem(String sort, Doors doors) {
    if (!doors.any()) {
      return doors.end() ? "Sessions of nobody cannot be ended" : null;
    }
    return switch (sort) {
      case "postgresql" -> null;
      case "directory" ->
          doors.names().size() > 1 || doors.end()
              ? "A directory has one file that says that it is closed"
              : doors.names().get(0).matches("[A-Za-z0-9][A-Za-z0-9._-]{0,99}")
                  ? null
                  : "The file beside a directory is a plain name such as closed.html";
      default -> "A " + sort + " keeps people out by itself";
    };
  }
}
