package plenzo.server.web;

import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import plenzo.api.Manuals.AskedByHand;
import plenzo.api.Manuals.ChargeView;
import plenzo.api.Manuals.HandedView;
import plenzo.api.Manuals.ManualView;
import plenzo.api.Manuals.PauseView;
import plenzo.api.Manuals.SteeringView;
import plenzo.api.Promotions.MayView;
import plenzo.core.manual.Asked;
import plenzo.core.manual.Handed;
import plenzo.core.manual.ManualStep;
import plenzo.core.may.RunMay;
import plenzo.core.run.Course;
import plenzo.core.run.Run;
import plenzo.core.run.RunStep;
import plenzo.server.security.Shown;

/** Work by hand, and how people steer runs, as programs read and write it. */
final class ManualShown {
  private ManualShown() {}

  /**
   * @throws IllegalArgumentException when it cannot be asked for
   */
  static List<ManualStep> steps(@Nullable List<ManualView> asked) {
    return asked == null
        ? List.of()
        : ManualStep.all(asked.stream().map(ManualShown::step).toList());
  }

  private static ManualStep step(ManualView v) {
    return new ManualStep(
        ManualStep.When.of(v.when()),
        or(v.who(), ""),
        v.text(),
        or(v.link(), ""),
        or(v.minutes(), 0),
        or(v.proof(), false),
        or(v.mayBeLeftOut(), false));
  }

  private static <T> T or(@Nullable T said, T usual) {
    return said == null ? usual : said;
  }

  static ManualView view(ManualStep s) {
    return new ManualView(
        s.when().code(),
        s.who(),
        Shown.plain(s.text()),
        s.link(),
        s.minutes(),
        s.proof(),
        s.mayBeLeftOut());
  }

  static List<ManualView> views(List<ManualStep> all) {
    return all.stream().map(ManualShown::view).toList();
  }

  static @Nullable AskedByHand asked(@Nullable Asked a) {
    return a == null
        ? null
        : new AskedByHand(
            view(a.step()), Shown.plain(a.step().title()), a.origin(), a.step().when().words());
  }

  static @Nullable HandedView handed(RunStep s, RunMay may, Instant now) {
    Handed h = s.manual();
    if (h == null) {
      return null;
    }
    Handed.Word word = h.word();
    return new HandedView(
        java.util.Objects.requireNonNull(asked(h.asked())),
        h.since(),
        h.due().orElse(null),
        h.overdue(now),
        h.takenBy(),
        word == null ? null : word.outcome().code(),
        word == null ? null : word.by(),
        word == null ? null : word.at(),
        word == null ? null : Shown.plain(word.note()),
        word == null || word.evidence() == null ? null : "E-" + word.evidence(),
        may.who(s),
        Views.may(may.word(s)),
        Views.may(may.take(s)),
        Views.may(may.leaveOut(s)));
  }

  static SteeringView steering(Run r, RunMay may) {
    Course.Pause pause = r.pause();
    Map<String, MayView> acts = new LinkedHashMap<>();
    may.all().forEach((deed, m) -> acts.put(deed.code(), Views.may(m)));
    return new SteeringView(
        r.inCharge(),
        r.course().charges().stream()
            .map(c -> new ChargeView(c.from(), c.by(), c.at(), Shown.plain(c.reason())))
            .toList(),
        pause == null
            ? null
            : new PauseView(
                pause.why().code(),
                pause.step(),
                pause.by(),
                pause.since(),
                Shown.plain(pause.reason())),
        acts);
  }
}
