package plenzo.engine.promoting;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.tuple;
import static plenzo.engine.kit.EngineKit.SITE;

import java.time.Duration;
import java.util.List;
import java.util.Objects;
import java.util.Set;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.history.HistoryEntry;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.run.RunState;
import plenzo.core.stage.Apart;
import plenzo.core.stage.Emergency;
import plenzo.core.stage.Leg;
import plenzo.core.stage.SiteRecord;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;
import plenzo.engine.looking.Standing;

/** An emergency runs without a yes, and owes it; nothing ordinary goes there until it has come. */
class EmergenciesTest extends KitTest {
  private Promotion p;

  @BeforeEach
  void asksForAYes() {
    kit.adopt();
    lets(2);
    kit.sealPeak("1.1.0", "25.00");
    p = kit.prepare("1.1.0");
  }

  private void lets(int people) {
    Leg leg =
        Leg.open("production")
            .asking(new Leg.Quorum("", 1))
            .passing(new Emergency(people, Set.of("approvals"), 24));
    kit.asks(leg);
  }

  private Promotion declare(Person by) {
    return kit.engine().emergencies().declare(by, p.number(), "Fares are wrong on the pier");
  }

  private void ranAsEmergency() {
    declare(kit.ines);
    Promotion declared = declare(kit.bram);
    assertThat(declared.state()).isEqualTo(PromotionState.AGREED);
    assertThat(kit.run(declared).state()).isEqualTo(RunState.DONE);
    p = kit.promotion(p.number());
  }

  private void yes(Person by) {
    kit.engine()
        .promotions()
        .approve(by, p.number(), true, p.requirePlan().fingerprint().shown(), "It was right");
  }

  @Test
  void oneOfTwoIsNotEnough() {
    assertThat(declare(kit.ines).state()).isEqualTo(PromotionState.READY);
    assertThatThrownBy(() -> declare(kit.ines))
        .isInstanceOfSatisfying(
            Problem.class, x -> assertThat(x.code()).isEqualTo("APPROVED_ALREADY"));
    assertThatThrownBy(() -> kit.start(kit.promotion(p.number())))
        .hasMessageContaining("approval 0 of 1");
  }

  @Test
  void itRunsAndOwesItsYesUntilItHasCome() {
    ranAsEmergency();

    assertThat(Objects.requireNonNull(p.urgency()).until()).isNotNull();
    assertThat(kit.record().owed())
        .singleElement()
        .extracting(SiteRecord.Owed::promotion)
        .isEqualTo(p.number());
    assertThat(kit.engine().emergencies().owed(p)).isTrue();
    yes(kit.bram);

    assertThat(kit.record().owed()).isEmpty();
    assertThat(kit.engine().emergencies().owed(p)).isFalse();
    assertThat(kit.history())
        .extracting(HistoryEntry::event)
        .contains("emergency declared", "owed yes given");
    assertThat(kit.history())
        .filteredOn(e -> e.event().equals("run started"))
        .first()
        .extracting(HistoryEntry::text)
        .asString()
        .contains("an emergency passes: approval 0 of 1");
  }

  @Test
  void whoeverTheLegTellsIsToldAsSoonAsOneIsDeclaredAndNobodyElse() {
    Leg leg = kit.engine().paths().list().get(0).legs().get(0);
    kit.asks(leg.passing(new Emergency(1, Set.of("approvals"), 24, List.of("olav"))));
    Person olav = EngineKit.person("olav", Right.LOOK);
    assertThat(kit.engine().standing().waiting(olav)).isEmpty();

    declare(kit.ines);

    assertThat(kit.engine().standing().waiting(olav))
        .extracting(Standing.Waiting::what, Standing.Waiting::link)
        .containsExactly(tuple("take note of an emergency", p.shown()));
    assertThat(kit.engine().standing().waiting(EngineKit.person("gill", Right.LOOK))).isEmpty();
    assertThat(kit.engine().standing().waiting(EngineKit.person("olav", Right.JUDGE))).isEmpty();
  }

  @Test
  void nothingOrdinaryGoesThereUntilThen() {
    ranAsEmergency();
    kit.sealPeak("1.2.0", "26.00");
    Promotion next = kit.prepare("1.2.0");
    assertThat(kit.engine().promotions().gates(next).lines())
        .contains(p.shown() + " owes a yes there: an emergency ran without it");

    yes(kit.bram);

    assertThat(kit.engine().promotions().gates(next).lines()).containsExactly("approval 0 of 1");
  }

  @Test
  void whatIsOwedStandsWhereThingsStandAndWaitsForWhoMayGiveIt() {
    ranAsEmergency();
    Standing.Asked all = new Standing.Asked("", null, null, null, 10);
    Standing.Cell cell = kit.engine().standing().page(kit.ines, all).lines().get(0).cells().get(0);

    assertThat(cell.yesOwed()).hasSize(1);
    assertThat(cell.yesOwed().get(0).overdue(kit.clock.instant())).isFalse();
    kit.clock.tick(Duration.ofHours(25));
    assertThat(cell.yesOwed().get(0).overdue(kit.clock.instant())).isTrue();
    assertThat(kit.engine().standing().waiting(kit.bram))
        .anyMatch(w -> w.link().equals(p.shown()) && w.sentence().contains("owes"));
  }

  @Test
  void whatWasApprovedBeforeItRanOwesNothing() {
    declare(kit.ines);
    declare(kit.bram);
    p = kit.promotion(p.number());
    yes(kit.bram);
    assertThat(kit.run(kit.promotion(p.number())).state()).isEqualTo(RunState.DONE);

    assertThat(kit.record().owed()).isEmpty();
    assertThat(Objects.requireNonNull(kit.promotion(p.number()).urgency()).until()).isNull();
  }

  /** Decision D8: rights count as they are when it runs. */
  @Test
  void whoMayRunItNoMoreDeclaresNothing() {
    declare(kit.ines);
    declare(kit.bram);
    assertThat(kit.promotion(p.number()).state()).isEqualTo(PromotionState.AGREED);
    kit.engine()
        .tools()
        .keeper()
        .write(
            kept -> {
              Person there = kept.people().find("bram").orElseThrow();
              return kept.people().update(there.withGrants(List.of()));
            });

    assertThatThrownBy(() -> kit.start(kit.promotion(p.number())))
        .hasMessageContaining("approval 0 of 1");
  }

  @Test
  void theYesIsGivenAlsoWhereTheLegAsksOtherwiseByNow() {
    ranAsEmergency();
    Leg open = Leg.open("production");
    kit.asks(open);
    yes(kit.bram);

    assertThat(kit.record().owed()).isEmpty();
  }

  @Test
  void whoStartedItGivesTheOwedYesNotWhereThatIsKeptApart() {
    Leg leg =
        kit.engine().paths().list().get(0).legs().get(0).apart(Set.of(Apart.of("approver-runner")));
    kit.asks(leg);
    declare(kit.ines);
    Promotion declared = declare(kit.bram);
    kit.engine().runs().start(kit.bram, p.number(), declared.requirePlan().fingerprint().shown());
    kit.settleDown();
    p = kit.promotion(p.number());

    assertThatThrownBy(() -> yes(kit.bram)).hasMessageContaining("You started the run of");
  }

  @Test
  void oneAloneMayGoBackFromIt() {
    ranAsEmergency();
    assertThat(
            kit.engine()
                .rollbacks()
                .ways(kit.ines, "fares", SITE, plenzo.engine.returning.Rollbacks.Wish.NONE))
        .as("its ways back are covered as of any other")
        .anyMatch(w -> p.shown().equals(w.coveredBy()));
  }
}
