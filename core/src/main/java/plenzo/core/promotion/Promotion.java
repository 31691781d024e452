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
import plenzo.core.drift.PutBack;
import plenzo.core.impact.Finding;
import plenzo.core.manual.ManualStep;
import plenzo.core.plan.Plan;
import plenzo.core.stage.SiteKey;
import plenzo.core.table.PartDifference;
import plenzo.core.version.SemVer;
import plenzo.core.way.Obstacle;

/**
 * The case file of moving a version to a site, or of going back there.
 *
 * @param number shown as "P-12"
 * @param goal what goes where; never changes
 * @param look what was found at the last comparison
 * @param choices what people decided
 * @param approvals every word that was said, also what no longer counts
 * @param moved what moved since the approvals, by content; empty when nothing did
 * @param questions what was asked before a yes, by their numbers
 * @param urgency who declared it an emergency; null when nobody did
 * @param coveredBy the promotion whose approvals cover this rollback as it stands (decision D11),
 *     or null; worked out anew with every comparison
 * @param sentence why it failed or was closed, for people
 * @param outside what somebody outside said last; null when nobody was asked
 */
public record Promotion(
    long number,
    Goal goal,
    PromotionState state,
    Prepared prepared,
    Look look,
    List<Finding> findings,
    Choices choices,
    @Nullable Plan plan,
    List<Approval> approvals,
    List<String> moved,
    @Nullable List<Question> questions,
    @Nullable Urgency urgency,
    @Nullable String coveredBy,
    @Nullable String sentence,
    @Nullable OutsideAnswer outside,
    int revision) {
  public Promotion {
    findings = List.copyOf(findings);
    approvals = List.copyOf(approvals);
    moved = List.copyOf(moved);
    // a case of before kept none
    questions = questions == null ? List.of() : List.copyOf(questions);
  }

  /**
   * What goes where.
   *
   * @param way null for a promotion; the way back for a rollback, which is a plan of its own
   * @param backupOf number of the run whose backup is put back, or whose values are taken back;
   *     null otherwise
   * @param release key of the release or of the waves that it belongs to, null when it stands alone
   * @param putBack what is put back there as it is recorded; null when a version comes
   * @param values whether nothing but the values of the stage is given, for the version that is
   *     there
   * @param path key of the path by which it goes; null for the application's ordinary one
   */
  public record Goal(
      String application,
      SemVer version,
      SiteKey site,
      Plan.@Nullable Way way,
      @Nullable Long backupOf,
      @Nullable String release,
      @Nullable PutBack putBack,
      boolean values,
      @Nullable String path) {
    public static Goal of(String application, SemVer version, SiteKey site) {
      return new Goal(application, version, site, null, null, null, null, false, null);
    }

    /** Going back to a version, by the backup of a run or by the version itself. */
    public static Goal back(
        String application, SemVer version, SiteKey site, Plan.Way way, @Nullable Long backupOf) {
      return new Goal(application, version, site, way, backupOf, null, null, false, null);
    }

    /** What is recorded there is put back. */
    public static Goal puttingBack(
        String application, SemVer recorded, SiteKey site, PutBack putBack) {
      return new Goal(application, recorded, site, null, null, null, putBack, false, null);
    }

    /** The values of the stage are given to the version that is there, and nothing else moves. */
    public static Goal values(String application, SemVer recorded, SiteKey site) {
      return new Goal(application, recorded, site, null, null, null, null, true, null);
    }

    public Goal inRelease(@Nullable String key) {
      return new Goal(application, version, site, way, backupOf, key, putBack, values, path);
    }

    /** The same by another path than the ordinary one. */
    public Goal by(@Nullable String key) {
      return new Goal(application, version, site, way, backupOf, release, putBack, values, key);
    }
  }

  /** Who opened it, when and why. */
  public record Prepared(String by, Instant at, String notes) {}

  /**
   * What the last comparison found.
   *
   * @param present the version that was there
   * @param base the newest version that it and the incoming one descend from
   * @param comparison where its rows lie, null before the first
   * @param components what the comparison found, without files that are the same
   * @param sameFiles how many files those are: an application may have a hundred thousand
   * @param gives what the host would be given
   * @param obstacles what is chosen about on a way back, what was chosen among it
   */
  public record Look(
      @Nullable SemVer present,
      @Nullable SemVer base,
      @Nullable String comparison,
      @Nullable Instant at,
      List<ComponentResult> components,
      long sameFiles,
      List<Gives> gives,
      @Nullable List<Obstacle> obstacles) {
    static final Look NONE = new Look(null, null, null, null, List.of(), 0, List.of(), List.of());

    public Look {
      components = List.copyOf(components);
      gives = List.copyOf(gives);
      // a case of before kept none
      obstacles = obstacles == null ? List.of() : List.copyOf(obstacles);
    }
  }

  /**
   * A value that the host is given.
   *
   * @param from stage or stage/site that it is set at; empty for the default of the input itself
   * @param shown what people may see of it; null when the host is told to forget the one it has
   * @param setAt when it was set, null for a default
   * @param anew whether the host was given another one before
   */
  public record Gives(
      String input, String from, @Nullable String shown, @Nullable Instant setAt, boolean anew) {}

  /**
   * What people decided about it.
   *
   * @param decisions decided conflicts: component, or component#part
   * @param acceptances accepted risks by the id of their finding
   * @param activate components that the run switches on
   * @param manual work by hand that is asked for in this case alone, in order
   */
  public record Choices(
      Map<String, Decision> decisions,
      Map<String, Finding.Acceptance> acceptances,
      Set<ComponentKey> activate,
      @Nullable List<ManualStep> manual) {
    static final Choices NONE = new Choices(Map.of(), Map.of(), Set.of(), List.of());

    public Choices {
      // a case of before had none
      manual = manual == null ? List.of() : ManualStep.all(manual);
      decisions = Map.copyOf(decisions);
      acceptances = Map.copyOf(acceptances);
      activate = Set.copyOf(activate);
    }

    /** Work by hand that is asked for in this case alone, in order. */
    @Override
    public List<ManualStep> manual() {
      return manual == null ? List.of() : manual;
    }
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
   * @param of login of the person for whom it was said by who stands in; null where it is one's own
   * @param roles keys of the roles that were held there when it was said; null of words that kept
   *     none
   */
  public record Approval(
      String by,
      boolean yes,
      String fingerprint,
      String comment,
      Instant at,
      @Nullable String voidBecause,
      @Nullable String of,
      @Nullable List<String> roles) {
    public Approval {
      roles = roles == null ? null : List.copyOf(roles);
    }

    /** Somebody's own word. */
    public Approval(
        String by,
        boolean yes,
        String fingerprint,
        String comment,
        Instant at,
        @Nullable String voidBecause) {
      this(by, yes, fingerprint, comment, at, voidBecause, null, null);
    }

    /** Whose word it counts as: the person's who is stood in for, else one's own. */
    public String person() {
      return of == null ? by : of;
    }

    /** "bram", "bram for ines". */
    public String words() {
      return of == null ? by : by + " for " + of;
    }

    public boolean counts() {
      return yes && voidBecause == null;
    }

    /** A no that stands stops the plan. */
    public boolean rejects() {
      return !yes && voidBecause == null;
    }

    public Approval fallen(String because) {
      return new Approval(by, yes, fingerprint, comment, at, because, of, roles);
    }
  }

  /** A newly opened one that is being compared. */
  public static Promotion opened(long number, Goal goal, Prepared prepared) {
    return new Promotion(
        number,
        goal,
        PromotionState.PREPARING,
        prepared,
        Look.NONE,
        List.of(),
        Choices.NONE,
        null,
        List.of(),
        List.of(),
        List.of(),
        null,
        null,
        null,
        null,
        0);
  }

  public String application() {
    return goal.application();
  }

  public SemVer version() {
    return goal.version();
  }

  public SiteKey site() {
    return goal.site();
  }

  public Plan.@Nullable Way way() {
    return goal.way();
  }

  public @Nullable Long backupOf() {
    return goal.backupOf();
  }

  /** Key of the release that it belongs to, null when it belongs to none. */
  public @Nullable String release() {
    String group = goal.release();
    return group == null || Waves.isKey(group) ? null : group;
  }

  /** "W-3" when it goes to its site in waves; null when it does not. */
  public @Nullable String waves() {
    String group = goal.release();
    return group != null && Waves.isKey(group) ? group : null;
  }

  /** Key of the path by which it goes, null for the ordinary one. */
  public @Nullable String path() {
    return goal.path();
  }

  public @Nullable PutBack putBack() {
    return goal.putBack();
  }

  public boolean valuesOnly() {
    return goal.values() || goal.way() == Plan.Way.EARLIER_VALUES;
  }

  /** True when components go back to what they were, by an earlier version or a backup. */
  public boolean bringsBack() {
    return rollback() && !valuesOnly();
  }

  public @Nullable SemVer present() {
    return look.present();
  }

  public @Nullable SemVer base() {
    return look.base();
  }

  public @Nullable String comparison() {
    return look.comparison();
  }

  public @Nullable Instant comparedAt() {
    return look.at();
  }

  public List<ComponentResult> components() {
    return look.components();
  }

  public List<Gives> gives() {
    return look.gives();
  }

  public long sameFiles() {
    return look.sameFiles();
  }

  public Map<String, Decision> decisions() {
    return choices.decisions();
  }

  public Map<String, Finding.Acceptance> acceptances() {
    return choices.acceptances();
  }

  public Set<ComponentKey> activate() {
    return choices.activate();
  }

  /** Whether a yes that counts is the person's, said by themselves or for them. */
  public boolean agreedAs(String login) {
    return approvals.stream()
        .anyMatch(a -> a.counts() && (a.by().equals(login) || a.person().equals(login)));
  }

  /** Whether a yes that the person said counts. */
  public boolean agreedBy(String login) {
    return approvals.stream().anyMatch(a -> a.counts() && a.by().equals(login));
  }

  /** Work by hand that is asked for in this case alone, in order. */
  public List<ManualStep> manual() {
    return choices.manual();
  }

  public String preparedBy() {
    return prepared.by();
  }

  public Instant preparedAt() {
    return prepared.at();
  }

  /** What was asked before a yes, by their numbers. */
  @Override
  public List<Question> questions() {
    return questions == null ? List.of() : questions;
  }

  /** What is chosen about on a way back. */
  public List<Obstacle> obstacles() {
    return look.obstacles() == null ? List.of() : look.obstacles();
  }

  public String notes() {
    return prepared.notes();
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
    return goal.way() != null;
  }

  public Purpose purpose() {
    Plan.Way way = goal.way();
    return way != null
        ? Purpose.of(way.code())
        : goal.putBack() != null
            ? Purpose.PUT_BACK
            : goal.values() ? Purpose.VALUES : Purpose.VERSION;
  }

  /** True when it brings a version forward, and is not about the one that is there. */
  public boolean brings() {
    return purpose() == Purpose.VERSION;
  }

  public Plan requirePlan() {
    return Objects.requireNonNull(plan, "A promotion in state " + state.code() + " has no plan");
  }

  public Counts counts() {
    return counts(look.components(), look.sameFiles());
  }

  /** Of everything, files that are the same among it. */
  public static Counts counts(List<ComponentResult> components, long sameFiles) {
    return components.stream()
        .map(ComponentResult::counts)
        .reduce(new Counts(0, 0, 0, 0, 0, sameFiles), Counts::plus);
  }

  /** The same without what was compared, found and planned: enough to say who may do what. */
  public Promotion lean() {
    Look seen =
        new Look(
            look.present(),
            look.base(),
            look.comparison(),
            look.at(),
            List.of(),
            0,
            look.gives(),
            look.obstacles());
    return new Promotion(
        number, goal, state, prepared, seen, List.of(), choices, null, approvals, moved, questions,
        urgency, coveredBy, sentence, outside, revision);
  }

  /** Copies with changes; the one place where the many fields are listed. */
  public Changed change() {
    return new Changed(this);
  }

  /** Collects changes to a promotion. Not for threads. */
  public static final class Changed {
    private final Promotion p;
    private PromotionState state;
    private Prepared prepared;
    private Look look;
    private List<Finding> findings;
    private Choices choices;
    private @Nullable Plan plan;
    private List<Approval> approvals;
    private List<String> moved;
    private @Nullable List<Question> questions;
    private @Nullable Urgency urgency;
    private @Nullable String coveredBy;
    private @Nullable String sentence;
    private @Nullable OutsideAnswer outside;

    private Changed(Promotion p) {
      this.p = p;
      this.state = p.state;
      this.prepared = p.prepared;
      this.look = p.look;
      this.findings = p.findings;
      this.choices = p.choices;
      this.plan = p.plan;
      this.approvals = p.approvals;
      this.moved = p.moved;
      this.questions = p.questions;
      this.urgency = p.urgency;
      this.coveredBy = p.coveredBy;
      this.sentence = p.sentence;
      this.outside = p.outside;
    }

    public Changed state(PromotionState next) {
      if (!state.mayBecome(next)) {
        throw new IllegalStateException(
            p.shown() + " cannot go from " + state.code() + " to " + next.code());
      }
      this.state = next;
      return this;
    }

    public Changed notes(String text) {
      this.prepared = new Prepared(prepared.by(), prepared.at(), text);
      return this;
    }

    public Changed compared(Look found) {
      this.look = found;
      return this;
    }

    public Changed findings(List<Finding> found) {
      this.findings = found;
      return this;
    }

    public Changed decisions(Map<String, Decision> decisions) {
      this.choices =
          new Choices(decisions, choices.acceptances(), choices.activate(), choices.manual());
      return this;
    }

    public Changed acceptances(Map<String, Finding.Acceptance> acceptances) {
      this.choices =
          new Choices(choices.decisions(), acceptances, choices.activate(), choices.manual());
      return this;
    }

    public Changed activate(Set<ComponentKey> activate) {
      this.choices =
          new Choices(choices.decisions(), choices.acceptances(), activate, choices.manual());
      return this;
    }

    public Changed manual(List<ManualStep> asked) {
      this.choices =
          new Choices(choices.decisions(), choices.acceptances(), choices.activate(), asked);
      return this;
    }

    public Changed plan(Plan next) {
      this.plan = next;
      return this;
    }

    public Changed approvals(List<Approval> all) {
      this.approvals = all;
      return this;
    }

    public Changed moved(List<String> lines) {
      this.moved = lines;
      return this;
    }

    public Changed questions(List<Question> all) {
      this.questions = all;
      return this;
    }

    public Changed urgency(Urgency next) {
      this.urgency = next;
      return this;
    }

    public Changed coveredBy(@Nullable String promotion) {
      this.coveredBy = promotion;
      return this;
    }

    public Changed sentence(@Nullable String why) {
      this.sentence = why;
      return this;
    }

    public Changed outside(@Nullable OutsideAnswer answer) {
      this.outside = answer;
      return this;
    }

    public Promotion done() {
      return new Promotion(
          p.number,
          p.goal,
          state,
          prepared,
          look,
          findings,
          choices,
          plan,
          approvals,
          moved,
          questions,
          urgency,
          coveredBy,
          sentence,
          outside,
          p.revision);
    }
  }
}
