package plenzo.core.gate;

import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.promotion.Promotion;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.Stage;

/**
 * What gates are judged by.
 *
 * @param approvers logins of who may approve now: rights are judged whenever somebody asks
 *     (decision D8)
 * @param stageBefore key of the stage before on the path, null for the first leg
 * @param goodBefore whether the version was judged good there
 * @param drift parts and rows of the site that differ from its record, and are not settled
 * @param notGreen connections of the site that were not tested or whose test is red
 */
public record GateCase(
    Promotion promotion,
    Stage stage,
    Set<String> approvers,
    @Nullable String stageBefore,
    boolean goodBefore,
    long drift,
    List<NotGreen> notGreen) {
  public GateCase {
    approvers = Set.copyOf(approvers);
    notGreen = List.copyOf(notGreen);
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

  /** Going back inside what was agreed before needs no further yes (decision D11). */
  boolean agreedBefore() {
    return promotion.rollback() && promotion.coveredBy() != null;
  }
}
