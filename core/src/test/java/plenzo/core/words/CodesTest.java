package plenzo.core.words;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.Arrays;
import java.util.function.Function;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;
import plenzo.core.comparison.Decision;
import plenzo.core.comparison.Difference;
import plenzo.core.component.Kind;
import plenzo.core.drift.Differing;
import plenzo.core.person.Right;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.PromotionState;
import plenzo.core.promotion.Purpose;
import plenzo.core.run.JournalEntry;
import plenzo.core.run.RunState;
import plenzo.core.source.Repository;
import plenzo.core.stage.Condition;
import plenzo.core.stage.Stage;

class CodesTest {
  static Stream<Arguments> words() {
    return Stream.of(
        word(Stage.Role.values(), Stage.Role::code, Stage.Role::of),
        word(Right.values(), Right::code, Right::of),
        word(Kind.values(), Kind::code, Kind::of),
        word(Plan.Way.values(), Plan.Way::code, Plan.Way::of),
        word(Decision.values(), Decision::code, Decision::of),
        word(Difference.values(), Difference::code, Difference::of),
        word(Differing.How.values(), Differing.How::code, Differing.How::of),
        word(Condition.values(), Condition::code, Condition::of),
        word(RunState.values(), RunState::code, RunState::of),
        word(PromotionState.values(), PromotionState::code, PromotionState::of),
        word(Purpose.values(), Purpose::code, Purpose::of),
        word(JournalEntry.Deed.values(), JournalEntry.Deed::code, JournalEntry.Deed::of),
        word(JournalEntry.Outcome.values(), JournalEntry.Outcome::code, JournalEntry.Outcome::of),
        word(Repository.Follow.values(), Repository.Follow::code, Repository.Follow::of));
  }

  private static <E> Arguments word(E[] all, Function<E, String> code, Function<String, E> of) {
    return Arguments.of(all, code, of);
  }

  @ParameterizedTest
  @MethodSource("words")
  <E> void everyWordIsFoundByItsCodeAndAWrongOneIsToldAllOfThem(
      E[] all, Function<E, String> code, Function<String, E> of) {
    for (E e : all) {
      assertThat(of.apply(code.apply(e))).isSameAs(e);
    }
    assertThatThrownBy(() -> of.apply("prod"))
        .isInstanceOf(IllegalArgumentException.class)
        .hasMessageStartingWith("\"prod\" is not ")
        .hasMessageEndingWith(
            "; one of: " + String.join(", ", Arrays.stream(all).map(code).toList()));
  }

  @Test
  void noWordIsTakenForAnother() {
    assertThatThrownBy(() -> Stage.Role.of("Production"))
        .hasMessage(
            "\"Production\" is not a role of a stage; one of: development, test, production");
    assertThatThrownBy(() -> Stage.Role.of("")).hasMessageContaining("one of");
  }
}
