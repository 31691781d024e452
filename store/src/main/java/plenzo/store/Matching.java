package plenzo.store;

import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import plenzo.core.keeping.Kept.Filter;

/**
 * What a list of records asks for, as SQL. Put together here, since working it out in the mapper
 * took longer than many an answer; what it is held against stays a parameter of the mapper.
 */
final class Matching {
  private Matching() {}

  /** The condition, or nothing where all match. */
  static String where(Filter filter) {
    List<String> all = new ArrayList<>();
    if (filter.application() != null) {
      all.add("application = #{filter.application}");
    }
    if (filter.stage() != null) {
      all.add("stage = #{filter.stage}");
    }
    if (filter.site() != null) {
      all.add("site = #{filter.site}");
    }
    int states = filter.states().size();
    if (states == 1) {
      all.add("state = #{filter.states[0]}");
    } else if (states > 1) {
      all.add(
          IntStream.range(0, states)
              .mapToObj(n -> "#{filter.states[" + n + "]}")
              .collect(Collectors.joining(", ", "state IN (", ")")));
    }
    if (filter.before() > 0) {
      all.add("ordinal < #{filter.before}");
    }
    return all.isEmpty() ? "" : "WHERE " + String.join(" AND ", all);
  }

  /**
   * Newest first. It names the columns of the index that is to be read, or H2 reads all that match
   * and sorts them.
   */
  static String order(Filter filter) {
    boolean application = filter.application() != null;
    boolean stage = filter.stage() != null;
    String index =
        application && stage
            ? "application, stage, "
            : application
                ? "application, "
                : stage ? "stage, " : filter.states().size() == 1 ? "state, " : "";
    return "ORDER BY " + index + "ordinal DESC LIMIT #{filter.limit}";
  }
}
