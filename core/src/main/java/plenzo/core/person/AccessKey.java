package plenzo.core.person;

import java.time.Instant;
import org.jspecify.annotations.Nullable;

/**
 * A signed-in browser or a token: a secret of 256 random bits of which only the hash is stored.
 *
 * @param csrf the value that a browser must send back with every change; null for tokens
 * @param only what a token may at most; null for sessions, and for tokens that may what the person
 *     may
 * @param feed whether it opens the calendar's feed and nothing else; null: no
 */
public record AccessKey(
    String hash,
    String login,
    String label,
    boolean token,
    @Nullable String csrf,
    Instant createdAt,
    Instant expiresAt,
    boolean revoked,
    @Nullable Narrowing only,
    @Nullable Boolean feed,
    int revision) {
  /** Whether it opens the calendar's feed and nothing else. */
  public boolean opensFeedOnly() {
    return feed != null && feed;
  }

  /** The first characters of the hash, by which lists name it. */
  public String brief() {
    return hash.substring(0, 12);
  }

  public AccessKey ended() {
    return new AccessKey(
        hash,
        login,
        label,
        token,
        csrf,
        createdAt,
        expiresAt,
        /* revoked= */ true,
        only,
        feed,
        revision);
  }
}
