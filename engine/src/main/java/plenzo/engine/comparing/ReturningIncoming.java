package plenzo.engine.comparing;

import java.io.InputStream;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.digest.Digest;
import plenzo.core.records.LongValues;
import plenzo.core.records.RecordsDefinition;
import plenzo.core.records.RowReader;
import plenzo.core.records.WithEarlierRows;
import plenzo.core.stage.SiteRecord;
import plenzo.core.table.Conversions;
import plenzo.core.table.Renaming;
import plenzo.core.table.TableStructure;
import plenzo.core.target.ItemsDelta;
import plenzo.core.version.Version;
import plenzo.core.version.VersionEntry;
import plenzo.engine.content.Contents;

/**
 * An earlier version with the one being left as base: what that one created goes, what it changed
 * comes back, and what people wrote since is kept (rules H, decision D12). What was there before a
 * run first carried it comes back as it was then.
 */
public final class ReturningIncoming implements Incoming {
  private final Contents contents;
  private final VersionIncoming earlier;
  private final Version to;
  private final Version leaving;
  private final Map<String, SiteRecord.Base> bases;
  private final Function<TableName, Optional<Before.Table>> then;
  private final Set<ComponentKey> mirrored;
  private final Undoing undoing;

  /**
   * Columns whose values were worked out from others since, by the names of the earlier version.
   *
   * @param since what was worked out
   * @param back what works the earlier values out of those of now
   */
  public record Undoing(Conversions since, Conversions back) {
    public static final Undoing NONE = new Undoing(Conversions.NONE, Conversions.NONE);
  }

  /**
   * @param bases what was there before a run first carried a component; one without an entry was
   *     there as far as anybody knows, and stays as it is
   * @param renaming from the names of the version being left to those of the earlier one
   * @param then a table as it was when the earlier version was there; empty of one that no run
   *     touched since
   * @param mirrored records of which a version since took away what it had not, by the names of the
   *     earlier version
   * @param undoing what versions since worked out from values
   */
  public ReturningIncoming(
      Contents contents,
      Version earlier,
      Version leaving,
      Map<String, SiteRecord.Base> bases,
      Function<TableName, Optional<Before.Table>> then,
      Renaming renaming,
      Set<ComponentKey> mirrored,
      Undoing undoing) {
    this.undoing = undoing;
    this.mirrored = Set.copyOf(mirrored);
    this.then = then;
    this.contents = contents;
    this.earlier =
        new VersionIncoming(
            contents, earlier, leaving, Set.of(), renaming, renaming, undoing.back());
    this.to = earlier;
    this.leaving = contents.renamed(leaving, renaming);
    this.bases = Map.copyOf(bases);
  }

  /** Whether the version that one goes back to says nothing of the component. */
  private boolean unsaid(ComponentKey key) {
    return to.entry(key).isEmpty();
  }

  /** Components that stay because nobody knows what was there before they were carried. */
  public List<ComponentKey> unknown() {
    return leaving.entries().stream()
        .map(VersionEntry::key)
        .filter(key -> unsaid(key) && base(key) == null)
        .toList();
  }

  /** The name that a component has in the version being left. */
  private ComponentKey leftAs(ComponentKey key) {
    return earlier.renaming().inverse().named(key);
  }

  /**
   * Kept under the name that it had when it was first carried: that of now, or of then; of what
   * took a name that was given up under one of its own.
   */
  private SiteRecord.@Nullable Base base(ComponentKey key) {
    SiteRecord.Base now = earlier.renaming().isNew(key) ? null : bases.get(leftAs(key).toString());
    return now == null ? bases.get(key.toString()) : now;
  }

  /** What was there before of a component of which the version says nothing. */
  private @Nullable Digest before(ComponentKey key) {
    SiteRecord.Base base = base(key);
    VersionEntry left = leaving.entry(key).orElse(null);
    boolean toldByAnother =
        base != null
            && (base.options() != null && left != null && !base.options().equals(left.options())
                || base.content() != null && !bases.containsKey(key.toString()));
    if (base == null || toldByAnother) {
      return left == null ? null : left.content(); // not known, or told by another name or key
    }
    return base.content();
  }

  @Override
  public List<ComponentKey> components() {
    Set<ComponentKey> out = new TreeSet<>(earlier.components());
    leaving.entries().forEach(e -> out.add(e.key()));
    return out.stream()
        .sorted(
            java.util.Comparator.comparing(ComponentKey::kind).thenComparing(ComponentKey::name))
        .toList();
  }

  @Override
  public @Nullable TableStructure structure(ComponentKey key) {
    if (!unsaid(key)) {
      return earlier.structure(key);
    }
    Digest before = before(key);
    return before == null ? null : contents.structure(before);
  }

  @Override
  public @Nullable TableStructure baseStructure(ComponentKey key) {
    return earlier.baseStructure(key);
  }

  @Override
  public RecordsDefinition records(ComponentKey key) {
    return earlier.records(key);
  }

  @Override
  public LongValues longValues() {
    List<Digest> before =
        bases.entrySet().stream()
            .filter(b -> b.getKey().startsWith(Kind.RECORDS.code() + "/"))
            .map(b -> b.getValue().content())
            .filter(Objects::nonNull)
            .toList();
    LongValues sealed = earlier.longValues().or(contents.longValues(before));
    return value -> {
      Optional<InputStream> found = sealed.open(value);
      for (VersionEntry e : found.isPresent() ? List.<VersionEntry>of() : to.entries()) {
        Before.Table was =
            e.key().kind() == Kind.RECORDS && found.isEmpty()
                ? then.apply(e.records().table()).orElse(null)
                : null;
        if (was != null) {
          try (RowReader rows = was.rows().get()) { // files: its values need it no longer
            found = rows.longValues().open(value);
          }
        }
      }
      return found;
    };
  }

  @Override
  public @Nullable RowReader rows(ComponentKey key) {
    if (!unsaid(key)) {
      return withEarlier(key, Objects.requireNonNull(earlier.rows(key)));
    }
    Digest before = before(key);
    return before == null ? null : contents.rows(before, records(key).key().size());
  }

  /**
   * A row that somebody had made before the version being left brought the same one stays, and one
   * that it took away because it had none such comes back.
   */
  private RowReader withEarlier(ComponentKey key, RowReader rows) {
    RecordsDefinition records = records(key);
    VersionEntry left = leaving.entry(key).orElse(null);
    boolean same = left == null || left.content().equals(to.entry(key).orElseThrow().content());
    boolean all = mirrored.contains(key);
    Before.Table was = same && !all ? null : then.apply(records.table()).orElse(null);
    RowReader later =
        was == null || !was.key().equals(records.key()) ? null : earlier.baseRows(key);
    return later == null || was == null
        ? rows
        : new WithEarlierRows(rows, later, was.rows().get(), all);
  }

  /**
   * Records whose rows a mirror took away and that do not come back: a backup tells rows apart by
   * the table's primary key, and these are told by other columns.
   */
  public List<ComponentKey> notBrought() {
    return mirrored.stream()
        .filter(key -> !unsaid(key))
        .filter(
            key ->
                then.apply(records(key).table())
                    .filter(was -> !was.key().equals(records(key).key()))
                    .isPresent())
        .sorted()
        .toList();
  }

  @Override
  public Renaming renaming() {
    return earlier.renaming();
  }

  @Override
  public Conversions conversions() {
    return undoing.back();
  }

  @Override
  public Conversions workedSince() {
    return undoing.since();
  }

  @Override
  public @Nullable RowReader baseRows(ComponentKey key) {
    return earlier.baseRows(key);
  }

  @Override
  public @Nullable Digest item(ComponentKey key) {
    return unsaid(key) ? before(key) : earlier.item(key);
  }

  @Override
  public @Nullable Digest baseItem(ComponentKey key) {
    return earlier.baseItem(key);
  }

  @Override
  public ItemsDelta.Source contents() {
    return earlier.contents();
  }

  @Override
  public long size(Digest content) {
    return earlier.size(content);
  }

  @Override
  public Set<String> removals(ComponentKey key) {
    return Set.of();
  }

  @Override
  public boolean removesWhatBaseHas() {
    return true;
  }

  @Override
  public boolean keepsWhatMoved() {
    return true;
  }
}
