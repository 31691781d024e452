package plenzo.engine.sealing;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static plenzo.engine.kit.EngineKit.BAND;
import static plenzo.engine.kit.EngineKit.row;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.Map;
import java.util.TreeMap;
import java.util.zip.ZipEntry;
import java.util.zip.ZipInputStream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.core.problem.Problem;
import plenzo.core.retention.Rules;
import plenzo.core.retention.Sort;
import plenzo.core.source.SourceCopies;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;

/** What an editing stage held is kept, on a schedule, and is there when the stage is not. */
class SourceCopierTest extends KitTest {
  @BeforeEach
  void world() {
    kit.adopt();
  }

  private SourceCopier copier() {
    return kit.engine().copies();
  }

  private SourceCopies copies() {
    return copier().of(kit.ines, "fares");
  }

  private Map<String, String> read(String id) throws IOException {
    Map<String, String> out = new TreeMap<>();
    try (InputStream in = copier().open(kit.ines, "fares", id);
        ZipInputStream zip = new ZipInputStream(in)) {
      for (ZipEntry e = zip.getNextEntry(); e != null; e = zip.getNextEntry()) {
        out.put(e.getName(), new String(zip.readAllBytes(), StandardCharsets.UTF_8));
      }
    }
    return out;
  }

  @Test
  void aCopyHoldsWhatWasEditedThenWhateverBecameOfIt() throws IOException {
    kit.development().row(BAND, row("PEAK", "31.00"));
    SourceCopies.Copy copy = copier().take(kit.ines, "fares");
    kit.development().row(BAND, row("PEAK", "99.00"));

    assertThat(read(copy.id()).get("records/" + BAND + ".csv"))
        .contains("31.00")
        .doesNotContain("99.00");
    assertThat(read(copy.id())).containsKey("tables/" + BAND + ".json");
    assertThat(copy.bytes()).isPositive();
  }

  @Test
  void oneIsTakenWhenItIsDueAndNotBefore() {
    copier().goOn();
    assertThat(copies().copies()).as("nobody asked for any").isEmpty();

    copier().every(kit.ines, "fares", 2);
    copier().goOn();
    copier().goOn();
    assertThat(copies().copies()).hasSize(1);

    kit.clock.tick(Duration.ofHours(47));
    copier().goOn();
    assertThat(copies().copies()).hasSize(1);

    kit.clock.tick(Duration.ofHours(1));
    copier().goOn();
    assertThat(copies().copies()).extracting(SourceCopies.Copy::id).containsExactly("C-2", "C-1");
    assertThat(copies().copies().get(0).by()).isEqualTo("plenzo");
  }

  @Test
  void oneThatCannotBeTakenSaysWhyOnceAndIsTriedAgainAfterAnHour() {
    copier().every(kit.ines, "fares", 1);
    copier().goOn();
    kit.clock.tick(Duration.ofDays(1));
    kit.development().script.fallSilent();
    copier().goOn();
    copier().goOn();

    assertThat(copies().trouble()).isNotEmpty();
    long said =
        kit.read(
                kept ->
                    kept.history(
                        new Kept.HistoryFilter("fares", null, "source not copied", null, 0, 9)))
            .size();
    assertThat(said).isEqualTo(1);

    kit.development().script.wake();
    copier().goOn();
    assertThat(copies().copies()).hasSize(1);
    kit.clock.tick(Duration.ofHours(2));
    copier().goOn();
    assertThat(copies().copies()).hasSize(2);
    assertThat(copies().trouble()).isEmpty();
  }

  @Test
  void whereTheNewestIsTwiceAsOldAsItShouldBeThatIsSaid() {
    copier().every(kit.ines, "fares", 1);
    copier().goOn();
    assertThat(copies().warning(kit.clock.instant())).isEmpty();

    kit.clock.tick(Duration.ofDays(3));
    assertThat(copies().warning(kit.clock.instant()))
        .isEqualTo("The newest copy of its source is of 2027-03-01 and should be taken every day");
    assertThat(
            kit.engine()
                .sourceWatch()
                .warning(
                    kit.engine().applications().get(kit.ines, "fares"),
                    kit.engine().sourceWatch().seen("fares")))
        .contains("should be taken every day");
  }

  @Test
  void theNewestOneStaysHoweverOldAndTheOthersGo() {
    copier().take(kit.ines, "fares");
    copier().take(kit.ines, "fares");
    kit.clock.tick(Duration.ofDays(100));
    Rules thirty = new Rules(Map.of(Sort.COPY, 30), false);
    kit.engine().retention().set(kit.ines, thirty);

    kit.engine()
        .retention()
        .clear(kit.ines, kit.engine().retention().preview(kit.ines, thirty).digest().hex());

    assertThat(copies().copies()).extracting(SourceCopies.Copy::id).containsExactly("C-2");
    assertThatThrownBy(() -> copier().open(kit.ines, "fares", "C-1"))
        .hasMessageContaining("The copy C-1 was cleared at");
  }

  @Test
  void whoMayNotHandItOutDoesNotGetIt() {
    copier().take(kit.ines, "fares");
    Person looks = EngineKit.person("odile", Right.LOOK);

    assertThatThrownBy(() -> copier().open(looks, "fares", "C-1")).isInstanceOf(Problem.class);
    assertThatThrownBy(() -> copier().take(looks, "fares")).isInstanceOf(Problem.class);
    assertThatThrownBy(() -> copier().every(looks, "fares", 1)).isInstanceOf(Problem.class);
  }

  @Test
  void moreSeldomThanEveryNinetyDaysIsNoSchedule() {
    assertThatThrownBy(() -> copier().every(kit.ines, "fares", 91))
        .hasMessageContaining("every 1 to 90 days");
  }
}
