package plenzo.core.target;

import java.util.List;
import java.util.Set;

/**
 * Who may use the tables and views of a schema, beside their owners.
 *
 * @param tables how many there are
 */
public record Grants(long tables, List<Grant> all) {
  public static final Grants NONE = new Grants(0, List.of());

  public Grants {
    all = List.copyOf(all);
  }

  /**
   * A right of somebody.
   *
   * @param grantee as it is written in a statement; PUBLIC for everybody
   * @param right such as SELECT
   * @param on how many of the tables and views
   * @param of accounts whose new tables in that schema have it by default
   */
  public record Grant(String grantee, String right, long on, Set<String> of) {
    public Grant {
      of = Set.copyOf(of);
    }
  }
}
