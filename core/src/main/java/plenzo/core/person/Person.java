package plenzo.core.person;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * Somebody who can sign in.
 *
 * @param login short name, the actor in history
 * @param passwordHash bcrypt
 * @param grants rights given one by one
 * @param roles rights given as named sets
 * @param deputies who stands in for the person, before, now and to come
 * @param writesAs addresses under which the person writes in repositories, in small letters
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
    List<Held> roles,
    @Nullable List<Deputy> deputies,
    @Nullable List<String> writesAs,
    int revision) {
  /** Asked or granted: at every stage, for every application, also for those to come. */
  public static final String EVERY = "*";

  /** Asked: at some stage, for some application, whichever. It is granted to nobody. */
  public static final String ANY = "?";

  public Person {
    grants = List.copyOf(grants);
    roles = roles == null ? List.of() : List.copyOf(roles); // before there were roles
    deputies = deputies == null ? List.of() : List.copyOf(deputies); // or deputies
    writesAs = writesAs == null ? List.of() : List.copyOf(writesAs); // or addresses
  }

  /** Somebody who was just invited: no rights yet, no failures. */
  public static Person invited(String login, String name, String passwordHash, boolean mustChange) {
    return new Person(
        login,
        name,
        passwordHash,
        mustChange,
        /* disabled= */ false,
        /* failures= */ 0,
        /* lockedUntil= */ null,
        List.of(),
        List.of(),
        List.of(),
        List.of(),
        /* revision= */ 0);
  }

  @Override
  public List<Deputy> deputies() {
    return deputies == null ? List.of() : deputies;
  }

  @Override
  public List<String> writesAs() {
    return writesAs == null ? List.of() : writesAs;
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
   * A role at a stage for an application; "*" means every one.
   *
   * @param rights the role's, as it is now: a role that changes is written to all who hold it
   * @param of login of the person who is stood in for; null where it is one's own
   */
  public record Held(
      String role, List<Right> rights, String stage, String application, @Nullable String of) {
    public Held {
      rights = List.copyOf(rights);
    }

    /** One's own. */
    public Held(String role, List<Right> rights, String stage, String application) {
      this(role, rights, stage, application, null);
    }

    boolean covers(Right asked, String atStage, String forApplication) {
      return rights.contains(asked)
          && Grant.matches(stage, atStage)
          && Grant.matches(application, forApplication);
    }

    /** One by one. */
    public List<Grant> grants() {
      return rights.stream().map(r -> new Grant(r, stage, application)).toList();
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
      for (Held h : roles) {
        if (h.covers(right, stage, application)) {
          return true;
        }
      }
    }
    return false;
  }

  /**
   * For whom the right is had: nobody where it is one's own, else those who are stood in for.
   *
   * @return logins; empty where the person has the right, or nobody gives it
   */
  public List<String> standsInFor(Right right, String stage, String application) {
    boolean own =
        grants.stream().anyMatch(g -> g.covers(right, stage, application))
            || roles.stream().anyMatch(h -> h.of() == null && h.covers(right, stage, application));
    return own || disabled
        ? List.of()
        : roles.stream()
            .filter(h -> h.covers(right, stage, application))
            .map(Held::of)
            .filter(java.util.Objects::nonNull)
            .distinct()
            .sorted()
            .toList();
  }

  /** Keys of the roles that the person holds at a place, one's own and those stood in for. */
  public Set<String> rolesAt(String stage, String application) {
    return rolesAt(roles.stream(), stage, application);
  }

  /** Of the person who is stood in for alone. */
  public Set<String> rolesAt(String of, String stage, String application) {
    return rolesAt(roles.stream().filter(h -> of.equals(h.of())), stage, application);
  }

  private static Set<String> rolesAt(Stream<Held> held, String stage, String application) {
    return held.filter(
            h -> Grant.matches(h.stage(), stage) && Grant.matches(h.application(), application))
        .map(Held::role)
        .filter(r -> !r.isEmpty())
        .collect(Collectors.toCollection(TreeSet::new));
  }

  /** Everything that was given, one by one or by a role, each once. */
  public List<Grant> holds() {
    if (roles.isEmpty()) {
      return grants;
    }
    List<Grant> out = new ArrayList<>(grants);
    roles.forEach(h -> out.addAll(h.grants()));
    return out.stream().distinct().toList();
  }

  public Person withFailures(int failed, @Nullable Instant until) {
    return but(
        n -> {
          n.failures = failed;
          n.lockedUntil = until;
        });
  }

  /** Whoever has a new password need not wait for tries that failed. */
  public Person withPassword(String hash, boolean must) {
    return but(
        n -> {
          n.passwordHash = hash;
          n.mustChange = must;
          n.failures = 0;
          n.lockedUntil = null;
        });
  }

  public Person withName(String shown) {
    return but(n -> n.name = shown);
  }

  public Person withGrants(List<Grant> given) {
    return but(n -> n.grants = given);
  }

  public Person withRoles(List<Held> held) {
    return but(n -> n.roles = held);
  }

  public Person withDisabled(boolean out) {
    return but(n -> n.disabled = out);
  }

  public Person withDeputies(List<Deputy> named) {
    return but(n -> n.deputies = named);
  }

  public Person withWritesAs(List<String> addresses) {
    return but(n -> n.writesAs = addresses);
  }

  private Person but(Consumer<Next> change) {
    Next next = new Next(this);
    change.accept(next);
    return next.person(this);
  }

  /** What can be otherwise; the one place where the fields are listed. */
  private static final class Next {
    private String name;
    private String passwordHash;
    private boolean mustChange;
    private boolean disabled;
    private int failures;
    private @Nullable Instant lockedUntil;
    private List<Grant> grants;
    private List<Held> roles;
    private List<Deputy> deputies;
    private List<String> writesAs;

    Next(Person was) {
      this.name = was.name;
      this.passwordHash = was.passwordHash;
      this.mustChange = was.mustChange;
      this.disabled = was.disabled;
      this.failures = was.failures;
      this.lockedUntil = was.lockedUntil;
      this.grants = was.grants;
      this.roles = was.roles;
      this.deputies = was.deputies();
      this.writesAs = was.writesAs();
    }

    Person person(Person was) {
      return new Person(
          was.login,
          name,
          passwordHash,
          mustChange,
          disabled,
          failures,
          lockedUntil,
          grants,
          roles,
          deputies,
          writesAs,
          was.revision);
    }
  }
}
