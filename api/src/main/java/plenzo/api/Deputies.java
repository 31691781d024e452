package plenzo.api;

import java.time.Instant;
import org.jspecify.annotations.Nullable;

/** Who stands in for whom. */
public interface Deputies {
  /**
   * Somebody who stands in for a person for a span.
   *
   * @param number "DP-2"
   * @param of login of the person
   * @param deputy login of who stands in
   * @param role key of the role that is stood in for; empty for what the person may approve and
   *     judge
   * @param stage key of the stage; "*" for every one
   * @param state to-come, now or over
   * @param by who named them
   * @param mayEnd whether the caller may end it now
   */
  record DeputyView(
      String number,
      String of,
      String deputy,
      String role,
      String stage,
      Instant from,
      Instant until,
      String state,
      String by,
      String reason,
      boolean mayEnd) {}

  /**
   * @param of null for oneself; somebody else's are named by whoever administers, with a reason
   * @param role null for what the person may approve and judge, however it was given
   * @param stage null for every stage
   * @param from null for now
   */
  record NameDeputy(
      @Nullable String of,
      String deputy,
      @Nullable String role,
      @Nullable String stage,
      @Nullable Instant from,
      Instant until,
      @Nullable String reason) {}
}
