package plenzo.store;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import plenzo.core.person.Right;
import plenzo.core.person.Role;
import plenzo.core.promotion.Promotion;
import plenzo.core.stage.SiteKey;
import plenzo.core.version.SemVer;

class ReadBeforeTest {
  private final ReadBefore before = new ReadBefore();

  private static BodyRow row(String id, int revision, String body) {
    return new BodyRow(1, id, revision, null, null, null, null, body);
  }

  private @Nullable Object asked(String id, int revision, String body, @Nullable String apart) {
    return before.of("run", row(id, revision, body), apart);
  }

  @Test
  void knowsARecordByItsVeryText() {
    Object record = new Object();
    before.keep("run", row("1", 2, "{\"state\":\"open\"}"), "plan", record);

    assertThat(asked("1", 2, "{\"state\":\"open\"}", "plan")).isSameAs(record);
    assertThat(asked("1", 2, "{\"state\":\"done\"}", "plan")).as("another text").isNull();
    assertThat(asked("1", 3, "{\"state\":\"open\"}", "plan")).as("another revision").isNull();
    assertThat(asked("1", 2, "{\"state\":\"open\"}", "other")).as("another part apart").isNull();
    assertThat(asked("1", 2, "{\"state\":\"open\"}", null)).as("nothing apart").isNull();
    assertThat(asked("2", 2, "{\"state\":\"open\"}", "plan")).as("another record").isNull();
    assertThat(before.of("stage", row("1", 2, "{\"state\":\"open\"}"), "plan"))
        .as("another table")
        .isNull();
  }

  @Test
  void forgetsWhatWasNotAskedForTheLongest() {
    String third = "x".repeat(ReadBefore.MOST / 3);
    for (String id : List.of("1", "2", "3")) {
      before.keep("run", row(id, 1, third), null, id);
    }
    assertThat(asked("1", 1, third, null)).isEqualTo("1");

    before.keep("run", row("4", 1, third), null, "4");

    assertThat(asked("1", 1, third, null)).isEqualTo("1");
    assertThat(asked("2", 1, third, null)).isNull();
    assertThat(asked("4", 1, third, null)).isEqualTo("4");
  }

  @Test
  void aTextThatWouldTakeMostOfTheRoomIsNotKept() {
    before.keep("run", row("1", 1, "small"), null, "small");
    String large = "x".repeat(ReadBefore.MOST / 2 + 1);

    before.keep("run", row("2", 1, large), null, "large");

    assertThat(asked("2", 1, large, null)).isNull();
    assertThat(asked("1", 1, "small", null)).isEqualTo("small");
  }

  @Test
  void forgetsEverythingWhereItIsTold() {
    before.keep("run", row("1", 1, "text"), null, "record");

    before.forget();

    assertThat(asked("1", 1, "text", null)).isNull();
  }

  /** What another session wrote, what was taken back, and what lies apart: always what is there. */
  @Test
  void theRecordsSayWhatIsThereWhateverWasReadBefore(@TempDir Path folder) {
    try (H2Keeper keeper = new H2Keeper(folder, () -> "service-1", 1 << 20)) {
      Promotion opened =
          Promotion.opened(
              1,
              Promotion.Goal.of("fares", new SemVer("1.0.0"), new SiteKey("test", "main")),
              new Promotion.Prepared("ines", Instant.EPOCH, ""));
      keeper.write(kept -> insert(kept.promotions(), opened));
      Promotion first = keeper.read(kept -> kept.promotions().find("1").orElseThrow());
      assertThat(keeper.<Promotion>read(kept -> kept.promotions().find("1").orElseThrow()))
          .isSameAs(first);

      keeper.write(kept -> kept.promotions().remove("1"));
      assertThat(keeper.<Boolean>read(kept -> kept.promotions().find("1").isPresent())).isFalse();

      keeper.write(kept -> insert(kept.roles(), role("Tester", 0)));
      assertThat(called(keeper)).isEqualTo("Tester");
      keeper.write(kept -> kept.roles().update(role("Examiner", 1)));
      assertThat(called(keeper)).isEqualTo("Examiner");

      keeper.write(kept -> kept.roles().remove("tester"));
      keeper.write(kept -> insert(kept.roles(), role("Judge", 0)));
      assertThat(called(keeper)).as("one of the same revision").isEqualTo("Judge");
    }
  }

  private static Role role(String name, int revision) {
    return new Role("tester", name, List.of(Right.LOOK), revision);
  }

  private static String called(H2Keeper keeper) {
    return keeper.read(kept -> kept.roles().find("tester").orElseThrow().name());
  }

  private static <T> boolean insert(plenzo.core.keeping.Kept.Shelf<T> shelf, T record) {
    shelf.insert(record);
    return true;
  }
}
