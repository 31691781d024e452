package plenzo.core.version;

import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.digest.Digest;
import plenzo.core.json.Json;

/**
 * A sealed version: the whole application at one number. It never changes; only {@code withdrawn}
 * may be set.
 *
 * @param parent number of the version it was drafted from, null for the first
 * @param needs other applications that must be at the same site
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
    String title,
    String notes,
    String author,
    Instant sealedAt,
    String source,
    boolean withdrawn) {
  public Version {
    entries = entries.stream().sorted(Comparator.comparing(VersionEntry::key)).toList();
    removals = removals.stream().sorted().toList();
    needs = needs.stream().sorted().toList();
  }

  /** {@code fares@2.4.0}. */
  public String ref() {
    return application + "@" + number;
  }

  public Optional<VersionEntry> entry(ComponentKey key) {
    return entries.stream().filter(e -> e.key().equals(key)).findFirst();
  }

  public static Digest digest(List<VersionEntry> entries, List<Removal> removals) {
    return digest(entries, removals, List.of());
  }

  /** The digest of a version's content: its sorted components, removals and prerequisites. */
  public static Digest digest(
      List<VersionEntry> entries, List<Removal> removals, List<Need> needs) {
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
            needs.isEmpty() ? null : needs.stream().sorted().map(Need::toString).toList());
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
        title,
        notes,
        author,
        sealedAt,
        source,
        true);
  }
}
