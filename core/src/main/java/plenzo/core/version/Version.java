package plenzo.core.version;

import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.SortedMap;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.Before;
import plenzo.core.component.ComponentKey;
import plenzo.core.digest.Digest;
import plenzo.core.json.Json;

/**
 * A sealed version: the whole application at one number. It never changes; only {@code withdrawn}
 * may be set.
 *
 * @param parent number of the version it was drafted from, null for the first
 * @param needs other applications that must be at the same site, and releases of its servers
 * @param order which components a person moved before others
 * @param tasks what it was done for: references into a task list, or https addresses
 * @param digest of the content alone: the same content has the same digest on any machine
 */
public record Version(
    String application,
    SemVer number,
    @Nullable SemVer parent,
    Digest digest,
    List<VersionEntry> entries,
    List<Removal> removals,
    List<Need> needs,
    List<Before> order,
    String title,
    String notes,
    List<String> tasks,
    String author,
    Instant sealedAt,
    String source,
    boolean withdrawn) {
  public Version {
    entries = entries.stream().sorted(Comparator.comparing(VersionEntry::key)).toList();
    removals = removals.stream().sorted().toList();
    needs = needs.stream().sorted().toList();
    order = order.stream().sorted().toList();
    tasks = tasks(tasks);
  }

  /**
   * References to tasks as they are kept: without blanks around, each once, in the given order.
   *
   * @throws IllegalArgumentException when one is no word and no https address
   */
  private static List<String> tasks(List<String> asked) {
    List<String> out = asked.stream().map(String::strip).distinct().toList();
    for (String task : out) {
      if (task.length() > 200 || !task.matches("https://[^\\s]+|[\\p{L}\\p{N}#._/-]+")) {
        throw new IllegalArgumentException(
            "A task is one word such as FERRY-118, or an https address; got \"" + task + "\"");
      }
    }
    return out;
  }

  /** {@code fares@2.4.0}. */
  public String ref() {
    return application + "@" + number;
  }

  /** How many components of each kind, by the kind's code. */
  public SortedMap<String, Integer> kinds() {
    SortedMap<String, Integer> out = new TreeMap<>();
    entries.forEach(e -> out.merge(e.key().kind().code(), 1, Integer::sum));
    return out;
  }

  public Optional<VersionEntry> entry(ComponentKey key) {
    int low = 0;
    int high = entries.size() - 1;
    while (low <= high) {
      int middle = (low + high) >>> 1;
      int c = entries.get(middle).key().compareTo(key);
      if (c == 0) {
        return Optional.of(entries.get(middle));
      }
      low = c < 0 ? middle + 1 : low;
      high = c < 0 ? high : middle - 1;
    }
    return Optional.empty();
  }

  public static Digest digest(List<VersionEntry> entries, List<Removal> removals) {
    return digest(entries, removals, List.of(), List.of());
  }

  /**
   * The digest of a version's content: its sorted components, removals, prerequisites and what was
   * moved in their order.
   */
  public static Digest digest(
      List<VersionEntry> entries, List<Removal> removals, List<Need> needs, List<Before> order) {
    Json json =
        Json.object(
            "format",
            1,
            "components",
            new Json.Arr(
                entries.stream()
                    .sorted(Comparator.comparing(VersionEntry::key))
                    .map(VersionEntry::toJson)
                    .toList()),
            "removals",
            Json.of(removals.stream().sorted().map(Removal::toString).toList()),
            "needs",
            needs.isEmpty() ? null : needs.stream().sorted().map(Need::toString).toList(),
            "order",
            order.isEmpty() ? null : order.stream().sorted().map(Before::toString).toList());
    return Digest.of(json.canonical());
  }

  public Version withdraw() {
    return new Version(
        application,
        number,
        parent,
        digest,
        entries,
        removals,
        needs,
        order,
        title,
        notes,
        tasks,
        author,
        sealedAt,
        source,
        true);
  }
}
