package plenzo.cli;

import java.time.DateTimeException;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.time.format.DateTimeFormatter;
import java.util.List;

/** Times as people write and read them, in a stage's time zone. */
final class Times {
  private static final DateTimeFormatter MINUTE = DateTimeFormatter.ofPattern("uuuu-MM-dd HH:mm");

  private Times() {}

  /**
   * {@code 2026-12-01T22:00} in the zone, or {@code 2026-12-01T22:00:00Z}.
   *
   * @throws Failed when it is neither, or an hour that a change of the clocks skips or repeats:
   *     both are to be said with their offset
   */
  static Instant of(String text, String zone) {
    try {
      return ZonedDateTime.parse(text).toInstant();
    } catch (DateTimeException e) {
      return local(text, ZoneId.of(zone));
    }
  }

  private static Instant local(String text, ZoneId zone) {
    LocalDateTime said;
    try {
      said = LocalDateTime.parse(text.replace(' ', 'T'));
    } catch (DateTimeException e) {
      throw Failed.usage(
          "A time is written 2026-12-01T22:00, or 2026-12-01T22:00:00Z; got " + text);
    }
    List<java.time.ZoneOffset> offsets = zone.getRules().getValidOffsets(said);
    if (offsets.size() == 1) {
      return said.toInstant(offsets.get(0));
    }
    throw Failed.usage(
        offsets.isEmpty()
            ? "There is no " + text + " in " + zone + ": the clocks are put forward then."
            : text
                + " is there twice in "
                + zone
                + ": write "
                + text
                + offsets.get(0)
                + " or "
                + text
                + offsets.get(1)
                + ".");
  }

  static String said(Instant at, String zone) {
    return MINUTE.format(at.atZone(ZoneId.of(zone)));
  }
}
