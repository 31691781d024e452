package plenzo.packages;

import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.KeyFactory;
import java.security.KeyPair;
import java.security.KeyPairGenerator;
import java.security.PrivateKey;
import java.security.PublicKey;
import java.security.SecureRandom;
import java.security.Signature;
import java.security.spec.PKCS8EncodedKeySpec;
import java.security.spec.X509EncodedKeySpec;
import java.util.Base64;
import java.util.HexFormat;
import java.util.List;
import plenzo.core.digest.Digest;
import plenzo.core.json.Json;

/** Ed25519 keys (RFC 8032) and the signing of DSSE payloads (DSSE 1.0). */
public final class Signatures {
  private static final String ALGORITHM = "Ed25519";

  private Signatures() {}

  /**
   * A key pair as text.
   *
   * @param id SHA-256 of the public key's encoding
   * @param open X.509 encoding in Base64
   * @param secret PKCS 8 encoding in Base64
   */
  public record Keys(String id, String open, String secret) {
    @Override
    public String toString() {
      return "key " + id;
    }
  }

  public static Keys make(SecureRandom random) {
    try {
      KeyPairGenerator generator = KeyPairGenerator.getInstance(ALGORITHM);
      generator.initialize(255, random);
      KeyPair pair = generator.generateKeyPair();
      byte[] open = pair.getPublic().getEncoded();
      return new Keys(
          id(open),
          Base64.getEncoder().encodeToString(open),
          Base64.getEncoder().encodeToString(pair.getPrivate().getEncoded()));
    } catch (GeneralSecurityException e) {
      throw new IllegalStateException("Every JDK from 15 on has Ed25519", e);
    }
  }

  private static String id(byte[] open) {
    java.security.MessageDigest digest = Digest.sha256();
    return HexFormat.of().formatHex(digest.digest(open));
  }

  /**
   * The id of a public key.
   *
   * @throws IllegalArgumentException when the text is no Ed25519 public key
   */
  public static String id(String open) {
    PublicKey key = open(open);
    return id(key.getEncoded());
  }

  private static PublicKey open(String text) {
    try {
      return KeyFactory.getInstance(ALGORITHM)
          .generatePublic(new X509EncodedKeySpec(Base64.getDecoder().decode(text.strip())));
    } catch (GeneralSecurityException | IllegalArgumentException e) {
      throw new IllegalArgumentException(
          "A public key is the Base64 text of an Ed25519 key in X.509 encoding", e);
    }
  }

  /**
   * What DSSE signs: type and payload with their lengths, so that neither can run into the other.
   */
  static byte[] authenticated(String type, byte[] payload) {
    byte[] head =
        ("DSSEv1 "
                + type.getBytes(StandardCharsets.UTF_8).length
                + " "
                + type
                + " "
                + payload.length
                + " ")
            .getBytes(StandardCharsets.UTF_8);
    byte[] out = new byte[head.length + payload.length];
    System.arraycopy(head, 0, out, 0, head.length);
    System.arraycopy(payload, 0, out, head.length, payload.length);
    return out;
  }

  static byte[] sign(String secret, String type, byte[] payload) {
    try {
      PrivateKey key =
          KeyFactory.getInstance(ALGORITHM)
              .generatePrivate(new PKCS8EncodedKeySpec(Base64.getDecoder().decode(secret)));
      Signature signature = Signature.getInstance(ALGORITHM);
      signature.initSign(key);
      signature.update(authenticated(type, payload));
      return signature.sign();
    } catch (GeneralSecurityException e) {
      throw new IllegalStateException("The key cannot sign", e);
    }
  }

  static boolean holds(String open, String type, byte[] payload, byte[] signed) {
    try {
      Signature signature = Signature.getInstance(ALGORITHM);
      signature.initVerify(open(open));
      signature.update(authenticated(type, payload));
      return signature.verify(signed);
    } catch (GeneralSecurityException e) {
      return false;
    }
  }

  /** A DSSE envelope with one signature, as canonical JSON. */
  public static String envelope(Keys keys, String type, byte[] payload) {
    return Json.object(
            "payloadType",
            type,
            "payload",
            Base64.getEncoder().encodeToString(payload),
            "signatures",
            List.of(
                Json.object(
                    "keyid",
                    keys.id(),
                    "sig",
                    Base64.getEncoder().encodeToString(sign(keys.secret(), type, payload)))))
        .canonical();
  }
}
