package plenzo.core.impact;

import java.util.Optional;
import java.util.stream.Collectors;
import plenzo.core.inventory.NamedThings;
import plenzo.core.object.KnownObjects;
import plenzo.core.object.ObjectDelta;
import plenzo.core.object.SchemaObject;
import plenzo.core.object.SchemaObject.Sort;
import plenzo.core.target.TablesDelta;

/** What comes with a plan, or becomes another by it: the target cannot be asked about it before. */
final class Coming {
  private Coming() {}

  private static KnownObjects known(TablesDelta delta) {
    return new KnownObjects(
        delta.changedObjects().stream()
            .filter(o -> o.result() != null)
            .map(ObjectDelta::key)
            .collect(Collectors.toSet()));
  }

  /** Whether an expression names such a thing. */
  static boolean names(TablesDelta delta, String expression) {
    KnownObjects known = known(delta);
    return NamedThings.in(expression).stream().anyMatch(n -> !known.named(n).isEmpty());
  }

  /** The enumeration that a type is, where it comes with the plan; of an array none. */
  static Optional<SchemaObject> enumeration(TablesDelta delta, String type) {
    KnownObjects known = known(delta);
    if (type.endsWith("]")) {
      return Optional.empty();
    }
    return NamedThings.in(type).stream()
        .flatMap(n -> known.named(n).stream())
        .flatMap(key -> delta.objects().stream().filter(o -> o.key().equals(key)))
        .map(ObjectDelta::becomes)
        .filter(o -> o.sort() == Sort.ENUM)
        .findFirst();
  }

  /** Whether values cannot be held against the type before it is there. */
  static boolean uncounted(TablesDelta delta, String type) {
    return names(delta, type) && enumeration(delta, type).isEmpty();
  }
}
