package plenzo.core.person;

import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * Somebody who can sign in.
 *
 * @param login short name, the actor in history
 * @param passwordHash bcrypt
 */
public record Person(
    String login,
    String name,
    String passwordHash,
    boolean mustChange,
    boolean disabled,
    int failures,
    @Nullable Instant lockedUntil,
    List<Grant> grants,
    int revision) {
  /** Asked or granted: at every stage, for every application, also for those to come. */
  public static final String EVERY = "*";

  /** Asked: at some stage, for some application, whichever. It is granted to nobody. */
  public static final String ANY = "?";

  public Person {
    grants = List.copyOf(grants);
  }

  /** A right at a stage for an application; "*" means every one. */
  public record Grant(Right right, String stage, String application) {
    boolean covers(Right asked, String atStage, String forApplication) {
      return right == asked && matches(stage, atStage) && matches(application, forApplication);
    }

    private static boolean matches(String granted, String asked) {
      return granted.equals(EVERY) || asked.equals(ANY) || granted.equals(asked);
    }
  }

  /**
   * @param stage a stage, {@link #EVERY} or {@link #ANY}
   * @param application an application, {@link #EVERY} or {@link #ANY}
   */
  public boolean may(Right right, String stage, String application) {
    if (!disabled) {
      // asked for every site of every application: a stream each time is what such a page costs
      for (Grant g : grants) {
        if (g.covers(right, stage, application)) {
          return true;
        }
      }
    }
    return false;
  }

  public Person withFailures(int failures, @Nullable Instant lockedUntil) {
    return new Person(
        login, name, passwordHash, mustChange, disabled, failures, lockedUntil, grants, revision);
  }

  public Person withPassword(String hash, boolean mustChange) {
    return new Person(login, name, hash, mustChange, disabled, 0, null, grants, revision);
  }

  public Person withName(String name) {
    return new Person(
        login, name, passwordHash, mustChange, disabled, failures, lockedUntil, grants, revision);
  }

  public Person withGrants(List<Grant> grants) {
    return new Person(
        login, name, passwordHash, mustChange, disabled, failures, lockedUntil, grants, revision);
  }

  public Person withDisabled(boolean disabled) {
    return new Person(
        login, name, passwordHash, mustChange, disabled, failures, lockedUntil, grants, revision);
  }
}
