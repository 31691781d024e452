package plenzo.engine.sealing;

import java.nio.charset.StandardCharsets;
import java.security.InvalidKeyException;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;
import java.util.Objects;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;
import org.jspecify.annotations.Nullable;

/** The signature of a hook's call: "sha256=" and the HMAC (RFC 2104) of its body in hexadecimal. */
public final class HookSignature {
  private HookSignature() {}

  /** In constant time; never for an empty secret, which is that of a hook that does not exist. */
  static boolean fits(String secret, byte[] body, @Nullable String signature) {
    byte[] expected = of(secret.isEmpty() ? "-" : secret, body).getBytes(StandardCharsets.UTF_8);
    byte[] sent = Objects.requireNonNullElse(signature, "").getBytes(StandardCharsets.UTF_8);
    return MessageDigest.isEqual(expected, sent) && !secret.isEmpty();
  }

  public static String of(String secret, byte[] body) {
    try {
      Mac mac = Mac.getInstance("HmacSHA256");
      mac.init(new SecretKeySpec(secret.getBytes(StandardCharsets.UTF_8), "HmacSHA256"));
      return "sha256=" + HexFormat.of().formatHex(mac.doFinal(body));
    } catch (NoSuchAlgorithmException | InvalidKeyException e) {
      throw new IllegalStateException("Every JDK has HmacSHA256", e);
    }
  }
}
