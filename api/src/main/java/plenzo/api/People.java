package plenzo.api;

import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Signing in, tokens, people and rights. */
public interface People {
  record SignIn(String login, String password) {}

  /**
   * @param grants all that can be done here, by rights and roles, as far as the token goes
   * @param only what a token was narrowed to
   */
  record Me(
      String login,
      String name,
      boolean mustChangePassword,
      @Nullable String csrf,
      Instant until,
      List<Grant> grants,
      @Nullable Only only,
      String version) {}

  record Grant(String right, String stage, String application) {}

  record Password(String old, String password) {}

  /**
   * What a token may at most, of what its person may; an empty list narrows nothing.
   *
   * @param rights codes
   */
  record Only(List<String> rights, List<String> stages, List<String> applications) {}

  /**
   * @param only null for whatever the person may
   * @param days how long it holds; as long as can be when left out
   */
  record NewToken(String label, @Nullable Only only, @Nullable Integer days) {}

  /** The secret is told once, here. */
  record MadeToken(String id, String label, Instant expiresAt, String secret) {}

  record Token(
      String id, String label, Instant createdAt, Instant expiresAt, @Nullable Only only) {}

  /**
   * A right that can be given.
   *
   * @param words what it lets one do, after "may"
   */
  record RightView(String right, String words) {}

  /** A role as somebody holds it; "*" means every one. */
  record HeldRole(String role, String stage, String application) {}

  /** A named set of rights. */
  record RoleView(String key, String name, List<String> rights, int revision) {}

  /**
   * @param revision of the role as it was looked at; refused with 412 when it moved
   */
  record RoleChange(String name, List<String> rights, @Nullable Integer revision) {}

  /**
   * @param grants given one by one, beside the roles
   * @param writesAs addresses under which the person writes in repositories
   * @param revision tells whether it was changed since it was looked at
   */
  record PersonView(
      String login,
      String name,
      boolean disabled,
      boolean mustChangePassword,
      List<Grant> grants,
      List<HeldRole> roles,
      List<String> writesAs,
      int revision) {}

  /**
   * What is left out stays.
   *
   * @param writesAs addresses under which the person writes in repositories; the whole list
   */
  record ChangePerson(
      @Nullable String name, @Nullable Boolean disabled, @Nullable List<String> writesAs) {}

  /**
   * What blanking the names of a person would come to.
   *
   * @param names that are known of the person, each taken out of the history and the records
   * @param inTheWay why it cannot be done now; empty when it can
   * @param keeps what keeps the names all the same
   */
  record BlankingView(List<String> names, List<String> inTheWay, List<String> keeps) {}

  /**
   * @param signs that stand for the names in the chain of the history
   * @param entries of the history that read otherwise now
   * @param records that read otherwise now
   * @param unsigned entries of before there were signs: they keep the name
   */
  record BlankedView(List<String> signs, long entries, long records, long unsigned) {}

  /** A password for once. */
  record ResetPassword(String password) {}

  /** A browser that is signed in, or a token. */
  record AccessKeyView(
      String id,
      String label,
      boolean token,
      Instant createdAt,
      Instant expiresAt,
      @Nullable Only only) {}

  record Invitation(
      String login, String name, String password, @Nullable Boolean mustChangePassword) {}

  /**
   * @param roles left as they are when left out
   * @param revision of the person as it was looked at; refused with 412 when it moved
   */
  record Grants(List<Grant> grants, @Nullable List<HeldRole> roles, @Nullable Integer revision) {}
}
