package plenzo.store;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalStateException;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import java.util.Objects;
import java.util.zip.GZIPInputStream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import plenzo.core.history.HistoryEntry;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Sight;
import plenzo.core.plan.Plan;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionHead;
import plenzo.core.promotion.PromotionState;
import plenzo.core.run.Journal;
import plenzo.core.run.JournalEntry;
import plenzo.core.run.JournalEntry.Deed;
import plenzo.core.run.JournalEntry.Outcome;
import plenzo.core.run.Run;
import plenzo.core.run.RunHead;
import plenzo.core.run.RunState;
import plenzo.core.stage.SiteKey;
import plenzo.core.stage.Stage;
import plenzo.core.target.TargetId;
import plenzo.core.version.SemVer;
import tools.jackson.databind.node.ObjectNode;

/**
 * Records of every earlier build open in this one, and nothing of them is lost. The corpus is the
 * sample world as that build stored it.
 */
class UpgradeTest {
  @TempDir Path folder;

  @BeforeEach
  void lay() throws IOException, SQLException {
    Path script = folder.resolve("records.sql");
    try (InputStream in =
        new GZIPInputStream(
            Objects.requireNonNull(getClass().getResourceAsStream("records-0.1.0.sql.gz")))) {
      Files.copy(in, script);
    }
    try (Connection c = DriverManager.getConnection(url(), "plenzo", "");
        Statement s = c.createStatement()) {
      s.execute("RUNSCRIPT FROM '" + script + "'");
    }
  }

  private String url() {
    return "jdbc:h2:file:" + folder.resolve("records").toAbsolutePath();
  }

  private H2Keeper open() {
    return new H2Keeper(folder, () -> "another", 1 << 20);
  }

  @Test
  void opensEveryRecordOfTheFirstBuild() {
    try (H2Keeper keeper = open()) {
      assertThat(keeper.service()).as("who it is").isNotEqualTo("another");
      keeper.read(
          kept -> {
            assertThat(kept.people().all()).hasSize(5);
            assertThat(kept.stages().all()).hasSize(3);
            assertThat(kept.connections().all()).hasSizeGreaterThan(15);
            assertThat(kept.secrets().all()).isNotEmpty();
            assertThat(kept.paths().all()).hasSize(1);
            assertThat(kept.applications().all()).hasSize(3);
            assertThat(kept.versions().list("fares")).hasSizeGreaterThan(5);
            assertThat(kept.versions().get("fares", new SemVer("2.4.0")).entries()).isNotEmpty();
            assertThat(kept.drafts().all()).isNotEmpty();
            assertThat(kept.sites().all()).hasSize(8);
            assertThat(kept.promotions().all()).hasSize(15);
            assertThat(kept.runs().all()).isNotEmpty();
            assertThat(kept.captures().all()).isNotEmpty();
            assertThat(kept.bindings().all()).isNotEmpty();
            assertThat(kept.signers().all()).isNotEmpty();
            assertThat(kept.parcels().all()).isNotEmpty();
            assertThat(kept.sources().all()).isNotEmpty();
            assertThat(kept.releases().all()).isNotEmpty();
            assertThat(kept.answered().all()).isNotEmpty();
            assertThat(kept.accessKeys().all()).isNotEmpty();
            return null;
          });
    }
  }

  @Test
  void keepsWhatARunWasAndGivesItsJournalOutcomes() {
    try (H2Keeper keeper = open()) {
      Run run = keeper.read(kept -> kept.runs().find("3")).orElseThrow();
      assertThat(run.state()).isEqualTo(RunState.DONE);
      assertThat(run.application()).isEqualTo("fares");
      assertThat(run.version()).isEqualTo("2.4.0");
      assertThat(run.before()).isEqualTo("2.3.0");
      assertThat(run.site()).isEqualTo(new SiteKey("production", "north"));
      assertThat(run.startedBy()).isEqualTo("ines");
      assertThat(run.startedAt()).isNotNull();
      assertThat(run.noReturnAt()).isNotNull();
      assertThat(run.rows().toDo()).isEqualTo(run.rows().done());
      assertThat(run.backup()).isNotNull();
      assertThat(run.abortAsked()).isFalse();
      assertThat(run.goal().targets()).as("it did not know them").isEmpty();

      Journal journal = keeper.read(kept -> kept.journal(3));
      TargetId database = new TargetId("production/north/database");
      assertThat(journal.tries(database)).hasSize(1);
      assertThat(journal.entries())
          .filteredOn(j -> j.deed() == Deed.SWITCH && database.equals(j.target()))
          .extracting(JournalEntry::outcome)
          .containsExactly(null, Outcome.APPLIED);
      assertThat(journal.anyApplied()).isTrue();
      assertThat(journal.closed()).as("maintenance was ended").isFalse();
    }
  }

  /** What lists show was not stored by itself then; it is what the records say. */
  /** Answers were those of before alone. */
  @Test
  void givesARunBothAnswers() {
    ObjectNode run =
        (ObjectNode)
            MyBatisShelf.JSON.readTree(
                "{\"answers\":{\"quote\":{\"given\":true,\"text\":\"13.80\"}}}");

    ObjectNode now = Upgrades.RUN.get(1).apply(run);

    assertThat(now.get("answers").get("before").get("quote").get("text").asString())
        .isEqualTo("13.80");
    assertThat(now.get("answers").get("after").size()).isZero();
  }

  @Test
  void listsShowWhatWasThereBefore() {
    try (H2Keeper keeper = open()) {
      keeper.read(
          kept -> {
            assertThat(kept.promotions().heads(Kept.Filter.all(), Sight.EVERYWHERE).items())
                .isNotEmpty()
                .isEqualTo(kept.promotions().all().stream().map(PromotionHead::of).toList());
            assertThat(kept.runs().heads(Kept.Filter.all(), Sight.EVERYWHERE).items())
                .isNotEmpty()
                .isEqualTo(
                    kept.runs().all().stream()
                        .map(
                            r ->
                                RunHead.of(
                                    r,
                                    kept.promotions()
                                        .find(String.valueOf(r.promotion()))
                                        .orElseThrow()
                                        .purpose()))
                        .toList());
            assertThat(kept.runs().of(7)).extracting(Run::promotion).containsOnly(7L);
            return null;
          });
    }
  }

  @Test
  void keepsWhatAPromotionIsAndHowFarItCame() {
    try (H2Keeper keeper = open()) {
      Promotion waits = keeper.read(kept -> kept.promotions().find("15")).orElseThrow();
      assertThat(waits.state()).isEqualTo(PromotionState.READY);
      assertThat(waits.version()).isEqualTo(new SemVer("2.6.1"));
      assertThat(waits.present()).isEqualTo(new SemVer("2.4.1"));
      assertThat(waits.preparedBy()).isEqualTo("ines");
      assertThat(waits.components()).isNotEmpty();
      assertThat(waits.requirePlan().gates())
          .extracting(Plan.Condition::words)
          .contains("connections tested green");
      List<Promotion> back =
          keeper.read(kept -> kept.promotions().all()).stream()
              .filter(Promotion::rollback)
              .toList();
      assertThat(back).extracting(Promotion::coveredBy).containsExactlyInAnyOrder("P-4", "P-5");
    }
  }

  @Test
  void givesEveryTargetItsIdForEver() {
    try (H2Keeper keeper = open()) {
      Stage production = keeper.read(kept -> kept.stages().find("production")).orElseThrow();
      assertThat(production.sites())
          .flatExtracting(Stage.Site::targets)
          .extracting(Stage.Target::requireId)
          .contains(
              new TargetId("production/north/database"), new TargetId("production/south/host"));
    }
  }

  @Test
  void writesInTodaysFormatWhatItReadInAnother() {
    try (H2Keeper keeper = open()) {
      keeper.write(
          kept -> {
            kept.runs().replace(kept.runs().find("3").orElseThrow());
            kept.promotions().replace(kept.promotions().find("15").orElseThrow());
            return null;
          });
    }
    try (H2Keeper keeper = open()) {
      assertThat(keeper.read(kept -> kept.runs().find("3")).orElseThrow().version())
          .isEqualTo("2.4.0");
      assertThat(keeper.read(kept -> kept.promotions().find("15")).orElseThrow().version())
          .isEqualTo(new SemVer("2.6.1"));
    }
  }

  @Test
  void keepsTheChainOfTheHistory() {
    try (H2Keeper keeper = open()) {
      List<HistoryEntry> all =
          keeper.read(kept -> kept.history(Kept.HistoryFilter.part(0, 10_000)));
      assertThat(all).hasSizeGreaterThan(100);
      for (int i = 0; i < all.size(); i++) {
        HistoryEntry e = all.get(i);
        assertThat(e.computedHash()).isEqualTo(e.hash());
        if (i + 1 < all.size()) {
          assertThat(e.before()).isEqualTo(all.get(i + 1).hash());
        }
      }
    }
  }

  @Test
  void refusesARecordOfANewerBuildWithASentence() throws SQLException {
    open().close();
    try (Connection c = DriverManager.getConnection(url(), "plenzo", "");
        Statement s = c.createStatement()) {
      s.execute("UPDATE run SET body = '{\"number\":3,\"format\":99}' WHERE id = '3'");
    }
    try (H2Keeper keeper = open()) {
      assertThatIllegalStateException()
          .isThrownBy(() -> keeper.read(kept -> kept.runs().find("3")))
          .withMessageContaining("a newer Plenzo wrote it");
    }
  }

  @Test
  void givesTwoWhoBeginASeriesAtOnceTwoNumbers() throws Exception {
    try (H2Keeper keeper = open()) {
      java.util.concurrent.CountDownLatch both = new java.util.concurrent.CountDownLatch(2);
      java.util.concurrent.Callable<Long> next =
          () ->
              keeper.write(
                  kept -> {
                    both.countDown();
                    try {
                      both.await();
                    } catch (InterruptedException e) {
                      throw new IllegalStateException(e);
                    }
                    return kept.next("fresh");
                  });
      java.util.concurrent.ExecutorService pool =
          java.util.concurrent.Executors.newFixedThreadPool(2);
      try {
        List<java.util.concurrent.Future<Long>> got = pool.invokeAll(List.of(next, next));
        assertThat(List.of(got.get(0).get(), got.get(1).get())).containsExactlyInAnyOrder(1L, 2L);
      } finally {
        pool.shutdownNow();
      }
    }
  }
}
