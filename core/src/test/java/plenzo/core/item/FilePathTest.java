package plenzo.core.item;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Paths that may be written below a directory. */
class FilePathTest {
  @ParameterizedTest
  @ValueSource(
      strings = {
        "a",
        "fares/a.txt",
        "fares/.hidden",
        "a b/c…d",
        "fares/été.txt",
        "..a/b..",
        "🚢/x"
      })
  void takesRelativePaths(String path) {
    assertThat(FilePath.problem(path)).isEmpty();
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "",
        "/a",
        "a//b",
        "a/",
        "./a",
        "a/./b",
        "../a",
        "a/../b",
        "a\\b",
        "a\u0000b",
        "a\nb",
        "a\u007fb",
        "e\u0301",
        "a\ud800b",
        "a/\udc00"
      })
  void refusesEverythingElse(String path) {
    assertThat(FilePath.problem(path)).isNotEmpty();
  }

  @ParameterizedTest
  @ValueSource(ints = {255, 256})
  void countsBytesOfAPart(int length) {
    assertThat(FilePath.problem("a/" + "x".repeat(length)).isEmpty()).isEqualTo(length == 255);
  }

  @ParameterizedTest
  @CsvSource({
    "a, b, true",
    "a, ./b, true",
    "d/a, ../b, true",
    "d/a, ../../b, false",
    "a, ../b, false",
    "a, /etc/passwd, false",
    "d/e/a, ../../b/../c, true",
    "d/a, x/../../../b, false",
    "a, 'x\\y', false"
  })
  void keepsLinksInside(String path, String link, boolean inside) {
    assertThat(FilePath.staysInside(path, link)).isEqualTo(inside);
  }
}
