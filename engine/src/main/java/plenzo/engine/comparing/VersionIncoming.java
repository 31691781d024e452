package plenzo.engine.comparing;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.Before;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.digest.Digest;
import plenzo.core.records.LongValues;
import plenzo.core.records.RecordsDefinition;
import plenzo.core.records.RenamedRows;
import plenzo.core.records.RowReader;
import plenzo.core.records.RowsPolicy;
import plenzo.core.table.Conversions;
import plenzo.core.table.Renaming;
import plenzo.core.table.TableStructure;
import plenzo.core.target.ItemsDelta;
import plenzo.core.version.Removal;
import plenzo.core.version.Version;
import plenzo.core.version.VersionEntry;
import plenzo.engine.content.Contents;

/** A version over the base that it shares with what a site holds. */
public final class VersionIncoming implements Incoming {
  private final Contents contents;
  private final Version version;
  private final @Nullable Version base;
  private final Set<Removal> removals;
  private final boolean structuresOnly;
  private final Renaming renaming;
  private final Renaming sinceBase;
  private final Conversions conversions;
  private final Renaming called;

  public VersionIncoming(
      Contents contents, Version version, @Nullable Version base, Set<Removal> removals) {
    this(contents, version, base, removals, Renaming.NONE, Renaming.NONE, Conversions.NONE);
  }

  /**
   * @param renaming from the names at the site to those of the version
   * @param sinceBase from those of the base to those of the version
   * @param conversions what values of its columns are worked out from
   */
  public VersionIncoming(
      Contents contents,
      Version version,
      @Nullable Version base,
      Set<Removal> removals,
      Renaming renaming,
      Renaming sinceBase,
      Conversions conversions) {
    this(
        contents,
        version,
        base,
        removals,
        /* structuresOnly= */ false,
        renaming,
        sinceBase,
        conversions,
        Renaming.NONE);
  }

  /**
   * A version by names that another has.
   *
   * @param names from its own
   */
  public static VersionIncoming called(Contents contents, Version version, Renaming names) {
    return new VersionIncoming(
        contents,
        contents.renamed(version, names),
        /* base= */ null,
        Set.of(),
        /* structuresOnly= */ false,
        Renaming.NONE,
        Renaming.NONE,
        Conversions.NONE,
        names);
  }

  private VersionIncoming(
      Contents contents,
      Version version,
      @Nullable Version base,
      Set<Removal> removals,
      boolean structuresOnly,
      Renaming renaming,
      Renaming sinceBase,
      Conversions conversions,
      Renaming called) {
    this.called = called;
    this.conversions = conversions;
    this.renaming = renaming;
    this.sinceBase = sinceBase;
    this.contents = contents;
    this.version = version;
    this.base = base == null ? null : contents.renamed(base, sinceBase).sharing(version);
    this.removals = Set.copyOf(removals);
    this.structuresOnly = structuresOnly;
  }

  /** The same without its rows, for a look that costs the site little. */
  public VersionIncoming structures() {
    return new VersionIncoming(
        contents,
        version,
        base,
        removals,
        /* structuresOnly= */ true,
        renaming,
        sinceBase,
        conversions,
        called);
  }

  /** The version that what comes and what is there both descend from, or null. */
  public @Nullable Version base() {
    return base;
  }

  @Override
  public List<ComponentKey> components() {
    Set<ComponentKey> out = new TreeSet<>();
    version.entries().forEach(e -> out.add(e.key()));
    removals.forEach(r -> out.add(r.component()));
    renaming.givingWay().forEach(t -> out.add(new ComponentKey(Kind.TABLE, t.componentName())));
    // structures before rows, so that a table is known when its rows are read
    return out.stream()
        .filter(key -> !structuresOnly || key.kind() != Kind.RECORDS)
        .sorted(
            java.util.Comparator.comparing(ComponentKey::kind).thenComparing(ComponentKey::name))
        .toList();
  }

  @Override
  public List<Before> moved() {
    return version.order();
  }

  @Override
  public @Nullable TableStructure structure(ComponentKey key) {
    return version
        .entry(key)
        .map(e -> contents.structure(e.content()).placed(e.places()))
        .orElse(null);
  }

  @Override
  public @Nullable TableStructure baseStructure(ComponentKey key) {
    return base == null
        ? null
        : base.entry(key).map(e -> contents.structure(e.content())).orElse(null);
  }

  @Override
  public RecordsDefinition records(ComponentKey key) {
    Optional<VersionEntry> entry =
        version.entry(key).or(() -> base == null ? Optional.empty() : base.entry(key));
    return entry.orElseThrow(() -> new IllegalStateException("Nobody knows " + key)).records();
  }

  @Override
  public RowsPolicy policy(ComponentKey records) {
    return version.entry(records).map(VersionEntry::policy).orElse(RowsPolicy.ADD_AND_CHANGE);
  }

  @Override
  public @Nullable RowReader rows(ComponentKey key) {
    RowReader rows = rows(version, key);
    return rows == null ? null : named(rows, called, key);
  }

  private static RowReader named(RowReader rows, Renaming names, ComponentKey key) {
    return RenamedRows.of(rows, names.columns(TableName.of(key.name())));
  }

  @Override
  public @Nullable RowReader baseRows(ComponentKey key) {
    RowReader rows = base == null ? null : rows(base, key);
    return rows == null ? null : contents.by(records(key).key(), named(rows, sinceBase, key));
  }

  @Override
  public Renaming renaming() {
    return renaming;
  }

  @Override
  public Conversions conversions() {
    return conversions;
  }

  private @Nullable RowReader rows(Version of, ComponentKey key) {
    return of.entry(key)
        .map(e -> contents.rows(e.content(), e.records().key().size()))
        .orElse(null);
  }

  @Override
  public @Nullable Digest item(ComponentKey key) {
    return version.entry(key).map(VersionEntry::content).orElse(null);
  }

  @Override
  public @Nullable Digest baseItem(ComponentKey key) {
    return base == null ? null : base.entry(key).map(VersionEntry::content).orElse(null);
  }

  @Override
  public ItemsDelta.Source contents() {
    Contents all = contents;
    return (kind, content) -> all.open(content);
  }

  @Override
  public LongValues longValues() {
    return contents.longValues(
        Stream.concat(
                version.entries().stream(), base == null ? Stream.empty() : base.entries().stream())
            .filter(e -> e.key().kind() == Kind.RECORDS)
            .map(VersionEntry::content)
            .distinct()
            .toList());
  }

  @Override
  public long size(Digest content) {
    return contents.size(content);
  }

  @Override
  public Set<String> removals(ComponentKey key) {
    Set<String> out =
        removals.stream()
            .filter(r -> r.component().equals(key))
            .map(Removal::part)
            .collect(Collectors.toCollection(TreeSet::new));
    if (key.kind() == Kind.TABLE) {
      TableName table = TableName.of(key.name());
      renaming.givingWay(table).forEach(c -> out.add("column/" + c));
      if (renaming.givingWay().contains(table)) {
        out.add("");
      }
    }
    if (out.remove("")) {
      out.add(key.kind() == Kind.TABLE ? "table/" : "content/");
    }
    return out;
  }
}
