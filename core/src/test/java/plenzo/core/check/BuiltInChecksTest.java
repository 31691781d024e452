package plenzo.core.check;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import plenzo.core.component.ComponentKey;

class BuiltInChecksTest {
  private static final String RULE =
      "{\"format\":1,\"kind\":\"rule\",\"name\":\"a.r\",\"title\":\"%s\",\"inputs\":[{\"name\":\"the-key\",\"type\":\"text\",\"secret\":true}],\"definition\":%s}";

  private static List<String> found(String key, String text, long size) {
    ComponentKey k = ComponentKey.of(key);
    byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
    List<String> out = new ArrayList<>();
    for (ContentCheck check : BuiltInChecks.all()) {
      if (check.kinds().contains(k.kind())) {
        try {
          check.check(
              new ContentCheck.Content(k, size, () -> new ByteArrayInputStream(bytes)),
              r -> out.add(r.severity() + " " + check.id() + " " + r.part()));
        } catch (IOException e) {
          throw new IllegalStateException(e);
        }
      }
    }
    return out;
  }

  private static List<String> rule(String title, String definition) {
    return found("rule/a.r", RULE.formatted(title, definition), 100);
  }

  @Test
  void findsAnAddressThatEveryStageWouldShare() {
    assertThat(rule("T", "{\"calls\":[\"https://pay.example/v1\"]}"))
        .containsExactly("RISK address-inside /definition/calls/0");
    assertThat(rule("T", "{\"says\":\"see https://pay.example for more\",\"calls\":\"pay\"}"))
        .isEmpty();
  }

  @Test
  void findsTextThatLooksLikeASecretButNotTheNameOfAnInput() {
    assertThat(rule("T", "{\"a/b\":{\"Api_Key\":\"x1\"}}"))
        .containsExactly("BLOCKER secret-inside /definition/a~1b/Api_Key");
    assertThat(rule("T", "{\"apiKey\":\"the-key\",\"password\":\"\",\"key\":\"x1\"}")).isEmpty();
  }

  @Test
  void notesWhatHasNoTitleIsLargeOrHasNoKey() {
    assertThat(rule("", "{}")).containsExactly("NOTE no-title ");
    assertThat(found("file/a/b", "{}\n", BuiltInChecks.LARGE_FILE))
        .containsExactly("NOTE large-file ");
    assertThat(found("file/a/b", "{}\n", BuiltInChecks.LARGE_FILE - 1)).isEmpty();
    assertThat(found("table/a.b", plenzo.core.table.TableStructure.EMPTY.canonical(), 100))
        .containsExactly("NOTE no-key ");
  }
}
