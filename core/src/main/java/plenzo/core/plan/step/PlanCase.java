package plenzo.core.plan.step;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import plenzo.core.component.Kind;
import plenzo.core.component.Kind.Holder;
import plenzo.core.locking.Locked;
import plenzo.core.manual.Asked;
import plenzo.core.stage.SiteKey;
import plenzo.core.target.Connector.Capability;
import plenzo.core.target.Doors;
import plenzo.core.target.SiteDelta;
import plenzo.core.target.TargetId;

/**
 * What a plan is made for.
 *
 * @param version the version that comes, in text
 * @param places the site's targets, in the order of the switches
 * @param questions names of what is asked around the run
 * @param manual what people do around it, in order
 * @param minutesBefore how long before people are told that they will be kept out; 0 for not
 * @param locked what is done beside the switch of a database
 */
public record PlanCase(
    SiteKey site,
    String version,
    List<Place> places,
    SiteDelta delta,
    List<String> questions,
    List<Asked> manual,
    int minutesBefore,
    Locked locked) {
  public PlanCase {
    places = List.copyOf(places);
    questions = List.copyOf(questions);
    manual = List.copyOf(manual);
  }

  /**
   * One target.
   *
   * @param key its present name, for people
   * @param scratch whether it has a place where rows are restored to prove them
   * @param doors how users are kept out of it
   */
  public record Place(
      TargetId id, Holder holder, String key, Set<Capability> can, boolean scratch, Doors doors) {
    public Place {
      can = Set.copyOf(can);
    }
  }

  Optional<Place> place(Holder holder) {
    return places.stream().filter(p -> p.holder() == holder).findFirst();
  }

  /** The host, when it can do that. */
  Optional<Place> host(Capability needed) {
    return place(Holder.HOST).filter(p -> p.can().contains(needed));
  }

  /** The targets that users are kept out of, in the order in which that is done. */
  List<Place> closing() {
    return Doors.ORDER.stream()
        .flatMap(holder -> place(holder).stream())
        .filter(p -> p.doors().shut(p.can()))
        .toList();
  }

  /** The target that a delta is for. */
  Place touched(Holder holder) {
    return place(holder)
        .orElseThrow(() -> new IllegalStateException(site + " has no " + holder.word()));
  }

  /** "production/north host". */
  String shown(Place place) {
    return site + " " + place.key();
  }

  /** Every target that is written to, or the site where none is. */
  String everywhere() {
    return delta.isEmpty()
        ? site.toString()
        : delta.touched().stream()
            .map(h -> touched(h).key())
            .collect(Collectors.joining(", ", site + " ", ""));
  }

  /** How many schema objects are there already and become others or go. */
  long existingObjects() {
    return delta.tables().changedObjects().stream().filter(o -> o.present() != null).count();
  }

  /** How many files, or definitions, are there already and are written over or removed. */
  long existing(boolean files) {
    return delta.itemDeltas().stream()
        .flatMap(d -> d.changes().stream())
        .filter(c -> c.present() != null && (c.key().kind() == Kind.FILE) == files)
        .count();
  }
}
