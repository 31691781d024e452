package plenzo.core.digest;

import java.math.BigInteger;

/**
 * The digest of a plan as people see it: its first 60 bits in lower-case Crockford base32, in three
 * groups of four. Machines compare the whole digest.
 */
public record Fingerprint(Digest digest) {
  /** Characters of a whole digest. */
  private static final int LONGEST = 64;

  private static final String ALPHABET = "0123456789abcdefghjkmnpqrstvwxyz";

  /** "7c1e-90ab-k3mz". */
  public String shown() {
    BigInteger bits = new BigInteger(digest.hex().substring(0, 15), 16);
    StringBuilder out = new StringBuilder();
    for (int i = 11; i >= 0; i--) {
      out.append(ALPHABET.charAt(bits.shiftRight(5 * i).intValue() & 31));
      if (i == 8 || i == 4) {
        out.append('-');
      }
    }
    return out.toString();
  }

  /** What somebody gave as a fingerprint, short enough to be said back to them. */
  public static String given(String text) {
    return text.length() <= LONGEST ? text : text.substring(0, LONGEST) + "…";
  }

  /** True when the text is this fingerprint, in full or in its shown form. */
  public boolean matches(String text) {
    String asked = text.strip().toLowerCase(java.util.Locale.ROOT);
    return asked.equals(digest.hex()) || asked.equals(shown());
  }
}
