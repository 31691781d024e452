package plenzo.core.component;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import plenzo.core.digest.Digest;

/** How content is digested: kind and canonical bytes, nothing else (format 1). */
public final class ContentDigest {
  private ContentDigest() {}

  /** A digest to which the canonical bytes are added. */
  public static MessageDigest begin(Kind kind) {
    MessageDigest digest = Digest.sha256();
    digest.update(("plenzo 1 " + kind.code() + "\n").getBytes(StandardCharsets.UTF_8));
    return digest;
  }

  public static Digest of(Kind kind, byte[] canonical) {
    MessageDigest digest = begin(kind);
    digest.update(canonical);
    return Digest.of(digest);
  }
}
