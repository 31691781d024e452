package plenzo.core.stage;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.EnumSet;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Consumer;
import java.util.regex.Pattern;
import java.util.regex.PatternSyntaxException;
import org.jspecify.annotations.Nullable;
import plenzo.core.manual.ManualStep;
import plenzo.core.probe.WhenFailed;
import plenzo.core.words.Words;

/**
 * A stage on a path, and what a promotion must pass to get there by this path (decision D31).
 *
 * @param approvals how many must say yes, by role; empty when nobody is asked
 * @param approvalDays days after which a yes no longer counts; 0 for never
 * @param verdict whether the version must have been judged good at the stage before
 * @param everySite whether the version must be at every site of the stage before
 * @param soakDays days that the version must have been at the stage before; 0 for none
 * @param task pattern (of {@link Pattern}) that one of the version's tasks must match; empty for
 *     none
 * @param proof whether the backup must be proven by restoring it
 * @param apart who may not be whom; that who prepared it does not approve it holds everywhere
 * @param emergency what an emergency may pass; null when nothing
 * @param manual what people do whenever a version comes by this leg, in order
 * @param whenFailed what a run does when an answer after its switch is not as it should be
 * @param evidence whether a test report of the version without a failure must have been given at
 *     the stage before
 * @param rehearsal whether the plan must have been carried out on a copy and taken back there
 * @param closing how users are kept out meanwhile
 * @param outside somebody else's yes that is asked for over the network; null for nobody's
 * @param onward how far versions go by it without anybody starting that; null where people do
 */
public record Leg(
    String stage,
    List<Quorum> approvals,
    int approvalDays,
    boolean verdict,
    boolean everySite,
    int soakDays,
    String task,
    boolean proof,
    Set<Apart> apart,
    @Nullable Emergency emergency,
    @Nullable List<ManualStep> manual,
    @Nullable WhenFailed whenFailed,
    @Nullable Boolean evidence,
    @Nullable Boolean rehearsal,
    @Nullable Closing closing,
    @Nullable OutsideYes outside,
    @Nullable Onward onward) {
  /** Longest span in days that can be asked for: ten years. */
  private static final int LONGEST = 3660;

  public Leg {
    // a leg of before had none
    manual = manual == null ? List.of() : ManualStep.all(manual);
    whenFailed = whenFailed == null ? WhenFailed.LOOK : whenFailed;
    evidence = evidence != null && evidence;
    rehearsal = rehearsal != null && rehearsal;
    closing = closing == null ? Closing.USUAL : closing;
    List<Quorum> sorted = new ArrayList<>(approvals);
    sorted.sort(Comparator.comparing(Quorum::role));
    approvals = List.copyOf(sorted);
    apart = Set.copyOf(new TreeSet<>(apart));
    if (approvals.stream().map(Quorum::role).distinct().count() < approvals.size()) {
      throw new IllegalArgumentException("A leg asks each role once");
    }
    if (approvalDays < 0 || approvalDays > LONGEST || soakDays < 0 || soakDays > LONGEST) {
      throw new IllegalArgumentException("Days are 0 to " + LONGEST);
    }
    try {
      Pattern.compile(task);
    } catch (PatternSyntaxException e) {
      throw new IllegalArgumentException(
          "The pattern of tasks \"" + task + "\" cannot be read: " + e.getDescription(), e);
    }
    if (task.length() > 200) {
      throw new IllegalArgumentException("A pattern of tasks has at most 200 characters");
    }
  }

  /** A leg that lets no emergency pass anything, and asks for no work by hand. */
  public Leg(
      String stage,
      List<Quorum> approvals,
      int approvalDays,
      boolean verdict,
      boolean everySite,
      int soakDays,
      String task,
      boolean proof,
      Set<Apart> apart) {
    this(
        stage,
        approvals,
        approvalDays,
        verdict,
        everySite,
        soakDays,
        task,
        proof,
        apart,
        null,
        List.of(),
        WhenFailed.LOOK,
        false,
        false,
        Closing.USUAL,
        null,
        null);
  }

  /** Whether a test report of the version is asked for. */
  public boolean asksEvidence() {
    return evidence != null && evidence;
  }

  /** Whether its plan is to be rehearsed. */
  public boolean asksRehearsal() {
    return rehearsal != null && rehearsal;
  }

  @Override
  public Closing closing() {
    return closing == null ? Closing.USUAL : closing;
  }

  @Override
  public WhenFailed whenFailed() {
    return whenFailed == null ? WhenFailed.LOOK : whenFailed;
  }

  /** What people do whenever a version comes by this leg, in order. */
  @Override
  public List<ManualStep> manual() {
    return manual == null ? List.of() : manual;
  }

  /**
   * How many yes are asked for.
   *
   * @param role key of the role that those who say it hold at the destination; empty for whoever
   *     may approve there
   */
  public record Quorum(String role, int count) {
    /** More than this many people are never asked (guess). */
    public static final int MOST = 20;

    public Quorum {
      if (count < 1 || count > MOST) {
        throw new IllegalArgumentException(
            "From 1 to " + MOST + " approvals can be asked for; got " + count);
      }
    }

    /** "2 approvals by change-board", "1 approval". */
    public String words() {
      return Words.count(count, "approval") + (role.isEmpty() ? "" : " by " + role);
    }
  }

  /** A leg that asks for nothing of its own. */
  public static Leg open(String stage) {
    return new Leg(stage, List.of(), 0, false, false, 0, "", false, Set.of());
  }

  /** What a leg asks where nothing was said: one approval before production. */
  public static Leg usual(Stage stage) {
    return stage.production() ? open(stage.key()).asking(new Quorum("", 1)) : open(stage.key());
  }

  public Leg asking(Quorum... asked) {
    return but(n -> n.approvals = List.of(asked));
  }

  /** The same with a yes that counts for so many days, 0 for ever. */
  public Leg yesFor(int days) {
    return but(n -> n.approvalDays = days);
  }

  /** The same with proven backups, or without. */
  public Leg proven(boolean asked) {
    return but(n -> n.proof = asked);
  }

  /** The same with a good verdict at the stage before, or without. */
  public Leg judged(boolean asked) {
    return but(n -> n.verdict = asked);
  }

  /** The same with other rules of who may not be whom. */
  public Leg apart(Set<Apart> asked) {
    return but(n -> n.apart = asked);
  }

  /** The same with what an emergency may pass. */
  public Leg passing(@Nullable Emergency allowed) {
    return but(n -> n.emergency = allowed);
  }

  /** The same with work by hand. */
  public Leg by(List<ManualStep> hands) {
    return but(n -> n.manual = hands);
  }

  /** The same with what a failed question does. */
  public Leg failing(WhenFailed does) {
    return but(n -> n.whenFailed = does);
  }

  /** The same with a test report asked for, or without. */
  public Leg shown(boolean asked) {
    return but(n -> n.evidence = asked);
  }

  /** The same with a rehearsal asked for, or without. */
  public Leg rehearsed(boolean asked) {
    return but(n -> n.rehearsal = asked);
  }

  /** The same with another way of keeping users out. */
  public Leg closing(Closing how) {
    return but(n -> n.closing = how);
  }

  /** The same with somebody else's yes asked for over the network, or without. */
  public Leg outside(@Nullable OutsideYes asked) {
    return but(n -> n.outside = asked);
  }

  /** The same with versions that go on by themselves, or without. */
  public Leg onward(@Nullable Onward how) {
    return but(n -> n.onward = how);
  }

  private Leg but(Consumer<Next> change) {
    Next next = new Next(this);
    change.accept(next);
    return next.leg(this);
  }

  /** What can be asked otherwise; the one place where the fields are listed. */
  private static final class Next {
    private List<Quorum> approvals;
    private boolean verdict;
    private boolean proof;
    private int approvalDays;
    private Set<Apart> apart;
    private @Nullable Emergency emergency;
    private List<ManualStep> manual;
    private WhenFailed whenFailed;
    private boolean evidence;
    private boolean rehearsal;
    private Closing closing;
    private @Nullable OutsideYes outside;
    private @Nullable Onward onward;

    Next(Leg was) {
      this.approvals = was.approvals;
      this.approvalDays = was.approvalDays;
      this.verdict = was.verdict;
      this.proof = was.proof;
      this.apart = was.apart;
      this.emergency = was.emergency;
      this.manual = was.manual();
      this.whenFailed = was.whenFailed();
      this.evidence = was.asksEvidence();
      this.rehearsal = was.asksRehearsal();
      this.closing = was.closing();
      this.outside = was.outside;
      this.onward = was.onward;
    }

    Leg leg(Leg was) {
      return new Leg(
          was.stage,
          approvals,
          approvalDays,
          verdict,
          was.everySite,
          was.soakDays,
          was.task,
          proof,
          apart,
          emergency,
          manual,
          whenFailed,
          evidence,
          rehearsal,
          closing,
          outside,
          onward);
    }
  }

  /** How many yes it asks for in all. */
  public int needed() {
    return approvals.stream().mapToInt(Quorum::count).sum();
  }

  /** Duties that nobody with this one may have too, by the rules of the leg. */
  public Set<Apart.Duty> apartFrom(Apart.Duty duty) {
    Set<Apart.Duty> out = EnumSet.noneOf(Apart.Duty.class);
    apart.forEach(a -> a.other(duty).ifPresent(out::add));
    return out;
  }

  /** What it asks, a part of a sentence each, in the order in which people read it. */
  public List<String> words() {
    List<String> out = new ArrayList<>();
    for (Quorum q : approvals) {
      out.add(
          Words.count(q.count(), "approval")
              + (q.role().isEmpty() ? " by whoever may approve" : " by the role " + q.role())
              + ", not by who prepared it");
    }
    if (approvalDays > 0) {
      out.add("approvals that are not older than " + Words.count(approvalDays, "day"));
    }
    if (verdict) {
      out.add("a good verdict at the stage before");
    }
    if (asksEvidence()) {
      out.add("a test report of its version without a failure, given at the stage before");
    }
    if (everySite) {
      out.add("its version at every site of the stage before");
    }
    if (soakDays > 0) {
      out.add("its version at the stage before for " + Words.count(soakDays, "day"));
    }
    if (!task.isEmpty()) {
      out.add("a task of its version that matches " + task);
    }
    if (proof) {
      out.add("a backup proven by restoring it");
    }
    if (asksRehearsal()) {
      out.add("its plan rehearsed on a copy, and taken back there");
    }
    if (outside != null) {
      out.add(outside.words());
    }
    apart.stream().sorted().forEach(a -> out.add(a.words()));
    if (emergency != null) {
      out.add(emergency.words());
    }
    if (whenFailed() != WhenFailed.LOOK) {
      out.add(whenFailed().words());
    }
    if (!closing().equals(Closing.USUAL)) {
      out.add(closing().words());
    }
    manual().forEach(m -> out.add("by hand " + m.when().words() + ": " + m.title()));
    return out;
  }
}
