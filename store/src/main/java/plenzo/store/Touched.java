package plenzo.store;

import java.util.EnumSet;
import java.util.HashSet;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** Whose records one transaction wrote. Not for threads. */
final class Touched {
  private final Set<String> applications = new HashSet<>();
  private boolean noted;
  private final Set<Table.Of> house = EnumSet.noneOf(Table.Of.class);

  /**
   * @param application whose the record is; null for one that is no application's
   */
  void by(Table table, @Nullable String application) {
    if (table.of() == Table.Of.APPLICATION && application != null) {
      applications.add(application);
    } else {
      house.add(table.of());
    }
  }

  Set<String> applications() {
    return applications;
  }

  boolean setUp() {
    return house.contains(Table.Of.SET_UP);
  }

  boolean keys() {
    return house.contains(Table.Of.KEYS);
  }

  /** An event was added to the history. */
  void note() {
    noted = true;
  }

  boolean noted() {
    return noted;
  }

  boolean people() {
    return house.contains(Table.Of.PEOPLE);
  }
}
