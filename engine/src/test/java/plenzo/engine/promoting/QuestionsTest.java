package plenzo.engine.promoting;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import org.assertj.core.api.ThrowableAssert.ThrowingCallable;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.history.HistoryEntry;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.run.RunState;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;

/** What is asked before a yes holds the start until it is answered. */
class QuestionsTest extends KitTest {
  private Promotion p;

  @BeforeEach
  void agreed() {
    kit.adopt();
    kit.sealPeak("1.1.0", "25.00");
    p = kit.prepare("1.1.0");
    assertThat(p.state()).isEqualTo(PromotionState.AGREED);
  }

  private Promotion ask(Person by, String text) {
    return kit.engine().questions().ask(by, p.number(), text);
  }

  private Promotion answer(Person by, int question, String text) {
    return kit.engine().questions().answer(by, p.number(), question, text);
  }

  private static void refused(ThrowingCallable act, String code) {
    assertThatThrownBy(act)
        .isInstanceOfSatisfying(Problem.class, x -> assertThat(x.code()).isEqualTo(code));
  }

  @Test
  void aStartIsHeldUntilEachIsAnswered() {
    assertThat(ask(kit.bram, "Is the desk told?").state()).isEqualTo(PromotionState.READY);
    ask(kit.bram, "And the south?");
    assertThatThrownBy(() -> kit.start(kit.promotion(p.number())))
        .hasMessageContaining("question 1 of bram is not answered, question 2 of bram");

    assertThat(answer(kit.ines, 1, "By mail").state()).isEqualTo(PromotionState.READY);
    Promotion told = answer(kit.ines, 2, "By phone");

    assertThat(told.state()).isEqualTo(PromotionState.AGREED);
    assertThat(told.questions().get(1).answer().text()).isEqualTo("By phone");
    assertThat(kit.run(told).state()).isEqualTo(RunState.DONE);
  }

  @Test
  void itOutlivesAComparisonAndStandsInTheHistory() {
    ask(kit.bram, "Is the desk told?");
    kit.engine().promotions().compareAgain(kit.ines, p.number());
    kit.settleDown();

    Promotion again = kit.promotion(p.number());
    assertThat(again.state()).isEqualTo(PromotionState.READY);
    assertThat(again.questions()).hasSize(1);
    assertThat(kit.history())
        .filteredOn(e -> e.event().equals("question asked"))
        .singleElement()
        .extracting(HistoryEntry::text)
        .isEqualTo("Is the desk told?");
  }

  @Test
  void whoMayApproveAsksWhoMayPrepareAnswersAndWhoAskedToo() {
    Person looker = EngineKit.person("looker", Right.LOOK);
    Person approver = EngineKit.person("approver", Right.LOOK, Right.APPROVE);
    refused(() -> ask(looker, "Why?"), "NOT_ALLOWED");
    ask(approver, "Why?");
    refused(() -> answer(looker, 1, "So"), "NOT_ALLOWED");
    refused(() -> answer(kit.ines, 2, "So"), "NOT_FOUND");
    refused(() -> answer(kit.ines, 1, " "), "TEXT");
    refused(() -> ask(approver, "x".repeat(2001)), "TEXT");

    assertThat(answer(approver, 1, "I see it myself").state()).isEqualTo(PromotionState.AGREED);
  }

  @Test
  void nothingIsAskedOfWhatIsOver() {
    kit.run(p);
    refused(() -> ask(kit.bram, "Was it good?"), "NOT_OPEN");
  }
}
