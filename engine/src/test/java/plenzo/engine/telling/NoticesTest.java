package plenzo.engine.telling;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.EngineKit.SITE;
import static plenzo.engine.kit.EngineKit.row;

import java.time.Duration;
import java.time.LocalTime;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.history.HistoryEntry;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.run.RunState;
import plenzo.core.target.TargetFailed;
import plenzo.core.telling.Call;
import plenzo.core.telling.CallOrder;
import plenzo.core.telling.CallOrder.Callee;
import plenzo.core.telling.Delivery;
import plenzo.core.telling.Following;
import plenzo.core.telling.Letter;
import plenzo.core.telling.News;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;

/** What people are told of: in the console, by mail, and by a call in the night. */
class NoticesTest extends KitTest {
  private static final String MAIL = "bram@morrowick.example";

  @BeforeEach
  void world() {
    kit.adopt();
    kit.sealPeak("1.1.0", "25.00");
    tell();
  }

  private void tell() {
    kit.tell();
    kit.settleDown();
  }

  private void follow(Person who, String mail, News... news) {
    kit.engine()
        .notices()
        .follow(
            who,
            new Following(
                who.login(), mail, List.of(), List.of(), Set.of(news), null, null, "UTC", 0, 0));
  }

  private List<String> news(Person who) {
    return kit.engine().notices().list(who, 0, 50).items().stream()
        .map(HistoryEntry::event)
        .toList();
  }

  private List<String> subjects() {
    return kit.letters.stream().map(Letter::subject).toList();
  }

  /** A run that finds that a row moved after the plan was made: it stops, nothing changed. */
  private long stopped() {
    Promotion p = kit.prepare("1.1.0");
    kit.production().row(BAND, row("PEAK", "99.00"));
    return kit.run(p).number();
  }

  @Test
  void newsAreCountedUntilTheyAreSeen() {
    Notices notices = kit.engine().notices();
    stopped();
    assertThat(news(kit.bram))
        .contains("run stopped", "promotion prepared")
        .doesNotContain("sealed");
    assertThat(notices.fresh(kit.bram).count()).isEqualTo(news(kit.bram).size());
    assertThat(notices.fresh(kit.bram).urgent()).isFalse();

    notices.saw(kit.bram, Long.MAX_VALUE);
    assertThat(notices.fresh(kit.bram).count()).isZero();
    assertThat(news(kit.bram)).as("they stay listed").contains("run stopped");

    follow(kit.bram, "", News.VERSIONS);
    assertThat(notices.fresh(kit.bram).count()).as("what was seen stays seen").isZero();
    assertThat(news(kit.bram)).containsExactly("sealed");
  }

  @Test
  void nobodyIsToldOfWhatTheyMayNotLookAt() {
    stopped();

    assertThat(news(EngineKit.person("odile", Right.AUDIT))).isEmpty();
    assertThatThrownBy(() -> kit.engine().notices().follow(kit.bram, Following.usual("ines")))
        .isInstanceOf(IllegalArgumentException.class);
    assertThatThrownBy(
            () ->
                kit.engine()
                    .notices()
                    .follow(
                        kit.bram,
                        new Following(
                            "bram",
                            "",
                            List.of("nowhere"),
                            List.of(),
                            Set.of(),
                            null,
                            null,
                            "UTC",
                            0,
                            0)))
        .isInstanceOf(Problem.class);
  }

  @Test
  void aPageOfNewsGoesOnWhereTheLastOneEnded() {
    stopped();
    var first = kit.engine().notices().list(kit.bram, 0, 1);
    assertThat(first.items()).hasSize(1);
    assertThat(kit.engine().notices().list(kit.bram, first.next(), 1).items())
        .doesNotContainAnyElementsOf(first.items())
        .hasSize(1);
  }

  @Test
  void aLetterIsSentOnceAlsoOverARestart() {
    follow(kit.bram, MAIL, News.FAILED);
    tell();
    long run = stopped();
    kit.restart();
    tell();
    tell();

    assertThat(subjects()).containsExactly("Run stopped: fares 1.1.0 at production/main");
    Letter letter = kit.letters.get(0);
    assertThat(letter.to()).isEqualTo(MAIL);
    assertThat(letter.text())
        .contains("https://plenzo.example/runs/R-" + run, "Plan ")
        .doesNotContain("null");
  }

  @Test
  void lettersWaitForTheEndOfQuietHoursAndForAServerThatIsAway() {
    LocalTime now = kit.clock.instant().atOffset(ZoneOffset.UTC).toLocalTime();
    kit.engine()
        .notices()
        .follow(
            kit.bram,
            new Following(
                "bram",
                MAIL,
                List.of(),
                List.of(),
                Set.of(News.FAILED),
                now.minusHours(1),
                now.plusHours(1),
                "UTC",
                0,
                0));
    stopped();
    tell();
    assertThat(kit.letters).isEmpty();

    kit.takes =
        letter -> {
          throw new TargetFailed("nobody answers", true, new IllegalStateException());
        };
    kit.clock.tick(Duration.ofMinutes(62));
    tell();
    assertThat(kit.letters).isEmpty();
    Delivery waits =
        kit.engine().deliveries().list(kit.ines, "@bram").stream().findFirst().orElseThrow();
    assertThat(waits.said()).isEqualTo("nobody answers");

    kit.takes = letter -> {};
    kit.clock.tick(Duration.ofMinutes(2));
    tell();
    assertThat(kit.letters).hasSize(1);
  }

  @Test
  void whoMayNoLongerLookIsNotWrittenTo() {
    follow(kit.bram, MAIL, News.FAILED);
    stopped();
    kit.takes =
        letter -> {
          throw new TargetFailed("nobody answers", true, new IllegalStateException());
        };
    tell();
    kit.takes = letter -> {};
    kit.engine()
        .people()
        .change(kit.ines, "bram", new plenzo.engine.people.People.Facts(null, true, null), null);
    kit.clock.tick(Duration.ofHours(1));
    tell();

    assertThat(kit.letters).isEmpty();
    assertThat(kit.engine().deliveries().list(kit.ines, "@bram"))
        .allMatch(d -> d.state() == Delivery.State.GIVEN_UP);
  }

  @Test
  void oneTriesWhetherALetterArrives() {
    assertThatThrownBy(() -> kit.engine().notices().tryMail(kit.bram))
        .hasMessageContaining("You named no mail address");
    follow(kit.bram, MAIL);
    assertThat(kit.engine().notices().tryMail(kit.bram)).isEqualTo(MAIL);
    assertThat(subjects()).containsExactly("Plenzo reaches you");

    kit.post = false;
    assertThatThrownBy(() -> kit.engine().notices().tryMail(kit.bram))
        .hasMessageContaining("No mail server is set");
  }

  // --- calls ---------------------------------------------------------------------------------

  private void order(Callee... callees) {
    kit.engine().calls().say(kit.ines, new CallOrder(SITE.stage(), List.of(callees), revision()));
  }

  private int revision() {
    return kit.engine().calls().order(kit.ines, SITE.stage()).revision();
  }

  private List<Call> calls() {
    return kit.engine().calls().list(kit.ines);
  }

  @Test
  void theOneAfterTheOtherIsCalledUntilSomebodyComes() {
    follow(kit.bram, MAIL);
    order(new Callee("bram", "+47 555 0142", 10), new Callee("ines", "at the desk", 5));
    stopped();
    tell();

    assertThat(calls()).hasSize(1);
    assertThat(calls().get(0).cause()).startsWith("Run stopped: ");
    assertThat(subjects()).containsExactly("Called: fares at production/main");
    assertThat(calls().get(0).told())
        .extracting(Call.Told::words)
        .containsExactly("by mail to " + MAIL);

    kit.clock.tick(Duration.ofMinutes(9));
    tell();
    assertThat(calls().get(0).told()).hasSize(1);
    kit.clock.tick(Duration.ofMinutes(2));
    tell();
    assertThat(calls().get(0).told())
        .extracting(Call.Told::words)
        .containsExactly("by mail to " + MAIL, "not by mail: no address; at the desk");

    Call taken = kit.engine().calls().answer(kit.bram, calls().get(0).number(), false);
    assertThat(taken.by()).isEqualTo("bram");
    kit.clock.tick(Duration.ofMinutes(30));
    tell();
    assertThat(calls()).hasSize(1);
    assertThat(calls().get(0).told()).hasSize(2);
    assertThatThrownBy(() -> kit.engine().calls().answer(kit.ines, taken.number(), false))
        .hasMessageContaining("is taken by bram");
    assertThat(kit.engine().calls().answer(kit.ines, taken.number(), true).state())
        .isEqualTo(Call.State.OVER);
  }

  @Test
  void whenNobodyIsLeftThatIsSaid() {
    order(new Callee("bram", "", 1));
    stopped();
    tell();
    kit.clock.tick(Duration.ofMinutes(2));
    tell();
    kit.clock.tick(Duration.ofMinutes(2));
    tell();

    assertThat(kit.history()).extracting(HistoryEntry::event).contains("nobody came");
    assertThat(calls().get(0).state()).isEqualTo(Call.State.OPEN);
    assertThat(calls().get(0).told()).hasSize(2);
  }

  @Test
  void aBreakOfTheServiceCallsWhereARunWasUnderWay() {
    order(new Callee("bram", "", 60));
    tell();
    Promotion p = kit.prepare("1.1.0");
    kit.start(p);
    kit.forgetWork();
    kit.clock.tick(Duration.ofMinutes(30));
    kit.restart();
    tell();

    assertThat(calls()).hasSize(1);
    assertThat(calls().get(0).cause()).startsWith("The service came back after 30 min");
    assertThat(kit.run(calls().get(0).run()).state()).isEqualTo(RunState.RUNNING);
  }

  @Test
  void nobodyIsCalledWhereNobodySaidWho() {
    stopped();
    tell();

    assertThat(calls()).isEmpty();
  }

  @Test
  void whoIsCalledIsSaidByWhoAdministersThereOfPeopleWhoAreThere() {
    assertThatThrownBy(() -> order(new Callee("nobody", "", 5))).isInstanceOf(Problem.class);
    assertThatThrownBy(
            () ->
                kit.engine()
                    .calls()
                    .say(
                        EngineKit.person("edda", Right.LOOK),
                        new CallOrder(SITE.stage(), List.of(), 0)))
        .isInstanceOf(Problem.class);
    order(new Callee("bram", "", 5));
    assertThatThrownBy(
            () -> kit.engine().calls().say(kit.ines, new CallOrder(SITE.stage(), List.of(), 99)))
        .isInstanceOfSatisfying(Problem.class, x -> assertThat(x.code()).isEqualTo("CHANGED"));
    assertThat(kit.engine().calls().order(kit.ines, SITE.stage()).callees()).hasSize(1);
  }
}
