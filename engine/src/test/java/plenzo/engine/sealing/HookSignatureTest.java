package plenzo.engine.sealing;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import org.junit.jupiter.api.Test;

class HookSignatureTest {
  private static final byte[] BODY =
      "The quick brown fox jumps over the lazy dog".getBytes(StandardCharsets.UTF_8);

  /** A published HMAC-SHA256 vector: key "key". */
  private static final String KNOWN =
      "sha256=f7bc83f430538424b13298e6aa6fb143ef4d59a14946175997479dbc2d1a3cd8";

  @Test
  void isTheHmacOfTheBody() {
    assertThat(HookSignature.of("key", BODY)).isEqualTo(KNOWN);
    assertThat(HookSignature.fits("key", BODY, KNOWN)).isTrue();
  }

  @Test
  void fitsNoOtherBodySecretOrText() {
    assertThat(HookSignature.fits("key", new byte[] {1}, KNOWN)).isFalse();
    assertThat(HookSignature.fits("kez", BODY, KNOWN)).isFalse();
    assertThat(HookSignature.fits("key", BODY, KNOWN.toUpperCase(java.util.Locale.ROOT))).isFalse();
    assertThat(HookSignature.fits("key", BODY, null)).isFalse();
  }

  @Test
  void neverFitsWhereThereIsNoHook() {
    assertThat(HookSignature.fits("", BODY, HookSignature.of("-", BODY))).isFalse();
  }
}
