package plenzo.core.json;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class JsonTest {
  /** The sorting example of RFC 8785, section 3.2.3: members by UTF-16 code units. */
  @Test
  void sortsMembersAsRfc8785Says() {
    String text =
        "{\"\\u20ac\":\"Euro Sign\",\"\\r\":\"Carriage Return\",\"\\ufb33\":\"Hebrew Letter Dalet With Dagesh\",\"1\":\"One\",\"\\ud83d\\ude00\":\"Emoji: Grinning Face\",\"\\u0080\":\"Control\",\"\\u00f6\":\"Latin Small Letter O With Diaeresis\"}";

    String canonical = Json.parse(text).canonical();

    assertThat(canonical)
        .isEqualTo(
            "{\"\\r\":\"Carriage Return\",\"1\":\"One\",\"\u0080\":\"Control\",\"ö\":\"Latin Small Letter O With Diaeresis\",\"€\":\"Euro Sign\",\"😀\":\"Emoji: Grinning Face\",\"\uFB33\":\"Hebrew Letter Dalet With Dagesh\"}");
  }

  @Test
  void escapesOnlyWhatItMust() {
    assertThat(Json.parse("[\"\\u0007\\b\\t\\n\\f\\r\\\"\\\\\\/é\"]").canonical())
        .isEqualTo("[\"\\u0007\\b\\t\\n\\f\\r\\\"\\\\/é\"]");
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "{\"a\":1,\"a\":2}",
        "[\"\\ud83d\"]",
        "\uFEFF{}",
        "9007199254740992",
        "1.5",
        "1e3",
        "[01]",
        "[1,]",
        "{\"a\":1} x",
        "[\"a\nb\"]",
        "nul",
        "\"open",
        "[\"\\x\"]",
        ""
      })
  void refusesWhatHasNoOneMeaning(String text) {
    assertThatThrownBy(() -> Json.parse(text)).isInstanceOf(JsonRefused.class);
  }

  @Test
  void saysWhereItRefused() {
    assertThatThrownBy(() -> Json.parse("{\"a\":{\"b/c\":[true,1.5]}}"))
        .isInstanceOfSatisfying(
            JsonRefused.class, e -> assertThat(e.pointer()).isEqualTo("/a/b~1c/1"));
  }

  @Test
  void keepsTheStackWhenNestingIsHostile() {
    assertThatThrownBy(() -> Json.parse("[".repeat(100_000))).isInstanceOf(JsonRefused.class);
  }
}
