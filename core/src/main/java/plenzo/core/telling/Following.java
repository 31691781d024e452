package plenzo.core.telling;

import java.time.Instant;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.util.List;
import java.util.Set;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import plenzo.core.history.HistoryEntry;

/**
 * What one person is told of.
 *
 * @param mail address to which it is sent too; empty for the console alone
 * @param stages of which they are told; none: of all that they may look at
 * @param applications the same of applications
 * @param news sorts of news that they follow
 * @param quietFrom from when on no letters are sent; null where there are no quiet hours
 * @param zone in which the quiet hours are meant
 * @param seen sequence of the newest entry of the history that they have seen
 */
public record Following(
    String login,
    String mail,
    List<String> stages,
    List<String> applications,
    Set<News> news,
    @Nullable LocalTime quietFrom,
    @Nullable LocalTime quietUntil,
    String zone,
    long seen,
    int revision) {
  /** What somebody follows who never said. */
  private static final Set<News> USUAL = Set.of(News.URGENT, News.FAILED, News.ASKED);

  /** One address (RFC 5321), without names, comments and quotes. */
  private static final Pattern ADDRESS =
      Pattern.compile("[A-Za-z0-9.!#$%&*+/=?^_`{|}~-]{1,64}@[A-Za-z0-9.-]{1,190}");

  public Following {
    stages = List.copyOf(stages);
    applications = List.copyOf(applications);
    news = Set.copyOf(news);
    if (!mail.isEmpty() && !ADDRESS.matcher(mail).matches()) {
      throw new IllegalArgumentException(
          "A mail address is written as name@host.example; got \"" + mail + "\"");
    }
    if ((quietFrom == null) != (quietUntil == null)) {
      throw new IllegalArgumentException("Quiet hours have a beginning and an end");
    }
    ZoneId.of(zone);
  }

  public static Following usual(String login) {
    return new Following(
        login, "", List.of(), List.of(), USUAL, null, null, "UTC", /* seen= */ 0, 0);
  }

  /** Whether they are told of that; nobody is told of what they did themselves. */
  public boolean wants(HistoryEntry e) {
    return news.contains(News.about(e.event()))
        && (!e.actor().equals(login) || News.about(e.event()) == News.URGENT)
        && among(stages, e.stage())
        && among(applications, e.application());
  }

  private static boolean among(List<String> chosen, @Nullable String value) {
    return chosen.isEmpty() || value != null && chosen.contains(value);
  }

  /** When a letter of such news is sent: now, or at the end of the quiet hours. */
  public Instant sent(News sort, Instant now) {
    LocalTime from = quietFrom;
    LocalTime until = quietUntil;
    if (from == null || until == null || from.equals(until) || sort == News.URGENT) {
      return now;
    }
    ZonedDateTime here = now.atZone(ZoneId.of(zone));
    LocalTime time = here.toLocalTime();
    boolean over = until.isAfter(from);
    boolean quiet =
        over
            ? !time.isBefore(from) && time.isBefore(until)
            : !time.isBefore(from) || time.isBefore(until);
    if (!quiet) {
      return now;
    }
    ZonedDateTime end =
        here.toLocalDate()
            .plusDays(!over && !time.isBefore(from) ? 1 : 0)
            .atTime(until)
            .atZone(here.getZone());
    return end.toInstant();
  }

  /** What somebody asks for now; what was seen stays. */
  public Following instead(Following asked) {
    return new Following(
        login,
        asked.mail,
        asked.stages,
        asked.applications,
        asked.news,
        asked.quietFrom,
        asked.quietUntil,
        asked.zone,
        seen,
        revision);
  }

  /** They have seen everything up to there. */
  public Following saw(long entry) {
    return new Following(
        login,
        mail,
        stages,
        applications,
        news,
        quietFrom,
        quietUntil,
        zone,
        Math.max(seen, entry),
        revision);
  }
}
