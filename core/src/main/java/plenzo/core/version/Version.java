package plenzo.core.version;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.Before;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.digest.Digest;
import plenzo.core.json.Json;
import plenzo.core.manual.ManualStep;
import plenzo.core.table.Conversion;
import plenzo.core.table.Conversions;
import plenzo.core.table.Renaming;

/**
 * A sealed version: the whole application at one number. It never changes; only its head may say
 * later that it was withdrawn.
 *
 * @param entries its components, sorted by key
 */
public record Version(VersionHead head, List<VersionEntry> entries) {
  public Version {
    entries = sorted(entries);
  }

  /** Seals a version that asks for no work by hand. */
  public static Version of(
      String application,
      SemVer number,
      @Nullable SemVer parent,
      List<VersionEntry> entries,
      List<Removal> removals,
      List<Need> needs,
      List<Before> order,
      String title,
      String notes,
      List<String> tasks,
      String author,
      Instant sealedAt,
      String source) {
    return of(
        application,
        number,
        parent,
        entries,
        removals,
        needs,
        order,
        List.of(),
        title,
        notes,
        tasks,
        author,
        sealedAt,
        source);
  }

  /** Seals: the digest and the counts are those of what is given. */
  public static Version of(
      String application,
      SemVer number,
      @Nullable SemVer parent,
      List<VersionEntry> entries,
      List<Removal> removals,
      List<Need> needs,
      List<Before> order,
      List<ManualStep> manual,
      String title,
      String notes,
      List<String> tasks,
      String author,
      Instant sealedAt,
      String source) {
    SortedMap<String, Integer> kinds = new TreeMap<>();
    entries.forEach(e -> kinds.merge(e.key().kind().code(), 1, Integer::sum));
    return new Version(
        new VersionHead(
            application,
            number,
            parent,
            digest(entries, removals, needs, order, manual),
            kinds,
            removals,
            needs,
            order,
            title,
            notes,
            tasks,
            author,
            sealedAt,
            source,
            false,
            manual,
            Written.NOTHING,
            List.of()),
        entries);
  }

  /** The same with who wrote what it took from a repository; its digest stays. */
  public Version written(Written by) {
    return new Version(head.written(by), entries);
  }

  /** The same with how much of its source it has; its digest stays. */
  public Version covering(List<String> lines) {
    return new Version(head.covering(lines), entries);
  }

  private static List<VersionEntry> sorted(List<VersionEntry> entries) {
    return entries.stream().sorted(Comparator.comparing(VersionEntry::key)).toList();
  }

  public String application() {
    return head.application();
  }

  public SemVer number() {
    return head.number();
  }

  public @Nullable SemVer parent() {
    return head.parent();
  }

  public Digest digest() {
    return head.digest();
  }

  public List<Removal> removals() {
    return head.removals();
  }

  public List<Need> needs() {
    return head.needs();
  }

  public List<Before> order() {
    return head.order();
  }

  /** What people do when it comes to a site, in order. */
  public List<ManualStep> manual() {
    return head.manual();
  }

  public String title() {
    return head.title();
  }

  public String notes() {
    return head.notes();
  }

  public List<String> tasks() {
    return head.tasks();
  }

  public String author() {
    return head.author();
  }

  public Instant sealedAt() {
    return head.sealedAt();
  }

  public String source() {
    return head.source();
  }

  /** {@code fares@2.4.0}. */
  public String ref() {
    return head.ref();
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

  /** Its tables. */
  public List<TableName> tables() {
    return entries.stream()
        .filter(e -> e.key().kind() == Kind.TABLE)
        .map(e -> TableName.of(e.key().name()))
        .toList();
  }

  /** The same with its components by the names of afterwards; their content stays. */
  public Version named(Renaming names) {
    return names.isEmpty()
        ? this
        : new Version(head, entries.stream().map(e -> e.named(names)).toList());
  }

  /**
   * Tables and columns that have another name in this version than in the one that it was drafted
   * from: a table is the same one by its uid.
   *
   * @param parent the one that it was drafted from
   */
  public Renaming renamedSince(Version parent) {
    Map<String, VersionEntry> before = new HashMap<>();
    parent.entries.stream()
        .filter(e -> e.key().kind() == Kind.TABLE)
        .forEach(e -> before.put(e.uid(), e));
    Map<TableName, TableName> tables = new LinkedHashMap<>();
    Map<TableName, Map<String, String>> columns = new LinkedHashMap<>();
    for (VersionEntry e : entries) {
      if (e.key().kind() == Kind.TABLE) {
        VersionEntry was =
            before.containsKey(e.uid()) ? before.get(e.uid()) : parent.entry(e.key()).orElse(null);
        TableName table = TableName.of(e.key().name());
        if (was != null && !was.key().equals(e.key())) {
          tables.put(TableName.of(was.key().name()), table);
        }
        if (was == null || !was.sameAs(e)) {
          columns.put(table, e.renamed());
        }
      }
    }
    return new Renaming(tables, columns);
  }

  /** What values of this version's columns are worked out from, of those of its parent. */
  public Conversions conversionsSince(Version parent) {
    return conversions(parent, VersionEntry::conversions);
  }

  /** What values of the parent's columns are worked out from, of those of this version. */
  public Conversions conversionsBackTo(Version parent) {
    return conversions(parent, VersionEntry::conversionsBack);
  }

  private Conversions conversions(
      Version parent, Function<VersionEntry, Map<String, Conversion>> way) {
    Map<TableName, Map<String, Conversion>> out = new LinkedHashMap<>();
    for (VersionEntry e : entries) {
      if (e.key().kind() == Kind.TABLE) {
        boolean brought = parent.entry(e.key()).filter(was -> was.sameAs(e)).isEmpty();
        out.put(TableName.of(e.key().name()), brought ? way.apply(e) : Map.of());
      }
    }
    return new Conversions(out);
  }

  /**
   * The same version; components that are equal in another one are held once. Two versions of many
   * components take little more than one then.
   */
  public Version sharing(Version other) {
    List<VersionEntry> out = new ArrayList<>(entries.size());
    int at = 0;
    for (VersionEntry mine : entries) {
      while (at < other.entries.size() && other.entries.get(at).key().compareTo(mine.key()) < 0) {
        at++;
      }
      VersionEntry theirs = at < other.entries.size() ? other.entries.get(at) : null;
      out.add(mine.equals(theirs) ? theirs : mine);
    }
    return new Version(head, out);
  }

  /**
   * The digest of a version's content: its sorted components, removals, prerequisites, what was
   * moved in their order, and the work by hand.
   */
  private static Digest digest(
      List<VersionEntry> entries,
      List<Removal> removals,
      List<Need> needs,
      List<Before> order,
      List<ManualStep> manual) {
    Json json =
        Json.object(
            "format",
            1,
            "components",
            Json.each(sorted(entries), VersionEntry::toJson),
            "removals",
            Json.of(removals.stream().sorted().map(Removal::toString).toList()),
            "needs",
            needs.isEmpty() ? null : needs.stream().sorted().map(Need::toString).toList(),
            "order",
            order.isEmpty() ? null : order.stream().sorted().map(Before::toString).toList(),
            "manual",
            manual.isEmpty() ? null : Json.each(manual, ManualStep::toJson));
    return Digest.of(json);
  }
}
