package plenzo.core.impact;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind.Holder;
import plenzo.core.component.TableName;
import plenzo.core.drift.PutBack;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.SiteRecord;
import plenzo.core.table.TableStructure;
import plenzo.core.target.SiteDelta;
import plenzo.core.target.TablesDelta;
import plenzo.core.target.TargetIdentity;
import plenzo.core.version.Need;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;

/** Each rule with the smallest case that violates it, and with one just short of it. */
class CaseRulesTest {
  private static final SiteKey SITE = new SiteKey("production", "main");
  private static final TargetIdentity ME =
      new TargetIdentity("s", "production", "main", "production/main/database", Instant.EPOCH);
  private static final SiteDelta NOTHING = new SiteDelta(TablesDelta.NONE, Map.of());
  private static final SiteDelta SOMETHING =
      new SiteDelta(
          new TablesDelta(
              List.of(
                  TablesDelta.TableDelta.of(
                      TableName.of("fares.band"), null, TableStructure.EMPTY, null)),
              List.of()),
          Map.of());

  private Plan.@Nullable Way way;
  private String number = "2.4.0";
  private String present = "2.3.0";
  private boolean hasBase = true;
  private SiteDelta delta = SOMETHING;
  private Optional<TargetIdentity> found = Optional.of(ME);
  private boolean proves = true;
  private boolean mustProve;
  private long newer;
  private List<ComponentKey> leftOut = List.of();
  private List<Need> needs = List.of();
  private final Map<String, String> extensions = new HashMap<>();
  private final Map<Holder, SemVer> releases = new EnumMap<>(Holder.class);
  private final Map<String, CaseFacts.Neighbour> here = new TreeMap<>();
  private final Map<String, Version> earlier = new TreeMap<>();
  private final Map<String, Version> comes = new TreeMap<>();
  private final List<SiteRecord> sites = new ArrayList<>();
  private final List<CaseFacts.Open> others = new ArrayList<>();
  private long drift;
  private @Nullable PutBack putBack;
  private boolean values;

  private static Version version(String application, String number, List<Need> needs) {
    return Version.of(
        application,
        new SemVer(number),
        null,
        List.of(),
        List.of(),
        needs,
        List.of(),
        "title",
        "",
        List.of(),
        "ines",
        Instant.EPOCH,
        "test");
  }

  private Promotion about() {
    return promotion(
        7,
        new Promotion.Goal(
            "fares", new SemVer(number), SITE, way, null, null, putBack, values, null));
  }

  private static Promotion promotion(long n, String number, Plan.@Nullable Way way) {
    return promotion(
        n,
        new Promotion.Goal("fares", new SemVer(number), SITE, way, null, null, null, false, null));
  }

  private static Promotion promotion(long n, Promotion.Goal goal) {
    return Promotion.opened(n, goal, new Promotion.Prepared("ines", Instant.EPOCH, ""));
  }

  private List<String> rules() {
    return Rules.run(
            Rules.CASE,
            new CaseFacts(
                about(),
                new SemVer(present),
                version("fares", number, needs),
                hasBase ? version("fares", present, List.of()) : null,
                delta,
                List.of(
                    new CaseFacts.Place(
                        Holder.DATABASE,
                        "production/main database",
                        ME,
                        found,
                        proves,
                        mustProve,
                        newer)),
                leftOut,
                releases,
                extensions,
                here,
                earlier,
                comes,
                sites,
                others,
                drift))
        .stream()
        .map(f -> f.severity() + " " + f.rule())
        .toList();
  }

  @Test
  void findsNothingInAnOrdinaryCase() {
    assertThat(rules()).isEmpty();
  }

  @Test
  void theTargetMustBeWhoItShouldBe() {
    found = Optional.empty();
    assertThat(rules()).containsExactly("BLOCKER wrong-identity");
    found = Optional.of(new TargetIdentity("s", "production", "south", "database", Instant.EPOCH));
    assertThat(rules()).containsExactly("BLOCKER wrong-identity");
    found = Optional.of(new TargetIdentity("s", "production", "main", "database", Instant.EPOCH));
    assertThat(rules()).as("a marker of before targets had ids").isEmpty();
  }

  @Test
  void theRecordsMustKnowTheTargetsRuns() {
    newer = 9;
    assertThat(rules()).containsExactly("BLOCKER records-older");
    way = Plan.Way.BACKUP;
    assertThat(rules()).as("going back as well").containsExactly("BLOCKER records-older");
  }

  @Test
  void aBackupOfRowsShouldBeProven() {
    proves = false;
    assertThat(rules()).containsExactly("RISK backup-not-proven");
    mustProve = true;
    assertThat(rules()).containsExactly("BLOCKER backup-not-proven");
    delta = NOTHING;
    assertThat(rules()).as("no row is touched").containsExactly("NOTE nothing-to-do");
  }

  @Test
  void thatNothingWouldChangeIsSaidAndNeverBesideWhatDiffers() {
    delta = NOTHING;
    assertThat(rules()).containsExactly("NOTE nothing-to-do");
    drift = 1;
    assertThat(rules()).as("another version would leave it").containsExactly("NOTE nothing-to-do");
    present = number;
    assertThat(rules())
        .as("the recorded version is not put back by promoting it")
        .containsExactly("BLOCKER nothing-to-do");
    drift = 0;
    assertThat(rules()).containsExactly("NOTE nothing-to-do");
  }

  @Test
  void puttingBackSaysWhatBecomesOfWhatPeopleDidAndAsksNothingOfAComingVersion() {
    putBack = PutBack.ALL;
    hasBase = false;
    assertThat(rules()).containsExactly("NOTE hand-edits-go");
    way = null;
    putBack = null;
    assertThat(rules()).containsExactly("BLOCKER no-base");
  }

  @Test
  void aPlanWithoutAVersionThatHasNothingToDoIsNoPlan() {
    delta = NOTHING;
    putBack = PutBack.ALL;
    assertThat(rules()).containsExactly("BLOCKER nothing-to-do");
    assertThat(finding().sentence()).contains("nothing to put back");
    putBack = null;
    values = true;
    assertThat(rules()).containsExactly("BLOCKER nothing-to-do");
    assertThat(finding().sentence()).contains("was given every value");
  }

  @Test
  void whatDiffersIsCountedAndWhatIsAYesOrNoIsNot() {
    delta = NOTHING;
    drift = 10;
    assertThat(finding().count()).isEqualTo(10);
    assertThat(finding().ceiling()).isEqualTo(11);
    drift = 0;
    assertThat(finding().count()).isZero();
    assertThat(finding().ceiling()).isZero();
    assertThat(finding().sentence()).contains("that Plenzo carries");
  }

  private Finding finding() {
    List<Finding> all = new ArrayList<>();
    Rules.CASE.stream()
        .filter(r -> r.id().equals("nothing-to-do"))
        .forEach(r -> r.check(facts(), all::add));
    return all.get(0);
  }

  private CaseFacts facts() {
    return new CaseFacts(
        about(),
        new SemVer(present),
        version("fares", number, needs),
        null,
        delta,
        List.of(),
        List.of(),
        releases,
        extensions,
        here,
        earlier,
        comes,
        sites,
        others,
        drift);
  }

  @Test
  void bothVersionsMustHaveOneInCommon() {
    hasBase = false;
    assertThat(rules()).containsExactly("BLOCKER no-base");
    way = Plan.Way.EARLIER_VERSION;
    assertThat(rules()).as("going back leads to what was here").isEmpty();
  }

  @Test
  void aFixMustNotBeLeftOut() {
    leftOut = List.of(ComponentKey.of("form/fares.quote"));
    assertThat(rules()).containsExactly("BLOCKER fix-left-out");
  }

  @Test
  void anOlderVersionIsARisk() {
    number = "2.2.9";
    assertThat(rules()).containsExactly("RISK newer-there");
    number = "2.3.0";
    assertThat(rules()).isEmpty();
  }

  @Test
  void neededApplicationsMustBeThereInRange() {
    needs = List.of(Need.of("sailings >=1.2.0 <2.0.0"));
    assertThat(rules()).containsExactly("BLOCKER prerequisite-missing");
    here.put("sailings", new CaseFacts.Neighbour(new SemVer("1.1.9"), List.of()));
    assertThat(rules()).containsExactly("BLOCKER prerequisite-missing");
    earlier.put("sailings", version("sailings", "1.2.0", List.of()));
    assertThat(rules()).as("the release brings it").containsExactly("NOTE needs-release");
    here.put("sailings", new CaseFacts.Neighbour(new SemVer("1.2.0"), List.of()));
    assertThat(rules()).isEmpty();
  }

  @Test
  void neededServersMustTellARelease() {
    needs = List.of(Need.of("server/database >=16.0.0 <19.0.0"));
    assertThat(rules()).containsExactly("BLOCKER server-release");
    releases.put(Holder.DATABASE, new SemVer("15.9.0"));
    assertThat(rules()).containsExactly("BLOCKER server-release");
    releases.put(Holder.DATABASE, new SemVer("16.0.0"));
    assertThat(rules()).isEmpty();
  }

  @Test
  void neededExtensionsAreThereAndNotOlder() {
    needs = List.of(Need.of("extension/pgcrypto >=1.3"));
    assertThat(rules()).containsExactly("BLOCKER extension-version");
    extensions.put("pgcrypto", "1.2");
    assertThat(rules()).containsExactly("RISK extension-version");
    extensions.put("pgcrypto", "1.3");
    assertThat(rules()).isEmpty();
    extensions.put("pgcrypto", "1.10");
    assertThat(rules()).isEmpty();
    extensions.put("pgcrypto", "unpackaged");
    assertThat(rules()).as("of one without a number it is not known").hasSize(1);
  }

  @Test
  void anotherApplicationMustGoOnWorking() {
    here.put(
        "boarding",
        new CaseFacts.Neighbour(new SemVer("1.0.0"), List.of(Need.of("fares >=2.0.0 <2.4.0"))));
    assertThat(rules()).containsExactly("BLOCKER breaks-another");
    comes.put("boarding", version("boarding", "1.1.0", List.of(Need.of("fares >=2.0.0 <3.0.0"))));
    assertThat(rules()).as("the release brings one that goes with it").isEmpty();
    comes.clear();
    here.put(
        "boarding",
        new CaseFacts.Neighbour(new SemVer("1.0.0"), List.of(Need.of("fares >=2.0.0 <2.4.1"))));
    assertThat(rules()).isEmpty();
  }

  @Test
  void aVersionThatWasJudgedBadAnywhereIsHeld() {
    sites.add(judged(number, true));
    assertThat(rules()).isEmpty();
    sites.set(0, judged(number, false));
    assertThat(rules()).containsExactly("BLOCKER judged-bad");
    sites.set(0, judged("2.3.9", false));
    assertThat(rules()).as("another version").isEmpty();
  }

  private static SiteRecord judged(String number, boolean good) {
    return SiteRecord.none("fares", new SiteKey("test", "main"))
        .judged(new SiteRecord.Verdict(new SemVer(number), good, "seen", "tove", Instant.EPOCH));
  }

  @Test
  void otherOpenPromotionsAreNamed() {
    others.add(new CaseFacts.Open(promotion(8, "2.4.1", null), 3));
    assertThat(rules()).containsExactly("NOTE other-open");
  }

  @Test
  void aRuleThatCannotRunIsItselfAFinding() {
    Rule<String> broken =
        Rule.of(
            "some-rule",
            Finding.Severity.BLOCKER,
            (about, out) -> {
              throw new IllegalStateException("no answer");
            });

    assertThat(Rules.run(List.of(broken), "x"))
        .singleElement()
        .satisfies(
            f -> {
              assertThat(f.severity()).isEqualTo(Finding.Severity.BLOCKER);
              assertThat(f.sentence()).contains("counts as not passed: no answer");
            });
  }
}
