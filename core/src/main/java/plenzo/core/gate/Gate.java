package plenzo.core.gate;

import java.util.List;
import java.util.Optional;
import plenzo.core.person.Right;
import plenzo.core.plan.Plan.Condition;

/** A condition that is still open. Its code and facts are for machines, its words for people. */
public sealed interface Gate
    permits Approvals,
        Blockers,
        DriftOpen,
        EverySiteBefore,
        EvidenceBefore,
        JudgedBefore,
        NotNow,
        OwedThere,
        Rehearsed,
        Rejected,
        Risks,
        SaidOutside,
        Soak,
        TaskNamed,
        Tests,
        Unanswered {
  /** What never changes about it: "approvals". */
  String code();

  /** What is missing: "approval 0 of 1". */
  String words();

  /** The right at the destination with which a person can move it. */
  Right mover();

  /** Judges one sort of gate. */
  interface Judge {
    /** Empty when the case does not fall under it, or it only says what another one asks. */
    Optional<Condition> inForce(GateCase c);

    /** Empty when nothing is missing. */
    Optional<Gate> open(GateCase c);
  }

  /** Every sort, in the order in which people read them. A new one is a class and a line here. */
  List<Judge> ALL =
      List.of(
          Blockers.JUDGE,
          Risks.JUDGE,
          Tests.JUDGE,
          TaskNamed.JUDGE,
          JudgedBefore.JUDGE,
          EverySiteBefore.JUDGE,
          EvidenceBefore.JUDGE,
          Rehearsed.JUDGE,
          SaidOutside.JUDGE,
          Soak.JUDGE,
          NotNow.JUDGE,
          DriftOpen.JUDGE,
          OwedThere.JUDGE,
          Unanswered.JUDGE,
          Rejected.JUDGE,
          Approvals.JUDGE);

  /** What a plan falls under, in order. */
  static List<Condition> inForce(GateCase c) {
    return ALL.stream().flatMap(j -> j.inForce(c).stream()).toList();
  }
}
