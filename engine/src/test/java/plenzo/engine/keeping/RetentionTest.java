package plenzo.engine.keeping;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static plenzo.engine.kit.EngineKit.SITE;

import java.time.Duration;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.history.HistoryEntry;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.retention.Preview;
import plenzo.core.retention.Rules;
import plenzo.core.retention.Sort;
import plenzo.core.run.Run;
import plenzo.core.version.SemVer;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;

/** What goes when it is old, and what a way back, an open case or a note keeps. */
class RetentionTest extends KitTest {
  private final Person admin = EngineKit.person("admin", Right.ADMINISTER);
  private static final Rules ALL =
      new Rules(Map.of(Sort.BACKUP, 30, Sort.LOG, 30, Sort.COMPARISON, 30), false);

  @BeforeEach
  void world() {
    kit.adopt();
  }

  /** Brings versions one after the other, each judged good; then a hundred days pass. */
  private List<Run> brought(String... versions) {
    List<Run> out = new java.util.ArrayList<>();
    int price = 20;
    for (String v : versions) {
      kit.sealPeak(v, ++price + ".00");
      out.add(kit.bring(v));
      kit.engine().verdicts().judge(kit.bram, "fares", SITE, new SemVer(v), true, "Quoted");
    }
    kit.clock.tick(Duration.ofDays(100));
    return out;
  }

  private Preview preview() {
    return kit.engine().retention().preview(admin, ALL);
  }

  private List<String> going() {
    return preview().going().stream().map(l -> l.item().id()).toList();
  }

  private String why(String id) {
    return preview().lines().stream()
        .filter(l -> l.item().id().equals(id))
        .map(Preview.Line::why)
        .findFirst()
        .orElseThrow();
  }

  private Preview clear() {
    kit.engine().retention().set(admin, ALL);
    return kit.engine()
        .retention()
        .clear(admin, kit.engine().retention().preview(admin, ALL).digest().hex());
  }

  private String event(String what) {
    Kept.HistoryFilter filter = new Kept.HistoryFilter(null, null, what, null, 0, 1);
    List<HistoryEntry> found = kit.read(kept -> kept.history(filter));
    return found.get(0).text();
  }

  @Test
  void theBackupsThatTheWayBackReadsStayHoweverOldTheyAre() {
    brought("1.1.0", "1.2.0", "1.3.0");

    assertThat(going())
        .containsExactlyInAnyOrder(
            "backup/R-1",
            "backup/R-2",
            "log/R-1",
            "log/R-2",
            "log/R-3",
            "comparison/P-1",
            "comparison/P-2");
    assertThat(why("comparison/P-3")).isEqualTo(why("backup/R-3"));
    assertThat(why("backup/R-3")).isEqualTo("the newest backup of fares at production/main");
  }

  @Test
  void whereTheLastGoodOneIsFurtherBackEveryBackupSinceStays() {
    brought("1.1.0", "1.2.0", "1.3.0");
    kit.engine().verdicts().judge(kit.bram, "fares", SITE, new SemVer("1.2.0"), false, "Wrong");

    assertThat(going()).contains("backup/R-1").doesNotContain("backup/R-2", "backup/R-3");
    assertThat(why("backup/R-2"))
        .isEqualTo("the way back of fares at production/main to 1.1.0 needs it");
  }

  @Test
  void afterClearingTheWayBackIsAsItWas() {
    brought("1.1.0", "1.2.0");
    var before = kit.ways();

    clear();

    assertThat(kit.ways()).isEqualTo(before);
    assertThat(kit.engine().tools().files().exists("backup/R-1")).isFalse();
    assertThat(kit.engine().tools().files().exists("backup/R-2")).isTrue();
  }

  @Test
  void whatWasClearedSaysWhenAndByWhom() {
    brought("1.1.0", "1.2.0");

    Preview cleared = clear();

    assertThat(cleared.counted()).isEqualTo("1 backup, 1 comparison with its rows, 2 logs of runs");
    assertThat(cleared.bytes()).isPositive();
    assertThat(kit.engine().runs().log(kit.ines, 1))
        .startsWith("The log of R-1 was cleared at ")
        .endsWith(" by admin: more than 30 days old.");
    assertThat(kit.run(1).backup().proof()).contains("; cleared at 2027-").endsWith(" by admin");
    assertThat(kit.run(2).backup().proof()).doesNotContain("cleared");
    assertThat(event("files cleared")).startsWith("1 backup, 1 comparison with its rows, ");
    assertThat(going()).isEmpty();
  }

  @Test
  void aListThatIsAnotherByNowClearsNothing() {
    brought("1.1.0", "1.2.0");
    kit.engine().retention().set(admin, ALL);
    String read = preview().digest().hex();
    kit.engine().retention().keep(admin, "R-1", "The harbour asks for it", null);

    assertThatThrownBy(() -> kit.engine().retention().clear(admin, read))
        .isInstanceOf(Problem.class)
        .hasMessageContaining("another list now");
    assertThat(kit.engine().tools().files().exists("log/R-2.log")).isTrue();
  }

  @Test
  void aNoteKeepsEverythingOfItsRunUntilItIsEnded() {
    brought("1.1.0", "1.2.0");
    kit.engine().retention().keep(admin, "R-1", "The harbour asks for it", null);

    assertThat(going()).doesNotContain("backup/R-1", "log/R-1").contains("log/R-2");
    assertThat(why("backup/R-1")).isEqualTo("a note of admin: The harbour asks for it");

    kit.engine().retention().letGo(admin, "R-1");
    assertThat(going()).contains("backup/R-1");
  }

  @Test
  void anOpenCaseKeepsWhatItHas() {
    brought("1.1.0", "1.2.0");
    kit.sealPeak("1.4.0", "99.00");
    Promotion p = kit.prepare("1.4.0");
    kit.clock.tick(Duration.ofDays(100));

    assertThat(why("comparison/" + p.shown())).isEqualTo(p.shown() + " is open");
  }

  @Test
  void byItselfNothingGoesUnlessTheRulesSaySo() {
    brought("1.1.0", "1.2.0");
    kit.engine().retention().set(admin, ALL);
    assertThat(kit.engine().retention().byItself()).isEmpty();

    kit.engine().retention().set(admin, new Rules(ALL.days(), true));
    assertThat(kit.engine().retention().byItself().orElseThrow().going()).isNotEmpty();
    assertThat(kit.engine().tools().files().exists("backup/R-1")).isFalse();
  }

  @Test
  void whatAKillLeftIsTakenAwayAtTheNextStart() {
    brought("1.1.0", "1.2.0");
    clear();
    kit.engine().tools().files().write("log/R-1.log", out -> out.write(1));

    kit.engine().retention().tidy();

    assertThat(kit.engine().tools().files().exists("log/R-1.log")).isFalse();
    assertThat(kit.engine().tools().files().exists("backup/R-2")).isTrue();
  }

  @Test
  void aKillLeavesNoClearedCopyOfASourceBehindThoughNoRecordListsItAnyMore() {
    kit.engine().copies().take(kit.ines, "fares");
    kit.engine().copies().take(kit.ines, "fares");
    kit.clock.tick(Duration.ofDays(100));
    kit.engine().retention().set(admin, new Rules(Map.of(Sort.COPY, 30), true));
    kit.engine().retention().byItself();
    kit.engine().tools().files().write("copy/C-1.zip", out -> out.write(1));

    kit.engine().retention().tidy();

    assertThat(kit.engine().tools().files().list("copy")).containsExactly("C-2.zip");
  }

  @Test
  void onlyWhoAdministersEverythingSeesAndClears() {
    brought("1.1.0", "1.2.0");

    Person runs = EngineKit.person("runs", Right.RUN, Right.LOOK);
    assertThatThrownBy(() -> kit.engine().retention().preview(runs, ALL))
        .isInstanceOf(Problem.class);
    assertThatThrownBy(() -> kit.engine().retention().keep(runs, "R-1", "Mine", null))
        .isInstanceOf(Problem.class);
  }

  @Test
  void aNoteOfNothingIsRefused() {
    for (String subject : List.of("", "R-9", "P-x", "K-1", "E-1", "fares@9.9.9", "../etc")) {
      assertThatThrownBy(() -> kit.engine().retention().keep(admin, subject, "Why not", null))
          .as(subject)
          .isInstanceOf(Problem.class)
          .hasMessageContaining("Name a run");
    }
  }
}
