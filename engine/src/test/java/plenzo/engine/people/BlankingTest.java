package plenzo.engine.people;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.EngineKit.SITE;
import static plenzo.engine.kit.EngineKit.row;

import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import plenzo.core.history.HistoryEntry;
import plenzo.core.history.Names;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.proposal.Proposal;
import plenzo.core.run.Run;
import plenzo.core.stage.Leg;
import plenzo.core.version.SemVer;
import plenzo.engine.kit.KitTest;
import plenzo.engine.looking.History;

/** Somebody who left is named nowhere any more, and the past is as unbroken as before. */
class BlankingTest extends KitTest {
  @TempDir Path folder;

  private Person zebedee;

  @BeforeEach
  void world() {
    kit.adopt();
    zebedee = person("zebedee", "Zebedee Quill");
    person("admin", "Admin");
  }

  private Person person(String login, String name) {
    Person p =
        Person.invited(login, name, "", false)
            .withGrants(
                java.util.Arrays.stream(Right.values())
                    .map(r -> new Person.Grant(r, "*", "*"))
                    .toList());
    kit.write(
        kept -> {
          kept.people().insert(p);
          return null;
        });
    return kit.read(kept -> kept.people().find(login)).orElseThrow();
  }

  /** Everything that somebody can have part in, done by one person. */
  private Run life() {
    kit.asks(Leg.open(SITE.stage()).asking(new Leg.Quorum("", 1)));
    kit.sealPeak("1.1.0", "25.00");
    kit.production().row(BAND, row("PEAK", "99.00"));
    Promotion first = kit.takeIncoming(kit.prepare("1.1.0"), "records/" + BAND);
    yes(zebedee, first);
    kit.run(kit.promotion(first.number()));
    kit.sealPeak("1.2.0", "26.00");
    long number =
        kit.engine()
            .promotions()
            .prepare(zebedee, "fares", new SemVer("1.2.0"), SITE, "By Zebedee Quill")
            .number();
    kit.settleDown();
    Promotion p = kit.promotion(number);
    yes(kit.bram, p);
    Run run = kit.engine().runs().start(zebedee, number, p.requirePlan().fingerprint().shown());
    kit.settleDown();
    kit.engine().verdicts().judge(zebedee, "fares", SITE, new SemVer("1.2.0"), true, "Seen");
    kit.engine().retention().keep(zebedee, run.shown(), "zebedee asks for it", null);
    kit.engine().copies().take(zebedee, "fares");
    kit.engine().copies().every(zebedee, "fares", 7);
    return kit.run(run.number());
  }

  private void yes(Person by, Promotion p) {
    String plan = p.requirePlan().fingerprint().shown();
    kit.engine().promotions().approve(by, p.number(), true, plan, "I, " + by.name());
  }

  private void leave() {
    kit.write(
        kept -> {
          Person p = kept.people().find("zebedee").orElseThrow();
          kept.people().replace(p.withDisabled(true));
          return null;
        });
  }

  private Person admin() {
    return kit.read(kept -> kept.people().find("admin")).orElseThrow();
  }

  /** Asked for by one and agreed to by another. */
  private void blanked() {
    assertThatThrownBy(() -> kit.engine().blanking().blank(admin(), "zebedee", null))
        .isInstanceOf(Problem.class)
        .hasMessageContaining("changed by two");
    Proposal waits = open();
    kit.engine().proposals().agree(kit.bram, waits.number(), "He left");
  }

  private Proposal open() {
    List<Proposal> all =
        kit.read(kept -> kept.proposals().list(Kept.Filter.state(Proposal.State.OPEN.code())));
    assertThat(all).hasSize(1);
    return all.get(0);
  }

  private List<String> everything() throws SQLException {
    kit.copyOfRecords(folder.resolve("copy.mv.db"));
    List<String> out = new ArrayList<>();
    try (Connection c =
            DriverManager.getConnection(
                "jdbc:h2:file:" + folder.resolve("copy").toAbsolutePath(), "plenzo", "");
        Statement s = c.createStatement();
        ResultSet r = s.executeQuery("SCRIPT")) {
      while (r.next()) {
        out.add(r.getString(1));
      }
    }
    return out;
  }

  @Test
  void nothingThatIsStoredNamesThemAnyMore() throws SQLException {
    life();
    leave();
    assertThat(everything()).anyMatch(l -> l.contains("zebedee"));

    blanked();

    assertThat(everything()).noneMatch(l -> l.contains("zebedee") || l.contains("Quill"));
  }

  @Test
  void thePastIsAsUnbrokenAsBeforeAndReadsOtherwise() {
    Run run = life();
    kit.engine().keys().make(kit.ines, "here");
    String head = kit.engine().history().head(kit.ines);
    leave();

    blanked();

    History.Chain chain = kit.engine().history().verify(kit.ines, head);
    assertThat(chain.broken()).isZero();
    assertThat(chain.whole()).isTrue();
    String as = kit.run(run.number()).startedBy();
    assertThat(as).matches("person-[0-9a-f]{8}");
    assertThat(kit.promotion(1).approvals().get(0).by()).isEqualTo(as);
    List<HistoryEntry> started =
        kit.read(
            kept -> kept.history(new Kept.HistoryFilter(null, null, "run started", null, 0, 1)));
    assertThat(started.get(0).actor()).isEqualTo(as);
  }

  @Test
  void aNameThatSomebodyTookAwayAloneIsNoticed() throws SQLException {
    life();
    Path altered = kit.copyOfRecords(folder.resolve("altered.mv.db"));
    try (Connection c =
            DriverManager.getConnection(
                "jdbc:h2:file:" + folder.resolve("altered").toAbsolutePath(), "plenzo", "");
        Statement s = c.createStatement()) {
      s.executeUpdate(
          "UPDATE called SET salt = NULL, word = 'person-1', login = 'person-1' WHERE login = 'zebedee'");
      s.executeUpdate("UPDATE history SET actor = 'person-1' WHERE actor = 'zebedee'");
    }
    kit.restart(altered);

    assertThat(kit.engine().history().verify(kit.ines, null).broken()).isPositive();
  }

  @Test
  void aNameThatSomebodyGaveAnotherIsNoticed() throws SQLException {
    life();
    Path altered = kit.copyOfRecords(folder.resolve("altered.mv.db"));
    try (Connection c =
            DriverManager.getConnection(
                "jdbc:h2:file:" + folder.resolve("altered").toAbsolutePath(), "plenzo", "");
        Statement s = c.createStatement()) {
      s.executeUpdate("UPDATE called SET word = 'bram', login = 'bram' WHERE word = 'zebedee'");
      s.executeUpdate("UPDATE history SET actor = 'bram' WHERE actor = 'zebedee'");
    }
    kit.restart(altered);

    assertThat(kit.engine().history().verify(kit.ines, null).broken()).isPositive();
  }

  @Test
  void itWaitsForASecondOneAndUntilThenNothingIsChanged() throws SQLException {
    life();
    leave();
    assertThatThrownBy(() -> kit.engine().blanking().blank(admin(), "zebedee", null))
        .isInstanceOf(Problem.class);

    boolean there = kit.<Boolean>read(kept -> kept.people().find("zebedee").isPresent());
    assertThat(there).isTrue();
    assertThatThrownBy(() -> kit.engine().proposals().agree(admin(), open().number(), ""))
        .as("who asked is not the second")
        .isInstanceOf(Problem.class);
    assertThat(everything()).anyMatch(l -> l.contains("zebedee"));
  }

  @Test
  void whatIsInTheWayIsSaidBeforeAndNothingIsDone() {
    kit.sealPeak("1.1.0", "25.00");
    kit.engine().promotions().prepare(zebedee, "fares", new SemVer("1.1.0"), SITE, "");

    Blanking.Outlook out = kit.engine().blanking().outlook(kit.ines, "zebedee");

    assertThat(out.names()).containsExactlyInAnyOrder("zebedee", "Zebedee Quill");
    assertThat(out.inTheWay())
        .anyMatch(w -> w.startsWith("zebedee can sign in"))
        .anyMatch(w -> w.startsWith("P-1 is open"));
    assertThat(out.keeps()).anyMatch(k -> k.contains("targets"));
    assertThatThrownBy(() -> kit.engine().blanking().blank(kit.ines, "zebedee", null))
        .hasMessageContaining("P-1 is open");
    List<Proposal> none = kit.read(kept -> kept.proposals().all());
    assertThat(none).isEmpty();
  }

  @Test
  void whoComesLaterByTheSameNameIsSomebodyElse() {
    life();
    leave();
    blanked();
    kit.clock.tick(Duration.ofDays(1));

    person("zebedee", "Zebedee Moss");
    kit.engine()
        .retention()
        .keep(kit.read(kept -> kept.people().find("zebedee")).orElseThrow(), "R-1", "Mine", null);

    List<HistoryEntry> mine =
        kit.read(kept -> kept.history(new Kept.HistoryFilter(null, null, null, "zebedee", 0, 9)));
    assertThat(mine).extracting(HistoryEntry::event).containsExactly("kept by a note");
    assertThat(kit.engine().history().verify(kit.ines, null).whole()).isTrue();
  }

  @Test
  void whatStandsInTheChainIsNoName() {
    life();

    List<HistoryEntry> all = kit.read(kept -> kept.history(Kept.HistoryFilter.part(0, 500)));

    assertThat(all)
        .filteredOn(e -> e.actor().equals("zebedee"))
        .isNotEmpty()
        .allMatch(e -> e.chained() != null && !e.line().contains("zebedee"))
        .allMatch(e -> !Names.signsIn(e.chained().actor()).isEmpty());
  }
}
