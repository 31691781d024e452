package plenzo.engine.proposing;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.tuple;

import java.time.Duration;
import java.util.List;
import org.assertj.core.api.ThrowableAssert.ThrowingCallable;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Nested;
import org.junit.jupiter.api.Test;
import plenzo.core.history.HistoryEntry;
import plenzo.core.impact.Finding;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Person.Grant;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.proposal.Proposal;
import plenzo.core.proposal.Proposal.State;
import plenzo.core.stage.Leg;
import plenzo.core.stage.Path;
import plenzo.core.stage.Stage;
import plenzo.core.stage.Weight;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;
import plenzo.engine.people.People;
import plenzo.engine.people.Roles;
import plenzo.engine.setup.Applications;

/** What guards production is changed by two; nothing is changed before the second agrees. */
class ProposalsTest extends KitTest {
  private Proposals proposals;

  /** Ines and Bram administer; Tove may look. "harbour" is production, with a path to it. */
  @BeforeEach
  void world() {
    proposals = kit.engine().proposals();
    kit.write(
        kept -> {
          kept.people().insert(EngineKit.person("tove", Right.LOOK));
          kept.stages().insert(stage(false, 0));
          kept.paths().insert(path(2, 0));
          return null;
        });
  }

  private static Stage stage(boolean driftCloses, int revision) {
    return new Stage(
        "harbour", "Harbour", Stage.Role.PRODUCTION, 3, "UTC", driftCloses, List.of(), revision);
  }

  private static Path path(int approvals, int revision) {
    return new Path(
        "deep",
        "Deep",
        "development",
        List.of(Leg.open("production"), Leg.open("harbour").asking(new Leg.Quorum("", approvals))),
        revision);
  }

  private int asked() {
    return kit.read(kept -> kept.paths().find("deep").orElseThrow())
        .leg("harbour")
        .orElseThrow()
        .needed();
  }

  private void fewer(Person by) {
    kit.engine().paths().change(by, path(1, 0));
  }

  private Proposal waits(ThrowingCallable change) {
    assertThatThrownBy(change)
        .isInstanceOfSatisfying(
            Problem.class,
            p -> {
              assertThat(p.code()).isEqualTo("SECOND_PERSON");
              assertThat(p).hasMessageContaining("nothing is changed yet");
            });
    return proposals.list(kit.ines, Kept.Filter.all()).items().get(0);
  }

  private Person of(String login) {
    return kit.read(kept -> kept.people().find(login).orElseThrow());
  }

  /** Leaves a person nothing but to look. */
  private void looksAlone(Person p) {
    kit.write(
        kept -> {
          kept.people().replace(of(p.login()).withGrants(List.of(new Grant(Right.LOOK, "*", "*"))));
          return null;
        });
  }

  @Test
  void nothingIsChangedBeforeTheSecondAgreesAndBothStandInTheHistory() {
    Proposal p = waits(() -> fewer(kit.ines));

    assertThat(asked()).isEqualTo(2);
    assertThat(p.words()).contains("harbour asks now: 1 approval by whoever may approve");
    assertThat(p.stages()).containsExactly("harbour");

    Proposal made = proposals.agree(kit.bram, p.number(), "as talked about");

    assertThat(asked()).isEqualTo(1);
    assertThat(made.state()).isEqualTo(State.AGREED);
    assertThat(made.second()).isEqualTo("bram");
    List<HistoryEntry> newest = kit.read(kept -> kept.history(Kept.HistoryFilter.part(0, 3)));
    assertThat(newest)
        .extracting(HistoryEntry::actor, HistoryEntry::event)
        .containsExactly(
            tuple("bram", "change agreed"),
            tuple("ines", "path changed"),
            tuple("ines", "change proposed"));
  }

  @Test
  void itIsMadeByOneWhereNobodyElseAdministersAndStandsThere() {
    looksAlone(kit.bram);

    fewer(kit.ines);

    assertThat(asked()).isEqualTo(1);
    Proposal p = proposals.list(kit.ines, Kept.Filter.all()).items().get(0);
    assertThat(p.state()).isEqualTo(State.ALONE);
    assertThat(p.second()).isNull();
  }

  @Test
  void whoAskedForItAndWhoDoesNotAdministerAreNoSecond() {
    Proposal p = waits(() -> fewer(kit.ines));

    assertThatThrownBy(() -> proposals.agree(kit.ines, p.number(), ""))
        .hasMessageContaining("not its second person");
    assertThatThrownBy(() -> proposals.agree(of("tove"), p.number(), ""))
        .isInstanceOfSatisfying(
            Problem.class, no -> assertThat(no.reason()).isEqualTo(Problem.Reason.NOT_ALLOWED));
    assertThat(asked()).isEqualTo(2);
    assertThat(proposals.mayDecide(kit.ines, p).who()).containsExactly("bram");
  }

  @Test
  void whatWouldBeRefusedIsRefusedAtOnce() {
    assertThatThrownBy(
            () ->
                kit.engine()
                    .paths()
                    .change(
                        kit.ines, new Path("deep", "Deep", null, List.of(Leg.open("harbour")), 0)))
        .hasMessageContaining("at least one approval");
    assertThat(proposals.list(kit.ines, Kept.Filter.all()).items()).isEmpty();
  }

  @Test
  void theSameOnceMoreIsTheSame() {
    Proposal first = waits(() -> fewer(kit.ines));
    Proposal second = waits(() -> fewer(kit.ines));

    assertThat(second.number()).isEqualTo(first.number());
  }

  @Test
  void whatMovedMeanwhileIsOvertakenAndWhatIsDecidedIsDecidedOnce() {
    Proposal old = waits(() -> fewer(kit.ines));
    Proposal other = waits(() -> kit.engine().paths().change(kit.bram, path(3, 0)));
    proposals.agree(kit.ines, other.number(), "");

    assertThatThrownBy(() -> proposals.agree(kit.bram, old.number(), ""))
        .hasMessageContaining("Somebody else changed the path deep");
    assertThat(proposals.get(kit.ines, old.number()).state()).isEqualTo(State.OVERTAKEN);
    assertThatThrownBy(() -> proposals.agree(kit.ines, other.number(), ""))
        .hasMessageContaining("made by two");
    assertThat(asked()).isEqualTo(3);
  }

  @Test
  void itIsMadeWithTheRightsThatItsAuthorHasThen() {
    Proposal p = waits(() -> fewer(kit.ines));
    looksAlone(kit.ines);

    assertThatThrownBy(() -> proposals.agree(of("bram"), p.number(), ""))
        .hasMessageContaining("ines lacks the right");
    assertThat(asked()).isEqualTo(2);
  }

  @Test
  void oneDeclinesWithAReasonAndTheOtherTakesItBack() {
    Proposal p = waits(() -> fewer(kit.ines));

    assertThatThrownBy(() -> proposals.decline(kit.bram, p.number(), " "))
        .hasMessageContaining("Say why");
    assertThatThrownBy(() -> proposals.withdraw(kit.bram, p.number(), ""))
        .hasMessageContaining("by ines alone");
    assertThat(proposals.decline(kit.bram, p.number(), "not before the audit").state())
        .isEqualTo(State.DECLINED);
    Proposal again = waits(() -> fewer(kit.ines));
    assertThat(again.number()).isNotEqualTo(p.number());
    assertThat(proposals.withdraw(kit.ines, again.number(), "").state()).isEqualTo(State.WITHDRAWN);
    assertThat(asked()).isEqualTo(2);
  }

  @Test
  void whoGotAPasswordFromTheAuthorIsNoSecondForAWeek() {
    kit.engine().people().resetPassword(kit.ines, "bram", "a-new-password");
    Proposal p = waits(() -> fewer(kit.ines));

    assertThatThrownBy(() -> proposals.agree(of("bram"), p.number(), ""))
        .hasMessageContaining("One of ines and bram gave the other a password");

    kit.clock.tick(Duration.ofDays(7).plusSeconds(60));
    assertThat(proposals.agree(of("bram"), p.number(), "").state()).isEqualTo(State.AGREED);
  }

  /** Whoever knows somebody's password could ask in their name, and agree in the own. */
  @Test
  void whoGaveTheAuthorAPasswordIsNoSecondEither() {
    kit.engine().people().resetPassword(kit.bram, "ines", "a-new-password");
    Proposal p = waits(() -> fewer(of("ines")));

    assertThatThrownBy(() -> proposals.agree(of("bram"), p.number(), ""))
        .hasMessageContaining("gave the other a password");
    assertThat(asked()).isEqualTo(2);
  }

  @Test
  void openPromotionsAreToldWhatWaitsAndWhatWasChangedSince() {
    Proposal before = waits(() -> fewer(kit.ines));
    proposals.agree(kit.bram, before.number(), "");
    kit.clock.tick(Duration.ofHours(1));
    var prepared = kit.clock.instant();
    kit.clock.tick(Duration.ofHours(1));
    Proposal since = waits(() -> kit.engine().paths().change(kit.ines, path(4, 0)));

    assertThat(concerning("harbour", "fares", "deep", prepared))
        .extracting(Proposal::number)
        .containsExactly(since.number());
    assertThat(concerning("production", "fares", "deep", prepared)).isEmpty();
    assertThat(concerning("harbour", "fares", "ordinary", prepared)).as("another path").isEmpty();
    Proposal rights =
        waits(
            () ->
                kit.engine()
                    .roles()
                    .grant(
                        kit.ines,
                        "tove",
                        List.of(
                            new Grant(Right.LOOK, "*", "*"),
                            new Grant(Right.APPROVE, "harbour", "fares")),
                        null,
                        null));
    assertThat(concerning("harbour", "fares", "ordinary", prepared))
        .extracting(Proposal::number)
        .containsExactly(rights.number());
    assertThat(concerning("harbour", "sailings", "ordinary", prepared)).isEmpty();
    proposals.decline(kit.bram, rights.number(), "later");
    proposals.decline(kit.bram, since.number(), "too many");
    assertThat(concerning("harbour", "fares", "deep", prepared)).isEmpty();
  }

  private List<Proposal> concerning(
      String stage, String application, String path, java.time.Instant since) {
    return proposals.concerning(stage, application, path, since);
  }

  /** What needs a second person, and what next to it does not. */
  @Nested
  class Guards {
    private void grant(String login, Grant... grants) {
      kit.engine().roles().grant(kit.ines, login, List.of(grants), null, null);
    }

    @Test
    void rightsAtProductionButNotElsewhereNorToLook() {
      Grant look = new Grant(Right.LOOK, "*", "*");
      grant("tove", look, new Grant(Right.APPROVE, "production", "fares"));
      grant("tove", look, new Grant(Right.LOOK, "harbour", "*"));

      waits(() -> grant("tove", look, new Grant(Right.APPROVE, "harbour", "fares")));
      Proposal everywhere = waits(() -> grant("tove", look, new Grant(Right.RUN, "*", "*")));
      proposals.agree(kit.bram, everywhere.number(), "");

      assertThat(of("tove").may(Right.RUN, "harbour", "fares")).isTrue();
    }

    @Test
    void roleThatIsHeldThereOrGivenThere() {
      Roles roles = kit.engine().roles();
      roles.begin();
      roles.save(kit.ines, "tester", "Tester", List.of(Right.LOOK, Right.JUDGE), null);
      Proposal given =
          waits(
              () ->
                  roles.grant(
                      kit.ines,
                      "tove",
                      List.of(),
                      List.of(new Roles.Given("tester", "harbour", "*")),
                      null));
      proposals.agree(kit.bram, given.number(), "");
      roles.save(kit.ines, "tester", "Testers", List.of(Right.LOOK, Right.JUDGE), null);

      Proposal more =
          waits(
              () ->
                  roles.save(
                      kit.ines,
                      "tester",
                      "Testers",
                      List.of(Right.LOOK, Right.JUDGE, Right.APPROVE),
                      null));
      assertThat(of("tove").may(Right.APPROVE, "harbour", "fares")).isFalse();
      proposals.agree(kit.bram, more.number(), "");
      assertThat(of("tove").may(Right.APPROVE, "harbour", "fares")).isTrue();
    }

    @Test
    void whoAdministersIsKeptOutByTwoAndWhoeverLeavesAtOnce() {
      Proposal first = waits(() -> out("bram", true));
      proposals.decline(kit.bram, first.number(), "I am here");
      assertThat(of("bram").disabled()).isFalse();

      Grant approve = new Grant(Right.APPROVE, "harbour", "*");
      proposals.agree(kit.bram, waits(() -> grant("tove", approve)).number(), "");
      out("tove", true);
      assertThat(of("tove").disabled()).isTrue();

      Proposal in = waits(() -> out("tove", false));
      assertThat(of("tove").disabled()).isTrue();
      proposals.agree(kit.bram, in.number(), "");
      assertThat(of("tove").disabled()).isFalse();
    }

    @Test
    void whoWritesAsWhomDecidesWhoIsAnAuthor() {
      Proposal p = waits(() -> writes("tove", "Tove@Morrowick.example "));
      assertThat(of("tove").writesAs()).isEmpty();

      proposals.agree(kit.bram, p.number(), "");

      assertThat(of("tove").writesAs()).containsExactly("tove@morrowick.example");
      assertThatThrownBy(() -> writes("bram", "tove@morrowick.example"))
          .hasMessageContaining("tove writes as");
      assertThatThrownBy(() -> writes("bram", "Bram <bram@x.example>"))
          .hasMessageContaining("is no address");
    }

    private void writes(String login, String... addresses) {
      kit.engine()
          .people()
          .change(kit.ines, login, new People.Facts(null, null, List.of(addresses)), null);
    }

    private void out(String login, boolean disabled) {
      kit.engine().people().change(kit.ines, login, new People.Facts(null, disabled, null), null);
    }

    @Test
    void whatAStageOfProductionIsButNotItsSites() {
      Stage now = kit.engine().stages().get(kit.ines, "harbour");
      Proposal p = waits(() -> kit.engine().stages().save(kit.ines, stage(true, now.revision())));
      kit.engine().stages().newSite(kit.ines, "harbour", new Stage.Site("east", List.of()));

      assertThatThrownBy(() -> proposals.agree(kit.bram, p.number(), ""))
          .hasMessageContaining("harbour");
      Stage moved = kit.engine().stages().get(kit.ines, "harbour");
      Stage closing =
          new Stage(
              "harbour",
              "Harbour",
              Stage.Role.PRODUCTION,
              3,
              "UTC",
              true,
              moved.sites(),
              moved.revision());
      proposals.agree(
          kit.bram, waits(() -> kit.engine().stages().save(kit.ines, closing)).number(), "");
      assertThat(kit.engine().stages().get(kit.ines, "harbour").driftCloses()).isTrue();
    }

    @Test
    void howBadAStageOfProductionFindsThings() {
      Stage now = kit.engine().stages().get(kit.ines, "harbour");
      Stage strict =
          new Stage(
              now.key(),
              now.name(),
              now.role(),
              now.position(),
              now.zone(),
              now.driftCloses(),
              now.sites(),
              now.revision(),
              List.of(
                  new Weight("other-open", Weight.Bound.AT_LEAST, Finding.Severity.BLOCKER, "")),
              List.of());

      Proposal p = waits(() -> kit.engine().stages().save(kit.ines, strict));

      assertThat(p.words()).contains("judged otherwise: other-open at least blocker");
      assertThat(kit.engine().stages().get(kit.ines, "harbour").weights()).isEmpty();
      proposals.agree(kit.bram, p.number(), "");
      assertThat(kit.engine().stages().get(kit.ines, "harbour").weights()).hasSize(1);
    }

    @Test
    void newPathToProductionAndThePathsOfAnApplication() {
      Path quick =
          new Path(
              "quick",
              "Quick",
              "development",
              List.of(Leg.open("harbour").asking(new Leg.Quorum("", 1))),
              0);
      Proposal laid = waits(() -> kit.engine().paths().lay(kit.ines, quick));
      proposals.agree(kit.bram, laid.number(), "");

      Applications.Facts both =
          new Applications.Facts(
              "Fares by night", null, null, null, List.of("ordinary", "quick"), null, null);
      Proposal paths =
          waits(() -> kit.engine().applications().change(kit.ines, "fares", both, null));
      proposals.agree(kit.bram, paths.number(), "");

      assertThat(kit.engine().applications().get(kit.ines, "fares").paths())
          .containsExactly("ordinary", "quick");
      assertThat(kit.engine().applications().get(kit.ines, "fares").name())
          .isEqualTo("Fares by night");
      kit.engine()
          .applications()
          .change(
              kit.ines,
              "fares",
              new Applications.Facts("Fares", null, null, null, null, null, null),
              null);
    }
  }
}
