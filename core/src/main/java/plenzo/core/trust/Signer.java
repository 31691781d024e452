package plenzo.core.trust;

import java.time.Instant;
import org.jspecify.annotations.Nullable;

/**
 * A key that signs packages: one of this service's own, or one of another that is trusted here.
 *
 * @param id SHA-256 of the public key's encoding
 * @param open the public key, X.509 encoding in Base64
 * @param own whether this service holds the private key
 * @param revokedAt from when on nothing that it signed is taken; null while it is trusted
 * @param because why it was revoked
 */
public record Signer(
    String id,
    String name,
    String open,
    boolean own,
    @Nullable Instant revokedAt,
    String because,
    Instant at,
    String by,
    int revision) {
  public boolean trusted() {
    return revokedAt == null;
  }

  public Signer revoke(Instant when, String why) {
    return new Signer(id, name, open, own, when, why, at, by, revision);
  }

  /** Twelve characters for people; machines compare all of it. */
  public String brief() {
    return id.substring(0, 12);
  }
}
