package plenzo.core.may;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.Arrays;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import plenzo.core.gate.Approvals;
import plenzo.core.gate.Blockers;
import plenzo.core.gate.Gate;
import plenzo.core.gate.GateReport;
import plenzo.core.gate.JudgedBefore;
import plenzo.core.gate.Unanswered;
import plenzo.core.may.CaseMay.Deed;
import plenzo.core.may.May.Why;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionState;
import plenzo.core.promotion.Question;
import plenzo.core.promotion.Urgency;
import plenzo.core.stage.Apart;
import plenzo.core.stage.Emergency;
import plenzo.core.stage.Leg;
import plenzo.core.stage.OutsideYes;
import plenzo.core.stage.SiteKey;
import plenzo.core.version.SemVer;
import plenzo.core.version.Written;

class CaseMayTest {
  private static final Map<Deed, Right> ASKS = new EnumMap<>(Deed.class);

  static {
    ASKS.put(Deed.APPROVE, Right.APPROVE);
    ASKS.put(Deed.REJECT, Right.APPROVE);
    ASKS.put(Deed.TAKE_BACK, Right.APPROVE);
    ASKS.put(Deed.ACCEPT_RISK, Right.APPROVE);
    ASKS.put(Deed.ASK, Right.APPROVE);
    ASKS.put(Deed.ANSWER, Right.PREPARE);
    ASKS.put(Deed.EMERGENCY, Right.RUN);
    ASKS.put(Deed.DECIDE, Right.PREPARE);
    ASKS.put(Deed.WITHDRAW, Right.PREPARE);
    ASKS.put(Deed.REHEARSE, Right.PREPARE);
    ASKS.put(Deed.ASK_OUTSIDE, Right.PREPARE);
    ASKS.put(Deed.RUN, Right.RUN);
  }

  private PromotionState state = PromotionState.READY;
  private String preparedBy = "ines";
  private @Nullable String release;
  private Plan.@Nullable Way way;
  private List<Promotion.Approval> words = List.of();
  private List<Gate> open = List.of();
  private List<Question> questions = List.of();
  private Set<Apart> apart = Set.of();
  private @Nullable Emergency emergency = new Emergency(2, Set.of("approvals"), 24);
  private List<Gate> owed = List.of();
  private @Nullable Urgency urgency;
  private String author = "ada";

  private static final Gate MISSING = new Approvals(List.of(new Approvals.Part("", 0, 1)), 0);

  private static Person person(String login, String stage, Right... rights) {
    return Person.invited(login, login, "", false)
        .withGrants(Arrays.stream(rights).map(r -> new Person.Grant(r, stage, "fares")).toList());
  }

  private static final Person BRAM = person("bram", "production", Right.values());
  private static final Person EDDA = person("edda", "production", Right.APPROVE);

  private Promotion promotion() {
    Promotion p =
        Promotion.opened(
            7,
            new Promotion.Goal(
                "fares",
                new SemVer("2.4.0"),
                new SiteKey("production", "main"),
                way,
                null,
                release,
                null,
                false,
                null),
            new Promotion.Prepared(preparedBy, Instant.EPOCH, ""));
    for (PromotionState step : path(state)) {
      p = p.change().state(step).done();
    }
    p = p.change().approvals(words).questions(questions).done();
    return urgency == null ? p : p.change().urgency(urgency).done();
  }

  private static List<PromotionState> path(PromotionState to) {
    return switch (to) {
      case PREPARING -> List.of();
      case READY, FAILED, WITHDRAWN -> List.of(to);
      case AGREED, OVERTAKEN -> List.of(PromotionState.READY, to);
      case RUNNING -> List.of(PromotionState.READY, PromotionState.AGREED, to);
      case DONE -> List.of(PromotionState.READY, PromotionState.AGREED, PromotionState.RUNNING, to);
    };
  }

  private CaseMay of(Person by) {
    Leg leg =
        Leg.open("production")
            .apart(apart)
            .passing(emergency)
            .outside(new OutsideYes("desk", "https://desk.example", 10));
    Duties duties = new Duties(promotion(), leg, Written.Known.only(author), null);
    return new CaseMay(duties, by, new GateReport(open, owed), List.of(BRAM, EDDA));
  }

  @Test
  void strangersCountOnlyWhereAuthorsDoNotApprove() {
    Written.Known made = new Written.Known(java.util.Set.of("olga"), List.of("Zita <z@x.example>"));
    Leg open = Leg.open("production");

    assertThat(new Duties(promotion(), open, made, null).strangers()).isEmpty();
    assertThat(
            new Duties(
                    promotion(),
                    open.apart(java.util.Set.of(plenzo.core.stage.Apart.of("author-runner"))),
                    made,
                    null)
                .strangers())
        .isEmpty();
    assertThat(
            new Duties(
                    promotion(),
                    open.apart(java.util.Set.of(plenzo.core.stage.Apart.of("approver-author"))),
                    made,
                    null)
                .strangers())
        .containsExactly("Zita <z@x.example>");
  }

  private static Promotion.Approval yes(String by) {
    return new Promotion.Approval(by, true, "f", "", Instant.EPOCH, null);
  }

  @ParameterizedTest
  @EnumSource(Deed.class)
  void asksForTheDestinationsRight(Deed deed) {
    state = deed == Deed.RUN ? PromotionState.AGREED : PromotionState.READY;
    Right right = java.util.Objects.requireNonNull(ASKS.get(deed));
    words = deed == Deed.TAKE_BACK ? List.of(yes("olga")) : List.of();
    questions = List.of(new Question(1, "edda", Instant.EPOCH, "Why?", null));
    Person has = person("olga", "production", right);
    Person elsewhere = person("olga", "test", right);
    Person other =
        person(
            "olga",
            "production",
            Arrays.stream(Right.values()).filter(r -> r != right).toArray(Right[]::new));

    assertThat(of(has).may(deed).allowed()).as("with " + right).isTrue();
    assertThat(of(elsewhere).may(deed).why()).isEqualTo(Why.RIGHT);
    assertThat(of(other).may(deed).why()).isEqualTo(Why.RIGHT);
    assertThat(of(other).may(deed).who()).as("who can").contains("bram");
  }

  @ParameterizedTest
  @EnumSource(PromotionState.class)
  void isDoneOnlyInItsStates(PromotionState in) {
    state = in;
    boolean stands = in == PromotionState.READY || in == PromotionState.AGREED;
    words = List.of(yes("edda"));
    Promotion.Approval mine = yes("bram");

    assertThat(of(BRAM).may(Deed.APPROVE).allowed()).isEqualTo(stands);
    assertThat(of(BRAM).may(Deed.REJECT).allowed()).isEqualTo(stands);
    assertThat(of(BRAM).may(Deed.ACCEPT_RISK).allowed()).isEqualTo(stands);
    assertThat(of(BRAM).may(Deed.DECIDE).allowed()).isEqualTo(stands);
    assertThat(of(BRAM).may(Deed.RUN).allowed()).isEqualTo(stands);
    assertThat(of(BRAM).may(Deed.WITHDRAW).allowed())
        .isEqualTo(stands || in == PromotionState.PREPARING || in == PromotionState.FAILED);
    words = List.of(mine);
    assertThat(of(BRAM).may(Deed.TAKE_BACK).allowed()).isEqualTo(stands);
  }

  @Test
  void nobodyApprovesTheOwnPromotionButMayRejectIt() {
    preparedBy = "bram";
    May may = of(BRAM).may(Deed.APPROVE);

    assertThat(may.why()).isEqualTo(Why.OWN);
    assertThat(may.who()).containsExactly("edda");
    assertThat(of(BRAM).may(Deed.REJECT).allowed()).isTrue();
  }

  @Test
  void dutiesThatAreKeptApartAreTwoPeople() {
    author = "bram";
    assertThat(of(BRAM).may(Deed.APPROVE).allowed()).as("nothing asks for it").isTrue();
    apart = Set.of(Apart.of("author-approver"));
    May own = of(BRAM).may(Deed.APPROVE);
    assertThat(own.why()).isEqualTo(Why.OWN);
    assertThat(own.words())
        .isEqualTo("You sealed 2.4.0 or wrote what is in it, so somebody else approves it.");
    assertThat(own.who()).containsExactly("edda");
    assertThat(of(BRAM).may(Deed.RUN).allowed()).as("another duty").isTrue();
    apart = Set.of(Apart.of("author-runner"));
    assertThat(of(BRAM).may(Deed.RUN).words())
        .isEqualTo("You sealed 2.4.0 or wrote what is in it, so somebody else starts its run.");
  }

  @Test
  void whoSaidYesDoesNotStartItWhereThatIsKeptApart() {
    apart = Set.of(Apart.of("runner-approver"));
    words = List.of(yes("edda"));
    assertThat(of(BRAM).may(Deed.RUN).allowed()).isTrue();
    words = List.of(yes("bram"));
    assertThat(of(BRAM).may(Deed.RUN).why()).isEqualTo(Why.OWN);
    assertThat(of(BRAM).waitsForYou()).isFalse();
    words = List.of(yes("bram").fallen("PEAK moved"));
    assertThat(of(BRAM).may(Deed.RUN).allowed()).as("that yes counts no more").isTrue();
  }

  @Test
  void onePersonAloneMayGoBack() {
    way = Plan.Way.BACKUP;
    preparedBy = "bram";
    apart = Set.of(Apart.of("preparer-runner"));
    assertThat(of(BRAM).may(Deed.RUN).allowed()).isTrue();
    way = null;
    assertThat(of(BRAM).may(Deed.RUN).why()).isEqualTo(Why.OWN);
  }

  @Test
  void whatOnlyTimeKeptBackWaitsForWhoMayStartIt() {
    assertThat(of(BRAM).waitsForYou()).isTrue();
    assertThat(of(EDDA).waitsForYou()).isFalse();
  }

  @Test
  void nobodyApprovesTwiceButMayTakeItBack() {
    words = List.of(yes("bram"));

    assertThat(of(BRAM).may(Deed.APPROVE).why()).isEqualTo(Why.SAID_ALREADY);
    assertThat(of(BRAM).may(Deed.TAKE_BACK).allowed()).isTrue();
    words = List.of(yes("bram").fallen("PEAK moved"));
    assertThat(of(BRAM).may(Deed.APPROVE).allowed()).as("that one fell").isTrue();
    assertThat(of(BRAM).may(Deed.TAKE_BACK).why()).isEqualTo(Why.NOTHING_SAID);
  }

  @Test
  void aMemberOfAReleaseIsApprovedAndRunWithIt() {
    release = "summer";
    assertThat(of(BRAM).may(Deed.APPROVE).why()).isEqualTo(Why.IN_RELEASE);
    state = PromotionState.AGREED;
    assertThat(of(BRAM).may(Deed.RUN).why()).isEqualTo(Why.IN_RELEASE);
  }

  @Test
  void aClosedGateSaysItselfAndWhoCanMoveIt() {
    open = List.of(MISSING);
    May may = of(BRAM).may(Deed.RUN);

    assertThat(may.why()).isEqualTo(Why.GATES);
    assertThat(may.words()).isEqualTo("P-7 waits: approval 0 of 1.");
    assertThat(may.who()).containsExactly("bram", "edda");
  }

  @Test
  void aGateThatClosedAgainStopsWhatWasAgreed() {
    state = PromotionState.AGREED;
    open = List.of(MISSING);
    assertThat(of(BRAM).may(Deed.RUN).why()).isEqualTo(Why.GATES);
  }

  @Test
  void goingBackAsksForItsOwnRight() {
    way = Plan.Way.BACKUP;
    state = PromotionState.AGREED;

    assertThat(of(person("o", "production", Right.RUN)).may(Deed.RUN).why()).isEqualTo(Why.RIGHT);
    assertThat(of(person("o", "production", Right.GO_BACK)).may(Deed.RUN).allowed()).isTrue();
  }

  @Test
  void waitsForWhoCanBringItOn() {
    open = List.of(MISSING);
    assertThat(of(EDDA).waitsForYou()).isTrue();
    assertThat(of(person("o", "production", Right.PREPARE)).waitsForYou()).isFalse();
    words = List.of(yes("edda"));
    assertThat(of(EDDA).waitsForYou()).as("said already").isFalse();
    words = List.of();
    preparedBy = "edda";
    assertThat(of(EDDA).waitsForYou()).as("the own one").isFalse();
  }

  @Test
  void blockersWaitForWhoPrepares() {
    open = List.of(new Blockers(1), MISSING);
    assertThat(of(EDDA).waitsForYou()).isFalse();
    assertThat(of(person("o", "production", Right.PREPARE)).waitsForYou()).isTrue();
  }

  @Test
  void aQuestionWaitsForWhoPreparesAndHoldsTheStart() {
    open = List.of(new Unanswered(List.of(new Question(1, "edda", Instant.EPOCH, "Why?", null))));
    assertThat(of(EDDA).waitsForYou()).as("who asked").isFalse();
    assertThat(of(person("o", "production", Right.PREPARE)).waitsForYou()).isTrue();
    assertThat(of(BRAM).may(Deed.RUN).words())
        .isEqualTo("P-7 waits: question 1 of edda is not answered.");
  }

  @Test
  void anEmergencyIsDeclaredOnceByEachWhereThePathLetsOne() {
    assertThat(of(BRAM).may(Deed.EMERGENCY).allowed()).isTrue();
    urgency = Urgency.NONE.and(new Urgency.Said("bram", Instant.EPOCH, "Fares are wrong"));
    assertThat(of(BRAM).may(Deed.EMERGENCY).why()).isEqualTo(Why.SAID_ALREADY);
    assertThat(of(person("o", "production", Right.RUN)).may(Deed.EMERGENCY).allowed()).isTrue();
    emergency = null;
    assertThat(of(BRAM).may(Deed.EMERGENCY).why()).isEqualTo(Why.NOT_OFFERED);
    emergency = new Emergency(1, Set.of("soak"), 1);
    way = Plan.Way.BACKUP;
    assertThat(of(BRAM).may(Deed.EMERGENCY).words()).contains("going back needs none");
  }

  @Test
  void anOwedYesIsSaidAfterTheRun() {
    state = PromotionState.DONE;
    assertThat(of(EDDA).may(Deed.APPROVE).why()).isEqualTo(Why.STATE);
    urgency = Urgency.NONE.and(new Urgency.Said("ines", Instant.EPOCH, "Fares are wrong"));
    assertThat(of(EDDA).may(Deed.APPROVE).why()).as("it owed nothing").isEqualTo(Why.STATE);
    urgency = urgency.begun(Instant.EPOCH);
    owed = List.of(MISSING);
    assertThat(of(EDDA).may(Deed.APPROVE).allowed()).isTrue();
    assertThat(of(EDDA).waitsForYou()).isTrue();
    assertThat(of(EDDA).may(Deed.REJECT).why()).as("it ran").isEqualTo(Why.STATE);
    preparedBy = "edda";
    assertThat(of(EDDA).may(Deed.APPROVE).why()).isEqualTo(Why.OWN);
  }

  @Test
  void nothingIsAnsweredThatNobodyAsked() {
    assertThat(of(BRAM).may(Deed.ANSWER).why()).isEqualTo(Why.NOTHING_SAID);
  }

  @Test
  void aMissingVerdictWaitsForNobodyHere() {
    open = List.of(new JudgedBefore(new SemVer("2.4.0"), "test"));
    assertThat(of(BRAM).waitsForYou()).isFalse();
  }

  @Test
  void whatIsAgreedWaitsForWhoMayStartIt() {
    state = PromotionState.AGREED;
    assertThat(of(EDDA).waitsForYou()).isFalse();
    assertThat(of(person("o", "production", Right.RUN)).waitsForYou()).isTrue();
  }
}
