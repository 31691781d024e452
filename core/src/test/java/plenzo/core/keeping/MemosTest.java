package plenzo.core.keeping;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;

class MemosTest {
  private final List<String> worked = new ArrayList<>();
  private final Memos<String, String> memos = new Memos<>(2);

  private String get(String asked, long stamp) {
    return memos.get(
        asked,
        stamp,
        () -> {
          worked.add(asked + stamp);
          return asked + stamp;
        });
  }

  @Test
  void worksOnceForAStampAndAnewForTheNext() {
    assertThat(get("a", 1)).isEqualTo("a1");
    assertThat(get("a", 1)).isEqualTo("a1");
    assertThat(get("a", 2)).isEqualTo("a2");

    assertThat(worked).containsExactly("a1", "a2");
  }

  @Test
  void keepsWhatWasAskedLast() {
    get("a", 1);
    get("b", 1);
    get("a", 1);
    get("c", 1);
    get("a", 1);
    get("b", 1);

    assertThat(worked).as("b made room for c").containsExactly("a1", "b1", "c1", "b1");
  }

  /** Whoever failed leaves nothing behind. */
  @Test
  void doesNotKeepAFailure() {
    try {
      memos.get(
          "a",
          1,
          () -> {
            throw new IllegalStateException("no");
          });
    } catch (IllegalStateException e) {
      worked.add("failed");
    }

    assertThat(get("a", 1)).isEqualTo("a1");
    assertThat(worked).containsExactly("failed", "a1");
  }
}
