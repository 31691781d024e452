package plenzo.core.json;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
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

  /** Long enough that texts, escapes and names lie across the reader's pieces. */
  @Test
  void writesAndReadsALongListWithoutHoldingIt() throws IOException {
    List<Integer> numbers = IntStream.range(0, 20_000).boxed().toList();
    Json.Obj whole =
        Json.object(
            "after",
            List.of("€😀"),
            "items",
            Json.each(numbers, n -> Json.object("name", "a\"\u0007é" + n, "n", n)));
    ByteArrayOutputStream out = new ByteArrayOutputStream();

    whole.writeTo(out);

    assertThat(out.toString(StandardCharsets.UTF_8)).isEqualTo(whole.canonical());
    List<Json> items = new ArrayList<>();
    Json rest = pieces(out.toByteArray(), items, 100);
    assertThat(rest.canonical()).isEqualTo("{\"after\":[\"€😀\"],\"items\":[]}");
    assertThat(Json.object("after", List.of("€😀"), "items", items)).isEqualTo(whole);
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "{\"items\":[\"a text that is longer than an item may be\"]}",
        "{\"items\":[1],\"rest\":\"a text that is longer than all the rest may be\"}",
        "{\"items\":[1,2,3],\"one\":\"a text that\",\"two\":\"with a second one is too long\"}",
        "{\"items\":{\"no\":\"list\"}}"
      })
  void boundsWhatItKeepsOfADocumentReadInPieces(String text) {
    assertThatThrownBy(() -> pieces(text.getBytes(StandardCharsets.UTF_8), new ArrayList<>(), 40))
        .isInstanceOf(JsonRefused.class);
  }

  @Test
  void refusesBytesThatAreNoText() {
    assertThatThrownBy(() -> pieces(new byte[] {'"', (byte) 0xc3, '"'}, new ArrayList<>(), 40))
        .isInstanceOf(CharacterCodingException.class);
  }

  private static Json pieces(byte[] document, List<Json> items, int longest) throws IOException {
    return Json.parse(new ByteArrayInputStream(document), Map.of("items", items::add), longest);
  }
}
