package plenzo.core.proposal;

import java.util.List;
import java.util.Locale;
import org.jspecify.annotations.Nullable;
import plenzo.core.person.Person;
import plenzo.core.person.Role;
import plenzo.core.stage.Application;
import plenzo.core.stage.Path;
import plenzo.core.stage.Stage;

/**
 * A change as it was asked for, so that it can be made later as it was. The part of its sort is
 * there, every other is null.
 *
 * @param subject key of what changes
 * @param path as it is to be
 * @param stage as it is to be
 * @param role as it is to be
 * @param rights what a person is to have
 * @param person how a person is to be
 * @param application as it is to be
 * @param revision of what was looked at; null when nobody looked
 */
public record Proposed(
    Sort sort,
    String subject,
    @Nullable Path path,
    @Nullable Stage stage,
    @Nullable Role role,
    @Nullable RightsOf rights,
    @Nullable PersonIs person,
    @Nullable Application application,
    @Nullable Integer revision) {
  /** What is to change. */
  public enum Sort {
    NEW_PATH("the new path"),
    PATH("the path"),
    STAGE("the stage"),
    ROLE("the role"),
    RIGHTS("rights of"),
    PERSON("the person"),
    /** That every name of a person is taken away for good. */
    BLANK("blanking the name of"),
    APPLICATION("the application");

    private final String words;

    Sort(String words) {
      this.words = words;
    }

    public String code() {
      return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }
  }

  /**
   * What a person is to have.
   *
   * @param roles null leaves them as they are
   */
  public record RightsOf(List<Person.Grant> grants, @Nullable List<RoleAt> roles) {
    public RightsOf {
      grants = List.copyOf(grants);
      roles = roles == null ? null : List.copyOf(roles);
    }
  }

  /**
   * How a person is to be.
   *
   * @param name as they are shown
   * @param disabled whether they are kept out
   * @param writesAs addresses under which they write in repositories
   */
  public record PersonIs(String name, boolean disabled, List<String> writesAs) {
    public PersonIs {
      writesAs = List.copyOf(writesAs);
    }
  }

  /** A role at a stage for an application; "*" means every one. */
  public record RoleAt(String role, String stage, String application) {}

  /** "the path ordinary", "rights of tove". */
  public String words() {
    return sort.words + " " + subject;
  }

  public static Proposed blank(String login) {
    return new Proposed(
        Sort.BLANK, login, null, null, null, null, null, null, /* revision= */ null);
  }

  public static Proposed newPath(Path asked) {
    return new Proposed(
        Sort.NEW_PATH, asked.key(), asked, null, null, null, null, null, /* revision= */ null);
  }

  public static Proposed path(Path asked) {
    return new Proposed(
        Sort.PATH, asked.key(), asked, null, null, null, null, null, asked.revision());
  }

  public static Proposed stage(Stage asked) {
    return new Proposed(
        Sort.STAGE, asked.key(), null, asked, null, null, null, null, asked.revision());
  }

  public static Proposed role(Role asked, @Nullable Integer revision) {
    return new Proposed(Sort.ROLE, asked.key(), null, null, asked, null, null, null, revision);
  }

  public static Proposed rights(String login, RightsOf asked, @Nullable Integer revision) {
    return new Proposed(Sort.RIGHTS, login, null, null, null, asked, null, null, revision);
  }

  public static Proposed person(String login, PersonIs asked) {
    return new Proposed(
        Sort.PERSON, login, null, null, null, null, asked, null, /* revision= */ null);
  }

  public static Proposed application(Application asked) {
    return new Proposed(
        Sort.APPLICATION, asked.key(), null, null, null, null, null, asked, asked.revision());
  }
}
