package plenzo.engine.running;

import static org.assertj.core.api.Assertions.assertThat;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.EngineKit.RULE;
import static plenzo.engine.kit.EngineKit.row;
import static plenzo.engine.kit.EngineKit.rule;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import plenzo.core.impact.Finding;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.stage.SiteRecord;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.Killed;
import plenzo.engine.kit.Script;
import plenzo.engine.kit.Script.At;

/**
 * A site that versions come to and go back from in any order, with kills anywhere: after each move
 * it holds wholly what is recorded there, and every run says which.
 */
class RandomWalkTest {
  private static final List<At> DEATHS =
      List.of(At.PREPARE, At.SWITCH, At.SWITCHED, At.DISCARD, At.MAINTENANCE);
  private static final int MOVES = 8;

  @TempDir Path folder;
  private final List<String> told = new ArrayList<>();

  private static String state(EngineKit kit) {
    return kit.production().state() + kit.host().text(RULE);
  }

  private static String present(EngineKit kit) {
    return String.valueOf(kit.record().present());
  }

  @ParameterizedTest
  @ValueSource(longs = {1, 2, 3, 4, 5, 6})
  void holdsWhatIsRecorded(long seed) {
    Random random = new Random(seed);
    try (EngineKit kit = new EngineKit(folder.resolve("data")).adopt()) {
      Map<String, String> holds = new HashMap<>();
      holds.put("1.0.0", state(kit));
      for (int move = 1; move <= MOVES; move++) {
        if (random.nextInt(3) > 0 || kit.record().lastGood().isEmpty()) {
          forward(kit, random, move, holds);
        } else {
          back(kit, random);
        }
        assertThat(state(kit)).as(told.toString()).isEqualTo(holds.get(present(kit)));
        assertThat(kit.host().maintenance).as(told.toString()).isFalse();
        assertThat(kit.production().prepared()).as(told.toString()).isFalse();
        assertThat(kit.record().halfWritten()).as(told.toString()).isFalse();
        assertThat(kit.recover()).as("nothing is left open").isZero();
      }
    }
  }

  /** Development takes a shape of its own, is sealed from what is there, and comes. */
  private void forward(EngineKit kit, Random random, int move, Map<String, String> holds) {
    kit.development()
        .row(BAND, row("PEAK", move + ".00"))
        .row(BAND, row("N" + random.nextInt(3), move + ".50"));
    if (random.nextBoolean()) {
      kit.hosts.at("development").put(RULE, rule(String.valueOf(move)));
    }
    String number = "1." + move + ".0";
    kit.sealFrom(number, present(kit));
    Promotion p = kit.prepare(number);
    if (p.findings().stream().anyMatch(f -> f.severity() == Finding.Severity.BLOCKER)) {
      told.add(number + " is blocked: " + kit.rules(p));
      return;
    }
    Run run = outlived(kit, random, p);
    if (run.state() == RunState.DONE) {
      holds.put(number, state(kit));
      assertThat(kit.production().value(BAND, "PEAK", "amount")).isEqualTo(move + ".00");
    }
  }

  private void back(EngineKit kit, Random random) {
    Plan.Way way = random.nextBoolean() ? Plan.Way.BACKUP : Plan.Way.EARLIER_VERSION;
    if (!kit.way(way).possible()) {
      told.add("no way by " + way + ": " + kit.way(way).why());
      return;
    }
    outlived(kit, random, kit.back(way));
  }

  /** Runs it, perhaps with a kill; what began is settled afterwards. */
  private Run outlived(EngineKit kit, Random random, Promotion p) {
    String before = present(kit);
    if (random.nextInt(2) == 0) {
      Script script = random.nextBoolean() ? kit.production().script : kit.host().script;
      At at = DEATHS.get(random.nextInt(DEATHS.size()));
      script.killAt(at);
      told.add("killed at " + at);
    }
    Run run = kit.start(p);
    try {
      kit.settleDown();
    } catch (Killed e) {
      kit.restart().recover();
    }
    kit.production().script.forget();
    kit.host().script.forget();
    run = kit.run(run.number());
    told.add(run.shown() + " to " + run.version() + " " + run.state());
    SiteRecord record = kit.record();
    assertThat(run.state())
        .as(told.toString())
        .isIn(RunState.DONE, RunState.STOPPED, RunState.PUT_BACK);
    assertThat(String.valueOf(record.present()))
        .as(told.toString())
        .isEqualTo(run.state() == RunState.DONE ? run.version() : before);
    return run;
  }
}
