package plenzo.core.gate;

import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import plenzo.core.person.Right;
import plenzo.core.plan.Plan.Condition;
import plenzo.core.version.SemVer;
import plenzo.core.words.Words;

/**
 * The version has been at the stage before for some days.
 *
 * @param since when it came there; null when it is not there
 */
public record Soak(SemVer version, String stage, int days, @Nullable Instant since)
    implements Gate {
  private static final DateTimeFormatter MINUTE =
      DateTimeFormatter.ofPattern("uuuu-MM-dd HH:mm 'UTC'").withZone(ZoneOffset.UTC);

  static final Judge JUDGE =
      new Judge() {
        private boolean asks(GateCase c) {
          return c.leg().soakDays() > 0 && c.promotion().brings();
        }

        @Override
        public Optional<Condition> inForce(GateCase c) {
          int days = c.leg().soakDays();
          return asks(c)
              ? Optional.of(
                  new Condition(
                      "soak:" + days, "at the stage before for " + Words.count(days, "day")))
              : Optional.empty();
        }

        @Override
        public Optional<Gate> open(GateCase c) {
          GateCase.Before before = c.before();
          if (!asks(c) || before == null) {
            return Optional.empty();
          }
          Instant since = before.since();
          int days = c.leg().soakDays();
          return since != null && !since.plus(Duration.ofDays(days)).isAfter(c.now())
              ? Optional.empty()
              : Optional.of(new Soak(c.promotion().version(), before.stage(), days, since));
        }
      };

  @Override
  public String code() {
    return "soak";
  }

  @Override
  public String words() {
    return since == null
        ? version + " is not in " + stage + ", where it must be for " + Words.count(days, "day")
        : version
            + " must be in "
            + stage
            + " until "
            + MINUTE.format(since.plus(Duration.ofDays(days)))
            + " ("
            + Words.count(days, "day")
            + ")";
  }

  @Override
  public Right mover() {
    return Right.RUN;
  }
}
