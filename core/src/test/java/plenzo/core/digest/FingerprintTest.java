package plenzo.core.digest;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import org.junit.jupiter.api.Test;

class FingerprintTest {
  @Test
  void showsItsFirstSixtyBitsInThreeGroups() {
    Fingerprint f = new Fingerprint(new Digest("f".repeat(15) + "0".repeat(49)));

    assertThat(f.shown()).isEqualTo("zzzz-zzzz-zzzz");
    assertThat(f.matches("ZZZZ-zzzz-zzzz")).isTrue();
    assertThat(f.matches(f.digest().hex())).isTrue();
    assertThat(f.matches("zzzz-zzzz-zzz0")).isFalse();
    assertThat(f.matches(f.digest().hex().substring(0, 63))).isFalse();
  }

  @Test
  void sumsRowsWithoutTheirOrderButNotWithoutTheirCount() {
    RowSum a = sum("x", "y");
    RowSum b = sum("y", "x");
    RowSum twice = sum("x", "x", "y");

    assertThat(a.digest()).isEqualTo(b.digest());
    assertThat(twice.digest()).isNotEqualTo(a.digest());
    assertThat(sum("x", "z").digest()).isNotEqualTo(a.digest());
  }

  private static RowSum sum(String... rows) {
    RowSum out = new RowSum();
    for (String row : rows) {
      out.add(row.getBytes(StandardCharsets.UTF_8));
    }
    return out;
  }

  /** Somebody gave a whole document; it is not said back. */
  @Test
  void saysBackOnlyWhatCouldBeOne() {
    assertThat(Fingerprint.given("7c1e-90ab-k3mz")).isEqualTo("7c1e-90ab-k3mz");
    assertThat(Fingerprint.given("x".repeat(64))).hasSize(64);
    assertThat(Fingerprint.given("x".repeat(65))).hasSize(65).endsWith("…");
  }
}
