package plenzo.engine.recording;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import plenzo.core.person.Person;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.report.Figures.End;
import plenzo.core.report.Figures.One;
import plenzo.core.run.Run;
import plenzo.core.version.VersionHead;
import plenzo.engine.Tools;
import plenzo.engine.running.Runs;

/** Figures of the runs that a person may look at. */
public final class Counting {
  /** Longest span: a year and a quarter. */
  private static final Duration LONGEST = Duration.ofDays(460);

  private final Tools tools;
  private final Runs runs;

  public Counting(Tools tools, Runs runs) {
    this.tools = tools;
    this.runs = runs;
  }

  /**
   * A run that went back, and why.
   *
   * @param why what whoever prepared it said
   */
  public record Back(Run run, String why) {}

  /**
   * @param runs those that began in the span and ended
   * @param backs those that went back, newest first
   */
  public record Counted(List<One> runs, List<Back> backs) {}

  /**
   * @throws Problem when the span is too long
   */
  public Counted count(Person by, Instant from, Instant until, @Nullable String application) {
    if (!until.isAfter(from) || Duration.between(from, until).compareTo(LONGEST) > 0) {
      throw Problem.invalid(
          "SPAN", "Figures are of " + LONGEST.toDays() + " days at most.", "/until");
    }
    Map<String, Instant> sealed = new HashMap<>();
    List<One> out = new ArrayList<>();
    List<Back> backs = new ArrayList<>();
    for (Run r : runs.began(by, from, until)) {
      if (!r.state().ended() || application != null && !r.application().equals(application)) {
        continue;
      }
      Promotion p =
          tools
              .keeper()
              .read(kept -> kept.promotions().find(String.valueOf(r.promotion())))
              .orElse(null);
      if (p == null) {
        continue;
      }
      out.add(one(r, p, sealed));
      if (p.rollback() && r.state().applied()) {
        backs.add(new Back(r, p.notes()));
      }
    }
    backs.sort(Comparator.comparing((Back b) -> b.run().number()).reversed());
    return new Counted(out, backs);
  }

  private One one(Run r, Promotion p, Map<String, Instant> sealed) {
    Instant began = r.startedAt() == null ? r.queuedAt() : r.startedAt();
    Instant ended = r.endedAt() == null ? began : r.endedAt();
    Instant prepared = p.prepared().at();
    Instant yes =
        p.approvals().stream()
            .filter(Promotion.Approval::counts)
            .map(Promotion.Approval::at)
            .filter(t -> !t.isAfter(began))
            .max(Instant::compareTo)
            .orElse(null);
    Instant made =
        p.brings() && r.state().applied()
            ? sealed.computeIfAbsent(
                r.application() + "@" + r.version(), k -> sealedAt(r.application(), p))
            : null;
    return new One(
        r.number(),
        r.application(),
        r.site().stage(),
        ended,
        end(r),
        p.rollback(),
        positive(began, ended),
        r.usersOutSince()
            .flatMap(since -> r.usersInAgain().map(in -> positive(since, in)))
            .orElse(null),
        made == null ? null : positive(made, ended),
        yes == null ? null : positive(prepared, yes),
        positive(yes == null ? prepared : yes, began));
  }

  /** A clock that was set back makes nothing shorter than nothing. */
  private static Duration positive(Instant from, Instant to) {
    return to.isAfter(from) ? Duration.between(from, to) : Duration.ZERO;
  }

  private @Nullable Instant sealedAt(String application, Promotion p) {
    return tools.keeper().read(kept -> kept.versions().list(application)).stream()
        .filter(v -> v.number().equals(p.version()))
        .map(VersionHead::sealedAt)
        .findFirst()
        .orElse(null);
  }

  private static End end(Run r) {
    return switch (r.state()) {
      case DONE -> End.DONE;
      case DONE_TO_LOOK_AT -> End.LOOK;
      case PUT_BACK -> End.PUT_BACK;
      case HALF_WRITTEN -> End.HALF;
      default -> End.STOPPED;
    };
  }
}
