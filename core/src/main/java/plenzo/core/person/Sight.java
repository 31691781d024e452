package plenzo.core.person;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * Where a person holds a right, as short as it can be said: what lists are asked with, so that
 * nobody reads what another may not see, and a page is full before it ends.
 *
 * @param places none of them lies within another; empty sees nothing
 */
public record Sight(List<Place> places) {
  /** Everything. */
  public static final Sight EVERYWHERE = new Sight(List.of(new Place(null, null)));

  public Sight {
    places = List.copyOf(places);
  }

  /**
   * A stage and an application.
   *
   * @param stage null for every stage
   * @param application null for every application
   */
  public record Place(@Nullable String stage, @Nullable String application) {
    private static @Nullable String plain(String granted) {
      return granted.equals(Person.EVERY) ? null : granted;
    }

    private boolean covers(Place other) {
      return (stage == null || stage.equals(other.stage))
          && (application == null || application.equals(other.application));
    }
  }

  /** Where the person holds the right now. */
  public static Sight of(Person person, Right right) {
    if (person.disabled()) {
      return new Sight(List.of());
    }
    Set<Place> all = new LinkedHashSet<>();
    for (Person.Grant g : person.holds()) {
      if (g.right() == right) {
        all.add(new Place(Place.plain(g.stage()), Place.plain(g.application())));
      }
    }
    return shortened(all);
  }

  /** The applications alone, each where there is a place of any stage for it. */
  public Sight ofAnyStage() {
    Set<Place> all = new LinkedHashSet<>();
    places.forEach(p -> all.add(new Place(null, p.application())));
    return shortened(all);
  }

  private static Sight shortened(Set<Place> all) {
    List<Place> out = new ArrayList<>();
    for (Place p : all) {
      if (all.stream().noneMatch(q -> !q.equals(p) && q.covers(p))) {
        out.add(p);
      }
    }
    return new Sight(out);
  }

  /**
   * Whether the right is held there.
   *
   * @param stage a stage, or {@link Person#ANY}
   * @param application an application, or {@link Person#ANY}
   */
  public boolean covers(String stage, String application) {
    for (Place p : places) {
      if ((p.stage() == null || stage.equals(Person.ANY) || stage.equals(p.stage()))
          && (p.application() == null
              || application.equals(Person.ANY)
              || application.equals(p.application()))) {
        return true;
      }
    }
    return false;
  }

  public boolean everywhere() {
    return places.equals(EVERYWHERE.places());
  }
}
