package plenzo.core.component;

import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/**
 * Finds components as people ask for them: by a part of the name, by the kind in their own word for
 * it, by the beginning of the uid. Of several words each must be met.
 */
public final class NameSearch {
  /** Letters from which on a word may be a kind, and digits from which on it may be a uid. */
  private static final int SHORTEST = 3;

  private static final int SHORTEST_UID = 6;

  /** What people call a kind beside its own name, in the plural or the singular alike. */
  private static final Map<Kind, List<String>> WORDS =
      Map.ofEntries(
          words(Kind.TABLE, "table", "structure", "schema", "entity", "entities"),
          words(Kind.RECORDS, "records", "rows", "reference data", "master data", "lookup"),
          words(Kind.FILE, "files", "documents", "attachments", "templates", "assets"),
          words(Kind.INTEGRATION, "integrations", "interfaces", "connectors", "endpoints"),
          words(Kind.RULE, "rules", "automations", "workflows", "business rules"),
          words(Kind.FORM, "forms", "screens", "masks", "dialogs", "views"),
          words(Kind.VIEW, "views", "queries", "reports", "materialized"),
          words(Kind.ROUTINE, "routines", "functions", "procedures", "aggregates", "code"),
          words(Kind.SEQUENCE, "sequences", "numbers", "counters"),
          words(Kind.TRIGGER, "triggers", "automations"),
          words(Kind.TYPE, "types", "enumerations", "enums", "domains", "ranges", "composites"),
          words(Kind.POLICY, "policies", "row security", "policy"),
          words(Kind.GRANT, "grants", "rights", "permissions", "privileges"));

  private NameSearch() {}

  private static Map.Entry<Kind, List<String>> words(Kind kind, String... words) {
    return Map.entry(kind, List.of(words));
  }

  /**
   * @param text as somebody typed it; blank is met by everything
   * @param uid empty when it has none yet
   */
  public static boolean meets(String text, ComponentKey key, String uid) {
    String name = key.toString().toLowerCase(Locale.ROOT);
    return Arrays.stream(text.toLowerCase(Locale.ROOT).strip().split("\\s+"))
        .allMatch(
            word ->
                word.isEmpty()
                    || name.contains(word)
                    || word.length() >= SHORTEST && isKind(key.kind(), word)
                    || word.length() >= SHORTEST_UID && uid.startsWith(word));
  }

  /** Whether a word of the text is one for the kind: only then is listed what is not by itself. */
  public static boolean names(String text, Kind kind) {
    return Arrays.stream(text.toLowerCase(Locale.ROOT).strip().split("[\\s/]+"))
        .anyMatch(word -> word.length() >= SHORTEST && isKind(kind, word));
  }

  private static boolean isKind(Kind kind, String word) {
    return WORDS.getOrDefault(kind, List.of()).stream()
        .anyMatch(w -> Arrays.stream(w.split(" ")).anyMatch(part -> part.startsWith(word)));
  }
}
