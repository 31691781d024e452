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

  /**
   * @param revision tells whether it was changed since it was looked at
   */
  record PersonView(
      String login,
      String name,
      boolean disabled,
      boolean mustChangePassword,
      List<Grant> grants,
      int revision) {}

  /** What is left out stays. */
  record ChangePerson(@Nullable String name, @Nullable Boolean disabled) {}

  /** A password for once. */
  record ResetPassword(String password) {}

  /** A browser that is signed in, or a token. */
  record AccessKeyView(
      String id, String label, boolean token, Instant createdAt, Instant expiresAt) {}

  record Invitation(
      String login, String name, String password, @Nullable Boolean mustChangePassword) {}

  /**
   * @param revision of the person as it was looked at; refused with 412 when it moved
   */
  record Grants(List<Grant> grants, @Nullable Integer revision) {}
}
