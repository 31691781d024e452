package plenzo.engine.running;

import static org.assertj.core.api.Assertions.assertThat;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.ScriptedDatabase.column;

import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import plenzo.core.comparison.Decision;
import plenzo.core.impact.Finding;
import plenzo.core.may.CaseMay;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.run.Course;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.target.Question;
import plenzo.engine.kit.KitTest;

/** Every move in every state: it is done, or it is refused with a reason and changes nothing. */
class EveryStateTest extends KitTest {
  /** What a move comes to in each state; "does" where it is done. */
  private static final String PROMOTIONS =
      """
      move      | preparing | ready          | agreed         | running         | done     | failed   | withdrawn | overtaken
      compare   | does      | does           | does           | NOT_OPEN        | NOT_OPEN | does     | NOT_OPEN  | NOT_OPEN
      approve   | NOT_OPEN  | does           | does           | RUNNING_ALREADY | NOT_OPEN | NOT_OPEN | NOT_OPEN  | NOT_OPEN
      reject    | NOT_OPEN  | does           | does           | RUNNING_ALREADY | NOT_OPEN | NOT_OPEN | NOT_OPEN  | NOT_OPEN
      take back | NOT_OPEN  | NOTHING_SAID   | NOTHING_SAID   | RUNNING_ALREADY | NOT_OPEN | NOT_OPEN | NOT_OPEN  | NOT_OPEN
      accept    | NOT_OPEN  | does           | does           | RUNNING_ALREADY | NOT_OPEN | NOT_OPEN | NOT_OPEN  | NOT_OPEN
      decide    | NOT_OPEN  | does           | does           | RUNNING_ALREADY | NOT_OPEN | NOT_OPEN | NOT_OPEN  | NOT_OPEN
      activate  | NOT_OPEN  | does           | does           | RUNNING_ALREADY | NOT_OPEN | NOT_OPEN | NOT_OPEN  | NOT_OPEN
      withdraw  | does      | does           | does           | RUNNING_ALREADY | NOT_OPEN | does     | NOT_OPEN  | NOT_OPEN
      ask       | NOT_OPEN  | does           | does           | RUNNING_ALREADY | NOT_OPEN | NOT_OPEN | NOT_OPEN  | NOT_OPEN
      answer    | NOT_OPEN  | NOTHING_SAID   | NOTHING_SAID   | RUNNING_ALREADY | NOT_OPEN | NOT_OPEN | NOT_OPEN  | NOT_OPEN
      run       | NOT_OPEN  | does           | does           | RUNNING_ALREADY | NOT_OPEN | NOT_OPEN | NOT_OPEN  | NOT_OPEN
      """;

  private Promotion p;

  @BeforeEach
  void world() {
    kit.adopt();
    kit.development().column(BAND, "amount", column("amount", "numeric(8,2)"), false);
    kit.production().answers(Question.Type.BYTES, 200L << 20);
    kit.seal("1.1.0");
    p = kit.prepare("1.1.0");
    assertThat(kit.rules(p)).as("a risk that can be accepted").contains("RISK long-lock");
  }

  private Map<String, String> expected(String table, String state) {
    List<List<String>> rows = new ArrayList<>();
    table.lines().forEach(l -> rows.add(Arrays.stream(l.split("\\|")).map(String::strip).toList()));
    int column = rows.get(0).indexOf(state);
    Map<String, String> out = new LinkedHashMap<>();
    rows.subList(1, rows.size()).forEach(r -> out.put(r.get(0), r.get(column)));
    return out;
  }

  private void put(PromotionState state) {
    Promotion now = kit.promotion(p.number());
    Promotion next =
        new Promotion(
            p.number(),
            p.goal(),
            state,
            p.prepared(),
            p.look(),
            p.findings(),
            p.choices(),
            p.plan(),
            List.of(),
            List.of(),
            List.of(),
            null,
            null,
            null,
            null,
            now.revision());
    kit.write(
        kept -> {
          kept.promotions().replace(next);
          return null;
        });
    p = kit.promotion(p.number());
  }

  private String tried(Runnable move) {
    Promotion before = kit.promotion(p.number());
    int history = kit.history().size();
    try {
      move.run();
      return "does";
    } catch (Problem e) {
      assertThat(kit.promotion(p.number())).as("after a refusal").isEqualTo(before);
      assertThat(kit.history()).as("after a refusal").hasSize(history);
      return e.code();
    }
  }

  private void make(String move) {
    var promotions = kit.engine().promotions();
    String fingerprint = p.requirePlan().fingerprint().shown();
    long n = p.number();
    switch (move) {
      case "compare" -> promotions.compareAgain(kit.ines, n);
      case "approve" -> promotions.approve(kit.bram, n, true, fingerprint, "");
      case "reject" -> promotions.approve(kit.bram, n, false, fingerprint, "not now");
      case "take back" -> promotions.takeBack(kit.bram, n, "was wrong");
      case "accept" -> {
        String risk =
            p.findings().stream()
                .filter(f -> f.severity() == Finding.Severity.RISK)
                .findFirst()
                .orElseThrow()
                .id();
        LocalDate until = LocalDate.ofInstant(kit.clock.instant(), ZoneOffset.UTC).plusDays(2);
        promotions.acceptRisk(kit.bram, n, risk, "known", until);
      }
      case "decide" -> promotions.decide(kit.ines, n, Map.of("records/" + BAND, Decision.KEEP));
      case "activate" -> promotions.activate(kit.ines, n, Set.of());
      case "withdraw" -> promotions.withdraw(kit.ines, n, "no need");
      case "ask" -> kit.engine().questions().ask(kit.bram, n, "Is the desk told?");
      case "answer" -> kit.engine().questions().answer(kit.ines, n, 1, "Yes");
      case "run" -> kit.engine().runs().start(kit.ines, n, fingerprint);
      default -> throw new IllegalArgumentException(move);
    }
  }

  @ParameterizedTest
  @EnumSource(PromotionState.class)
  void ofAPromotion(PromotionState state) {
    Map<String, String> expected = expected(PROMOTIONS, state.code());
    Map<String, String> seen = new LinkedHashMap<>();
    for (String move : expected.keySet()) {
      put(state);
      seen.put(move, tried(() -> make(move)));
      kit.forgetWork();
    }

    assertThat(seen).isEqualTo(expected);
  }

  /** What an act says beforehand is what it then does. */
  @ParameterizedTest
  @EnumSource(PromotionState.class)
  void isSaidBeforehand(PromotionState state) {
    Map<String, CaseMay.Deed> deeds =
        Map.of(
            "approve", CaseMay.Deed.APPROVE,
            "reject", CaseMay.Deed.REJECT,
            "accept", CaseMay.Deed.ACCEPT_RISK);
    put(state);
    var may = kit.engine().promotions().may(kit.bram, p);
    deeds.forEach(
        (move, deed) ->
            assertThat(may.may(deed).allowed())
                .as(move)
                .isEqualTo(expected(PROMOTIONS, state.code()).get(move).equals("does")));
    var starts = kit.engine().promotions().may(kit.ines, p);
    assertThat(starts.may(CaseMay.Deed.RUN).allowed()).isEqualTo(state.stands());
  }

  @ParameterizedTest
  @EnumSource(RunState.class)
  void ofARun(RunState state) {
    put(PromotionState.AGREED);
    Run begun = kit.engine().runs().start(kit.ines, p.number(), fingerprint());
    kit.forgetWork();
    kit.write(
        kept -> {
          Run now = kept.runs().find(String.valueOf(begun.number())).orElseThrow();
          Run next =
              new Run(
                  now.number(),
                  now.goal(),
                  state,
                  now.startedBy(),
                  now.times(),
                  null,
                  now.steps(),
                  now.rows(),
                  null,
                  null,
                  Run.Answers.NONE,
                  Course.NONE,
                  now.revision());
          kept.runs().replace(next);
          return null;
        });
    Run before = kit.run(begun.number());
    boolean open = !state.ended();

    assertThat(kit.engine().runs().mayAbort(kit.ines, before).allowed()).isEqualTo(open);
    String code = tried(() -> kit.engine().runs().abort(kit.ines, begun.number(), "no"));

    assertThat(code).isEqualTo(open ? "does" : "RUN_ENDED");
    assertThat(kit.run(begun.number()).equals(before)).isEqualTo(!open);
  }

  private String fingerprint() {
    return p.requirePlan().fingerprint().shown();
  }
}
