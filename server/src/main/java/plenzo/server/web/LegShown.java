package plenzo.server.web;

import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import plenzo.api.Stages.ClosingView;
import plenzo.api.Stages.EmergencyView;
import plenzo.api.Stages.LegView;
import plenzo.api.Stages.OnwardView;
import plenzo.api.Stages.OutsideView;
import plenzo.api.Stages.QuorumView;
import plenzo.core.probe.WhenFailed;
import plenzo.core.stage.Apart;
import plenzo.core.stage.Closing;
import plenzo.core.stage.Emergency;
import plenzo.core.stage.Leg;
import plenzo.core.stage.Onward;
import plenzo.core.stage.OutsideYes;

/** A leg as programs read and write it. */
final class LegShown {
  /** What says that people start everything there. */
  private static final String BY_HAND = "by-hand";

  private LegShown() {}

  static LegView view(Leg leg) {
    Emergency emergency = leg.emergency();
    return new LegView(
        leg.stage(),
        leg.approvals().stream().map(q -> new QuorumView(q.role(), q.count())).toList(),
        leg.approvalDays(),
        leg.verdict(),
        leg.everySite(),
        leg.soakDays(),
        leg.task(),
        leg.proof(),
        leg.apart().stream().sorted().map(Apart::code).toList(),
        emergency == null
            ? null
            : new EmergencyView(
                emergency.people(),
                emergency.owes().stream().sorted().toList(),
                emergency.hours(),
                emergency.tells()),
        leg.words(),
        ManualShown.views(leg.manual()),
        leg.whenFailed().code(),
        leg.asksEvidence(),
        leg.asksRehearsal(),
        new ClosingView(leg.closing().seconds(), leg.closing().before(), leg.closing().notice()),
        outside(leg.outside()),
        onward(leg.onward()));
  }

  /**
   * @param usual what holds of what is left out: the leg as it is, or the usual one of its stage
   * @throws IllegalArgumentException when it cannot be asked for
   */
  static Leg leg(LegView v, Leg usual) {
    List<QuorumView> approvals = v.approvals();
    List<String> apart = v.apart();
    EmergencyView emergency = v.emergency();
    ClosingView closing = v.closing();
    return new Leg(
        v.stage(),
        approvals == null
            ? usual.approvals()
            : approvals.stream().map(q -> new Leg.Quorum(q.role(), q.count())).toList(),
        or(v.approvalDays(), usual.approvalDays()),
        or(v.verdict(), usual.verdict()),
        or(v.everySite(), usual.everySite()),
        or(v.soakDays(), usual.soakDays()),
        or(v.task(), usual.task()),
        or(v.proof(), usual.proof()),
        apart == null ? usual.apart() : apart.stream().map(Apart::of).collect(Collectors.toSet()),
        emergency == null
            ? usual.emergency()
            : emergency.people() == 0
                ? null
                : new Emergency(
                    emergency.people(),
                    Set.copyOf(emergency.owes()),
                    emergency.hours(),
                    emergency.tells()),
        v.manual() == null ? usual.manual() : ManualShown.steps(v.manual()),
        v.whenFailed() == null ? usual.whenFailed() : WhenFailed.of(v.whenFailed()),
        or(v.evidence(), usual.asksEvidence()),
        or(v.rehearsal(), usual.asksRehearsal()),
        closing == null
            ? usual.closing()
            : new Closing(closing.seconds(), closing.minutes(), closing.notice()),
        outside(v.outside(), usual.outside()),
        onward(v.onward(), usual.onward()));
  }

  private static @Nullable OnwardView onward(@Nullable Onward asked) {
    return asked == null ? null : new OnwardView(asked.how().code(), asked.by());
  }

  private static @Nullable Onward onward(@Nullable OnwardView asked, @Nullable Onward usual) {
    return asked == null
        ? usual
        : asked.how().equals(BY_HAND)
            ? null
            : new Onward(Onward.How.of(asked.how()), asked.by() == null ? "" : asked.by());
  }

  static @Nullable OutsideView outside(@Nullable OutsideYes asked) {
    return asked == null ? null : new OutsideView(asked.name(), asked.address(), asked.seconds());
  }

  private static @Nullable OutsideYes outside(
      @Nullable OutsideView asked, @Nullable OutsideYes usual) {
    return asked == null
        ? usual
        : asked.seconds() == 0
            ? null
            : new OutsideYes(asked.name(), asked.address(), asked.seconds());
  }

  private static <T> T or(@Nullable T said, T usual) {
    return said == null ? usual : said;
  }
}
