package plenzo.api;

import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Signing in, tokens, people and rights. */
public interface People {
  record SignIn(String login, String password) {}

  record Me(
      String login,
      String name,
      boolean mustChangePassword,
      @Nullable String csrf,
      Instant until,
      List<Grant> grants,
      String version) {}

  record Grant(String right, String stage, String application) {}

  record Password(String old, String password) {}

  record NewToken(String label) {}

  /** The secret is told once, here. */
  record MadeToken(String id, String label, Instant expiresAt, String secret) {}

  record Token(String id, String label, Instant createdAt, Instant expiresAt) {}

  record PersonView(String login, String name, boolean disabled, List<Grant> grants) {}

  record Invitation(
      String login, String name, String password, @Nullable Boolean mustChangePassword) {}

  record Grants(List<Grant> grants) {}
}
