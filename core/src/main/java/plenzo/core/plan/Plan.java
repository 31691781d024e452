package plenzo.core.plan;

import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.Kind;
import plenzo.core.digest.Fingerprint;
import plenzo.core.locking.Locked;
import plenzo.core.manual.Asked;
import plenzo.core.target.TargetId;
import plenzo.core.words.Codes;

/**
 * What a promotion will do, in order, with its point of no return and its ways back.
 *
 * @param statements the exact SQL, in the order in which it runs
 * @param locked whom the switch keeps waiting at which table; not part of the fingerprint, as sizes
 *     are not
 * @param noReturn number of the step within which the run can no longer be aborted
 */
public record Plan(
    List<Step> steps,
    List<String> statements,
    int noReturn,
    List<WayBack> waysBack,
    List<Condition> gates,
    Locked locked,
    Fingerprint fingerprint) {
  public Plan {
    steps = List.copyOf(steps);
    statements = List.copyOf(statements);
    waysBack = List.copyOf(waysBack);
    gates = List.copyOf(gates);
  }

  /**
   * A condition that the plan falls under, whether it is met or not.
   *
   * @param code with what it asks for, such as "approvals:1"; what fingerprints are made of
   */
  public record Condition(String code, String words) {}

  /**
   * One step, numbered from 1.
   *
   * @param holder what sort of target it works on, null for all of them or none
   * @param on that target; null with the holder, and in plans made before targets had ids
   * @param manual what people do; null for what Plenzo does
   */
  public record Step(
      int number,
      Act act,
      Kind.@Nullable Holder holder,
      @Nullable TargetId on,
      String name,
      String target,
      String what,
      String undo,
      @Nullable Asked manual) {
    /** What a yes covers of it. */
    private String code() {
      return act
          + (on == null ? "" : " " + on)
          + (manual == null ? "" : " " + manual.step().digest().hex());
    }
  }

  /** What a step does. */
  public enum Act {
    /** People do something before anything else. */
    BY_HAND_BEFORE,
    LOOK_AGAIN,
    BACK_UP,
    PROVE,
    PREPARE,
    /** Ask the running system before anything changes. */
    ASK_BEFORE,
    /** Tell people that they will be kept out, and wait until then. */
    ANNOUNCE,
    /** Keep users out, and wait for running work. */
    CLOSE,
    /** People do something while the site is closed. */
    BY_HAND_CLOSED,
    /** Add to the backup what moved until users were out. */
    ADD_MOVED,
    SWITCH,
    /** People do something before anybody is let in. */
    BY_HAND_SWITCHED,
    READ_BACK,
    /** A host refreshes what it keeps of what changed. */
    REFRESH,
    /** Ask it the same again. */
    ASK_AFTER,
    /** Maintenance off. */
    OPEN,
    RECORD,
    /** People do something when everything is there. */
    BY_HAND_AFTER
  }

  /** What it falls under and the other did not, and the other way round, in words. */
  public List<String> asksOtherwiseThan(Plan before) {
    List<String> out = new ArrayList<>();
    gates.stream()
        .filter(g -> before.gates.stream().noneMatch(b -> b.code().equals(g.code())))
        .forEach(g -> out.add("It is asked now: " + g.words()));
    before.gates.stream()
        .filter(b -> gates.stream().noneMatch(g -> g.code().equals(b.code())))
        .forEach(b -> out.add("It is asked no more: " + b.words()));
    manual().stream()
        .filter(m -> before.manual().stream().noneMatch(b -> b.step().equals(m.step())))
        .forEach(m -> out.add("To be done by hand now: " + m.words()));
    before.manual().stream()
        .filter(b -> manual().stream().noneMatch(m -> m.step().equals(b.step())))
        .forEach(b -> out.add("To be done by hand no more: " + b.words()));
    return out;
  }

  /** What people do around it, in order. */
  public List<Asked> manual() {
    return steps.stream().map(Step::manual).filter(Objects::nonNull).toList();
  }

  /** The number of the first step of a sort; 0 when there is none. */
  public int step(Act act) {
    return steps.stream().filter(s -> s.act() == act).mapToInt(Step::number).findFirst().orElse(0);
  }

  public Plan covered(Fingerprint by) {
    return new Plan(steps, statements, noReturn, waysBack, gates, locked, by);
  }

  /** The same for a fingerprint: what is done to which target. */
  public List<String> codes() {
    return steps.stream().map(Step::code).toList();
  }

  /** A way back that an approval of the plan covers, up to its ceiling of lost rows. */
  public record WayBack(Way way, boolean possible, String sentence, long ceiling) {}

  /** The ways back (decision D14). */
  public enum Way {
    /** What the host was given before values came alone. */
    EARLIER_VALUES("earlier-values"),
    EARLIER_VERSION("earlier-version"),
    BACKUP("backup");

    private final String code;

    Way(String code) {
      this.code = code;
    }

    public String code() {
      return code;
    }

    public static Way of(String code) {
      return Codes.find("a way back", values(), Way::code, code);
    }
  }
}
