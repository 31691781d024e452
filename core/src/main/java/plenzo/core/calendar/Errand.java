package plenzo.core.calendar;

import java.time.Duration;
import java.time.Instant;
import java.util.Locale;
import org.jspecify.annotations.Nullable;
import plenzo.core.stage.Onward;
import plenzo.core.stage.SiteKey;

/**
 * A version on its way to a site without anybody starting it.
 *
 * @param number shown as "ER-4"
 * @param cause why, in words: "1.4.0 was judged good at test", "RP-2"
 * @param after number of the run that brought it to the stage before, which must end well; null for
 *     none
 * @param path by which it goes
 * @param how how far it goes
 * @param by whose rights it goes by
 * @param promotion that was prepared for it; null before
 * @param run that it started; null before
 * @param sentence what it waits for, or what became of it
 */
public record Errand(
    long number,
    String cause,
    @Nullable Long after,
    String path,
    String application,
    String version,
    SiteKey site,
    Onward.How how,
    String by,
    Instant made,
    State state,
    @Nullable Long promotion,
    @Nullable Long run,
    String sentence,
    int revision) {
  /** A gate that nobody opened for so long ends it (guess). */
  public static final Duration PATIENCE = Duration.ofDays(30);

  /** How it stands. */
  public enum State {
    /** For the comparison, for gates, or for its run to end. */
    WAITING,
    DONE,
    /** Something failed, or is for people to decide. */
    STOPPED;

    public String code() {
      return name().toLowerCase(Locale.ROOT);
    }
  }

  public String shown() {
    return "ER-" + number;
  }

  /** Whether it waited longer than anybody would. */
  public boolean forgotten(Instant now) {
    return now.isAfter(made.plus(PATIENCE));
  }

  public Errand prepared(long by) {
    return with(state, by, run, sentence);
  }

  public Errand started(long started) {
    return with(state, promotion, started, "");
  }

  public Errand waits(String what) {
    return with(State.WAITING, promotion, run, what);
  }

  public Errand end(State how, String said) {
    return with(how, promotion, run, said);
  }

  private Errand with(State next, @Nullable Long prepared, @Nullable Long started, String said) {
    return new Errand(
        number,
        cause,
        after,
        path,
        application,
        version,
        site,
        how,
        by,
        made,
        next,
        prepared,
        started,
        said,
        revision);
  }
}
