package plenzo.core.promotion;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.Counts;
import plenzo.core.comparison.Decision;
import plenzo.core.comparison.Difference;
import plenzo.core.component.ComponentKey;
import plenzo.core.impact.Finding;
import plenzo.core.plan.Plan;
import plenzo.core.stage.SiteKey;
import plenzo.core.table.PartDifference;
import plenzo.core.version.SemVer;

/**
 * The case file of moving a version to a site.
 *
 * @param way null for a promotion; the way back for a rollback, which is a plan of its own
 * @param components what the comparison found, without files that are the same
 * @param sameFiles how many files those are: an application may have a hundred thousand
 * @param decisions decided conflicts: component, or component#part
 * @param activate components that the run switches on
 * @param coveredBy the promotion whose approvals cover this rollback (decision D11), or null
 * @param release key of the release that it belongs to, null when it stands alone
 * @param moved what moved since the approvals, by content; empty when nothing did
 */
public record Promotion(
    long number,
    String application,
    SemVer version,
    SiteKey site,
    @Nullable SemVer present,
    @Nullable SemVer base,
    Plan.@Nullable Way way,
    @Nullable Long backupOf,
    PromotionState state,
    String preparedBy,
    Instant preparedAt,
    String notes,
    @Nullable String comparison,
    @Nullable Instant comparedAt,
    List<ComponentResult> components,
    long sameFiles,
    List<Finding> findings,
    Map<String, Decision> decisions,
    Map<String, Finding.Acceptance> acceptances,
    Set<ComponentKey> activate,
    @Nullable Plan plan,
    List<Approval> approvals,
    List<String> moved,
    @Nullable String coveredBy,
    @Nullable String release,
    @Nullable String sentence,
    int revision) {
  public Promotion {
    components = List.copyOf(components);
    findings = List.copyOf(findings);
    decisions = Map.copyOf(decisions);
    acceptances = Map.copyOf(acceptances);
    activate = Set.copyOf(activate);
    approvals = List.copyOf(approvals);
    moved = List.copyOf(moved);
  }

  /**
   * What the comparison found about one component.
   *
   * @param counts rows for records, parts for a structure
   * @param parts differing parts of a structure
   * @param touched digest over exactly what the plan touches, before and after
   */
  public record ComponentResult(
      ComponentKey key,
      Difference difference,
      Counts counts,
      List<PartDifference> parts,
      String touched) {
    public ComponentResult {
      parts = List.copyOf(parts);
    }
  }

  /**
   * One person's recorded yes or no.
   *
   * @param voidBecause why it no longer counts; null while it does
   */
  public record Approval(
      String by,
      boolean yes,
      String fingerprint,
      String comment,
      Instant at,
      @Nullable String voidBecause) {
    public boolean counts() {
      return yes && voidBecause == null;
    }

    /** A no that stands stops the plan. */
    public boolean rejects() {
      return !yes && voidBecause == null;
    }

    public Approval fallen(String because) {
      return new Approval(by, yes, fingerprint, comment, at, because);
    }
  }

  /** A newly opened one that is being compared. */
  public static Promotion opened(
      long number,
      String application,
      SemVer version,
      SiteKey site,
      String by,
      Instant at,
      String notes,
      @Nullable String release) {
    return new Promotion(
        number,
        application,
        version,
        site,
        null,
        null,
        null,
        null,
        PromotionState.PREPARING,
        by,
        at,
        notes,
        null,
        null,
        List.of(),
        0,
        List.of(),
        Map.of(),
        Map.of(),
        Set.of(),
        null,
        List.of(),
        List.of(),
        null,
        release,
        null,
        0);
  }

  public String shown() {
    return "P-" + number;
  }

  /** The same with a person's word on its plan; the person's earlier word on it falls. */
  public Promotion said(Approval word) {
    List<Approval> all = new ArrayList<>();
    for (Approval a : approvals) {
      boolean replaced =
          a.by().equals(word.by())
              && a.voidBecause() == null
              && a.fingerprint().equals(word.fingerprint());
      all.add(replaced ? a.fallen(a.by() + " changed it") : a);
    }
    all.add(word);
    return change().approvals(all).moved(List.of()).done();
  }

  public boolean rollback() {
    return way != null;
  }

  public Plan requirePlan() {
    return Objects.requireNonNull(plan, "A promotion in state " + state.code() + " has no plan");
  }

  public Counts counts() {
    return counts(components, sameFiles);
  }

  /** Of everything, files that are the same among it. */
  public static Counts counts(List<ComponentResult> components, long sameFiles) {
    return components.stream()
        .map(ComponentResult::counts)
        .reduce(new Counts(0, 0, 0, 0, 0, sameFiles), Counts::plus);
  }

  /** Copies with changes; the one place where the many fields are listed. */
  public Changed change() {
    return new Changed(this);
  }

  /** Collects changes to a promotion. Not for threads. */
  public static final class Changed {
    private final Promotion p;
    private PromotionState state;
    private @Nullable SemVer present;
    private @Nullable SemVer base;
    private @Nullable String comparison;
    private @Nullable Instant comparedAt;
    private List<ComponentResult> components;
    private long sameFiles;
    private List<Finding> findings;
    private Map<String, Decision> decisions;
    private Map<String, Finding.Acceptance> acceptances;
    private Set<ComponentKey> activate;
    private @Nullable Plan plan;
    private List<Approval> approvals;
    private List<String> moved;
    private @Nullable String sentence;

    private Changed(Promotion p) {
      this.p = p;
      this.state = p.state;
      this.present = p.present;
      this.base = p.base;
      this.comparison = p.comparison;
      this.comparedAt = p.comparedAt;
      this.components = p.components;
      this.sameFiles = p.sameFiles;
      this.findings = p.findings;
      this.decisions = p.decisions;
      this.acceptances = p.acceptances;
      this.activate = p.activate;
      this.plan = p.plan;
      this.approvals = p.approvals;
      this.moved = p.moved;
      this.sentence = p.sentence;
    }

    public Changed state(PromotionState next) {
      if (!state.mayBecome(next)) {
        throw new IllegalStateException(
            p.shown() + " cannot go from " + state.code() + " to " + next.code());
      }
      this.state = next;
      return this;
    }

    public Changed compared(
        @Nullable SemVer present,
        @Nullable SemVer base,
        String comparison,
        Instant at,
        List<ComponentResult> components,
        long sameFiles) {
      this.present = present;
      this.base = base;
      this.comparison = comparison;
      this.comparedAt = at;
      this.components = components;
      this.sameFiles = sameFiles;
      return this;
    }

    public Changed findings(List<Finding> findings) {
      this.findings = findings;
      return this;
    }

    public Changed decisions(Map<String, Decision> decisions) {
      this.decisions = decisions;
      return this;
    }

    public Changed acceptances(Map<String, Finding.Acceptance> acceptances) {
      this.acceptances = acceptances;
      return this;
    }

    public Changed activate(Set<ComponentKey> activate) {
      this.activate = activate;
      return this;
    }

    public Changed plan(Plan plan) {
      this.plan = plan;
      return this;
    }

    public Changed approvals(List<Approval> approvals) {
      this.approvals = approvals;
      return this;
    }

    public Changed moved(List<String> moved) {
      this.moved = moved;
      return this;
    }

    public Changed sentence(@Nullable String sentence) {
      this.sentence = sentence;
      return this;
    }

    public Promotion done() {
      return new Promotion(
          p.number,
          p.application,
          p.version,
          p.site,
          present,
          base,
          p.way,
          p.backupOf,
          state,
          p.preparedBy,
          p.preparedAt,
          p.notes,
          comparison,
          comparedAt,
          components,
          sameFiles,
          findings,
          decisions,
          acceptances,
          activate,
          plan,
          approvals,
          moved,
          p.coveredBy,
          p.release,
          sentence,
          p.revision);
    }
  }
}
