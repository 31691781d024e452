package plenzo.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.api.Page;
import plenzo.api.Promotions.AgreementView;
import plenzo.api.Promotions.AskedView;
import plenzo.api.Promotions.ChoicesView;
import plenzo.api.Promotions.ComparedView;
import plenzo.api.Promotions.ComponentChange;
import plenzo.api.Promotions.CountsView;
import plenzo.api.Promotions.GateView;
import plenzo.api.Promotions.GoalView;
import plenzo.api.Promotions.ImpactView;
import plenzo.api.Promotions.InForceView;
import plenzo.api.Promotions.LockView;
import plenzo.api.Promotions.LockedView;
import plenzo.api.Promotions.MayView;
import plenzo.api.Promotions.OutsideStanding;
import plenzo.api.Promotions.PlanView;
import plenzo.api.Promotions.PreparedView;
import plenzo.api.Promotions.PromotionView;
import plenzo.api.Promotions.PutBackView;
import plenzo.api.Promotions.RehearsedView;
import plenzo.api.Promotions.SaidView;
import plenzo.api.Promotions.StepView;
import plenzo.api.Promotions.UrgencyView;
import plenzo.api.Promotions.WayView;
import plenzo.api.Proposals.GuardChange;
import plenzo.api.Releases.ReleaseCase;
import plenzo.api.Releases.ReleaseMember;
import plenzo.api.Releases.ReleaseView;
import plenzo.api.Runs.SpanView;
import plenzo.api.Stages.ClosingView;
import plenzo.api.Stages.LegView;
import plenzo.api.Stages.OnwardView;
import plenzo.api.Stages.PathView;
import plenzo.api.Stages.QuorumView;
import plenzo.api.Standings.UnderwayView;
import plenzo.api.Versions.DraftView;
import plenzo.api.Versions.EntryPage;
import plenzo.api.Versions.PresentAt;
import plenzo.api.Versions.VersionView;
import plenzo.api.Versions.WriterView;

/** What the client shows of a thing is what its page shows. */
class ShownTest {
  private static final Instant AT = Instant.parse("2027-01-31T08:00:00Z");
  private static final CountsView COUNTS = new CountsView(1, 2, 0, 0, 0, 5);

  private CannedServer server;

  @BeforeEach
  void listen() throws IOException {
    server = new CannedServer();
  }

  @AfterEach
  void stop() {
    server.close();
  }

  private static ComponentChange change(String key, String difference) {
    return new ComponentChange(0, key, difference, COUNTS, List.of());
  }

  private List<String> takesAway = List.of();

  private static final UrgencyView URGENCY =
      new UrgencyView(
          List.of(new SaidView("ines", AT, "Fares are wrong")),
          2,
          List.of("approval 0 of 1"),
          AT,
          true);

  @Test
  void anEmergencyIsDeclaredWithItsReason() {
    PromotionView p =
        promotion(
            null,
            Map.of(),
            new AgreementView(List.of(), List.of(), 0, List.of(), List.of(), URGENCY, null));
    server.give("POST /promotions/P-7/emergency", p);

    assertThat(server.client("promotion", "emergency", "P-7", "--reason", "Fares").out())
        .containsSubsequence(
            "An emergency, says ines",
            "Fares are wrong",
            "2 people must declare it: plenzo promotion emergency P-7 --reason",
            "passes, and owes: approval 0 of 1",
            "owes a yes until");
    assertThat(last()).isEqualTo("POST /promotions/P-7/emergency {\"reason\":\"Fares\"}");
    assertThat(server.client("promotion", "emergency", "P-7").code()).isEqualTo(2);
  }

  @Test
  void whatAnEmergencyMayPassIsSaidAndTakenAway() {
    server.give("GET /paths", List.of(path())).give("PUT /paths/ordinary", path());

    server.client("path", "gates", "ordinary", "test", "--emergency", "approvals");
    assertThat(last())
        .contains(
            "\"emergency\":{\"people\":2,\"owes\":[\"approvals\"],\"hours\":24,\"tells\":null}");
    server.client(
        "path", "gates", "ordinary", "test", "--emergency", "soak", "--emergency-tell", "olav");
    assertThat(last()).contains("\"hours\":24,\"tells\":[\"olav\"]}");
    server.client("path", "gates", "ordinary", "test", "--emergency", "");
    assertThat(last()).contains("\"emergency\":null");
    assertThat(server.client("path", "gates", "ordinary", "test", "--emergency-people", "1").code())
        .isEqualTo(2);
  }

  private static ReleaseView release(String... takesAway) {
    ReleaseMember member =
        new ReleaseMember(
            "P-7",
            "fares@2.7.0",
            "Summer",
            "2.6.1",
            "agreed",
            COUNTS,
            0,
            0,
            List.of(takesAway),
            List.of("bram"),
            List.of("bram"),
            null);
    ReleaseCase at =
        new ReleaseCase(
            "test/main",
            false,
            "open",
            "",
            "ines",
            AT,
            null,
            "aaaa-bbbb-cccc",
            "aaaabbbbcccc",
            List.of(member),
            List.of(),
            List.of(),
            Map.of());
    return new ReleaseView("summer", "Summer", List.of("fares@2.7.0"), "ines", AT, List.of(at), 1);
  }

  @Test
  void whatAReleaseTakesAwayIsConfirmedByItsKey() {
    server
        .give("GET /releases/summer", release("37 rows of fares.concession"))
        .give("POST /releases/summer/start", release());

    CannedServer.Said refused = server.client("release", "start", "summer", "--at", "test/main");
    assertThat(refused.code()).isEqualTo(Failed.NEEDS_CONFIRMATION);
    assertThat(refused.err())
        .contains("Takes away fares@2.7.0: 37 rows of fares.concession.")
        .contains("--confirm summer --expect aaaa-bbbb-cccc");
    assertThat(
            server
                .client(
                    "release",
                    "start",
                    "summer",
                    "--at",
                    "test/main",
                    "--confirm",
                    "summer",
                    "--expect",
                    "aaaa-bbbb-cccc")
                .code())
        .isZero();
    assertThat(last()).contains("POST /releases/summer/start");
  }

  @Test
  void aReleaseThatTakesNothingAwayIsStartedAtATestWithoutAQuestion() {
    server.give("GET /releases/summer", release()).give("POST /releases/summer/start", release());

    assertThat(server.client("release", "start", "summer", "--at", "test/main").code()).isZero();
  }

  private static final List<AskedView> ASKED =
      List.of(
          new AskedView(1, "bram", AT, "Is the desk told?", "By mail", "ines", AT),
          new AskedView(2, "bram", AT, "And the south?", null, null, null));

  @Test
  void aQuestionIsAskedAndAnswered() {
    PromotionView p =
        promotion(
            null,
            Map.of(),
            new AgreementView(List.of(), List.of(), 0, List.of(), ASKED, URGENCY, null));
    server.give("POST /promotions/P-7/ask", p).give("POST /promotions/P-7/answer", p);

    server.client("promotion", "ask", "P-7", "And the south?");
    assertThat(last()).isEqualTo("POST /promotions/P-7/ask {\"text\":\"And the south?\"}");
    server.client("promotion", "answer", "P-7", "2", "By phone");
    assertThat(last())
        .isEqualTo("POST /promotions/P-7/answer {\"question\":2,\"text\":\"By phone\"}");
  }

  private PromotionView promotion(
      @Nullable PutBackView putBack, Map<String, MayView> may, AgreementView agreement) {
    return new PromotionView(
        "P-7",
        new GoalView(
            "fares",
            "2.6.1",
            "Summer",
            "For June",
            "production/north",
            "Production",
            true,
            putBack == null ? "version" : "put-back",
            "urgent",
            putBack,
            "summer",
            null,
            "31 of 33 things in the schema fares; not: view fares.dear, routine fares.f()"),
        new PreparedView("ines", AT, ""),
        "ready",
        new ComparedView(
            AT,
            "2.6.0",
            "2.6.0",
            COUNTS,
            List.of(
                change("rule/fares.night", "added"),
                change("form/fares.quote", "changed"),
                change("rule/fares.same", "same")),
            List.of(),
            List.of(),
            takesAway,
            List.of()),
        new ImpactView(40, List.of()),
        new ChoicesView(
            Map.of("records/fares.band#N", "keep"),
            List.of("rule/fares.night"),
            List.of(),
            List.of()),
        new PlanView(
            "aaaa bbbb cccc",
            "aaaabbbbcccc",
            List.of(
                new StepView(
                    1, "back-up", "Back up", "database", "Saves 3 tables", "dropping it", null),
                new StepView(
                    2, "switch", "Switch", "database", "Writes 3 rows", "the way back", null)),
            2,
            List.of("INSERT INTO fares.band VALUES ('N')"),
            List.of(new WayView("backup", true, "Restores what was there", 0)),
            List.of(new InForceView("approvals", "1 approval by the change board")),
            new LockedView(
                List.of(
                    new LockView(
                        "fares.band",
                        "writes",
                        "people read it, and nobody else writes",
                        List.of("3 rows of it are written"))),
                0.1,
                "less than a second",
                "by the size of what is there",
                List.of(),
                List.of())),
        agreement,
        List.of(new GateView("approvals", "approval 0 of 1", "approve")),
        may,
        "R-3",
        null,
        new SpanView(240, 430, 6),
        new SpanView(55, 70, 6),
        new RehearsedView("RH-2", "proven", true, 2, 0.4),
        List.of(
            new GuardChange(
                "CH-4", "the path urgent", "no soak any more", "admin", "ines", AT, "agreed"),
            new GuardChange("CH-5", "rights of tove", "may approve", "admin", null, AT, "open")),
        new OutsideStanding(
            "change desk",
            "https://desk.example/ask",
            10,
            false,
            true,
            "closed on Sundays",
            AT,
            "ines"),
        null,
        2);
  }

  private String shown(PromotionView p) {
    server.give("GET /promotions/P-7", p);
    return server.client("promotion", "show", "P-7").out();
  }

  @Test
  void aPromotionSaysAllThatItsPageSays() {
    String out =
        shown(
            promotion(
                null,
                Map.of(
                    "approve", new MayView(false, "own", "You prepared it.", List.of("edda")),
                    "withdraw", new MayView(true, null, "", List.of())),
                new AgreementView(
                    List.of(),
                    List.of("edda", "bo"),
                    1,
                    List.of("1 approval by owner"),
                    ASKED,
                    URGENCY,
                    null)));

    assertThat(out)
        .contains("summer, which is approved and started as a whole")
        .contains("Needs 1 approval by owner, given by edda or bo.")
        .containsSubsequence("Question 1 by bram", "Is the desk told?", "ines", "By mail")
        .containsSubsequence(
            "Question 2 by bram", "not answered: plenzo promotion answer P-7 2 \"…\"")
        .contains("by ines")
        .contains("Version 2.6.1 of fares goes to production/north")
        .contains("R-3")
        .contains("Decided: records/fares.band#N=keep")
        .contains("Switched on by the run: rule/fares.night")
        .contains("Not switched on by the run (what is new arrives off): form/fares.quote")
        .doesNotContain("rule/fares.same")
        .contains("1. Back up at database: Saves 3 tables")
        .contains("undone by: dropping it")
        .contains("2. Switch at database: Writes 3 rows  [no return once it is sent]")
        .contains("1 statement; as they run: plenzo promotion show P-7 --sql")
        .contains(
            "Rehearsal RH-2 came through, its switches in 0.4 s; 2 things of it not: plenzo rehearsal show RH-2")
        .contains(
            "change desk said no: closed on Sundays, asked by ines",
            "plenzo promotion ask-outside P-7")
        .contains("In force: 1 approval by the change board")
        .containsSubsequence(
            "Changed since it was prepared: the path urgent by admin, agreed by ines",
            "CH-4: no soak any more")
        .containsSubsequence("Waits to be changed: rights of tove by admin", "CH-5: may approve")
        .containsPattern("Path +urgent")
        .contains("Waits for: approval 0 of 1")
        .contains("You may: withdraw")
        .contains("You may not approve: You prepared it.");
  }

  @Test
  void whatIsPutBackIsNamedAndSoIsWhoCoversIt() {
    String out =
        shown(
            promotion(
                new PutBackView(List.of("table/fares.band"), List.of("fares.extra"), List.of()),
                Map.of(),
                new AgreementView(
                    List.of(), List.of(), 1, List.of("1 approval"), List.of(), null, "P-6")));

    assertThat(out)
        .contains("Puts back only table/fares.band")
        .contains("Takes away what is only there: fares.extra")
        .contains("Covered by the approvals of P-6.")
        .contains("There is nothing that you may do with it now.");
  }

  @Test
  void nobodyWhoMayApproveIsSaid() {
    assertThat(
            shown(
                promotion(
                    null,
                    Map.of(),
                    new AgreementView(
                        List.of(), List.of(), 2, List.of("2 approvals"), List.of(), null, null))))
        .contains("Needs 2 approvals; nobody may give one: grant somebody the right approve.");
    assertThat(
            shown(
                promotion(
                    null,
                    Map.of(),
                    new AgreementView(List.of(), List.of(), 0, List.of(), List.of(), null, null))))
        .contains("The way there needs no approval.");
  }

  /** Lost data asks for more than production does; in scripts too, and wherever it is lost. */
  @Test
  void whatIsTakenAwayIsConfirmedByTheApplicationsName() {
    takesAway = List.of("37 rows of fares.concession", "column note of fares.booking");
    server
        .give(
            "GET /promotions/P-7",
            promotion(
                null,
                Map.of(),
                new AgreementView(List.of(), List.of(), 0, List.of(), List.of(), null, null)))
        .refuse("POST /promotions/P-7/runs", 409, "GATES", "asked");

    CannedServer.Said shown = server.client("promotion", "show", "P-7");
    assertThat(shown.out()).contains("Takes away: 37 rows of fares.concession");

    CannedServer.Said refused =
        server.client("run", "start", "P-7", "--yes", "--expect", "aaaa-bbbb-cccc");
    assertThat(refused.code()).isEqualTo(8);
    assertThat(refused.err())
        .contains("Takes away 37 rows of fares.concession; column note of fares.booking.")
        .contains("--confirm fares --expect aaaa bbbb cccc");
    assertThat(
            server
                .client(
                    "run", "start", "P-7", "--confirm", "sailings", "--expect", "aaaa-bbbb-cccc")
                .code())
        .isEqualTo(8);
    assertThat(server.asked()).noneMatch(a -> a.startsWith("POST"));

    server.client("run", "start", "P-7", "--confirm", "fares", "--expect", "aaaa-bbbb-cccc");
    assertThat(last()).startsWith("POST /promotions/P-7/runs");
  }

  private static VersionView version(boolean withdrawn, PresentAt... at) {
    return new VersionView(
        "fares",
        "2.6.1",
        "2.6.0",
        "d".repeat(64),
        "Summer",
        "",
        "ines",
        AT,
        "development/main",
        withdrawn,
        Map.of(),
        List.of(),
        List.of(),
        List.of(),
        List.of(),
        List.of(),
        List.of(
            new WriterView("Sanna Voss <sanna@morrowick.example>", null),
            new WriterView("Ines <ines@morrowick.example>", "ines")),
        true,
        List.of("31 of 33 things in the schema fares; not: view fares.dear", "3 of 3 tables"),
        List.of(at));
  }

  @Test
  void howMuchOfItsSourceAVersionHasIsSaidWithItAndWhereOneAgreesToIt() {
    assertThat(shown(version(false)))
        .contains("Carries")
        .contains("31 of 33 things in the schema fares; not: view fares.dear")
        .contains("3 of 3 tables");
  }

  @Test
  void aVersionSaysWhoWroteItAndWhoOfThemIsNobodyKnown() {
    assertThat(shown(version(false)))
        .contains("Sanna Voss <sanna@morrowick.example>, whom nobody here is known to be")
        .contains("Ines <ines@morrowick.example> = ines");
  }

  private String shown(VersionView v) {
    server
        .give("GET /versions/fares/2.6.1", v)
        .give("GET /versions/fares/2.6.1/components", new EntryPage(List.of(), null, 0))
        .give("GET /versions/fares/2.6.1/fate", List.of());
    return server.client("version", "show", "fares@2.6.1").out();
  }

  @Test
  void aVersionSaysWhereItIsAndWhetherItIsJudged() {
    assertThat(
            shown(
                version(
                    false,
                    new PresentAt("test/main", "good"),
                    new PresentAt("production/north", null))))
        .contains("test/main, judged good; production/north, not judged yet")
        .doesNotContain("withdrawn");
    assertThat(shown(version(true))).contains("nowhere now").contains("withdrawn");
  }

  @Test
  void listsShowWhatIsOpenUnlessAskedOtherwise() {
    server
        .give("GET /drafts", new Page<DraftView>(List.of(), null))
        .give("GET /promotions", new Page<>(List.of(), null))
        .give("GET /runs", new Page<>(List.of(), null));

    server.client("draft", "list");
    server.client("draft", "list", "--state", "any");
    server.client("promotion", "list", "--app", "fares");
    server.client("promotion", "list", "--state", "done");
    server.client("run", "list");
    server.client("run", "list", "--state", "half written");

    assertThat(server.queries())
        .extracting(q -> q.replaceFirst(".*/v1", "").replaceFirst("[?&]limit=\\d+", ""))
        .containsExactly(
            "/drafts?state=open",
            "/drafts",
            "/promotions?application=fares&state=open",
            "/promotions?state=done",
            "/runs",
            "/runs?state=half%20written");
  }

  @Test
  void aPathIsChangedInWhatIsNamed() {
    PathView there = path();
    server.give("GET /paths", List.of(there)).give("PUT /paths/ordinary", there);

    server.client("path", "change", "ordinary", "--leg", "test", "--leg", "production");
    assertThat(last())
        .isEqualTo(
            "PUT /paths/ordinary {\"key\":\"ordinary\",\"name\":\"Ordinary\",\"source\":\"development\",\"legs\":["
                + TEST_LEG
                + ",{\"stage\":\"production\",\"approvals\":null,\"approvalDays\":null,\"verdict\":null,\"everySite\":null,\"soakDays\":null,\"task\":null,\"proof\":null,\"apart\":null,\"emergency\":null,\"words\":null,\"manual\":null,\"whenFailed\":null,\"evidence\":null,\"rehearsal\":null,\"closing\":null,\"outside\":null,\"onward\":null}],\"revision\":4}");
    server.client("path", "change", "ordinary", "--no-source", "--name", "Received");
    assertThat(last()).contains("\"source\":null").contains("\"name\":\"Received\"");

    assertThat(server.client("path", "change", "none", "--name", "x").code()).isEqualTo(5);
    assertThat(
            server.client("path", "change", "ordinary", "--no-source", "--source", "test").code())
        .isEqualTo(2);
  }

  private static final String TEST_LEG =
      "{\"stage\":\"test\",\"approvals\":[{\"role\":\"\",\"count\":1}],\"approvalDays\":0,\"verdict\":false,\"everySite\":false,\"soakDays\":3,\"task\":\"CHG-.*\",\"proof\":true,\"apart\":[\"author-approver\"],\"emergency\":null,\"words\":[\"a backup\"],\"manual\":[],\"whenFailed\":\"pause\",\"evidence\":true,\"rehearsal\":true,\"closing\":{\"seconds\":600,\"minutes\":10,\"notice\":\"Back soon\"},\"outside\":null,\"onward\":{\"how\":\"prepared\",\"by\":\"ines\"}}";

  private static PathView path() {
    LegView test =
        new LegView(
            "test",
            List.of(new QuorumView("", 1)),
            0,
            false,
            false,
            3,
            "CHG-.*",
            true,
            List.of("author-approver"),
            null,
            List.of("a backup"),
            List.of(),
            "pause",
            true,
            true,
            new ClosingView(600, 10, "Back soon"),
            null,
            new OnwardView("prepared", "ines"));
    return new PathView("ordinary", "Ordinary", "development", List.of(test), 4);
  }

  @Test
  void aPathSaysWhatEachLegAsks() {
    server.give("GET /paths", List.of(path()));

    assertThat(server.client("path", "show", "ordinary").out())
        .containsSubsequence("To test a promotion needs:", "a backup");
    assertThat(server.client("path", "show", "none").code()).isEqualTo(5);
  }

  @Test
  void whatALegAsksIsChangedInWhatIsNamed() {
    server.give("GET /paths", List.of(path())).give("PUT /paths/ordinary", path());

    server.client("path", "gates", "ordinary", "test", "--soak-days", "0", "--apart", "");
    assertThat(last())
        .contains(
            TEST_LEG
                .replace("\"soakDays\":3", "\"soakDays\":0")
                .replace("[\"author-approver\"]", "[]")
                .replace("[\"a backup\"]", "null")
                // left out: it stays as it is
                .replace("{\"how\":\"prepared\",\"by\":\"ines\"}", "null"));
    server.client("path", "gates", "ordinary", "test", "--by-hand", "after desk: Wipe the board");
    assertThat(last())
        .contains("\"manual\":[{\"when\":\"after\",\"who\":\"desk\",\"text\":\"Wipe the board\"")
        .contains("\"soakDays\":3");
    server.client(
        "path", "gates", "ordinary", "test", "--approvals", "change-board=2", "--approvals", "1");
    assertThat(last())
        .contains(
            "\"approvals\":[{\"role\":\"change-board\",\"count\":2},{\"role\":\"\",\"count\":1}]")
        .contains("\"soakDays\":3");
    server.client("path", "gates", "ordinary", "test", "--onward", "run");
    assertThat(last()).contains("\"onward\":{\"how\":\"run\",\"by\":null}");
    server.client("path", "gates", "ordinary", "test", "--approvals", "0");
    assertThat(last()).contains("\"approvals\":[]");

    assertThat(server.client("path", "gates", "ordinary", "test", "--approvals", "two").code())
        .isEqualTo(2);
    assertThat(server.client("path", "gates", "ordinary", "trial", "--proof", "true").code())
        .isEqualTo(5);
  }

  private String last() {
    return server.asked().get(server.asked().size() - 1);
  }

  @Test
  void theChangesOfOneThingAreAskedForAlone() {
    server.give("GET /history", new Page<>(List.of(), null));

    server.client("history", "list", "--of", "connection/test/look");

    assertThat(server.queries().get(0)).contains("of=connection%2Ftest%2Flook");
    server.client(
        "history", "list", "--task", "FERRY-118", "--text", "summer", "--from", "2027-01-01T00:00");
    assertThat(server.queries().get(1))
        .contains("task=FERRY-118", "text=summer", "from=2027-01-01T00%3A00%3A00Z");
    assertThat(server.client("history", "list", "--of", "stage/test", "--text", "summer").code())
        .isEqualTo(2);
    assertThat(server.client("history", "list", "--of", "stage/test", "--app", "fares").code())
        .isEqualTo(2);
  }

  private static UnderwayView work(long of, String at, @Nullable Double left) {
    return new UnderwayView(
        1, "ines", "check", "draft/D-3", AT, 12, of, "components", at, left, null, "");
  }

  @Test
  void howFarSomethingIsIsOneLine() {
    assertThat(Telling.words(work(1_200, "records/fares.booking, 120,000 rows", 12.4)))
        .isEqualTo(
            "12 of 1,200 components, at records/fares.booking, 120,000 rows; about 12 s to go");
    assertThat(Telling.words(work(0, "reading it", null))).isEqualTo("reading it");
    assertThat(Telling.words(work(0, "", null))).isEqualTo("at work");
  }

  @Test
  void whatTakesItsTimeIsListedWithItsOutcome() {
    server.give(
        "GET /underway",
        List.of(
            work(40, "", null),
            new UnderwayView(
                2,
                "bram",
                "seal",
                "draft/D-4",
                AT,
                3,
                40,
                "components",
                "",
                null,
                AT,
                "The site does not answer.")));

    assertThat(server.client("server", "underway").out())
        .contains("draft/D-3", "12 of 40 components", "bram", "The site does not answer.");
  }
}
