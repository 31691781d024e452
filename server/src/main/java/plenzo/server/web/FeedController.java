package plenzo.server.web;

import jakarta.servlet.http.HttpServletRequest;
import java.time.Duration;
import java.time.Instant;
import net.fortuna.ical4j.model.Calendar;
import net.fortuna.ical4j.model.component.VEvent;
import net.fortuna.ical4j.model.property.Description;
import net.fortuna.ical4j.model.property.DtStamp;
import net.fortuna.ical4j.model.property.ProdId;
import net.fortuna.ical4j.model.property.Uid;
import net.fortuna.ical4j.model.property.immutable.ImmutableCalScale;
import net.fortuna.ical4j.model.property.immutable.ImmutableVersion;
import org.jspecify.annotations.Nullable;
import org.springframework.http.CacheControl;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;
import plenzo.api.Calendars.CalendarView;
import plenzo.api.Calendars.FeedMade;
import plenzo.api.Calendars.NewFeed;
import plenzo.core.person.Person;
import plenzo.core.problem.Problem;
import plenzo.engine.Engine;
import plenzo.engine.people.AccessKeys;
import plenzo.server.security.Asking;

/** The calendar for programs that read iCalendar (RFC 5545), at an address that is a secret. */
@RestController
@RequestMapping("/api/v1")
class FeedController {
  private static final Duration BACK = Duration.ofDays(28);
  private static final Duration AHEAD = Duration.ofDays(70);
  private static final Duration RUN = Duration.ofMinutes(30);

  private final Engine engine;
  private final CalendarController calendars;

  FeedController(Engine engine, CalendarController calendars) {
    this.engine = engine;
    this.calendars = calendars;
  }

  /** Makes an address of one's own; it is in this answer and nowhere else. */
  @PostMapping("/calendar/feeds")
  FeedMade make(@RequestBody NewFeed asked, HttpServletRequest request) {
    AccessKeys.Issued made = engine.accessKeys().newFeed(Asking.signedIn(request), asked.label());
    return new FeedMade(
        made.key().brief(),
        Asking.FEEDS + "/" + made.secret() + "/calendar.ics",
        made.key().expiresAt());
  }

  /** Four weeks back and ten ahead, of what its owner may look at now. */
  @GetMapping(value = "/feeds/{secret}/calendar.ics", produces = "text/calendar")
  ResponseEntity<String> read(@PathVariable String secret) {
    Person by =
        engine
            .accessKeys()
            .whoFollows(secret)
            .map(AccessKeys.SignedIn::person)
            .filter(p -> !p.mustChange())
            .orElseThrow(() -> Problem.notFound("calendar at this address", ""));
    return ResponseEntity.ok()
        .contentType(MediaType.parseMediaType("text/calendar;charset=UTF-8"))
        .cacheControl(CacheControl.noStore())
        .body(text(by));
  }

  private String text(Person by) {
    Instant now = engine.tools().now();
    CalendarView c = calendars.view(by, now.minus(BACK), now.plus(AHEAD), null);
    Calendar out = new Calendar();
    out.add(new ProdId("-//Plenzo//Calendar//EN"));
    out.add(ImmutableVersion.VERSION_2_0);
    out.add(ImmutableCalScale.GREGORIAN);
    c.stages()
        .forEach(
            s -> {
              s.windows()
                  .forEach(
                      w ->
                          add(
                              out,
                              "window-" + s.stage() + "-" + w.from().getEpochSecond(),
                              w.from(),
                              w.until(),
                              s.name() + ": window open",
                              w.note()));
              s.freezes()
                  .forEach(
                      f ->
                          add(
                              out,
                              f.number(),
                              f.from(),
                              f.liftedAt() == null ? f.until() : f.liftedAt(),
                              s.name() + " is frozen: " + f.reason(),
                              f.except().isEmpty()
                                  ? null
                                  : "but for " + String.join(", ", f.except())));
            });
    c.schedules()
        .forEach(
            s ->
                add(
                    out,
                    s.number(),
                    s.at(),
                    s.at()
                        .plus(
                            s.takes() == null
                                ? RUN
                                : Duration.ofSeconds((long) s.takes().mostSeconds())),
                    s.application() + " " + s.version() + " to " + s.site() + ": " + s.state(),
                    s.promotion() + (s.sentence().isEmpty() ? "" : ": " + s.sentence())));
    c.repeats()
        .forEach(
            r ->
                add(
                    out,
                    r.number() + "-" + r.at().getEpochSecond(),
                    r.at(),
                    r.at().plus(RUN),
                    r.application() + " to " + r.stage() + ": the newest good version",
                    r.number()));
    c.runs()
        .forEach(
            r ->
                add(
                    out,
                    r.number(),
                    r.began(),
                    r.ended() == null ? now : r.ended(),
                    r.application() + " " + r.version() + " at " + r.site() + ": " + r.state(),
                    r.number()));
    return out.toString();
  }

  private void add(
      Calendar to, String id, Instant from, Instant until, String summary, @Nullable String more) {
    VEvent event = new VEvent(from, until.isAfter(from) ? until : from.plusSeconds(60), summary);
    event.removeAll("DTSTAMP");
    event.add(new DtStamp(from));
    event.add(new Uid(id + "@" + engine.tools().keeper().service()));
    if (more != null && !more.isEmpty()) {
      event.add(new Description(more));
    }
    to.add(event);
  }
}
