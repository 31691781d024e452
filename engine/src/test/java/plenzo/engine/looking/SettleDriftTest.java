package plenzo.engine.looking;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.tuple;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.EngineKit.RULE;
import static plenzo.engine.kit.EngineKit.SITE;
import static plenzo.engine.kit.EngineKit.row;
import static plenzo.engine.kit.EngineKit.rule;
import static plenzo.engine.kit.ScriptedDatabase.column;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.Set;
import java.util.concurrent.CompletableFuture;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.component.ComponentKey;
import plenzo.core.drift.Differing;
import plenzo.core.drift.Differing.How;
import plenzo.core.drift.PutBack;
import plenzo.core.gate.GateReport;
import plenzo.core.impact.Finding;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.plan.Plan;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.stage.Condition;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.SiteRecord;
import plenzo.core.stage.Stage;
import plenzo.core.version.Draft;
import plenzo.core.version.SemVer;
import plenzo.engine.comparing.DriftList;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;
import plenzo.engine.sealing.Drafts;

/** What people changed at a site is listed part by part, and put back or left by what they say. */
class SettleDriftTest extends KitTest {
  private static final String ROWS = "records/" + BAND;
  private static final String PEAK = ROWS + "#row/\"PEAK\"";
  private static final String DAY = ROWS + "#row/\"DAY\"";

  @BeforeEach
  void world() {
    kit.adopt();
    kit.sealPeak("1.1.0", "25.00");
    kit.bring("1.1.0");
  }

  private SiteRecord look() {
    return kit.engine().drift().look(kit.ines, "fares", SITE);
  }

  private List<DriftList.Line> lines() {
    return found(0, 100).part().lines();
  }

  private Drift.Found found(long from, int limit) {
    return kit.engine().drift().found(kit.ines, "fares", SITE, x -> true, from, limit);
  }

  private void tamper() {
    kit.production().row(BAND, row("PEAK", "99.00"));
    kit.production().gone(BAND, "DAY");
    kit.production().row(BAND, row("NIGHT", "5.00"));
    kit.host().put(RULE, rule("7"));
  }

  @Test
  void listsEveryPartWithWhatIsRecordedAndWhatIsThere() {
    tamper();
    kit.production().table("fares.note", column("id", "integer"));

    SiteRecord r = look();

    assertThat(r.drift()).as("what is only there is listed and is no drift").isEqualTo(3);
    assertThat(lines())
        .extracting(l -> l.what().place(), l -> l.what().how())
        .containsExactly(
            tuple(RULE, How.CHANGED),
            tuple("table/fares.note", How.ONLY_THERE),
            tuple(DAY, How.GONE),
            tuple(ROWS + "#row/\"NIGHT\"", How.ONLY_THERE),
            tuple(PEAK, How.CHANGED));
    Differing peak = lines().get(4).what();
    assertThat(peak.attributes())
        .extracting(a -> a.name(), a -> a.present(), a -> a.incoming())
        .containsExactly(tuple("amount", "99.00", "25.00"));
  }

  @Test
  void namesTheRunThatWroteAComponentLastAndCountsItsParts() {
    tamper();
    look();

    DriftList.Head head = Objects.requireNonNull(found(0, 1).head());

    assertThat(head.all()).isEqualTo(4);
    assertThat(head.listed()).isEqualTo(4);
    assertThat(head.groups())
        .filteredOn(g -> g.component().toString().equals(ROWS))
        .singleElement()
        .satisfies(
            g -> {
              assertThat(g.changed()).isEqualTo(1);
              assertThat(g.gone()).isEqualTo(1);
              assertThat(g.onlyThere()).isEqualTo(1);
              assertThat(g.run()).as("1.1.0 brought the row").isEqualTo(1);
            });
    assertThat(head.groups())
        .filteredOn(g -> g.component().toString().equals(RULE))
        .singleElement()
        .satisfies(g -> assertThat(g.run()).as("no run wrote it").isNull());
  }

  @Test
  void isReadAPartAtATimeAndNothingTwice() {
    tamper();
    look();

    DriftList.Part first = found(0, 3).part();
    DriftList.Part second = found(first.next(), 3).part();

    assertThat(first.lines()).hasSize(3);
    assertThat(second.lines()).hasSize(1);
    assertThat(second.next()).isZero();
    assertThat(first.lines()).doesNotContainAnyElementsOf(second.lines());
  }

  @Test
  void knowsSinceWhenEachIsKnownAndForgetsItOnceItIsGone() {
    kit.production().row(BAND, row("PEAK", "99.00"));
    look();
    Instant first = lines().get(0).since();
    kit.clock.tick(Duration.ofHours(2));
    kit.production().row(BAND, row("DAY", "11.00"));
    look();

    assertThat(lines()).extracting(l -> l.what().place()).containsExactly(DAY, PEAK);
    assertThat(lines().get(1).since()).isEqualTo(first);
    assertThat(lines().get(0).since()).isAfter(first);

    kit.production().row(BAND, row("PEAK", "25.00"));
    look();
    kit.production().row(BAND, row("PEAK", "99.00"));
    kit.clock.tick(Duration.ofHours(2));
    look();

    assertThat(lines().get(1).since()).as("it was gone between").isAfter(first);
  }

  @Test
  void aLookAtStructuresAloneKeepsWhatWasKnownOfRows() {
    tamper();
    look();
    Instant rows = Objects.requireNonNull(found(0, 1).head()).rowsAt();
    kit.clock.tick(Duration.ofMinutes(15));
    kit.host().put(RULE, rule("1"));

    kit.engine().drift().look("fares", SITE, /* rows= */ false);

    assertThat(lines())
        .extracting(l -> l.what().place())
        .containsExactly(DAY, ROWS + "#row/\"NIGHT\"", PEAK);
    assertThat(Objects.requireNonNull(found(0, 1).head()).rowsAt()).isEqualTo(rows);
    assertThat(found(0, 1).head().at()).isAfter(rows);
  }

  @Test
  void anUnreachableSiteKeepsItsListAndOldListsAreGone() {
    tamper();
    look();
    look();
    String list = kit.record().look().list();
    kit.production().script.fallSilent();

    look();

    assertThat(kit.record().look().list()).isEqualTo(list);
    assertThat(lines()).hasSize(4);
    assertThat(kit.engine().tools().files().list("drift")).as("head and lines").hasSize(2);
  }

  /** Looks beside one another, as a person's and the scheduled one: none fails, one list stays. */
  @Test
  void looksBesideOneAnotherLeaveOneListThatIsWhole() {
    tamper();
    look();

    List<CompletableFuture<Void>> all = new ArrayList<>();
    for (int n = 0; n < 4; n++) {
      boolean rows = n % 2 == 0;
      all.add(
          CompletableFuture.runAsync(
              () -> {
                for (int i = 0; i < 5; i++) {
                  kit.engine().drift().look("fares", SITE, rows);
                  assertThat(lines()).hasSize(4);
                }
              }));
    }
    all.forEach(CompletableFuture::join);

    assertThat(kit.engine().tools().files().list("drift")).hasSize(2);
    assertThat(lines()).hasSize(4);
  }

  @Test
  void whatALookLeftThatWasCutOffIsTidiedAwayAndNothingElse() {
    tamper();
    look();
    kit.engine().tools().files().write("drift/left-over.lines", out -> out.write('x'));

    kit.engine().drift().tidy();

    assertThat(kit.engine().tools().files().list("drift"))
        .hasSize(2)
        .doesNotContain("left-over.lines");
    assertThat(lines()).hasSize(4);
  }

  @Test
  void putsBackAllThatIsRecordedAndLeavesWhatIsOnlyThere() {
    tamper();
    look();

    Promotion p = kit.putBack(PutBack.ALL);

    assertThat(p.version().text()).isEqualTo("1.1.0");
    assertThat(kit.rules(p)).contains("NOTE hand-edits-go").noneMatch(r -> r.startsWith("BLOCKER"));
    assertThat(p.requirePlan().waysBack())
        .extracting(Plan.WayBack::way)
        .containsExactly(Plan.Way.BACKUP);
    assertThat(kit.run(p).state()).isEqualTo(RunState.DONE);
    assertThat(kit.production().value(BAND, "PEAK", "amount")).isEqualTo("25.00");
    assertThat(kit.production().keys(BAND)).containsExactly("DAY", "NIGHT", "PEAK");
    assertThat(kit.host().text(RULE)).isEqualTo(rule("1"));
    assertThat(kit.record().condition()).isEqualTo(Condition.GOOD);
    assertThat(kit.record().lastPlacement().orElseThrow().how()).isEqualTo("put-back");
    assertThat(lines()).extracting(l -> l.what().place()).containsExactly(ROWS + "#row/\"NIGHT\"");
  }

  @Test
  void putsBackWhatIsNamedAndTheRestStaysDrift() {
    tamper();
    look();

    Promotion p = kit.putBack(PutBack.of(Set.of(PEAK), Set.of(ROWS + "#row/\"NIGHT\"")));

    Run run = kit.run(p);
    assertThat(run.state()).isEqualTo(RunState.DONE);
    assertThat(run.sentence())
        .as("no more than what the plan put back")
        .isEqualTo("What " + p.shown() + " put back at production/main is as 1.1.0 has it again.");
    assertThat(kit.production().value(BAND, "PEAK", "amount")).isEqualTo("25.00");
    assertThat(kit.production().keys(BAND)).containsExactly("PEAK");
    assertThat(kit.host().text(RULE)).isEqualTo(rule("7"));
    assertThat(kit.record().drift()).isEqualTo(2);
    assertThat(kit.record().condition()).isEqualTo(Condition.DRIFTED);
  }

  @Test
  void aDroppedColumnAndTableComeBack() {
    kit.production().column(BAND, "amount", column("cost", "numeric(6,2)"), /* renamed= */ true);
    look();
    assertThat(lines())
        .extracting(l -> l.what().place(), l -> l.what().how())
        .contains(
            tuple("table/" + BAND + "#column/amount", How.GONE),
            tuple("table/" + BAND + "#column/cost", How.ONLY_THERE));

    Promotion p = kit.putBack(PutBack.ALL);

    assertThat(kit.run(p).state()).isEqualTo(RunState.DONE);
    assertThat(kit.production().value(BAND, "PEAK", "amount")).isEqualTo("25.00");
    assertThat(Objects.requireNonNull(kit.production().structure(BAND)).column("cost")).isPresent();
    assertThat(kit.record().drift()).isZero();
  }

  @Test
  void canBeGoneBackFrom() {
    tamper();
    look();
    kit.run(kit.putBack(PutBack.ALL));

    assertThat(kit.run(kit.back(Plan.Way.BACKUP)).state()).isEqualTo(RunState.DONE);

    assertThat(kit.production().value(BAND, "PEAK", "amount")).isEqualTo("99.00");
    assertThat(kit.production().keys(BAND)).containsExactly("NIGHT", "PEAK");
    assertThat(kit.host().text(RULE)).isEqualTo(rule("7"));
    assertThat(kit.record().condition()).isEqualTo(Condition.DRIFTED);
  }

  @Test
  void saysWhenThereIsNothingToPutBack() {
    Promotion p = kit.putBack(PutBack.ALL);

    assertThat(p.findings())
        .filteredOn(f -> f.severity() == Finding.Severity.BLOCKER)
        .singleElement()
        .satisfies(f -> assertThat(f.sentence()).contains("there is nothing to put back"));
  }

  @Test
  void knowsNoComponentThatTheVersionHasNot() {
    assertThatThrownBy(() -> kit.putBack(PutBack.of(Set.of("table/fares.zone"), Set.of())))
        .isInstanceOf(Problem.class)
        .hasMessageContaining("has no component \"table/fares.zone\"");
  }

  @Test
  void isOvertakenWhenAnotherVersionComes() {
    tamper();
    look();
    Promotion open = kit.putBack(PutBack.ALL);
    kit.sealPeak("1.2.0", "30.00");
    Promotion other = kit.takeIncoming(kit.prepare("1.2.0"), ROWS);

    kit.run(other);

    assertThat(kit.promotion(open.number()).state()).isEqualTo(PromotionState.OVERTAKEN);
  }

  @Test
  void aPromotionThatIsOpenStaysSoWhenThePresentVersionIsPutBack() {
    kit.sealPeak("1.2.0", "30.00");
    Promotion open = kit.prepare("1.2.0");
    kit.production().row(BAND, row("DAY", "11.00"));

    kit.run(kit.putBack(PutBack.ALL));

    assertThat(kit.promotion(open.number()).state()).isEqualTo(PromotionState.AGREED);
    assertThat(kit.run(kit.promotion(open.number())).state()).isEqualTo(RunState.DONE);
    assertThat(kit.production().value(BAND, "PEAK", "amount")).isEqualTo("30.00");
  }

  private LocalDate day(int later) {
    return LocalDate.ofInstant(kit.clock.instant(), ZoneOffset.UTC).plusDays(later);
  }

  @Test
  void whatIsLeftIsNoDriftUntilItsDayIsOver() {
    tamper();
    look();

    kit.engine()
        .drift()
        .leave(kit.ines, "fares", SITE, List.of(PEAK, DAY, RULE), "harbour asked", day(3));

    assertThat(kit.record().drift()).isZero();
    assertThat(kit.record().condition()).isEqualTo(Condition.GOOD);
    assertThat(lines()).as("it is shown further on").hasSize(4);
    assertThat(kit.history().get(0).event()).isEqualTo("drift left");
    kit.clock.tick(Duration.ofDays(4));
    look();
    assertThat(kit.record().drift()).isEqualTo(3);
  }

  @Test
  void whatIsLeftIsPutBackOnlyWhenItIsNamed() {
    tamper();
    kit.engine().drift().leave(kit.ines, "fares", SITE, List.of(PEAK), "agreed", day(3));

    kit.run(kit.putBack(PutBack.ALL));
    assertThat(kit.production().value(BAND, "PEAK", "amount")).isEqualTo("99.00");
    assertThat(kit.record().left()).hasSize(1);

    kit.run(kit.putBack(PutBack.of(Set.of(PEAK), Set.of())));
    assertThat(kit.production().value(BAND, "PEAK", "amount")).isEqualTo("25.00");
    assertThat(kit.record().left()).as("it is settled").isEmpty();
  }

  @Test
  void whatIsLeftCanBeTakenBack() {
    tamper();
    kit.engine().drift().leave(kit.ines, "fares", SITE, List.of(ROWS), "agreed", day(3));
    assertThat(kit.record().drift()).isEqualTo(1);

    kit.engine().drift().leaveNoMore(kit.ines, "fares", SITE, List.of(ROWS));

    assertThat(kit.record().drift()).isEqualTo(3);
  }

  @Test
  void leavingAsksForAReasonADayAndTheRight() {
    var drift = kit.engine().drift();
    assertThatThrownBy(() -> drift.leave(kit.ines, "fares", SITE, List.of(PEAK), " ", day(3)))
        .hasMessageContaining("with a reason");
    assertThatThrownBy(() -> drift.leave(kit.ines, "fares", SITE, List.of(PEAK), "x", day(-1)))
        .hasMessageContaining("a day to come");
    assertThatThrownBy(() -> drift.leave(kit.ines, "fares", SITE, List.of(), "x", day(1)))
        .hasMessageContaining("Name what");
    Person looker = EngineKit.person("odile", Right.LOOK);
    assertThatThrownBy(() -> drift.leave(looker, "fares", SITE, List.of(PEAK), "x", day(1)))
        .isInstanceOf(Problem.class);
  }

  private List<String> beside(SiteKey with) {
    List<String> out = new ArrayList<>();
    kit.engine()
        .comparisons()
        .sites(kit.ines, "fares", SITE, with, d -> out.add(d.how().code() + " " + d.place()));
    return out;
  }

  @Test
  void twoSitesAreHeldBesideOneAnother() {
    List<String> kept = kit.engine().tools().files().list("comparison");
    assertThat(beside(EngineKit.DEVELOPMENT)).isEmpty();
    tamper();
    kit.development().table("fares.plan", column("id", "integer"));

    assertThat(beside(EngineKit.DEVELOPMENT))
        .containsExactly(
            "gone table/fares.plan",
            "changed " + RULE,
            "gone " + DAY,
            "only-there " + ROWS + "#row/\"NIGHT\"",
            "changed " + PEAK);
    assertThat(kit.engine().tools().files().list("comparison"))
        .as("nothing is kept")
        .isEqualTo(kept);
  }

  @Test
  void aSiteIsHeldBesideAnyVersion() {
    List<Differing> out = new ArrayList<>();
    kit.engine().comparisons().version(kit.ines, "fares", SITE, new SemVer("1.0.0"), out::add);

    assertThat(out).extracting(Differing::place).containsExactly(PEAK);
    assertThat(out.get(0).attributes())
        .extracting(a -> a.present(), a -> a.incoming())
        .containsExactly(tuple("25.00", "20.00"));
  }

  @Test
  void aPastDayIsTheVersionThatWasThereWhenItEnded() {
    kit.clock.tick(Duration.ofDays(2));
    kit.development().row(BAND, row("PEAK", "26.00"));
    kit.sealFrom("1.2.0", "1.1.0");
    kit.bring("1.2.0");

    assertThat(on("2027-03-01")).as("after two that day").isEqualTo(new SemVer("1.1.0"));
    assertThat(on("2027-03-02")).isEqualTo(new SemVer("1.1.0"));
    assertThat(on("2027-03-03")).isEqualTo(new SemVer("1.2.0"));
    assertThatThrownBy(() -> on("2027-02-28"))
        .isInstanceOfSatisfying(Problem.class, p -> assertThat(p.code()).isEqualTo("NOT_THERE"));
  }

  private SemVer on(String day) {
    return kit.engine().comparisons().on(kit.ines, "fares", SITE, LocalDate.parse(day));
  }

  @Test
  void bothSidesAskForTheRightToLook() {
    Person there =
        EngineKit.person("nora")
            .withGrants(List.of(new Person.Grant(Right.LOOK, "production", "fares")));
    assertThatThrownBy(
            () ->
                kit.engine()
                    .comparisons()
                    .sites(there, "fares", SITE, EngineKit.DEVELOPMENT, d -> {}))
        .isInstanceOf(Problem.class);
    assertThatThrownBy(() -> beside(SITE)).hasMessageContaining("with itself");
  }

  private List<String> lacking(Draft d) {
    return d.findings().stream()
        .filter(f -> f.rule().equals("source-lacks"))
        .map(Finding::place)
        .toList();
  }

  /** What was made in production becomes a version, and that development has it not so is said. */
  @Test
  void becomesADraftThatSaysWhatDevelopmentLacks() {
    tamper();
    look();

    Draft d =
        kit.engine()
            .drafts()
            .takeFrom(
                kit.ines, "fares", SITE, Set.of(ComponentKey.of(RULE), ComponentKey.of(ROWS)));

    assertThat(d.from().text()).isEqualTo("1.1.0");
    assertThat(d.picks()).extracting(p -> p.key().toString()).contains(RULE, ROWS);
    assertThat(lacking(d)).containsExactlyInAnyOrder(RULE, ROWS);
    kit.hosts.at("development").put(RULE, rule("7"));
    assertThat(lacking(kit.engine().drafts().check(kit.ines, d.id())))
        .as("development has the rule so by now")
        .containsExactly(ROWS);

    kit.engine()
        .drafts()
        .seal(
            kit.ines,
            d.id(),
            new Drafts.Statement(new SemVer("1.2.0"), "As it is", "", null, List.of()));
    assertThat(kit.run(kit.prepare("1.2.0")).state()).isEqualTo(RunState.DONE);
    assertThat(kit.production().value(BAND, "PEAK", "amount")).isEqualTo("99.00");
    assertThat(kit.production().keys(BAND)).contains("NIGHT");
    assertThat(kit.host().text(RULE)).isEqualTo(rule("7"));
  }

  @Test
  void aDraftOfWhatIsNotThereIsNotBegun() {
    tamper();
    look();

    assertThatThrownBy(
            () ->
                kit.engine()
                    .drafts()
                    .takeFrom(kit.ines, "fares", SITE, Set.of(ComponentKey.of("table/fares.none"))))
        .isInstanceOf(Problem.class);

    assertThat(kit.engine().drafts().list(kit.ines, Kept.Filter.application("fares")).items())
        .noneMatch(d -> d.state() == Draft.State.OPEN);
  }

  @Test
  void aStageMayTakeNothingUntilItIsSettled() {
    kit.production().row(BAND, row("DAY", "11.00"));
    look();
    Stage old = kit.engine().stages().get(kit.ines, SITE.stage());
    kit.engine()
        .stages()
        .save(
            kit.ines,
            new Stage(
                old.key(),
                old.name(),
                old.role(),
                old.position(),
                old.zone(),
                /* driftCloses= */ true,
                old.sites(),
                old.revision()));
    kit.sealPeak("1.2.0", "30.00");
    Promotion p = kit.prepare("1.2.0");
    GateReport closed = kit.engine().promotions().gates(p);
    assertThat(closed.lines()).singleElement().asString().startsWith("1 part or row differs");

    kit.run(kit.putBack(PutBack.ALL));

    assertThat(kit.engine().promotions().gates(kit.promotion(p.number())).lines()).isEmpty();
    assertThat(kit.run(kit.promotion(p.number())).state()).isEqualTo(RunState.DONE);
  }
}
