package plenzo.engine;

import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.SecureRandom;
import java.util.Base64;
import javax.crypto.Cipher;
import javax.crypto.spec.GCMParameterSpec;
import javax.crypto.spec.SecretKeySpec;
import plenzo.core.digest.Digest;

/**
 * Encrypts secrets with AES-256-GCM: a random nonce each, the record's id as associated data, so
 * that a cipher text cannot be moved to another record.
 */
public final class Vault {
  private static final int NONCE = 12;

  private final SecretKeySpec key;
  private final SecureRandom random;
  private final String keyId;

  /**
   * @param key 32 bytes, from a file outside the data directory
   */
  public Vault(byte[] key, SecureRandom random) {
    if (key.length != 32) {
      throw new IllegalArgumentException("The key has " + key.length + " bytes instead of 32");
    }
    this.key = new SecretKeySpec(key, "AES");
    this.random = random;
    this.keyId = Digest.of(Base64.getEncoder().encodeToString(key)).brief();
  }

  /** Names the key without telling it. */
  public String keyId() {
    return keyId;
  }

  public String encrypt(String record, String secret) {
    byte[] nonce = new byte[NONCE];
    random.nextBytes(nonce);
    byte[] sealed =
        crypt(Cipher.ENCRYPT_MODE, record, nonce, secret.getBytes(StandardCharsets.UTF_8));
    return Base64.getEncoder()
        .encodeToString(ByteBuffer.allocate(NONCE + sealed.length).put(nonce).put(sealed).array());
  }

  /**
   * @throws IllegalStateException when the key is another one or the cipher text was altered
   */
  public String decrypt(String record, String cipher) {
    byte[] bytes = Base64.getDecoder().decode(cipher);
    byte[] nonce = java.util.Arrays.copyOf(bytes, NONCE);
    return new String(
        crypt(
            Cipher.DECRYPT_MODE,
            record,
            nonce,
            java.util.Arrays.copyOfRange(bytes, NONCE, bytes.length)),
        StandardCharsets.UTF_8);
  }

  private byte[] crypt(int mode, String record, byte[] nonce, byte[] text) {
    try {
      Cipher cipher = Cipher.getInstance("AES/GCM/NoPadding");
      cipher.init(mode, key, new GCMParameterSpec(128, nonce));
      cipher.updateAAD(record.getBytes(StandardCharsets.UTF_8));
      return cipher.doFinal(text);
    } catch (GeneralSecurityException e) {
      throw new IllegalStateException(
          "A secret of "
              + record
              + " cannot be read: the key file is another one, or the record was altered",
          e);
    }
  }
}
