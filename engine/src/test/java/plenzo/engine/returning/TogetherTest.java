package plenzo.engine.returning;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.EngineKit.SITE;
import static plenzo.engine.kit.EngineKit.row;

import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.plan.Plan.Way;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.run.RunState;
import plenzo.core.stage.SiteKey;
import plenzo.core.version.SemVer;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;
import plenzo.engine.returning.Rollbacks.Wish;
import plenzo.engine.returning.Together.AtStage;
import plenzo.engine.returning.Together.OneWay;
import plenzo.engine.returning.Together.Opened;

/** Every site that a version came to goes back as one act; the others stay as they are. */
class TogetherTest extends KitTest {
  private SiteKey south;
  private SiteKey west;

  @BeforeEach
  void world() {
    south = kit.site("south");
    west = kit.site("west");
    kit.adopt();
    kit.matchAt(south);
    kit.matchAt(west);
    kit.sealPeak("1.1.0", "25.00");
    bring(SITE);
    bring(south);
  }

  private void bring(SiteKey site) {
    assertThat(kit.run(kit.prepare("1.1.0", site)).state()).isEqualTo(RunState.DONE);
  }

  private static Together.Where where(Wish wish) {
    return new Together.Where("fares", "production", null, wish);
  }

  private AtStage ways() {
    return kit.engine().together().ways(kit.ines, where(Wish.NONE));
  }

  private OneWay way(Way way) {
    return ways().ways().stream().filter(w -> w.way() == way).findFirst().orElseThrow();
  }

  private static String fingerprint(OneWay way) {
    return Objects.requireNonNull(way.fingerprint()).shown();
  }

  private List<Opened> start(Person by, Way way, String expect) {
    return kit.engine().together().start(by, where(Wish.NONE), way, "Undercharges", expect);
  }

  private String peak(String base) {
    return kit.databases.at(base).value(BAND, "PEAK", "amount");
  }

  @Test
  void goesBackWhereTheVersionCameAndNowhereElse() {
    AtStage all = ways();
    assertThat(all.leaving()).isEqualTo(new SemVer("1.1.0"));
    assertThat(all.sites())
        .extracting(s -> s.site() + " " + s.present() + " " + s.leaves())
        .containsExactlyInAnyOrder(
            SITE + " 1.1.0 true", south + " 1.1.0 true", west + " 1.0.0 false");

    List<Opened> opened =
        start(kit.ines, Way.EARLIER_VERSION, fingerprint(way(Way.EARLIER_VERSION)));

    assertThat(opened).extracting(Opened::site).containsExactlyInAnyOrder(SITE, south);
    for (Opened o : opened) {
      Promotion p = Objects.requireNonNull(o.promotion());
      assertThat(p.state())
          .as("the approvals of each site's plan cover it")
          .isEqualTo(PromotionState.AGREED);
      assertThat(kit.run(p).state()).isEqualTo(RunState.DONE);
    }
    assertThat(peak("production")).isEqualTo("20.00");
    assertThat(peak("south")).isEqualTo("20.00");
    assertThat(kit.record(west).placements()).as("nothing ran there").hasSize(1);
  }

  @Test
  void losesWhatItLosesAtEachSite() {
    kit.databases.at("south").row(BAND, row("OWN", "1.00"));
    kit.production().row(BAND, row("OWN", "1.00"));
    kit.production().row(BAND, row("MINE", "2.00"));

    assertThat(way(Way.BACKUP).lost()).isEqualTo(3);
    assertThat(ways().ways().get(0).way())
        .as("that loses least first")
        .isEqualTo(Way.EARLIER_VERSION);
    assertThat(way(Way.BACKUP).covered()).as("more than was agreed").isFalse();
  }

  @Test
  void isClosedWhereOneSiteIsClosed() {
    kit.databases.at("south").row(BAND, row("PEAK", "99.00"));

    OneWay earlier = way(Way.EARLIER_VERSION);

    assertThat(earlier.possible()).isFalse();
    assertThat(earlier.why()).startsWith(south + ": ");
    assertThat(way(Way.BACKUP).possible()).as("the other way is open").isTrue();
    assertThatThrownBy(() -> start(kit.ines, Way.EARLIER_VERSION, "x"))
        .isInstanceOfSatisfying(Problem.class, p -> assertThat(p.code()).isEqualTo("NO_WAY_BACK"));
  }

  @Test
  void opensNothingWhenItWouldDoSomethingElseByNow() {
    String seen = fingerprint(way(Way.EARLIER_VERSION));
    kit.databases.at("south").row(BAND, row("PEAK", "20.00")); // by hand, as it was

    assertThatThrownBy(() -> start(kit.ines, Way.EARLIER_VERSION, seen))
        .isInstanceOfSatisfying(Problem.class, p -> assertThat(p.code()).isEqualTo("FINGERPRINT"));
    assertThat(kit.history()).noneMatch(e -> e.event().equals("rollback prepared"));
  }

  @Test
  void choicesHoldForEverySite() {
    for (String base : List.of("south", "production")) {
      kit.databases.at(base).row(BAND, row("PEAK", "99.00"));
    }
    assertThat(way(Way.EARLIER_VERSION).possible()).isFalse();
    Together.Where kept =
        where(new Wish(null, Map.of("records/" + BAND, plenzo.core.comparison.Decision.KEEP)));

    AtStage all = kit.engine().together().ways(kit.ines, kept);

    OneWay earlier =
        all.ways().stream().filter(w -> w.way() == Way.EARLIER_VERSION).findFirst().orElseThrow();
    assertThat(earlier.possible()).as(earlier.why()).isTrue();
    assertThat(earlier.lost()).isZero();
  }

  @Test
  void needsTheRightToGoBack() {
    Person looker = EngineKit.person("nora", Right.LOOK);
    String seen = fingerprint(way(Way.EARLIER_VERSION));

    assertThatThrownBy(() -> start(looker, Way.EARLIER_VERSION, seen))
        .isInstanceOfSatisfying(Problem.class, p -> assertThat(p.code()).isEqualTo("NOT_ALLOWED"));
    assertThatThrownBy(
            () ->
                kit.engine()
                    .together()
                    .ways(EngineKit.person("tove", Right.AUTHOR), where(Wish.NONE)))
        .isInstanceOf(Problem.class);
  }

  @Test
  void saysThatNothingIsLeftWhereNobodyHasTheVersion() {
    Together.Where other =
        new Together.Where("fares", "production", new SemVer("1.5.0"), Wish.NONE);

    AtStage none = kit.engine().together().ways(kit.ines, other);

    assertThat(none.ways()).isEmpty();
    assertThat(none.sites()).noneMatch(Together.AtSite::leaves);
    assertThatThrownBy(
            () -> kit.engine().together().start(kit.ines, other, Way.BACKUP, "Wrong", "x"))
        .isInstanceOf(Problem.class)
        .hasMessageContaining("No site of production has that way back");
  }
}
