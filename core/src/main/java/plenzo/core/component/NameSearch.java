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
      Map.of(
          Kind.TABLE, List.of("table", "structure", "schema", "entity", "entities"),
          Kind.RECORDS, List.of("records", "rows", "reference data", "master data", "lookup"),
          Kind.FILE, List.of("files", "documents", "attachments", "templates", "assets"),
          Kind.INTEGRATION, List.of("integrations", "interfaces", "connectors", "endpoints"),
          Kind.RULE, List.of("rules", "automations", "workflows", "business rules"),
          Kind.FORM, List.of("forms", "screens", "masks", "dialogs", "views"));

  private NameSearch() {}

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

  private static boolean isKind(Kind kind, String word) {
    return WORDS.getOrDefault(kind, List.of()).stream()
        .anyMatch(w -> Arrays.stream(w.split(" ")).anyMatch(part -> part.startsWith(word)));
  }
}
