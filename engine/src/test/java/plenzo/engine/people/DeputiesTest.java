package plenzo.engine.people;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.history.HistoryEntry;
import plenzo.core.person.Narrowing;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.stage.Leg;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;

/** Who stands in for whom, from being named to a yes that counts, and to its end. */
class DeputiesTest extends KitTest {
  private Deputies deputies;
  private Promotion p;

  /** Tove may look and nothing else; two approvals are asked for, of others than Ines. */
  @BeforeEach
  void world() {
    kit.adopt();
    kit.sealPeak("1.1.0", "25.00");
    deputies = kit.engine().deputies();
    kit.write(
        kept -> {
          kept.people().insert(EngineKit.person("tove", Right.LOOK));
          return null;
        });
    kit.asks(Leg.open("production").asking(new Leg.Quorum("", 1)));
    p = kit.prepare("1.1.0");
  }

  private Person now(String login) {
    return kit.engine().tools().everybody().stream()
        .filter(x -> x.login().equals(login))
        .findFirst()
        .orElseThrow();
  }

  private Deputies.Named named(Person by, String of, @Nullable Instant from, String reason) {
    return deputies.name(
        by,
        new Deputies.Asked(
            of,
            "tove",
            "",
            "production",
            from,
            kit.clock.instant().plus(Duration.ofDays(7)),
            reason));
  }

  private void approved(String login) {
    kit.engine()
        .promotions()
        .approve(now(login), p.number(), true, p.requirePlan().fingerprint().shown(), "");
    p = kit.promotion(p.number());
  }

  @Test
  void aYesIsSaidForThePersonAndStandsSoEverywhere() {
    assertThatThrownBy(() -> approved("tove")).hasMessageContaining("lacks the right \"approve\"");
    named(kit.bram, "bram", null, "");

    approved("tove");

    assertThat(p.state()).isEqualTo(PromotionState.AGREED);
    assertThat(p.approvals())
        .extracting(Promotion.Approval::words)
        .containsExactly("tove for bram");
    assertThat(kit.history())
        .filteredOn(e -> e.event().equals("approved"))
        .extracting(HistoryEntry::actor, HistoryEntry::text)
        .allSatisfy(
            t -> {
              assertThat(t.toList().get(0)).isEqualTo("tove");
              assertThat(String.valueOf(t.toList().get(1))).endsWith(", for bram");
            });
  }

  @Test
  void whatKeepsThePersonKeepsWhoStandsIn() {
    named(kit.ines, "ines", null, "");

    assertThatThrownBy(() -> approved("tove"))
        .isInstanceOf(Problem.class)
        .hasMessageContaining("You stand in for ines, who prepared " + p.shown());
    assertThat(kit.engine().promotions().approvers(p)).doesNotContain("tove", "ines");

    named(kit.bram, "bram", null, "");
    approved("tove");
    assertThat(p.approvals().get(0).of()).as("of two, the one who may").isEqualTo("bram");
  }

  @Test
  void itsYesFallsWithItsEnd() {
    long number = named(kit.bram, "bram", null, "").deputy().number();
    approved("tove");

    deputies.end(kit.bram, number);

    assertThat(kit.engine().promotions().gates(p).lines()).containsExactly("approval 0 of 1");
    assertThatThrownBy(() -> kit.start(p)).hasMessageContaining("approval 0 of 1");
    assertThatThrownBy(() -> deputies.end(kit.bram, number)).hasMessageContaining("is over");
  }

  @Test
  void itHoldsInItsSpanAlone() {
    named(kit.bram, "bram", kit.clock.instant().plus(Duration.ofDays(2)), "");
    assertThat(now("tove").may(Right.APPROVE, "production", "fares")).isFalse();

    kit.clock.tick(Duration.ofDays(3));
    assertThat(now("tove").may(Right.APPROVE, "production", "fares")).isTrue();

    kit.clock.tick(Duration.ofDays(5));
    assertThat(now("tove").may(Right.APPROVE, "production", "fares")).isFalse();
    assertThat(deputies.list()).as("and is still listed").hasSize(1);
    kit.clock.tick(Duration.ofDays(31));
    assertThat(deputies.list()).isEmpty();
  }

  @Test
  void oneNamesTheirOwnAndAnAdministratorAnybodysWithAReason() {
    Person odile = EngineKit.person("odile", Right.LOOK);
    assertThatThrownBy(() -> named(odile, "bram", null, "he asked me"))
        .hasMessageContaining("administer");
    assertThatThrownBy(() -> named(kit.ines, "bram", null, " "))
        .hasMessageContaining("Say why somebody stands in for bram");

    Deputies.Named made = named(kit.ines, "bram", null, "He is ill");

    assertThat(made.deputy().by()).isEqualTo("ines");
    assertThatThrownBy(() -> deputies.end(odile, made.deputy().number()))
        .hasMessageContaining("administer");
    assertThat(kit.history())
        .extracting(HistoryEntry::event, HistoryEntry::text)
        .anySatisfy(
            t ->
                assertThat(t.toString())
                    .contains(
                        "deputy named", "tove stands in for bram at production", "He is ill"));
  }

  @Test
  void nobodyStandsInForThemselvesForNothingOrForWhatIsOver() {
    Instant later = kit.clock.instant().plus(Duration.ofDays(7));
    assertThatThrownBy(
            () ->
                deputies.name(
                    kit.bram, new Deputies.Asked("bram", "bram", "", "*", null, later, "")))
        .hasMessageContaining("themselves");
    assertThatThrownBy(
            () ->
                deputies.name(
                    now("tove"), new Deputies.Asked("tove", "bram", "", "*", null, later, "")))
        .hasMessageContaining("may approve and judge nothing");
    assertThatThrownBy(
            () ->
                deputies.name(
                    kit.bram, new Deputies.Asked("bram", "tove", "board", "*", null, later, "")))
        .hasMessageContaining("does not hold the role board");
    assertThatThrownBy(
            () ->
                deputies.name(
                    kit.bram, new Deputies.Asked("bram", "tove", "", "nowhere", null, later, "")))
        .hasMessageContaining("There is no stage \"nowhere\"");
    Instant before = kit.clock.instant().minus(Duration.ofDays(1));
    assertThatThrownBy(
            () ->
                deputies.name(
                    kit.bram,
                    new Deputies.Asked(
                        "bram", "tove", "", "*", before.minus(Duration.ofDays(1)), before, "")))
        .hasMessageContaining("That time is over");
  }

  @Test
  void aNarrowedTokenStandsInForNobody() {
    named(kit.bram, "bram", null, "");
    AccessKeys keys = kit.engine().accessKeys();
    AccessKeys.SignedIn tove = signedIn("tove");
    String token =
        keys.newToken(tove, "script", new Narrowing(List.of(Right.LOOK), List.of(), List.of()), 5)
            .secret();

    assertThat(tove.person().may(Right.APPROVE, "production", "fares")).isTrue();
    assertThat(
            keys.whoHolds(token).orElseThrow().person().may(Right.APPROVE, "production", "fares"))
        .isFalse();
  }

  @Test
  void changingRightsLeavesDeputiesAndStandingInIsNeverWrittenAsOnesOwn() {
    named(kit.bram, "bram", null, "");

    kit.engine().people().changePassword(signedIn("tove"), "", "a new password");

    Person kept = kit.read(k -> k.people().find("tove")).orElseThrow();
    assertThat(kept.may(Right.APPROVE, "production", "fares")).isFalse();
    assertThat(kit.read(k -> k.people().find("bram")).orElseThrow().deputies()).hasSize(1);
  }

  private AccessKeys.SignedIn signedIn(String login) {
    AccessKeys keys = kit.engine().accessKeys();
    AccessKeys.Issued session = keys.session(login);
    kit.write(
        kept -> {
          kept.accessKeys().insert(session.key());
          return null;
        });
    return keys.whoHolds(session.secret()).orElseThrow();
  }
}
