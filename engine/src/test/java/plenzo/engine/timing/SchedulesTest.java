package plenzo.engine.timing;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.EngineKit.SITE;
import static plenzo.engine.kit.EngineKit.row;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.calendar.Freeze;
import plenzo.core.calendar.Schedule;
import plenzo.core.calendar.Schedule.State;
import plenzo.core.calendar.Window;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.plan.Plan;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.run.RunState;
import plenzo.core.stage.Leg;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.Stage;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;

/** Runs that start by themselves, windows and freezes. */
class SchedulesTest extends KitTest {
  private Promotion p;

  @BeforeEach
  void world() {
    kit.adopt();
    kit.sealPeak("1.1.0", "25.00");
    p = kit.prepare("1.1.0");
  }

  private Instant in(Duration time) {
    return kit.clock.instant().plus(time);
  }

  private Schedule schedule(@Nullable Instant at) {
    return kit.engine()
        .schedules()
        .add(
            kit.ines,
            p.number(),
            at,
            kit.promotion(p.number()).requirePlan().fingerprint().shown());
  }

  private Schedule now(Schedule s) {
    return kit.engine().schedules().list(kit.ines, Kept.Filter.all()).stream()
        .filter(x -> x.number() == s.number())
        .findFirst()
        .orElseThrow();
  }

  private void passes(Duration time) {
    kit.clock.tick(time);
    kit.engine().schedules().goOn();
    kit.settleDown();
  }

  private Freeze freeze(Duration from, Duration until, String... except) {
    return kit.engine()
        .freezes()
        .add(
            kit.ines,
            new Freezes.Asked(SITE.stage(), in(from), in(until), "Year's end", List.of(except)));
  }

  private void windows(Window... windows) {
    Stage s = kit.engine().stages().get(kit.ines, SITE.stage());
    kit.engine()
        .stages()
        .save(
            kit.ines,
            new Stage(
                s.key(),
                s.name(),
                s.role(),
                s.position(),
                s.zone(),
                s.driftCloses(),
                s.sites(),
                s.revision(),
                s.weights(),
                List.of(windows)));
    kit.settleDown();
  }

  private List<String> events() {
    return kit.history().stream().map(h -> h.event()).toList();
  }

  @Test
  void itStartsAtItsTimeAndNotBefore() {
    Schedule s = schedule(in(Duration.ofHours(1)));

    passes(Duration.ofMinutes(59));
    assertThat(now(s).state()).isEqualTo(State.WAITING);
    passes(Duration.ofMinutes(1));

    assertThat(now(s).state()).isEqualTo(State.STARTED);
    assertThat(kit.run(now(s).run()).state()).isEqualTo(RunState.DONE);
    assertThat(kit.run(now(s).run()).startedBy()).isEqualTo("ines");
    assertThat(events()).contains("run scheduled", "scheduled run started");
  }

  @Test
  void itOutlivesARestart() {
    Schedule s = schedule(in(Duration.ofHours(1)));
    kit.restart();

    passes(Duration.ofHours(1));

    assertThat(now(s).state()).isEqualTo(State.STARTED);
  }

  @Test
  void whatWasMissedIsSaidAndNeverCaughtUp() {
    Schedule s = schedule(in(Duration.ofHours(1)));

    passes(Duration.ofHours(2));
    passes(Duration.ofHours(1));

    assertThat(now(s).state()).isEqualTo(State.MISSED);
    assertThat(kit.<Integer>read(kept -> kept.runs().of(p.number()).size())).isZero();
    assertThat(events()).contains("schedule missed");
  }

  @Test
  void whatMovedIsSaidBeforeAndRefusedAtItsTime() {
    Schedule s = schedule(in(Duration.ofHours(30)));
    kit.production().row(BAND, row("PEAK", "99.00"));

    passes(Duration.ofHours(6));
    assertThat(now(s).sentence())
        .startsWith("As it is, it will be refused: its plan is another now");
    assertThat(events()).contains("schedule moved");

    passes(Duration.ofHours(24));
    assertThat(now(s).state()).isEqualTo(State.REFUSED);
    assertThat(kit.production().value(BAND, "PEAK", "amount")).isEqualTo("99.00");
  }

  @Test
  void whatMovedSinceTheLastLookRefusesItBeforeAnythingBegins() {
    Schedule s = schedule(in(Duration.ofMinutes(10)));
    kit.production().row(BAND, row("PEAK", "99.00"));

    passes(Duration.ofMinutes(10));

    assertThat(now(s).state()).isEqualTo(State.REFUSED);
    assertThat(now(s).sentence()).startsWith("Its plan is another now");
    assertThat(kit.<Integer>read(kept -> kept.runs().of(p.number()).size())).isZero();
  }

  @Test
  void aTargetThatIsSilentAtItsTimeRefusesIt() {
    Schedule s = schedule(in(Duration.ofMinutes(10)));
    kit.production().script.fallSilent();

    passes(Duration.ofMinutes(10));

    assertThat(now(s).state()).isEqualTo(State.REFUSED);
    assertThat(now(s).sentence()).startsWith("It could not be looked at: ");
  }

  @Test
  void whatWasWithdrawnStaysSoWhenItIsLookedAt() {
    Schedule s = schedule(in(Duration.ofHours(30)));
    kit.engine().promotions().withdraw(kit.ines, p.number(), "Not this week");

    passes(Duration.ofHours(6));
    assertThat(kit.promotion(p.number()).state()).isEqualTo(PromotionState.WITHDRAWN);
    assertThat(now(s).sentence())
        .isEqualTo("As it is, it will be refused: P-" + p.number() + " is withdrawn");

    passes(Duration.ofHours(24));
    assertThat(now(s).state()).isEqualTo(State.REFUSED);
  }

  @Test
  void aRightThatWasTakenAwayRefusesIt() {
    Schedule s =
        kit.engine()
            .schedules()
            .add(
                kit.bram,
                p.number(),
                in(Duration.ofHours(1)),
                p.requirePlan().fingerprint().shown());
    kit.engine()
        .people()
        .change(kit.ines, "bram", new plenzo.engine.people.People.Facts(null, true, null), null);

    passes(Duration.ofHours(1));

    assertThat(now(s).state()).isEqualTo(State.REFUSED);
    assertThat(now(s).sentence()).contains("bram, who scheduled it, is kept out by now");
  }

  @Test
  void aPromotionIsScheduledOnceUntilThatIsWithdrawn() {
    Schedule s = schedule(in(Duration.ofHours(1)));
    assertThatThrownBy(() -> schedule(in(Duration.ofHours(2))))
        .isInstanceOf(Problem.class)
        .hasMessageContaining("scheduled already: SC-" + s.number());

    kit.engine().schedules().withdraw(kit.ines, s.number());
    assertThat(schedule(in(Duration.ofHours(2))).state()).isEqualTo(State.WAITING);
    passes(Duration.ofHours(1));
    assertThat(now(s).state()).isEqualTo(State.WITHDRAWN);
  }

  @Test
  void aTimeThatIsPastTooFarOrAfterAYesIsRefused() {
    assertThatThrownBy(() -> schedule(in(Duration.ofMinutes(-1)))).isInstanceOf(Problem.class);
    assertThatThrownBy(() -> schedule(in(Duration.ofDays(91)))).isInstanceOf(Problem.class);

    kit.asks(Leg.open(SITE.stage()).asking(new Leg.Quorum("", 1)).yesFor(2));
    p = kit.promotion(p.number());
    kit.engine()
        .promotions()
        .approve(kit.bram, p.number(), true, p.requirePlan().fingerprint().shown(), "");
    assertThatThrownBy(() -> schedule(in(Duration.ofDays(3))))
        .hasMessageContaining("A yes to it counts until");
    assertThat(schedule(in(Duration.ofDays(1))).state()).isEqualTo(State.WAITING);
  }

  @Test
  void whoMayNotRunThereSchedulesNothing() {
    assertThatThrownBy(
            () ->
                kit.engine()
                    .schedules()
                    .add(
                        EngineKit.person("edda", Right.LOOK),
                        p.number(),
                        in(Duration.ofHours(1)),
                        "x"))
        .isInstanceOf(Problem.class);
  }

  @Test
  void aFreezeClosesAndOpensWhatIsAgreed() {
    assertThat(kit.promotion(p.number()).state()).isEqualTo(PromotionState.AGREED);
    Freeze f = freeze(Duration.ZERO, Duration.ofDays(2));

    assertThat(kit.promotion(p.number()).state()).isEqualTo(PromotionState.READY);
    assertThatThrownBy(() -> kit.start(kit.promotion(p.number())))
        .hasMessageContaining("is frozen until");

    kit.engine().freezes().lift(kit.ines, f.number(), "The harbour agreed");
    assertThat(kit.promotion(p.number()).state()).isEqualTo(PromotionState.AGREED);
    assertThat(events()).contains("stage frozen", "gates closed", "freeze lifted", "gates opened");
    assertThatThrownBy(() -> kit.engine().freezes().lift(kit.ines, f.number(), "Again"))
        .hasMessageContaining("is over");
  }

  @Test
  void aFreezeThatEndsOpensByItself() {
    freeze(Duration.ZERO, Duration.ofDays(2));
    kit.clock.tick(Duration.ofDays(2));

    kit.engine().promotions().settleByTime();

    assertThat(kit.promotion(p.number()).state()).isEqualTo(PromotionState.AGREED);
  }

  @Test
  void goingBackIsNeverHeld() {
    kit.run(p);
    freeze(Duration.ZERO, Duration.ofDays(2));

    assertThat(kit.run(kit.back(Plan.Way.EARLIER_VERSION)).state()).isEqualTo(RunState.DONE);
  }

  @Test
  void whatItWouldHoldIsSaidBefore() {
    Schedule s = schedule(in(Duration.ofHours(5)));
    Freezes.Asked asked =
        new Freezes.Asked(
            SITE.stage(), in(Duration.ofHours(1)), in(Duration.ofDays(1)), "Trial", List.of());

    Freezes.Holds holds = kit.engine().freezes().holds(kit.ines, asked);

    assertThat(holds.promotions()).extracting(Promotion::number).containsExactly(p.number());
    assertThat(holds.schedules()).extracting(Schedule::number).containsExactly(s.number());
    assertThat(kit.engine().freezes().list(kit.ines, null)).isEmpty();

    Person elsewhere =
        Person.invited("edda", "edda", "", false)
            .withGrants(List.of(new Person.Grant(Right.LOOK, SITE.stage(), "boarding")));
    assertThat(kit.engine().freezes().holds(elsewhere, asked).promotions())
        .as("of an application that one may not look at")
        .isEmpty();
  }

  @Test
  void anExceptedApplicationIsNotHeld() {
    freeze(Duration.ZERO, Duration.ofDays(2), "fares");

    assertThat(kit.promotion(p.number()).state()).isEqualTo(PromotionState.AGREED);
    assertThatThrownBy(() -> freeze(Duration.ZERO, Duration.ofDays(2), "faers"))
        .isInstanceOf(Problem.class);
  }

  @Test
  void outsideItsWindowsItIsScheduledForTheNext() {
    Instant opens = in(Duration.ofHours(3)).truncatedTo(java.time.temporal.ChronoUnit.MINUTES);
    String from = opens.atZone(java.time.ZoneOffset.UTC).toLocalTime().toString();
    String until =
        opens.plusSeconds(3600).atZone(java.time.ZoneOffset.UTC).toLocalTime().toString();
    windows(Window.of(List.of("mon", "tue", "wed", "thu", "fri", "sat", "sun"), from, until));
    assertThat(kit.promotion(p.number()).state()).isEqualTo(PromotionState.READY);

    assertThatThrownBy(() -> schedule(in(Duration.ofHours(1))))
        .hasMessageContaining("Then production is outside its windows");
    Schedule s = schedule(null);
    assertThat(s.at()).isEqualTo(opens);

    passes(Duration.between(kit.clock.instant(), opens));
    assertThat(now(s).state()).isEqualTo(State.STARTED);
    windows();
    assertThat(events()).contains("stage changed");
  }

  // --- after another one ---------------------------------------------------------------------

  private Promotion elsewhere() {
    SiteKey south = kit.site("south");
    kit.matchAt(south);
    return kit.prepare("1.1.0", south);
  }

  private Schedule after(Promotion which, Promotion other) {
    return kit.engine()
        .schedules()
        .add(
            kit.ines,
            which.number(),
            null,
            other.number(),
            kit.promotion(which.number()).requirePlan().fingerprint().shown());
  }

  @Test
  void itStartsWhenTheOtherOneIsDone() {
    Promotion other = elsewhere();
    Schedule s = after(p, other);
    passes(Duration.ofDays(3));
    assertThat(now(s).state()).isEqualTo(State.WAITING);

    kit.run(other);
    passes(Duration.ofSeconds(5));

    assertThat(now(s).state()).as(now(s).sentence()).isEqualTo(State.STARTED);
    assertThat(kit.run(now(s).run()).state()).isEqualTo(RunState.DONE);
  }

  @Test
  void itIsRefusedWhenTheOtherOneIsWithdrawn() {
    Promotion other = elsewhere();
    Schedule s = after(p, other);
    kit.engine().promotions().withdraw(kit.ines, other.number(), "Not needed");
    passes(Duration.ofSeconds(5));

    assertThat(now(s).state()).isEqualTo(State.REFUSED);
    assertThat(now(s).sentence()).isEqualTo(other.shown() + " is withdrawn.");
  }

  @Test
  void orWhenItsRunChangedNothing() {
    Promotion other = elsewhere();
    Schedule s = after(p, other);
    kit.databases.at("south").row(BAND, row("PEAK", "77.00"));
    kit.run(other);
    passes(Duration.ofSeconds(5));

    assertThat(now(s).state()).isEqualTo(State.REFUSED);
    assertThat(now(s).sentence()).contains("of " + other.shown() + " ended");
    assertThat(kit.<Integer>read(kept -> kept.runs().of(p.number()).size())).isZero();
  }

  @Test
  void nothingWaitsForItselfOrForWhatIsOver() {
    Promotion other = elsewhere();
    assertThatThrownBy(() -> after(p, p)).hasMessageContaining("cannot wait for itself");
    after(p, other);
    assertThatThrownBy(() -> after(other, p)).hasMessageContaining("waits for the run of");

    kit.run(other);
    assertThatThrownBy(() -> after(p, other)).hasMessageContaining("is done already");
  }
}
