package plenzo.core.digest;

import java.io.IOException;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.security.DigestOutputStream;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;
import java.util.regex.Pattern;
import plenzo.core.json.Json;

/** A SHA-256 digest in 64 lower-case hexadecimal digits. */
public record Digest(String hex) implements Comparable<Digest> {
  private static final Pattern FORM = Pattern.compile("[0-9a-f]{64}");

  public Digest {
    if (!isOne(hex)) {
      throw new IllegalArgumentException("Not a SHA-256 digest: \"" + hex + "\"");
    }
  }

  public static boolean isOne(String text) {
    return FORM.matcher(text).matches();
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

  /** Of the canonical text, which is never held whole. */
  public static Digest of(Json json) {
    MessageDigest digest = sha256();
    try {
      json.writeTo(new DigestOutputStream(OutputStream.nullOutputStream(), digest));
    } catch (IOException e) {
      throw new UncheckedIOException("A digest takes everything", e);
    }
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
