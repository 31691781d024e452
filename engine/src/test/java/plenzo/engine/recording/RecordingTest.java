package plenzo.engine.recording;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.EngineKit.SITE;
import static plenzo.engine.kit.EngineKit.row;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.plan.Plan;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.report.Figures;
import plenzo.core.report.Report;
import plenzo.core.report.Report.Section;
import plenzo.core.run.Run;
import plenzo.core.run.RunState;
import plenzo.core.stage.Emergency;
import plenzo.core.stage.Leg;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.Stage;
import plenzo.core.version.SemVer;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;
import plenzo.engine.timing.Freezes;

/** What people look back on: documents, exceptions, figures. */
class RecordingTest extends KitTest {
  @BeforeEach
  void world() {
    kit.adopt();
    kit.sealPeak("1.1.0", "25.00");
  }

  private static Section section(Report r, String heading) {
    return r.sections().stream()
        .filter(s -> s.heading().equals(heading))
        .findFirst()
        .orElseThrow(() -> new AssertionError("No section " + heading + " in " + r));
  }

  private static String fact(Report r, String heading, String name) {
    return section(r, heading).facts().stream()
        .filter(f -> f.name().equals(name))
        .map(Report.Fact::value)
        .findFirst()
        .orElse("");
  }

  private Report record(long promotion) {
    return kit.engine().records().of(kit.ines, promotion, true);
  }

  @Test
  void theRecordOfAPromotionSaysWhatItUsedAndDid() {
    kit.asks(Leg.open(SITE.stage()).asking(new Leg.Quorum("", 1)));
    Promotion p = kit.prepare("1.1.0");
    String plan = p.requirePlan().fingerprint().shown();
    Person bram =
        kit.bram.withRoles(
            List.of(new Person.Held("board", List.of(Right.APPROVE), "production", "*")));
    kit.engine().promotions().approve(bram, p.number(), true, plan, "As quoted");
    Run run = kit.run(kit.promotion(p.number()));
    kit.engine().verdicts().judge(kit.bram, "fares", SITE, new SemVer("1.1.0"), true, "Quoted it");

    Report r = record(p.number());

    assertThat(r.title()).isEqualTo("P-1: fares 1.1.0 to production/main");
    assertThat(fact(r, "What it brings", "Version")).startsWith("1.1.0, digest ");
    assertThat(fact(r, "What it brings", "In place of")).isEqualTo("1.0.0");
    assertThat(fact(r, "Plan", "Fingerprint")).startsWith(plan);
    assertThat(section(r, "What was said of the plan").rows())
        .containsExactly(
            List.of(
                "bram",
                "board",
                "yes",
                kit.promotion(1).approvals().get(0).fingerprint().substring(0, 12),
                Report.time(kit.promotion(1).approvals().get(0).at()),
                "As quoted",
                "yes"));
    assertThat(section(r, run.shown() + ": targets and technical accounts").rows())
        .hasSize(2)
        .allMatch(row -> row.get(1).equals("account"));
    assertThat(section(r, run.shown() + ": what stood there afterwards").rows())
        .anyMatch(row -> row.get(0).equals("records/" + BAND) && row.get(1).equals("1 changed"));
    assertThat(section(r, run.shown() + ": steps").rows()).hasSameSizeAs(run.steps());
    assertThat(fact(r, run.shown(), "Backup")).contains("rows");
    assertThat(section(r, "Verdicts").rows().get(0)).contains("good", "bram", "Quoted it");
    assertThat(section(r, "History").rows())
        .extracting(row -> row.get(3))
        .containsSubsequence("promotion prepared", "approved", "run started", "run done");
    assertThat(section(r, "Evidence").text()).isEqualTo("None was given.");
  }

  @Test
  void theAccountIsTheOneOfThenWhateverBecameOfTheConnection() {
    Run run = kit.bring("1.1.0");
    kit.lend("host", "another");

    assertThat(section(record(1), run.shown() + ": targets and technical accounts").rows())
        .hasSize(2)
        .allMatch(row -> row.get(1).equals("account"));
  }

  @Test
  void ofARunThatKeptNoAccountTheOneOfNowIsSaidAsThat() {
    Run run = kit.bring("1.1.0");
    kit.lend("host", "another");
    kit.write(
        kept -> {
          Run was = kept.runs().find(String.valueOf(run.number())).orElseThrow();
          kept.runs().replace(withoutAccounts(was));
          return null;
        });

    assertThat(section(record(1), run.shown() + ": targets and technical accounts").rows())
        .anyMatch(row -> row.get(1).equals("account (the connection was changed since)"));
  }

  private static Run withoutAccounts(Run r) {
    Run.Goal g = r.goal();
    List<Run.Place> places =
        g.targets().stream()
            .map(
                t ->
                    new Run.Place(
                        t.id(),
                        t.holder(),
                        t.shown(),
                        t.changing(),
                        t.connectionRevision(),
                        t.leadsTo(),
                        t.undoable(),
                        null))
            .toList();
    Run.Goal goal =
        new Run.Goal(
            g.promotion(),
            g.application(),
            g.version(),
            g.before(),
            g.site(),
            g.fingerprint(),
            places);
    return new Run(
        r.number(),
        goal,
        r.state(),
        r.startedBy(),
        r.times(),
        r.abortedBy(),
        r.steps(),
        r.rows(),
        r.sentence(),
        r.backup(),
        r.answers(),
        r.course(),
        r.revision());
  }

  @Test
  void howLongRunsTookIsAddedUpByHowTheyEnded() {
    Run run = kit.bring("1.1.0");

    Duration done = kit.read(kept -> kept.runs().took(RunState.DONE));
    assertThat(done).isEqualTo(Duration.between(run.startedAt(), run.endedAt())).isPositive();
    Duration stopped = kit.read(kept -> kept.runs().took(RunState.STOPPED));
    assertThat(stopped).isZero();
  }

  @Test
  void keysOfRowsAreLeftOutForWhoMayNotSeeValues() {
    kit.production().row(BAND, row("PEAK", "99.00"));
    Promotion p = kit.takeIncoming(kit.prepare("1.1.0"), "records/" + BAND);

    assertThat(section(record(p.number()), "Decided conflicts").rows())
        .anyMatch(row -> row.get(0).contains("PEAK") || row.get(0).equals("records/" + BAND));
    Report hidden = kit.engine().records().of(kit.ines, p.number(), false);
    assertThat(section(hidden, "Decided conflicts").rows())
        .noneMatch(row -> row.get(0).contains("PEAK"));
  }

  @Test
  void itIsForWhoMayLookThere() {
    kit.prepare("1.1.0");

    assertThatThrownBy(
            () -> kit.engine().records().of(EngineKit.person("odile", Right.AUDIT), 1, true))
        .isInstanceOf(Problem.class);
  }

  // --- between two moments -------------------------------------------------------------------

  private Report between(Instant from, Instant until) {
    return kit.engine().between().of(kit.ines, "fares", SITE, from, until);
  }

  @Test
  void betweenTwoMomentsTheVersionsOfBothAreCompared() {
    Instant before = kit.clock.instant();
    Run run = kit.bring("1.1.0");
    Instant after = kit.clock.instant().plusSeconds(1);

    Report r = between(before, after);

    String fact = "What was recorded there";
    assertThat(fact(r, fact, "At the beginning")).startsWith("1.0.0, adopted ");
    assertThat(fact(r, fact, "At the end")).startsWith("1.1.0, run ");
    assertThat(section(r, "How the two versions differ: 1.0.0 and 1.1.0").rows())
        .containsExactly(List.of("records/" + BAND, "changed", "0", "1", "0"));
    assertThat(section(r, "What came and went").rows())
        .singleElement()
        .satisfies(row -> assertThat(row).contains("1.1.0", run.shown()));
    assertThat(section(r, "What the history says").rows())
        .extracting(row -> row.get(3))
        .contains("promotion prepared", "run done")
        .doesNotContain("adopted");
  }

  @Test
  void ofASpanInWhichNothingCameTheVersionIsTheSame() {
    kit.bring("1.1.0");
    Instant after = kit.clock.instant().plusSeconds(1);

    Report r = between(after, after.plusSeconds(60));

    assertThat(section(r, "How the two versions differ").text()).isEqualTo("It is the same one.");
    assertThat(section(r, "What came and went").text()).isEqualTo("Nothing.");
  }

  @Test
  void beforeAnythingWasRecordedThereIsNothingToCompare() {
    Report r = between(Instant.EPOCH.plusSeconds(1), Instant.EPOCH.plusSeconds(2));

    assertThat(fact(r, "What was recorded there", "At the end")).isEqualTo("nothing yet");
    assertThat(section(r, "How the two versions differ").text()).contains("neither is recorded");
  }

  @Test
  void whoMayNotLookThereIsNotToldWhatChanged() {
    Person audits = EngineKit.person("odile", Right.AUDIT);
    assertThatThrownBy(
            () ->
                kit.engine()
                    .between()
                    .of(audits, "fares", SITE, Instant.EPOCH, Instant.EPOCH.plusSeconds(1)))
        .isInstanceOf(Problem.class);
  }

  // --- exceptions ----------------------------------------------------------------------------

  private Report exceptions() {
    Instant now = kit.clock.instant();
    return kit.engine()
        .exceptions()
        .of(kit.ines, now.minus(Duration.ofDays(30)), now.plus(Duration.ofDays(1)));
  }

  @Test
  void aQuietSpanHasNoneAndSaysWhatWasLookedAt() {
    Report r = exceptions();

    assertThat(fact(r, "What was looked at", "Runs that began")).isEqualTo("0");
    assertThat(section(r, "Emergencies").text()).isEqualTo("None.");
    assertThat(section(r, "Stages skipped").text()).isEqualTo("None.");
  }

  @Test
  void anEmergencyAndWhatItPassedAndAFreezeThatWasLiftedAreNamed() {
    kit.asks(
        Leg.open(SITE.stage())
            .asking(new Leg.Quorum("", 1))
            .passing(new Emergency(1, java.util.Set.of("approvals"), 24, List.of())));
    Promotion p = kit.prepare("1.1.0");
    kit.engine().emergencies().declare(kit.ines, p.number(), "The quay floods");
    kit.run(kit.promotion(p.number()));
    var freeze =
        kit.engine()
            .freezes()
            .add(
                kit.ines,
                new Freezes.Asked(
                    SITE.stage(),
                    kit.clock.instant(),
                    kit.clock.instant().plusSeconds(9_000),
                    "Year's end",
                    List.of()));
    kit.engine().freezes().lift(kit.ines, freeze.number(), "The harbour agreed");

    Report r = exceptions();
    assertThat(section(r, "Emergencies").rows().get(0)).contains("P-1: The quay floods");
    assertThat(section(r, "Gates passed by an emergency").rows()).hasSize(1);
    assertThat(section(r, "Freezes lifted").rows().get(0).get(4)).contains("The harbour agreed");
    assertThat(section(r, "Gates, stages and rights changed").rows())
        .anyMatch(row -> row.get(4).startsWith("ordinary: "));
  }

  @Test
  void aStageThatAVersionNeverWasAtIsNamed() {
    SiteKey live = kit.stageAfter("live", Stage.Role.TEST, Leg.open("live"));
    kit.matchAt(live);
    kit.run(kit.prepare("1.1.0", live));

    assertThat(section(exceptions(), "Stages skipped").rows())
        .containsExactly(List.of("R-1", "fares 1.1.0", "live/main", "production"));
  }

  @Test
  void exceptionsAreForAuditorsAndOfAYearAtMost() {
    Instant now = kit.clock.instant();
    assertThatThrownBy(
            () ->
                kit.engine()
                    .exceptions()
                    .of(EngineKit.person("edda", Right.LOOK), now.minusSeconds(60), now))
        .isInstanceOf(Problem.class);
    assertThatThrownBy(
            () -> kit.engine().exceptions().of(kit.ines, now.minus(Duration.ofDays(401)), now))
        .isInstanceOf(Problem.class);
  }

  // --- figures -------------------------------------------------------------------------------

  private Counting.Counted counted() {
    Instant now = kit.clock.instant();
    return kit.engine()
        .counting()
        .count(kit.ines, now.minus(Duration.ofDays(30)), now.plus(Duration.ofDays(1)), null);
  }

  @Test
  void runsAreCountedByHowTheyEndedAndBacksByWhy() {
    kit.clock.tick(Duration.ofDays(2));
    kit.run(kit.prepare("1.1.0"));
    kit.clock.tick(Duration.ofDays(1));
    kit.run(kit.back(Plan.Way.EARLIER_VERSION));
    kit.clock.tick(Duration.ofDays(1));
    Promotion p = kit.prepare("1.1.0");
    kit.production().row(BAND, row("PEAK", "99.00"));
    kit.run(p);

    Counting.Counted c = counted();
    Figures.Row all = Figures.whole(c.runs());
    assertThat(all)
        .extracting(
            Figures.Row::runs,
            Figures.Row::cameThrough,
            Figures.Row::wentBack,
            Figures.Row::stopped)
        .containsExactly(3, 1, 1, 1);
    assertThat(all.sealingMedian()).isBetween(Duration.ofDays(2), Duration.ofDays(3));
    assertThat(c.backs()).hasSize(1);
    assertThat(c.backs().get(0).run().number()).isEqualTo(2);
    assertThat(Figures.byApplication(c.runs()))
        .extracting(Figures.Row::name)
        .containsExactly("fares");
  }

  @Test
  void whatOneMayNotLookAtIsNotCounted() {
    kit.run(kit.prepare("1.1.0"));
    Instant now = kit.clock.instant();

    assertThat(
            kit.engine()
                .counting()
                .count(
                    EngineKit.person("odile", Right.AUDIT),
                    now.minus(Duration.ofDays(30)),
                    now.plus(Duration.ofDays(1)),
                    null)
                .runs())
        .isEmpty();
  }
}
