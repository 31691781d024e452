package plenzo.server.web;

import java.util.Set;
import plenzo.core.component.ComponentKey;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.promotion.Promotion;
import plenzo.engine.Engine;

/**
 * Which values of rows a person may see: a right of its own, and never those of private columns.
 * What is hidden is still said to differ.
 *
 * @param values whether the person may see values at all
 * @param privateColumns schema.table.column
 */
record VisibleValues(boolean values, Set<String> privateColumns) {
  static VisibleValues of(Engine engine, Person by, Promotion p) {
    return of(engine, by, p.site().stage(), p.application());
  }

  static VisibleValues of(Engine engine, Person by, String stage, String application) {
    return new VisibleValues(
        by.may(Right.SEE_VALUES, stage, application),
        engine
            .tools()
            .keeper()
            .read(kept -> kept.applications().find(application))
            .map(a -> Set.copyOf(a.privateColumns()))
            .orElse(Set.of()));
  }

  boolean hides(ComponentKey component, String column) {
    return !values || privateColumns.contains(component.name() + "." + column);
  }

  /** True when a place, such as a finding's, names a table with a private column. */
  boolean guards(String place) {
    return !values
        || privateColumns.stream()
            .anyMatch(c -> place.contains(c.substring(0, c.lastIndexOf('.'))));
  }
}
