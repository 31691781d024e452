package plenzo.core.history;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Instant;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Whose change an event is: told by its place and how its text begins, and by nothing alike. */
class ThingTest {
  private static HistoryEntry entry(
      String event, @Nullable String application, @Nullable String stage, String text) {
    return HistoryEntry.after(
        7,
        HistoryEntry.START,
        Instant.EPOCH,
        new HistoryEntry.Event("ines", event, application, stage, null, null, null, null, text),
        Names.NONE);
  }

  @ParameterizedTest
  @CsvSource({
    "connection/test/look, test, test/look leads to db.example",
    "connection/test/look, test, 'test/look: a link to a tree'",
    "connection/test/look, test, test/look",
    "stage/test, test, approvals 0 to 1",
    "path/ordinary, , 'ordinary: stages test to test, production'",
    "role/approver, , Role approver gives approve",
    "role/approver, , Role approver",
    "person/edda, , Invited edda (Edda Brandt)",
    "person/edda, , edda is now shown as Edda",
    "person/edda, , edda can no longer sign in; 1 session ended",
    "person/edda, , Password of edda reset",
    "person/edda, , Rights of edda are now look everywhere",
    "person/edda, , A session of edda ended",
    "person/admin, , First administrator \"admin\"",
    "key/0123456789abcdef0123, , 'north, 0123456789ab'",
    "key/0123456789abcdef0123, , 'north, 0123456789ab: lost'",
  })
  void isAboutIt(String thing, @Nullable String stage, String text) {
    assertThat(Thing.of(thing).about().test(entry("x", null, stage, text))).isTrue();
  }

  @ParameterizedTest
  @CsvSource({
    "connection/test/look, test, test/look2 leads to db.example",
    "connection/test/look, production, test/look leads to db.example",
    "stage/test, production, approvals 0 to 1",
    "path/ordinary, , 'ordinary-two: stages test to production'",
    "role/approver, , Role approvers gives approve",
    "person/edda, , Invited eddard (Edda Brandt)",
    "person/edda, , Rights of eddard are now edda",
    "person/e.da, , edda is now shown as Edda",
    "key/0123456789abcdef0123, , 'north, 0123456789ff'",
  })
  void isAboutAnother(String thing, @Nullable String stage, String text) {
    assertThat(Thing.of(thing).about().test(entry("x", null, stage, text))).isFalse();
  }

  @Test
  void aValueIsOfItsApplicationAndStage() {
    Thing value = Thing.of("value/fares/test/api.url");

    assertThat(value.application()).isEqualTo("fares");
    assertThat(value.stage()).isEqualTo("test");
    assertThat(value.about().test(entry("binding set", "fares", "test", "api.url: https://x")))
        .isTrue();
    assertThat(value.about().test(entry("binding cleared", "fares", "test", "api.url"))).isTrue();
    assertThat(value.about().test(entry("binding set", "fares", "test", "api.url2: https://x")))
        .isFalse();
    assertThat(value.about().test(entry("binding set", "fares", "production", "api.url: x")))
        .isFalse();
    assertThat(value.about().test(entry("binding set", "sailings", "test", "api.url: x")))
        .isFalse();
  }

  @ParameterizedTest
  @ValueSource(strings = {"connection", "stage/", "", "ferry/fares"})
  void whatIsNothingOfTheSetUpIsRefusedWithAllThatThereIs(String text) {
    assertThatThrownBy(() -> Thing.of(text))
        .isInstanceOf(IllegalArgumentException.class)
        .hasMessageContaining("stage, connection, path, application, person, role, key, value");
  }
}
