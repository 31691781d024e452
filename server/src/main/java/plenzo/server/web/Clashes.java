package plenzo.server.web;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import plenzo.api.Calendars.Clash;
import plenzo.api.Calendars.RepeatTime;
import plenzo.api.Calendars.ScheduleView;
import plenzo.core.calendar.Openings;
import plenzo.core.person.Person;
import plenzo.engine.Engine;

/** What is to come and cannot be as it is planned: at a closed stage, or two at once at a site. */
final class Clashes {
  /** Where nothing is known of how long a run takes, two are this far apart (guess). */
  private static final Duration APART = Duration.ofMinutes(30);

  private final Engine engine;
  private final Person by;

  Clashes(Engine engine, Person by) {
    this.engine = engine;
    this.by = by;
  }

  List<Clash> of(List<ScheduleView> schedules, List<RepeatTime> repeats) {
    List<Clash> out = new ArrayList<>();
    List<ScheduleView> waiting =
        schedules.stream()
            .filter(s -> s.state().equals("waiting"))
            .sorted(Comparator.comparing(ScheduleView::at))
            .toList();
    for (ScheduleView s : waiting) {
      String stage = s.site().split("/")[0];
      boolean back =
          engine.promotions().get(by, PromotionController.number(s.promotion(), "P-")).bringsBack();
      closed(stage, s.application(), s.at())
          .filter(why -> !back)
          .ifPresent(why -> out.add(new Clash(s.at(), stage, s.number(), "then " + why)));
      waiting.stream()
          .filter(o -> o.site().equals(s.site()) && !o.at().isBefore(s.at()) && o != s)
          .filter(o -> !s.at().plus(takes(s)).isBefore(o.at()))
          .forEach(
              o ->
                  out.add(
                      new Clash(
                          o.at(),
                          stage,
                          o.number(),
                          "is likely to wait for "
                              + s.number()
                              + " of "
                              + s.application()
                              + " at "
                              + s.site())));
    }
    for (RepeatTime r : repeats) {
      closed(r.stage(), r.application(), r.at())
          .ifPresent(
              why ->
                  out.add(new Clash(r.at(), r.stage(), r.number(), "waits for its gates: " + why)));
    }
    out.sort(Comparator.comparing(Clash::at));
    return out;
  }

  private static Duration takes(ScheduleView s) {
    return s.takes() == null ? APART : Duration.ofSeconds((long) s.takes().mostSeconds());
  }

  private Optional<String> closed(String stage, String application, Instant at) {
    return engine.schedules().closed(stage, application, at).map(Openings.Closed::why);
  }
}
