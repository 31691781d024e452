package plenzo.engine.looking;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.history.HistoryEntry;
import plenzo.core.history.Thing;
import plenzo.core.keeping.Kept;
import plenzo.core.keeping.Slice;
import plenzo.core.person.Person;
import plenzo.core.stage.Connection;
import plenzo.engine.kit.EngineKit;
import plenzo.engine.kit.KitTest;

/** Everything that was changed of one thing of the set-up, and nothing of another, page by page. */
class ChangesOfTest extends KitTest {
  private static final int MANY = 7;

  @BeforeEach
  void changeItOftenAndAnotherOneBetween() {
    for (int n = 0; n < MANY; n++) {
      move("database", "elsewhere-" + n);
      move("host", "elsewhere-" + n);
    }
  }

  private void move(String name, String leadsTo) {
    Connection now =
        kit.engine().connections().list(kit.ines, "production").stream()
            .filter(c -> c.id().equals("production/" + name))
            .findFirst()
            .orElseThrow();
    kit.engine()
        .connections()
        .save(
            kit.ines,
            EngineKit.connection("production", name, now.sort(), leadsTo, now.revision()),
            "secret");
  }

  private Slice<HistoryEntry> part(Person by, long before, int limit) {
    return kit.engine()
        .history()
        .changes(by, Thing.of("connection/production/database"), before, limit);
  }

  @Test
  void pagesTogetherAreAllOfItNewestFirst() {
    List<HistoryEntry> all = new ArrayList<>();
    long next = 0;
    do {
      Slice<HistoryEntry> page = part(kit.ines, next, 3);
      assertThat(page.items()).hasSizeLessThanOrEqualTo(3);
      all.addAll(page.items());
      next = page.next();
    } while (next != 0);

    assertThat(all).hasSize(MANY + 1).doesNotHaveDuplicates();
    assertThat(all)
        .extracting(HistoryEntry::sequence)
        .isSortedAccordingTo((a, b) -> b.compareTo(a));
    assertThat(all).allMatch(e -> e.text().startsWith("production/database "));
    assertThat(all.get(0).text()).contains("elsewhere-" + (MANY - 1));
    assertThat(all.get(MANY).event()).isEqualTo("connection registered");
    assertThat(part(kit.ines, 0, 100).next()).isZero();
  }

  @Test
  void whoMaySeeNothingOfItSeesNoChange() {
    assertThat(part(Person.invited("gill", "Gill", "", false), 0, 10).items()).isEmpty();
  }

  /** The names and numbers that lists are narrowed to. */
  @Test
  void peopleAndVersionsAreFoundByLettersAndNumbers() {
    move("database", "production");
    move("host", "production");
    kit.adopt();
    kit.sealPeak("1.1.0", "25.00");

    assertThat(kit.engine().people().all(kit.ines, "RAM", Kept.Filter.all()).items())
        .extracting(Person::login)
        .containsExactly("bram");
    assertThat(kit.engine().people().all(kit.ines, " ", Kept.Filter.all()).items()).hasSize(2);
    assertThat(kit.engine().versions().numbered(kit.ines, "1.", 10))
        .extracting(v -> v.number().text())
        .containsExactly("1.1.0", "1.0.0");
    assertThat(kit.engine().versions().numbered(kit.ines, "1.", 1)).hasSize(1);
    assertThat(
            kit.engine().versions().numbered(Person.invited("gill", "Gill", "", false), "1.", 10))
        .isEmpty();
  }
}
