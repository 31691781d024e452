package plenzo.engine.looking;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.history.HistoryEntry.Event;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;

/** The history cannot be shortened or rewritten unseen: its head is kept where it cannot reach. */
class HistoryTest extends KitTest {

  @BeforeEach
  void world() {
    kit.adopt();
    kit.engine().keys().make(kit.ines, "here");
  }

  private History.Chain verify(String head) {
    return kit.engine().history().verify(kit.ines, head);
  }

  @Test
  void isWholeAndSaysAgainstWhat() {
    kit.sealPeak("1.1.0", "25.00");
    kit.bring("1.1.0");

    History.Chain chain = verify(kit.engine().history().head(kit.ines));

    assertThat(chain.whole()).isTrue();
    assertThat(chain.anchors()).as("a marker, and the file").hasSizeGreaterThanOrEqualTo(2);
    assertThat(chain.silent()).isEmpty();
  }

  private List<String> found(History.Sought sought, int most) {
    return kit
        .engine()
        .history()
        .find(
            kit.ines,
            new plenzo.core.keeping.Kept.HistoryFilter("fares", null, null, null, 0, most),
            sought)
        .items()
        .stream()
        .map(e -> e.event() + " " + e.version())
        .toList();
  }

  @Test
  void isSearchedByWhatItSaysWhenAndForWhichTask() {
    kit.clock.tick(java.time.Duration.ofDays(1));
    Instant second = kit.clock.instant();
    kit.development().row(EngineKit.BAND, EngineKit.row("PEAK", "25.00"));
    String draft = kit.draft(null);
    kit.engine()
        .drafts()
        .seal(
            kit.ines,
            draft,
            new plenzo.engine.sealing.Drafts.Statement(
                new plenzo.core.version.SemVer("1.1.0"),
                "Summer Fares",
                "",
                null,
                List.of("FERRY-118")));
    kit.bring("1.1.0");

    assertThat(found(new History.Sought(null, "summer f", null, null, null), 9))
        .containsExactly("promotion prepared 1.1.0", "sealed 1.1.0");
    assertThat(found(new History.Sought(null, null, "FERRY-118", null, null), 90))
        .contains("run done 1.1.0", "sealed 1.1.0")
        .doesNotContain("adopted 1.0.0");
    assertThat(found(new History.Sought(null, null, "FERRY-11", null, null), 9)).isEmpty();
    assertThat(found(new History.Sought(null, null, null, second, null), 90))
        .doesNotContain("adopted 1.0.0")
        .contains("sealed 1.1.0");
    assertThat(found(new History.Sought(null, null, null, null, second), 90))
        .contains("adopted 1.0.0")
        .doesNotContain("sealed 1.1.0");
    assertThat(found(new History.Sought("main", null, null, null, null), 90))
        .contains("adopted 1.0.0")
        .doesNotContain("sealed 1.1.0");
    var first =
        kit.engine()
            .history()
            .find(
                kit.ines,
                new plenzo.core.keeping.Kept.HistoryFilter("fares", null, null, null, 0, 1),
                new History.Sought(null, "summer", null, null, null));
    assertThat(first.items()).hasSize(1);
    assertThat(first.next()).isEqualTo(first.items().get(0).sequence());
  }

  /** More entries than are in the memory at once, one of them altered long ago. */
  @Test
  void isReadToItsBeginning() throws SQLException {
    long all =
        kit.write(
            kept -> {
              for (int n = 0; n < 4_200; n++) {
                kept.note(Event.of("ines", "signed in", "Entry " + n), Instant.EPOCH);
              }
              return kept.head().number();
            });
    assertThat(verify(null).entries()).isEqualTo(all);
    assertThat(verify(null).whole()).isTrue();
    List<History.Progress> told = new ArrayList<>();
    kit.engine().history().walk(Map.of(), told::add);
    assertThat(told)
        .as("how far it is is told page by page")
        .containsExactly(new History.Progress(0, all), new History.Progress(4_000, all));
    assertThat(kit.engine().history().verifying(kit.ines)).isEqualTo(History.Progress.NONE);
    Path altered = kit.copyOfRecords(folder.resolve("altered.mv.db"));
    try (Connection c =
            DriverManager.getConnection(
                "jdbc:h2:file:" + folder.resolve("altered").toAbsolutePath(), "plenzo", "");
        Statement s = c.createStatement()) {
      assertThat(s.executeUpdate("UPDATE history SET text = 'Another' WHERE sequence = 40"))
          .isEqualTo(1);
    }
    kit.restart(altered);

    assertThat(verify(null).broken()).isEqualTo(40);
  }

  @Test
  void aTailThatWasCutIsNoticedByTheMarkers() {
    Path earlier = kit.copyOfRecords(folder.resolve("earlier"));
    kit.sealPeak("1.1.0", "25.00");
    kit.bring("1.1.0");
    kit.restart(earlier);

    History.Chain chain = verify(null);

    assertThat(chain.broken()).as("what is left is linked").isZero();
    assertThat(chain.whole()).isFalse();
    assertThat(chain.anchors())
        .anySatisfy(
            a -> {
              assertThat(a.where()).contains("database");
              assertThat(a.why()).contains("the history was cut");
            });
  }

  @Test
  void aTailThatWasCutIsNoticedByAKeptHead() {
    Path earlier = kit.copyOfRecords(folder.resolve("earlier"));
    kit.sealPeak("1.1.0", "25.00");
    String head = kit.engine().history().head(kit.ines);
    assertThat(verify(head).whole()).isTrue();
    kit.restart(earlier);

    assertThat(verify(null).whole()).as("nothing outside knows of it").isTrue();
    assertThat(verify(head).whole()).isFalse();
  }

  @Test
  void aHeadThatWasAlteredIsNotTaken() {
    String head = kit.engine().history().head(kit.ines);
    String other = head.replaceFirst("[0-9a-f]{64}", "0".repeat(64));
    assertThat(other).isNotEqualTo(head);

    assertThatThrownBy(() -> verify(other))
        .isInstanceOf(Problem.class)
        .hasMessageContaining("the head of a history was altered");
  }

  @Test
  void saysWhatCouldNotBeRead() {
    kit.sealPeak("1.1.0", "25.00");
    kit.bring("1.1.0");
    kit.production().script.fallSilent();

    assertThat(verify(null).silent()).anySatisfy(s -> assertThat(s).contains("database"));
  }

  @Test
  void isForThoseWhoAudit() {
    assertThatThrownBy(
            () -> kit.engine().history().head(EngineKit.person("runner", Right.LOOK, Right.RUN)))
        .isInstanceOf(Problem.class);
  }
}
