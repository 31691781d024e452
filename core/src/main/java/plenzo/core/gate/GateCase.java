package plenzo.core.gate;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.calendar.Openings;
import plenzo.core.promotion.Promotion;
import plenzo.core.rehearsal.Rehearsal;
import plenzo.core.stage.Emergency;
import plenzo.core.stage.Leg;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.Stage;

/**
 * What gates are judged by.
 *
 * @param leg what the path asks here
 * @param approvers who may approve now, with the roles that they hold there: rights are judged
 *     whenever somebody asks (decision D8)
 * @param before the stage before on the path, null for the first leg
 * @param tasks what the version's tasks are called
 * @param now for what counts for a while
 * @param declared logins of who declared it an emergency and may start its run now
 * @param owedThere numbers of emergencies of the application that owe a yes at the site, without
 *     this one
 * @param drift parts and rows of the site that differ from its record, and are not settled
 * @param notGreen connections of the site that were not tested or whose test is red
 * @param rehearsal the newest of the promotion, of whichever of its plans; null where there is none
 * @param strangers authors of whom nobody knows who they are: each asks for one approver more
 * @param closed why no run may start now by the stage's calendar; null when one may
 */
public record GateCase(
    Promotion promotion,
    Stage stage,
    Leg leg,
    Map<String, Set<String>> approvers,
    @Nullable Before before,
    List<String> tasks,
    Set<String> declared,
    List<Long> owedThere,
    long drift,
    List<NotGreen> notGreen,
    @Nullable Rehearsal rehearsal,
    List<String> strangers,
    Openings.@Nullable Closed closed,
    Instant now) {
  public GateCase {
    approvers = Map.copyOf(approvers);
    tasks = List.copyOf(tasks);
    declared = Set.copyOf(declared);
    owedThere = List.copyOf(owedThere);
    notGreen = List.copyOf(notGreen);
    strangers = List.copyOf(strangers);
  }

  /**
   * How the version stands at the stage before.
   *
   * @param good whether it was judged good there
   * @param since when it came to be there, at the site where it has been longest; null when it is
   *     at none
   * @param without sites that do not have it
   * @param shown whether the newest test report of it that was given there has no failure
   * @param report what that says; empty where none was given
   */
  public record Before(
      String stage,
      boolean good,
      @Nullable Instant since,
      List<String> without,
      boolean shown,
      String report) {
    public Before {
      without = List.copyOf(without);
    }
  }

  /**
   * A connection that nothing may go over now.
   *
   * @param connection null where the site has no target to connect to: {@code found} says so
   * @param found what the red test found; null when it was never tested
   */
  public record NotGreen(@Nullable String connection, @Nullable String found) {
    /** Of a site that lost its targets, or is no more. */
    public static NotGreen noTarget(SiteKey site) {
      return new NotGreen(null, site + " has no target");
    }
  }

  /** Whether enough people declared it an emergency, and its leg lets one pass. */
  boolean urgent() {
    Emergency allowed = leg.emergency();
    return allowed != null && promotion.brings() && declared.size() >= allowed.people();
  }

  /** Going back inside what was agreed before needs no further yes (decision D11). */
  boolean agreedBefore() {
    return promotion.rollback() && promotion.coveredBy() != null;
  }
}
