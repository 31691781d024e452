package plenzo.engine.looking;

import static org.assertj.core.api.Assertions.assertThat;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.EngineKit.row;

import java.util.ArrayList;
import java.util.List;
import java.util.stream.IntStream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.RunState;
import plenzo.core.stage.Activity;
import plenzo.core.stage.Application;
import plenzo.core.stage.Condition;
import plenzo.core.stage.Stage;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;
import plenzo.engine.kit.Script;

/** Where things stand follows what was written, and shows each person what is theirs to see. */
class StandingTest extends KitTest {
  private static final Standing.Asked FIRST = new Standing.Asked("", null, null, null, 100);

  @BeforeEach
  void world() {
    kit.adopt();
  }

  private Standing.Page page(Person by) {
    return kit.engine().standing().page(by, FIRST);
  }

  private Standing.Cell cell() {
    return page(kit.ines).lines().get(0).cells().stream()
        .filter(c -> c.site().equals(EngineKit.SITE))
        .findFirst()
        .orElseThrow();
  }

  private List<String> waiting(Person by) {
    return kit.engine().standing().waiting(by).stream()
        .map(w -> w.what() + " " + w.link())
        .toList();
  }

  /** Every step of a promotion is on the page as soon as it is done. */
  @Test
  void followsWhatIsDone() {
    assertThat(cell().version()).hasToString("1.0.0");
    assertThat(cell().behind()).isZero();
    kit.sealPeak("1.1.0", "25.00");
    assertThat(cell().behind()).isEqualTo(1);

    Promotion p = kit.prepare("1.1.0");

    assertThat(cell().activity()).isEqualTo(Activity.WAITING_FOR_YOU);
    assertThat(cell().link()).isEqualTo(p.shown());
    kit.run(p);
    assertThat(cell().version()).hasToString("1.1.0");
    assertThat(cell().activity()).isNull();
    assertThat(waiting(kit.ines)).containsExactly("judge R-1");
    kit.engine()
        .verdicts()
        .judge(kit.ines, "fares", EngineKit.SITE, cell().version(), /* good= */ false, "wrong");
    assertThat(cell().condition()).isEqualTo(Condition.JUDGED_BAD);
    assertThat(waiting(kit.ines)).containsExactly("go back ways-back");
    assertThat(waiting(EngineKit.person("gill", Right.LOOK, Right.PREPARE)))
        .as("of somebody who may not go back")
        .isEmpty();
    assertThat(page(kit.ines).conditions().get("production"))
        .containsEntry(Condition.JUDGED_BAD, 1);
  }

  /** The line is the same for every reader, and keys of rows are for those who may see values. */
  @Test
  void saysWhereItDriftedWithoutTheKeyOfARow() {
    kit.production().row(BAND, row("PEAK", "99.00"));
    kit.engine().drift().look(kit.ines, "fares", EngineKit.SITE);

    assertThat(cell().condition()).isEqualTo(Condition.DRIFTED);
    assertThat(cell().note()).isEqualTo("1 part differs, for example records/" + BAND);
  }

  /** What is wrong with a site waits for whoever may settle it, the worst first. */
  @Test
  void whatIsWrongWithASiteWaitsForThoseWhoMaySettleIt() {
    kit.sealPeak("1.1.0", "25.00");
    kit.production().row(BAND, row("DAY", "99.00"));
    kit.engine().drift().look(kit.ines, "fares", EngineKit.SITE);
    kit.engine().hosts().maintenance(kit.ines, EngineKit.SITE, true, "Harbour fair");

    assertThat(waiting(kit.ines))
        .containsExactly("let everybody in maintenance", "settle what differs drift");
    assertThat(waiting(EngineKit.person("gill", Right.LOOK))).isEmpty();
    assertThat(waiting(EngineKit.person("gill", Right.LOOK, Right.PREPARE)))
        .containsExactly("settle what differs drift");
    assertThat(waiting(EngineKit.person("gill", Right.LOOK, Right.OPERATE)))
        .containsExactly("let everybody in maintenance");
    assertThat(kit.engine().standing().waiting(kit.ines))
        .extracting(Standing.Waiting::key)
        .isSorted()
        .doesNotHaveDuplicates();
  }

  @Test
  void whatWasSaidNoToWaitsForWhoPreparesIt() {
    kit.sealPeak("1.1.0", "25.00");
    Promotion p = kit.prepare("1.1.0");
    kit.engine()
        .promotions()
        .approve(
            kit.bram,
            p.number(),
            /* yes= */ false,
            p.requirePlan().fingerprint().digest().hex(),
            "Too dear");

    assertThat(waiting(kit.ines)).containsExactly("change or withdraw " + p.shown());
    assertThat(waiting(EngineKit.person("gill", Right.LOOK, Right.APPROVE))).isEmpty();
  }

  @Test
  void halfWrittenStandsFirst() {
    kit.hosts.at("development").put(EngineKit.RULE, EngineKit.rule("2"));
    kit.sealPeak("1.1.0", "25.00");
    Promotion p = kit.prepare("1.1.0");
    kit.production()
        .script
        .once(
            Script.At.SWITCH,
            () -> {
              kit.host().put(EngineKit.RULE, EngineKit.rule("9"));
              kit.production().row(BAND, row("PEAK", "7.00"));
            });
    assertThat(kit.run(p).state()).isEqualTo(RunState.HALF_WRITTEN);

    assertThat(waiting(kit.ines).get(0)).isEqualTo("finish or go back R-1");
    assertThat(waiting(kit.ines)).doesNotContain("see why it failed R-1");
  }

  @Test
  void aRunThatBroughtNothingWaitsToBeSeen() {
    kit.sealPeak("1.1.0", "25.00");
    Promotion p = kit.prepare("1.1.0");
    kit.production()
        .script
        .once(Script.At.PREPARE, () -> kit.production().row(BAND, row("PEAK", "7.00")));
    kit.run(p);

    assertThat(waiting(kit.ines)).contains("see why it failed R-1");
  }

  /** Rights are judged as they are now, although what they are judged over is kept. */
  @Test
  void followsChangedRights() {
    kit.sealPeak("1.1.0", "25.00");
    Promotion p = kit.prepare("1.1.0");
    Person looker = EngineKit.person("gill", Right.LOOK);
    assertThat(waiting(looker)).isEmpty();
    Person approver = EngineKit.person("gill", Right.LOOK, Right.RUN);

    assertThat(waiting(approver)).containsExactly("start " + p.shown());
  }

  /** One site that lost its targets must not close the page of all. */
  @Test
  void aSiteWithoutTargetsIsSaidAndClosesNothing() {
    kit.sealPeak("1.1.0", "25.00");
    kit.prepare("1.1.0");
    Stage production = kit.engine().stages().get(kit.ines, "production");

    kit.engine().stages().save(kit.ines, EngineKit.with(production, List.of()));

    assertThat(cell().activity()).isNotNull();
    assertThat(kit.engine().standing().gates(1).orElseThrow().words())
        .contains("production/main has no target");
  }

  private void applications(int many) {
    kit.write(
        kept -> {
          for (int n = 0; n < many; n++) {
            String key = "line-" + n;
            kept.applications()
                .insert(
                    Application.registered(
                        key, key, "Line " + n, n % 2 == 0 ? "North" : "South", key, "ordinary"));
          }
          return null;
        });
  }

  @Test
  void comesInPagesThatTogetherAreAll() {
    applications(23);
    List<String> seen = new ArrayList<>();
    String after = null;
    do {
      Standing.Page p =
          kit.engine().standing().page(kit.ines, new Standing.Asked("", null, null, after, 5));
      assertThat(p.lines()).hasSizeLessThanOrEqualTo(5);
      assertThat(p.found()).isEqualTo(24);
      p.lines().forEach(l -> seen.add(l.application().key()));
      after = p.next();
    } while (after != null);

    assertThat(seen).hasSize(24).doesNotHaveDuplicates();
    assertThat(seen.get(0)).as("the worst first: it is there").isEqualTo("fares");
  }

  @Test
  void findsByKeyNameOrOwnerAndByCondition() {
    applications(10);

    Standing.Page south =
        kit.engine().standing().page(kit.ines, new Standing.Asked("SOUTH", null, null, null, 3));
    Standing.Page good =
        kit.engine()
            .standing()
            .page(kit.ines, new Standing.Asked("", "production", Condition.GOOD, null, 100));

    assertThat(south.found()).isEqualTo(5);
    assertThat(south.lines()).hasSize(3);
    assertThat(south.applications()).as("of all that may be seen").isEqualTo(11);
    assertThat(good.lines())
        .singleElement()
        .extracting(l -> l.application().key())
        .isEqualTo("fares");
  }

  @Test
  void showsOnlyWhatThePersonMaySee() {
    applications(10);
    Person guest =
        Person.invited("gill", "gill", "", false)
            .withGrants(List.of(new Person.Grant(Right.LOOK, Person.EVERY, "line-3")));

    assertThat(page(guest).lines())
        .singleElement()
        .extracting(Standing.Line::application)
        .extracting(Application::key)
        .isEqualTo("line-3");
    assertThat(page(guest).inProduction()).isZero();
  }

  /** What was where is told of every site, also when it takes several parts. */
  @Test
  void thePastComesInPartsToo() {
    kit.write(
        kept -> {
          IntStream.range(0, 7).forEach(n -> kept.sites().insert(copy(kept, "line-" + n)));
          return null;
        });
    List<String> seen = new ArrayList<>();
    long next = 0;
    do {
      var part =
          kit.engine()
              .standing()
              .at(kit.ines, kit.clock.instant(), Kept.Filter.all().part(next, 3));
      part.items().forEach(p -> seen.add(p.application()));
      next = part.next();
    } while (next != 0);

    assertThat(seen).hasSize(8).doesNotHaveDuplicates().contains("fares", "line-6");
  }

  private static plenzo.core.stage.SiteRecord copy(Kept kept, String application) {
    plenzo.core.stage.SiteRecord r = kept.sites().find("fares@" + EngineKit.SITE).orElseThrow();
    return plenzo.core.stage.SiteRecord.none(application, r.site())
        .placed(r.lastPlacement().orElseThrow(), r.exceptions(), null, r.look());
  }
}
