package plenzo.core.person;

import java.util.List;

/**
 * A named set of rights, given to people at a stage for an application.
 *
 * @param key short name
 * @param name as it is shown
 */
public record Role(String key, String name, List<Right> rights, int revision) {
  public Role {
    rights = rights.stream().distinct().sorted().toList();
  }

  /**
   * What a new installation begins with (need 208); whoever administers everything changes them,
   * adds to them and removes them.
   */
  public static final List<Role> FIRST =
      List.of(
          of("viewer", "Viewer", Right.LOOK),
          of("developer", "Developer", Right.LOOK, Right.AUTHOR),
          of("development-lead", "Development lead", Right.LOOK, Right.AUTHOR, Right.SEE_VALUES),
          of(
              "release-engineer",
              "Release engineer",
              Right.LOOK,
              Right.PREPARE,
              Right.RUN,
              Right.GO_BACK),
          of("tester", "Tester", Right.LOOK, Right.JUDGE, Right.SEE_VALUES),
          of("approver", "Approver", Right.LOOK, Right.APPROVE, Right.SEE_VALUES),
          of(
              "administrator",
              "Administrator",
              Right.LOOK,
              Right.OPERATE,
              Right.ADMINISTER,
              Right.AUDIT));

  private static Role of(String key, String name, Right... rights) {
    return new Role(key, name, List.of(rights), 0);
  }

  /** As somebody holds it there. */
  public Person.Held at(String stage, String application) {
    return new Person.Held(key, rights, stage, application);
  }
}
