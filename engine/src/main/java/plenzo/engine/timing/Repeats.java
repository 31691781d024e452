package plenzo.engine.timing;

import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import plenzo.core.calendar.Repeat;
import plenzo.core.calendar.Repeat.State;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.stage.Application;
import plenzo.core.stage.Leg;
import plenzo.core.stage.Onward;
import plenzo.core.stage.Path;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.SiteRecord;
import plenzo.core.stage.Stage;
import plenzo.core.version.SemVer;
import plenzo.core.version.VersionHead;
import plenzo.engine.Tools;
import plenzo.engine.people.Rights;

/**
 * The newest good version of an application goes to a stage again and again: nightly, each Monday.
 * Into production only where the leg says that versions run there by themselves.
 */
public final class Repeats {
  /** It is over after this time at the latest: whoever said it is asked again. */
  private static final Duration LONGEST = Duration.ofDays(366);

  /** Times of one that are listed at once: each hour of a hundred days. */
  private static final int MOST = 2_400;

  private final Tools tools;
  private final Errands errands;

  public Repeats(Tools tools, Errands errands) {
    this.tools = tools;
    this.errands = errands;
  }

  /**
   * What somebody asks for.
   *
   * @param path null for the first of the application's that goes there
   * @param ends null for a year from now
   */
  public record Asked(
      String application,
      String stage,
      @Nullable String path,
      String rule,
      @Nullable Instant ends) {}

  /** Those that the person may see, newest first. */
  public List<Repeat> list(Person by, Kept.Filter filter) {
    return tools.keeper().read(kept -> kept.repeats().list(filter)).stream()
        .filter(r -> by.may(Right.LOOK, r.stage(), r.application()))
        .toList();
  }

  /** One time that a repeat comes up. */
  public record Time(Repeat repeat, Instant at) {}

  /** When those that the person may see come up in a span, at most so many times each. */
  public List<Time> times(Person by, Instant from, Instant until) {
    List<Time> out = new ArrayList<>();
    for (Repeat r : list(by, Kept.Filter.state(State.ACTIVE.code()))) {
      Stage stage = tools.keeper().read(kept -> kept.stages().find(r.stage())).orElse(null);
      if (stage == null || r.next() == null) {
        continue;
      }
      Recurrence rule = Recurrence.of(r.rule(), ZoneId.of(stage.zone()), r.made());
      Instant at = r.next();
      for (int n = 0; n < MOST && at != null && at.isBefore(until) && !at.isAfter(r.ends()); n++) {
        if (!at.isBefore(from)) {
          out.add(new Time(r, at));
        }
        at = rule.next(at).orElse(null);
      }
    }
    return out;
  }

  /**
   * @throws Problem when the rule cannot be read, the right is missing, or it is production and the
   *     leg does not say that versions run there by themselves
   */
  public Repeat add(Person by, Asked asked) {
    Rights.require(by, Right.PREPARE, asked.stage(), asked.application());
    Rights.require(by, Right.RUN, asked.stage(), asked.application());
    Instant now = tools.now();
    Instant ends = asked.ends() == null ? now.plus(LONGEST) : asked.ends();
    if (!ends.isAfter(now) || ends.isAfter(now.plus(LONGEST))) {
      throw Problem.invalid(
          "ENDS", "It ends within " + LONGEST.toDays() + " days from now.", "/ends");
    }
    return tools
        .keeper()
        .write(
            kept -> {
              Application a = application(kept, asked.application());
              Path path = path(kept, a, asked);
              Stage stage = kept.stages().find(asked.stage()).orElseThrow();
              requireOnward(stage, path.leg(asked.stage()).orElseThrow(), path);
              Instant first =
                  Recurrence.asked(asked.rule(), ZoneId.of(stage.zone()), now)
                      .next(now)
                      .filter(t -> !t.isAfter(ends))
                      .orElseThrow(
                          () ->
                              Problem.invalid(
                                  "RULE", "It does not come up before it ends.", "/rule"));
              Repeat made =
                  new Repeat(
                      kept.next("repeat"),
                      a.key(),
                      path.key(),
                      stage.key(),
                      asked.rule().strip(),
                      ends,
                      by.login(),
                      now,
                      State.ACTIVE,
                      first,
                      null,
                      "",
                      0);
              kept.repeats().insert(made);
              note(kept, by.login(), made, "repeat begun", made.rule());
              return made;
            });
  }

  private static Application application(Kept kept, String key) {
    return kept.applications()
        .find(key)
        .filter(a -> a.retired() == null)
        .orElseThrow(() -> Problem.notFound("application", key));
  }

  private static Path path(Kept kept, Application a, Asked asked) {
    return a.paths().stream()
        .filter(key -> asked.path() == null || key.equals(asked.path()))
        .flatMap(key -> kept.paths().find(key).stream())
        .filter(p -> p.leg(asked.stage()).isPresent())
        .findFirst()
        .orElseThrow(
            () ->
                Problem.invalid(
                    "NOT_ON_PATH",
                    a.key() + " does not travel to " + asked.stage() + " by a path of its own.",
                    "/stage"));
  }

  private static void requireOnward(Stage stage, Leg leg, Path path) {
    Onward onward = leg.onward();
    if (stage.production() && (onward == null || onward.how() != Onward.How.RUN)) {
      throw Problem.stopped(
          "BY_HAND",
          stage.key()
              + " is production: nothing goes there by itself unless its leg on the path "
              + path.key()
              + " says so.",
          "plenzo path gates " + path.key() + " " + stage.key() + " --onward run");
    }
  }

  /** Ends one; what is on its way goes on. */
  public Repeat end(Person by, long number) {
    return tools
        .keeper()
        .writeAgain(
            kept -> {
              Repeat r =
                  kept.repeats()
                      .find(String.valueOf(number))
                      .filter(x -> by.may(Right.LOOK, x.stage(), x.application()))
                      .orElseThrow(() -> Problem.notFound("repeat", "RP-" + number));
              Rights.require(by, Right.RUN, r.stage(), r.application());
              if (r.state() != State.ACTIVE) {
                throw Problem.stopped(
                    "OVER", r.shown() + " is " + r.state().code() + ".", "plenzo repeat list");
              }
              Repeat next = r.end("Ended by " + by.login());
              kept.repeats().replace(next);
              note(kept, by.login(), next, "repeat ended", next.sentence());
              return next;
            });
  }

  /** What the service does every few seconds. */
  public void goOn() {
    Instant now = tools.now();
    for (Repeat r :
        tools.keeper().read(kept -> kept.repeats().list(Kept.Filter.state(State.ACTIVE.code())))) {
      if (r.due(now)) {
        try {
          comesUp(r.number(), now);
        } catch (RuntimeException e) {
          // one that cannot come up never keeps another from it (rules M)
          System.getLogger(Repeats.class.getName())
              .log(System.Logger.Level.ERROR, r.shown() + " cannot come up", e);
        }
      }
    }
  }

  private void comesUp(long number, Instant now) {
    tools
        .keeper()
        .writeAgain(
            kept -> {
              kept.repeats()
                  .find(String.valueOf(number))
                  .filter(x -> x.due(now))
                  .ifPresent(x -> comesUp(kept, x, now));
              return null;
            });
  }

  private void comesUp(Kept kept, Repeat r, Instant now) {
    Stage stage = kept.stages().find(r.stage()).orElse(null);
    String said = r.missed(now) ? "" : sent(kept, r, stage);
    if (r.missed(now)) {
      said = "It was missed: the service was not there at its time; it is not caught up.";
      note(kept, "plenzo", r, "repeat missed", said);
    }
    Instant next = stage == null ? null : then(r, stage, now).orElse(null);
    Repeat after = r.cameUp(now, next, said);
    kept.repeats().replace(after);
    if (after.state() == State.OVER) {
      note(kept, "plenzo", after, "repeat over", after.sentence());
    }
  }

  private static Optional<Instant> then(Repeat r, Stage stage, Instant now) {
    return Recurrence.of(r.rule(), ZoneId.of(stage.zone()), r.made())
        .next(now)
        .filter(t -> !t.isAfter(r.ends()));
  }

  /** Sends what may go, and says what that was. */
  private String sent(Kept kept, Repeat r, @Nullable Stage stage) {
    Application a =
        kept.applications().find(r.application()).filter(x -> x.retired() == null).orElse(null);
    Path path = kept.paths().find(r.path()).orElse(null);
    Leg leg = path == null ? null : path.leg(r.stage()).orElse(null);
    if (a == null
        || stage == null
        || path == null
        || leg == null
        || !a.paths().contains(r.path())) {
      return "Nothing goes: "
          + r.application()
          + " no longer travels to "
          + r.stage()
          + " by "
          + r.path()
          + ".";
    }
    try {
      requireOnward(stage, leg, path);
    } catch (Problem p) {
      return "Nothing goes: " + p.getMessage();
    }
    SemVer newest = newest(kept, a, path, leg).orElse(null);
    if (newest == null) {
      return "Nothing goes: there is no version that " + where(path, leg) + ".";
    }
    int sent = 0;
    int sites = 0;
    for (SiteKey site : Chain.sites(kept, a, leg)) {
      sites++;
      if (Chain.newer(kept, a, site, newest)
          && errands.send(
              kept,
              new Errands.Asked(
                  r.shown(), null, path.key(), a.key(), newest, site, Onward.How.RUN, r.by()))) {
        sent++;
      }
    }
    return sent == 0
        ? "Nothing goes: "
            + newest
            + ", the newest that "
            + where(path, leg)
            + ": every site of "
            + r.stage()
            + (sites == 0 ? " has no version yet." : " has it or one is on its way.")
        : newest
            + " is on its way to "
            + sent
            + " of "
            + sites
            + (sites == 1 ? " site." : " sites.");
  }

  private static String where(Path path, Leg leg) {
    return path.before(leg.stage())
        .map(s -> (leg.verdict() ? "was judged good at " : "is at ") + s)
        .orElse("was sealed");
  }

  /**
   * The newest version that may come by the leg: sealed, or at the stage before and not bad there.
   */
  private static Optional<SemVer> newest(Kept kept, Application a, Path path, Leg leg) {
    List<SemVer> sealed =
        kept.versions().list(a.key()).stream()
            .filter(v -> !v.withdrawn())
            .map(VersionHead::number)
            .toList();
    String before = path.before(leg.stage()).orElse(null);
    if (before == null) {
      return sealed.stream().max(Comparator.naturalOrder());
    }
    return kept.sites().list(Kept.Filter.application(a.key()).stage(before)).stream()
        .flatMap(s -> Optional.ofNullable(s.present()).filter(v -> good(s, v, leg)).stream())
        .filter(sealed::contains)
        .max(Comparator.naturalOrder());
  }

  private static boolean good(SiteRecord s, SemVer v, Leg leg) {
    return s.verdict(v).map(SiteRecord.Verdict::good).orElse(!leg.verdict()) && !s.halfWritten();
  }

  private void note(Kept kept, String by, Repeat r, String event, String text) {
    kept.note(
        new Event(
            by,
            event,
            r.application(),
            r.stage(),
            null,
            null,
            null,
            null,
            r.shown() + " of " + r.application() + " to " + r.stage() + ": " + text),
        tools.now());
  }
}
