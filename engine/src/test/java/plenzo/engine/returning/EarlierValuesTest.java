package plenzo.engine.returning;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.EngineKit.RULE;
import static plenzo.engine.kit.EngineKit.SITE;
import static plenzo.engine.kit.EngineKit.row;
import static plenzo.engine.kit.EngineKit.rule;

import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Nested;
import org.junit.jupiter.api.Test;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.plan.Plan;
import plenzo.core.plan.Plan.Way;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.promotion.Purpose;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.stage.Binding;
import plenzo.core.stage.SiteRecord;
import plenzo.core.version.SemVer;
import plenzo.engine.binding.Bindings;
import plenzo.engine.binding.Bindings.Given;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;
import plenzo.engine.kit.Script.At;

/** A value that was given is taken back by a plan, and the one of before is there again. */
class EarlierValuesTest extends KitTest {
  private static final String ONE = "https://one.example";
  private static final String TWO = "https://two.example";

  @BeforeEach
  void world() {
    kit.adopt();
    kit.hosts.at("development").put(RULE, rule("2", "gate"));
    kit.seal("1.1.0");
    bind("", ONE);
    kit.bring("1.1.0");
  }

  private static Bindings.Place place(String site) {
    return new Bindings.Place("fares", "production", site, "gate");
  }

  private void bind(String site, String value) {
    int seen = set(site).stream().mapToInt(Binding::revision).findFirst().orElse(0);
    kit.engine().bindings().bind(kit.ines, place(site), value, /* secret= */ false, null, seen);
  }

  private List<Binding> set(String site) {
    return kit.engine().bindings().set(kit.ines, "fares", "production").stream()
        .filter(b -> b.site().equals(site))
        .toList();
  }

  private @Nullable String setThere() {
    return set("").stream().map(Binding::value).findFirst().orElse(null);
  }

  private Given given() {
    return kit.engine()
        .bindings()
        .list(kit.ines, "fares", EngineKit.SITE, new SemVer("1.1.0"))
        .get(0)
        .given();
  }

  private Run give(String value) {
    bind("", value);
    Run run = kit.run(kit.giveValues());
    assertThat(run.state()).as(run.sentence()).isEqualTo(RunState.DONE);
    return run;
  }

  private List<Way> offered() {
    return kit.ways(Map.of()).stream().map(Rollbacks.Option::way).toList();
  }

  @Test
  void isAWayBackThatTheApprovalsOfThePlanCover() {
    Run gave = give(TWO);

    Rollbacks.Option way = kit.ways(Map.of()).get(0);
    assertThat(way.way()).isEqualTo(Way.EARLIER_VALUES);
    assertThat(way.possible()).isTrue();
    assertThat(way.lost()).isZero();
    assertThat(way.covered()).isTrue();
    assertThat(way.gives())
        .singleElement()
        .satisfies(
            g -> {
              assertThat(g.input()).isEqualTo("gate");
              assertThat(g.shown()).isEqualTo(ONE);
            });

    Promotion p = kit.back(Way.EARLIER_VALUES);

    assertThat(p.purpose()).isEqualTo(Purpose.EARLIER_VALUES);
    assertThat(p.state()).isEqualTo(PromotionState.AGREED);
    Run run = kit.run(p);
    assertThat(run.sentence())
        .isEqualTo(SITE + " has the values again that it had before " + gave.shown() + ".");
    assertThat(kit.host().inputs).containsEntry("gate", ONE);
    assertThat(kit.record().present()).isEqualTo(new SemVer("1.1.0"));
    assertThat(kit.history()).extracting(e -> e.event()).contains("values given back");
  }

  /** Else the next version would bring the bad one again. */
  @Test
  void isSetThereAgainAndCountsAsGiven() {
    give(TWO);

    kit.run(kit.back(Way.EARLIER_VALUES));

    assertThat(setThere()).isEqualTo(ONE);
    assertThat(given()).isEqualTo(Given.GIVEN);
    assertThat(kit.history())
        .filteredOn(e -> e.event().equals("binding set back"))
        .singleElement()
        .satisfies(e -> assertThat(e.text()).contains("gate").contains(ONE));
    kit.sealPeak("1.2.0", "25.00");
    kit.bring("1.2.0");
    assertThat(kit.host().inputs).containsEntry("gate", ONE);
  }

  @Test
  void leavesAloneWhatSomebodySetMeanwhile() {
    give(TWO);
    bind("", "https://three.example");

    kit.run(kit.back(Way.EARLIER_VALUES));

    assertThat(kit.host().inputs).containsEntry("gate", ONE);
    assertThat(setThere()).isEqualTo("https://three.example");
    assertThat(given()).isEqualTo(Given.WAITING);
  }

  @Test
  void movesNothingThatPeopleWrote() {
    give(TWO);
    kit.production().row(BAND, row("DAY", "11.00"));
    kit.production().row(BAND, row("OWN", "1.00"));

    kit.run(kit.back(Way.EARLIER_VALUES));

    assertThat(kit.production().value(BAND, "DAY", "amount")).isEqualTo("11.00");
    assertThat(kit.production().keys(BAND)).contains("OWN");
  }

  @Test
  void oneGoesBackFromGoingBack() {
    give(TWO);
    kit.run(kit.back(Way.EARLIER_VALUES));
    List<Rollbacks.Option> ways = kit.ways(Map.of());
    assertThat(ways.get(0).way())
        .as("what was wrong is not what is proposed")
        .isNotEqualTo(Way.EARLIER_VALUES);
    assertThat(kit.way(Way.EARLIER_VALUES).findings())
        .anyMatch(f -> f.contains("went back itself: this gives again what it took back"));

    kit.run(kit.back(Way.EARLIER_VALUES));

    assertThat(kit.host().inputs).containsEntry("gate", TWO);
    assertThat(setThere()).isEqualTo(TWO);
    assertThat(given()).isEqualTo(Given.GIVEN);
  }

  @Test
  void isNoWayOnceAVersionCameSince() {
    give(TWO);
    kit.sealPeak("1.2.0", "25.00");
    kit.bring("1.2.0");

    assertThat(offered()).containsExactlyInAnyOrder(Way.EARLIER_VERSION, Way.BACKUP);
    Person ines = kit.ines;
    assertThatThrownBy(
            () ->
                kit.engine()
                    .rollbacks()
                    .start(ines, "fares", SITE, Way.EARLIER_VALUES, Rollbacks.Wish.NONE, "x", "y"))
        .isInstanceOf(Problem.class)
        .hasMessageContaining("No values came to " + SITE + " since 1.2.0 did.");
  }

  @Test
  void asksForApprovalOnceTheVersionWasJudgedGoodWithTheValues() {
    give(TWO);
    kit.engine()
        .verdicts()
        .judge(kit.ines, "fares", SITE, new SemVer("1.1.0"), /* good= */ true, "works");

    assertThat(kit.ways(Map.of()).get(0).covered()).isFalse();
  }

  @Test
  void aWordOfBeforeTheValuesDoesNotEndTheCover() {
    kit.engine()
        .verdicts()
        .judge(kit.ines, "fares", SITE, new SemVer("1.1.0"), /* good= */ true, "works");
    give(TWO);

    assertThat(kit.ways(Map.of()).get(0).covered()).isTrue();
  }

  @Test
  void needsTheRightToGoBackAlone() {
    give(TWO);
    Person nora = EngineKit.person("nora", Right.LOOK, Right.GO_BACK);
    kit.write(
        kept -> {
          kept.people().insert(nora);
          return null;
        });
    String seen = String.valueOf(kit.way(Way.EARLIER_VALUES).fingerprint());

    Promotion p =
        kit.engine()
            .rollbacks()
            .start(nora, "fares", SITE, Way.EARLIER_VALUES, Rollbacks.Wish.NONE, "wrong", seen);
    kit.engine().runs().start(nora, p.number(), seen);
    kit.settleDown();

    assertThat(kit.host().inputs).containsEntry("gate", ONE);
  }

  @Test
  void isWholeAfterAKillAtTheSwitch() {
    give(TWO);
    Promotion p = kit.back(Way.EARLIER_VALUES);
    kit.host().script.killAt(At.SWITCHED);
    long run = kit.runUntilKilled(p);

    kit.restart().recover();

    boolean back = kit.run(run).state() == RunState.DONE;
    assertThat(kit.host().inputs).containsEntry("gate", back ? ONE : TWO);
    assertThat(setThere()).isEqualTo(back ? ONE : TWO);
    assertThat(given()).isEqualTo(Given.GIVEN);
  }

  @Test
  void aValueOfTheSiteItselfGivesWayToThatOfTheStage() {
    bind("main", TWO);
    kit.run(kit.giveValues());
    assertThat(kit.host().inputs).containsEntry("gate", TWO);

    kit.run(kit.back(Way.EARLIER_VALUES));

    assertThat(kit.host().inputs).containsEntry("gate", ONE);
    assertThat(set("main")).isEmpty();
    assertThat(given()).isEqualTo(Given.GIVEN);
  }

  /** Values are kept so that they can be given again: encrypted, and no longer than needed. */
  @Test
  void nothingOfItLiesThereInPlain() {
    give("https://hidden.example");
    give("https://three.example");

    assertThat(kept()).hasSize(3).noneMatch(s -> s.contains("example"));
    give("https://four.example");
    assertThat(kept()).hasSize(3);
  }

  private List<String> kept() {
    return kit.read(
        k ->
            k.secrets().list(Kept.Filter.all()).stream()
                .filter(s -> s.id().startsWith("given/"))
                .map(s -> s.id() + " " + s.cipher())
                .toList());
  }

  @Test
  void isNotPromisedWhereItIsNotKeptWhatWasThere() {
    kit.write(
        kept -> {
          SiteRecord r = kept.sites().find("fares@" + SITE).orElseThrow();
          r.gave().forEach(run -> kept.secrets().remove("given/R-" + run));
          return null;
        });
    bind("", TWO);
    Promotion p = kit.giveValues();
    assertThat(p.requirePlan().waysBack())
        .extracting(Plan.WayBack::possible)
        .containsExactly(false);
    kit.run(p);

    Rollbacks.Option way = kit.way(Way.EARLIER_VALUES);
    assertThat(way.possible()).isFalse();
    assertThat(way.why()).contains("not kept what the host of " + SITE + " was given before");
  }

  /** What the stage sets no more the host is told to forget, by a plan. */
  @Nested
  class WhatIsSetNoMore {
    private Promotion cleared() {
      kit.engine().bindings().clear(kit.ines, place(""), null);
      assertThat(given()).isEqualTo(Given.LEFT);
      return kit.giveValues();
    }

    @Test
    void isForgotten() {
      Promotion p = cleared();
      assertThat(kit.rules(p))
          .contains("RISK value-forgotten")
          .doesNotContain("BLOCKER input-unbound");
      assertThat(p.gives()).singleElement().satisfies(g -> assertThat(g.shown()).isNull());

      kit.run(p);

      assertThat(kit.host().inputs).doesNotContainKey("gate");
      assertThat(given()).isEqualTo(Given.NOTHING);
      assertThat(kit.record().bound()).isEmpty();
    }

    @Test
    void comesBack() {
      kit.run(cleared());

      kit.run(kit.back(Way.EARLIER_VALUES));

      assertThat(kit.host().inputs).containsEntry("gate", ONE);
      assertThat(setThere()).isEqualTo(ONE);
      assertThat(given()).isEqualTo(Given.GIVEN);
    }

    @Test
    void blocksAVersionThatBringsWhatNeedsIt() {
      kit.hosts.at("development").put(RULE, rule("3", "gate"));
      kit.seal("1.2.0");
      kit.engine().bindings().clear(kit.ines, place(""), null);

      assertThat(kit.rules(kit.prepare("1.2.0"))).contains("BLOCKER input-unbound");
    }

    /** A connection is more than its address. */
    @Test
    void goesWithTheSecretOfAConnection() {
      kit.lend("terminal", "password");
      kit.engine()
          .bindings()
          .bind(kit.ines, place(""), null, false, "terminal", set("").get(0).revision());
      kit.run(kit.giveValues());
      assertThat(kit.host().inputs).containsEntry("gate.secret", "password");

      give(TWO);
      assertThat(kit.host().inputs).containsOnlyKeys("gate").containsEntry("gate", TWO);

      kit.run(kit.back(Way.EARLIER_VALUES));
      assertThat(kit.host().inputs).containsEntry("gate.secret", "password");
      assertThat(given()).isEqualTo(Given.GIVEN);
    }
  }
}
