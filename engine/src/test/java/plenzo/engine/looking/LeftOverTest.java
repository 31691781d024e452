package plenzo.engine.looking;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.EngineKit.RULE;
import static plenzo.engine.kit.EngineKit.SITE;
import static plenzo.engine.kit.EngineKit.row;
import static plenzo.engine.kit.EngineKit.rule;

import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.comparison.Decision;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.target.Leftover;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;
import plenzo.engine.kit.Script.At;

/** What earlier runs left at a site is one list, and is cleared by name. */
class LeftOverTest extends KitTest {
  private static final String PEAK = "records/" + BAND + "#row/\"PEAK\"";

  private Run run;

  @BeforeEach
  void world() {
    kit.adopt();
    kit.sealPeak("1.1.0", "25.00");
    run = kit.bring("1.1.0");
  }

  private List<LeftOver.Item> list() {
    return kit.engine().leftOver().list(kit.ines, "fares", SITE);
  }

  private void clear(Person by, String... names) {
    kit.engine().leftOver().clear(by, "fares", SITE, List.of(names));
  }

  private void left(Leftover.Sort sort, String name, long of) {
    kit.production().leftovers.add(new Leftover(sort, name, of, 8192L));
  }

  @Test
  void isListedWithItsRunItsSizeAndSinceWhen() {
    left(Leftover.Sort.BEFORE, "before_1_0", run.number());

    assertThat(list())
        .singleElement()
        .isEqualTo(
            new LeftOver.Item(
                "database",
                LeftOver.Sort.BEFORE,
                "before_1_0",
                run.number(),
                8192L,
                Objects.requireNonNull(kit.engine().runs().get(kit.ines, run.number()))
                    .times()
                    .endedAt(),
                ""));
  }

  @Test
  void isClearedAndNoted() {
    left(Leftover.Sort.BEFORE, "before_1_0", run.number());
    left(Leftover.Sort.PREPARED, "stage_1_0", run.number());
    left(Leftover.Sort.SCRATCH, "plenzo_scratch_1", run.number());

    clear(kit.ines, "before_1_0", "plenzo_scratch_1");

    assertThat(kit.production().leftovers).extracting(Leftover::name).containsExactly("stage_1_0");
    assertThat(kit.history())
        .anyMatch(
            e ->
                e.event().equals("left over cleared")
                    && e.text().equals("database: plenzo_scratch_1, before_1_0"));
  }

  /** What was restored beside files to prove them is of that target, and of no scratch database. */
  @Test
  void isClearedAtATargetThatIsNoDatabase() {
    kit.host().leftovers.add(new Leftover(Leftover.Sort.SCRATCH, "proof-1", run.number(), 4L));

    clear(kit.ines, "proof-1");

    assertThat(kit.host().leftovers).isEmpty();
  }

  /** A kill while a plan was made leaves the copy of its structures. */
  @Test
  void whatWasMadeToTryAPlanIsListedWithTheOthersAndCleared() {
    left(
        Leftover.Sort.REHEARSAL,
        "plenzo_rehearsal_x",
        plenzo.core.target.Scratch.Place.trialOf(run.promotion()));
    assertThat(list())
        .singleElement()
        .satisfies(
            i -> {
              assertThat(i.sort()).isEqualTo(LeftOver.Sort.REHEARSAL);
              assertThat(i.why()).isEmpty();
            });

    clear(kit.ines, "plenzo_rehearsal_x");

    assertThat(list()).isEmpty();
  }

  /** Another service, or records of an earlier day: nobody here knows whether it is in use. */
  @Test
  void staysWhenNoRunIsKnownHereAndSoDoesTheRest() {
    left(Leftover.Sort.BEFORE, "before_1_0", run.number());
    left(Leftover.Sort.BEFORE, "before_99_0", 99);
    assertThat(list())
        .filteredOn(i -> !i.why().isEmpty())
        .extracting(LeftOver.Item::name)
        .containsExactly("before_99_0");

    assertThatThrownBy(() -> clear(kit.ines, "before_1_0", "before_99_0"))
        .isInstanceOfSatisfying(Problem.class, p -> assertThat(p.code()).isEqualTo("NOT_CLEARED"));

    assertThat(kit.production().leftovers).hasSize(2);
  }

  @Test
  void isNotOfAnotherSitesScratchPlaces() {
    left(Leftover.Sort.SCRATCH, "plenzo_scratch_99", 99);

    assertThat(list()).isEmpty();
  }

  /** What was there before is the only way back of a site that is half written. */
  @Test
  void staysOfARunThatIsHalfWritten() {
    kit.hosts.at("development").put(RULE, rule("2"));
    kit.sealFrom("1.2.0", "1.1.0");
    kit.production()
        .script
        .once(
            At.SWITCH,
            () -> {
              kit.host().put(RULE, rule("9"));
              kit.production().row(BAND, row("PEAK", "7.00"));
            });
    kit.development().row(BAND, row("PEAK", "30.00"));
    kit.sealFrom("1.3.0", "1.2.0");
    Run half = kit.run(kit.prepare("1.3.0"));
    assertThat(half.state()).as(half.sentence()).isEqualTo(RunState.HALF_WRITTEN);
    left(Leftover.Sort.BEFORE, "before_2_0", half.number());

    assertThat(list())
        .singleElement()
        .satisfies(i -> assertThat(i.why()).contains("is half written: go back first"));
  }

  @Test
  void isClearedByWhoeverOperatesThere() {
    left(Leftover.Sort.BEFORE, "before_1_0", run.number());
    Person looker = EngineKit.person("odile", Right.LOOK);

    assertThat(kit.engine().leftOver().list(looker, "fares", SITE)).hasSize(1);
    assertThatThrownBy(() -> clear(looker, "before_1_0")).isInstanceOf(Problem.class);
    assertThat(kit.production().leftovers).hasSize(1);
  }

  @Test
  void refusesWhatIsNotThere() {
    assertThatThrownBy(() -> clear(kit.ines, "fares.band"))
        .isInstanceOfSatisfying(Problem.class, p -> assertThat(p.code()).isEqualTo("NOT_FOUND"));
    assertThatThrownBy(() -> clear(kit.ines))
        .isInstanceOfSatisfying(Problem.class, p -> assertThat(p.code()).isEqualTo("NAMES"));
  }

  /** A decision that kept a row is taken back: the row is drift like any other. */
  @Test
  void isWhatAPlanKeptOnPurposeToo() {
    kit.production().row(BAND, row("PEAK", "31.00"));
    kit.development().row(BAND, row("PEAK", "27.00"));
    kit.sealFrom("1.2.0", "1.1.0");
    long p = kit.prepare("1.2.0").number();
    kit.engine().promotions().decide(kit.ines, p, Map.of(PEAK, Decision.KEEP));
    kit.settleDown();
    Run kept = kit.run(kit.promotion(p));
    assertThat(list())
        .singleElement()
        .satisfies(
            i -> {
              assertThat(i.sort()).isEqualTo(LeftOver.Sort.KEPT);
              assertThat(i.name()).isEqualTo(PEAK);
              assertThat(i.run()).isEqualTo(kept.number());
            });
    assertThat(kit.engine().drift().look(kit.ines, "fares", SITE).drift()).isZero();

    clear(kit.ines, PEAK);

    assertThat(list()).isEmpty();
    assertThat(kit.engine().drift().look(kit.ines, "fares", SITE).drift()).isEqualTo(1);
    assertThat(kit.production().value(BAND, "PEAK", "amount")).isEqualTo("31.00");
  }
}
