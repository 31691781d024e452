package plenzo.core.retention;

import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.EnumMap;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import plenzo.core.json.Json;

/**
 * How many days each sort of file is kept, from when it was written.
 *
 * @param days what is not in it is kept for ever
 * @param daily whether what is old is cleared each day, without anybody asking
 */
public record Rules(Map<Sort, Integer> days, boolean daily) {
  /** A hundred years: whoever means for ever says so by leaving it out. */
  public static final int MOST = 36_500;

  /** Everything for ever, as long as nobody says otherwise. */
  public static final Rules FOR_EVER = new Rules(Map.of(), false);

  public Rules {
    days.forEach(
        (sort, n) -> {
          if (n < 1 || n > MOST) {
            throw new IllegalArgumentException(
                sort.many() + " are kept for 1 to " + MOST + " days, not " + n);
          }
        });
    days = Map.copyOf(days);
  }

  /** Whether something of that time is old; never while no number of days is said. */
  public boolean old(Sort sort, Instant at, Instant now) {
    Integer n = days.get(sort);
    return n != null && at.isBefore(now.minus(n, ChronoUnit.DAYS));
  }

  public @Nullable Integer of(Sort sort) {
    return days.get(sort);
  }

  /** As it is kept: {@code {"daily":"false","days":{"backup":90}}}. */
  public String text() {
    Map<String, Object> all = new java.util.TreeMap<>();
    days.forEach((sort, n) -> all.put(sort.code(), n));
    Object[] pairs =
        all.entrySet().stream()
            .flatMap(e -> java.util.stream.Stream.of(e.getKey(), e.getValue()))
            .toArray();
    return Json.object("daily", String.valueOf(daily), "days", Json.object(pairs)).canonical();
  }

  public static Rules of(String text) {
    Json.Obj j = Json.parseObject(text);
    Map<Sort, Integer> days = new EnumMap<>(Sort.class);
    Json.Obj said = (Json.Obj) j.members().get("days");
    if (said != null) {
      said.members().forEach((code, n) -> days.put(Sort.of(code), (int) ((Json.Num) n).value()));
    }
    return new Rules(days, Boolean.parseBoolean(j.text("daily")));
  }
}
