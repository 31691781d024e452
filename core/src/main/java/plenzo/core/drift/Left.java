package plenzo.core.drift;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;

/**
 * A person's word that something stays as it is for now, although it differs from the record.
 *
 * @param place a component, or component#part
 * @param until the day with which it is over: from the next on it is drift again
 */
public record Left(String place, String reason, String by, Instant at, LocalDate until) {
  /** Whether it still holds. */
  public boolean holds(Instant now) {
    return !until.isBefore(LocalDate.ofInstant(now, ZoneOffset.UTC));
  }

  /** Whether it speaks of that place, or of the component that the place is a part of. */
  public boolean covers(String other) {
    return other.equals(place) || other.startsWith(place + "#");
  }
}
