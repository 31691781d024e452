package plenzo.api;

import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Changes of what guards production, which need a second person. */
public interface Proposals {
  /**
   * A change as it was asked for, and what became of it.
   *
   * @param number "CH-3"
   * @param what "the path ordinary", "rights of tove"
   * @param words what it changes, from what to what
   * @param stages keys of the stages of production that it is about
   * @param state open, agreed, alone (nobody else administered), declined, withdrawn or overtaken
   * @param second who agreed or declined; null while nobody did
   * @param note what they said
   * @param seconds logins of those who may agree; empty when it is decided
   * @param mayDecide whether the caller may agree or decline now
   * @param mayWithdraw whether the caller asked for it and may take it back now
   */
  record ProposalView(
      String number,
      String what,
      String words,
      List<String> stages,
      String by,
      Instant at,
      String state,
      @Nullable String second,
      @Nullable Instant decidedAt,
      String note,
      List<String> seconds,
      Promotions.MayView mayDecide,
      boolean mayWithdraw) {}

  /**
   * @param note what is said to it; needed to decline
   */
  record Word(@Nullable String note) {}

  /**
   * What was changed of the gates since a promotion was prepared, or waits to be.
   *
   * @param number "CH-3"
   * @param by who asked for it
   * @param second who agreed; null while nobody did, or where nobody else administered
   * @param at when it was made, or asked for while it waits
   * @param state open, agreed or alone
   */
  record GuardChange(
      String number,
      String what,
      String words,
      String by,
      @Nullable String second,
      Instant at,
      String state) {}
}
