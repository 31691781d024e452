package plenzo.engine.looking;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Path;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
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
        .hasMessageContaining("the head was altered");
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
