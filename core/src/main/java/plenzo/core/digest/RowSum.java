package plenzo.core.digest;

import java.security.MessageDigest;
import java.util.HexFormat;

/**
 * The digest of a set of rows without sorting them: the sum of the SHA-256 of each canonical row
 * modulo 2^256, together with the count. Not for threads.
 */
public final class RowSum {
  private final MessageDigest digest = Digest.sha256();
  private final byte[] sum = new byte[32];
  private long count;

  /** Adds one canonical row (without its line end). */
  public void add(byte[] row) {
    byte[] hash = digest.digest(row);
    int carry = 0;
    for (int i = 31; i >= 0; i--) {
      int value = (sum[i] & 0xff) + (hash[i] & 0xff) + carry;
      sum[i] = (byte) value;
      carry = value >>> 8;
    }
    count++;
  }

  public long count() {
    return count;
  }

  public Digest digest() {
    return new Digest(HexFormat.of().formatHex(sum));
  }
}
