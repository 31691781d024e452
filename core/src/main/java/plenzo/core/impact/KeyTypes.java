package plenzo.core.impact;

import java.util.List;
import java.util.Set;
import java.util.stream.IntStream;
import plenzo.core.table.TypeNames;

/** Which types can be held against each other as they are, and which by their texts alone. */
final class KeyTypes {
  private static final Set<String> TEXTS = Set.of("text", "character varying", "character", "name");
  private static final Set<String> TIMES =
      Set.of("date", "timestamp without time zone", "timestamp with time zone");

  private KeyTypes() {}

  /** Whether the server compares each type of the one with its neighbour of the other. */
  static boolean meet(List<String> one, List<String> other) {
    return IntStream.range(0, one.size())
        .allMatch(i -> meet(TypeNames.bare(one.get(i)), TypeNames.bare(other.get(i))));
  }

  private static boolean meet(String one, String other) {
    return one.equals(other)
        || TypeNames.isNumber(one) && TypeNames.isNumber(other)
        || List.of(TEXTS, TIMES).stream()
            .anyMatch(family -> family.contains(one) && family.contains(other));
  }
}
