package plenzo.core.drift;

import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;

/**
 * What becomes of what a site holds otherwise than it is recorded: the purpose of a plan that
 * brings no other version.
 *
 * @param only places that are put back, components or parts of them; empty for all that changed or
 *     is gone
 * @param away places only there that are taken away; nothing else that is only there goes
 * @param saved rows that were saved before they were lost and come again, of tables that no version
 *     need carry; then nothing else is put back
 */
public record PutBack(Set<String> only, Set<String> away, @Nullable List<SavedRows> saved) {
  public static final PutBack ALL = of(Set.of(), Set.of());

  public PutBack {
    only = Set.copyOf(only);
    away = Set.copyOf(away);
    // a plan of before knew none
    saved = saved == null ? List.of() : List.copyOf(saved);
  }

  public static PutBack of(Set<String> only, Set<String> away) {
    return new PutBack(only, away, List.of());
  }

  public static PutBack saved(List<SavedRows> rows) {
    return new PutBack(Set.of(), Set.of(), rows);
  }

  /** Rows that come again; none of every other. */
  public List<SavedRows> again() {
    return saved == null ? List.of() : saved;
  }

  /** Whether a part that is recorded is made as it is recorded. */
  public boolean puts(String place) {
    return only.isEmpty() && away.isEmpty() || names(only, place);
  }

  /** Whether a part that is only there goes. */
  public boolean takesAway(String place) {
    return names(away, place);
  }

  private static boolean names(Set<String> places, String place) {
    int hash = place.indexOf('#');
    return places.contains(place) || hash > 0 && places.contains(place.substring(0, hash));
  }

  /** Every place that is named, in order. */
  public Set<String> places() {
    Set<String> out = new TreeSet<>(only);
    out.addAll(away);
    return out;
  }
}
