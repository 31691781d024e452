package plenzo.core.telling;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import org.jspecify.annotations.Nullable;

/**
 * Somebody must come: people of a stage's list are called until one takes it.
 *
 * @param number shown as "CL-3"
 * @param cause what is wrong, in words
 * @param about what it is about, once for each: "run 12", "doors fares@production/north"
 * @param entry sequence of the history's entry about it
 * @param told who was called, in order
 * @param next when the next is called; null when nobody is left, or it is over
 * @param by who took it or ended it; null before
 */
public record Call(
    long number,
    String stage,
    @Nullable String application,
    @Nullable String site,
    @Nullable Long run,
    String cause,
    String about,
    long entry,
    Instant made,
    List<Told> told,
    @Nullable Instant next,
    State state,
    @Nullable String by,
    @Nullable Instant at,
    int revision) {
  /** How it stands. */
  public enum State {
    /** Nobody has said that they come. */
    OPEN,
    TAKEN,
    /** It is settled, or somebody said so. */
    OVER;

    public String code() {
      return name().toLowerCase(Locale.ROOT);
    }
  }

  /**
   * Somebody who was called.
   *
   * @param words how: "by mail to …", or why not
   */
  public record Told(String login, Instant at, String words) {}

  public Call {
    told = List.copyOf(told);
  }

  public String shown() {
    return "CL-" + number;
  }

  public boolean due(Instant now) {
    return state == State.OPEN && next != null && !now.isBefore(next);
  }

  /**
   * @param then when the next one is called; null where nobody is left
   */
  public Call calling(Told one, @Nullable Instant then) {
    List<Told> all = new ArrayList<>(told);
    all.add(one);
    return with(all, then, state, by, at);
  }

  public Call end(State how, String who, Instant when) {
    return with(told, null, how, who, when);
  }

  private Call with(
      List<Told> called,
      @Nullable Instant then,
      State how,
      @Nullable String who,
      @Nullable Instant when) {
    return new Call(
        number,
        stage,
        application,
        site,
        run,
        cause,
        about,
        entry,
        made,
        called,
        then,
        how,
        who,
        when,
        revision);
  }
}
