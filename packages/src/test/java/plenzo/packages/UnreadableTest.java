package plenzo.packages;

import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayInputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.assertj.core.api.ThrowableAssert.ThrowingCallable;
import org.junit.jupiter.api.Test;

/**
 * Whatever is no document is refused by one kind of error, in a sentence without a class's name.
 */
class UnreadableTest {
  private static final List<String> TEXTS =
      List.of(
          "",
          "null",
          "7",
          "\"x\"",
          "[]",
          "{}",
          "{",
          "{\"a\":1.5}",
          "{\"a\":1,\"a\":2}",
          "\uFEFF{}",
          "\u0000",
          "{\"payloadType\":7}",
          "{\"payload\":[],\"payloadType\":\"application/vnd.plenzo.history+json\",\"signatures\":[]}",
          "{\"payload\":\"bnVsbA==\",\"payloadType\":\"application/vnd.in-toto+json\",\"signatures\":[7]}",
          "{\"format\":1}",
          "{\"format\":1,\"components\":[7],\"application\":[],\"bom\":null}",
          "{\"format\":1,\"components\":{},\"application\":{\"id\":7},\"bom\":{}}");

  private static void refused(String text, ThrowingCallable reading) {
    assertThatThrownBy(reading)
        .as(text)
        .isInstanceOf(PackageRefused.class)
        .message()
        .doesNotContain("class ")
        .doesNotContain("java.")
        .endsWith(".");
  }

  private static void refusedByAll(String text) {
    refused(text, () -> SignedHead.read(text));
    refused(text, () -> Envelope.read(text));
    refused(
        text,
        () -> ManifestReader.read(new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8))));
  }

  @Test
  void refusesWhatIsNoDocument() {
    TEXTS.forEach(UnreadableTest::refusedByAll);
  }

  /** Pieces of such documents in any order, the same at each run. */
  @Test
  void refusesWhateverIsPutTogether() {
    Random random = new Random(20261127);
    List<String> pieces =
        new ArrayList<>(List.of("{", "}", "[", "]", ":", ",", "\"", "\\", "7", "null"));
    pieces.addAll(
        List.of(
            "\"format\":1",
            "\"payload\":\"\"",
            "\"components\":",
            "\"application\":",
            "\"signatures\":"));
    for (int n = 0; n < 20_000; n++) {
      StringBuilder text = new StringBuilder();
      for (int k = random.nextInt(12); k >= 0; k--) {
        text.append(pieces.get(random.nextInt(pieces.size())));
      }
      refusedByAll(text.toString());
    }
  }
}
