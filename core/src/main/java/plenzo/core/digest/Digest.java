package plenzo.core.digest;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;

/** A SHA-256 digest in 64 lower-case hexadecimal digits. */
public record Digest(String hex) implements Comparable<Digest> {
  public Digest {
    if (!hex.matches("[0-9a-f]{64}")) {
      throw new IllegalArgumentException("Not a SHA-256 digest: \"" + hex + "\"");
    }
  }

  public static MessageDigest sha256() {
    try {
      return MessageDigest.getInstance("SHA-256");
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException("Every JDK has SHA-256", e);
    }
  }

  public static Digest of(MessageDigest digest) {
    return new Digest(HexFormat.of().formatHex(digest.digest()));
  }

  public static Digest of(String text) {
    MessageDigest digest = sha256();
    digest.update(text.getBytes(StandardCharsets.UTF_8));
    return of(digest);
  }

  /** Twelve characters for people to tell two digests apart; machines compare all of it. */
  public String brief() {
    return hex.substring(0, 12);
  }

  @Override
  public int compareTo(Digest other) {
    return hex.compareTo(other.hex);
  }
}
