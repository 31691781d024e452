package plenzo.engine.comparing;

import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.digest.Digest;
import plenzo.core.item.ItemSeen;
import plenzo.core.records.RecordsDefinition;
import plenzo.core.records.RowReader;
import plenzo.core.table.TableStructure;
import plenzo.core.target.ItemsDelta;
import plenzo.core.target.TableCapture;
import plenzo.core.target.TablesLooking;
import plenzo.core.version.Version;
import plenzo.core.version.VersionEntry;
import plenzo.engine.setup.SiteLook;

/**
 * What another site holds, to be held beside a site: every table, file and definition of the name
 * space, and the rows that a version at either site carries.
 */
public final class SiteIncoming implements Incoming {
  private final SiteLook look;
  private final Set<ComponentKey> components =
      new TreeSet<>(Comparator.comparing(ComponentKey::kind).thenComparing(ComponentKey::name));
  private final Map<ComponentKey, RecordsDefinition> records = new HashMap<>();
  private final Map<ComponentKey, ItemSeen> items = new LinkedHashMap<>();
  private final Map<Digest, ItemSeen> byContent = new HashMap<>();

  /**
   * @param look of the other site; the caller closes it
   * @param versions that are recorded at the sites, whose rows are compared
   */
  public SiteIncoming(SiteLook look, String space, List<Version> versions) {
    this.look = look;
    look.findTables()
        .ifPresent(
            tables ->
                tables
                    .tables(space)
                    .forEach(t -> components.add(new ComponentKey(Kind.TABLE, t.componentName()))));
    look.wholes((holder, all) -> all.inventory(space, this::held));
    for (Version v : versions) {
      for (VersionEntry e : v.entries()) {
        if (look.holds(e.key().kind())) {
          components.add(e.key());
        }
        if (e.key().kind() == Kind.RECORDS) {
          records.putIfAbsent(e.key(), e.records());
        }
      }
    }
  }

  private void held(ItemSeen seen) {
    components.add(seen.key());
    items.put(seen.key(), seen);
    byContent.put(seen.content(), seen);
  }

  @Override
  public List<ComponentKey> components() {
    return List.copyOf(components);
  }

  /** Whatever differs is found, whatever both had before. */
  @Override
  public boolean replaces() {
    return true;
  }

  private Optional<TablesLooking> tables() {
    return look.findTables();
  }

  @Override
  public @Nullable TableStructure structure(ComponentKey key) {
    return tables()
        .flatMap(t -> t.table(TableName.of(key.name())))
        .map(TableCapture::structure)
        .orElse(null);
  }

  @Override
  public @Nullable TableStructure baseStructure(ComponentKey key) {
    return null;
  }

  @Override
  public RecordsDefinition records(ComponentKey key) {
    RecordsDefinition found = records.get(key);
    if (found == null) {
      throw new IllegalStateException("No version carries " + key);
    }
    return found;
  }

  @Override
  public @Nullable RowReader rows(ComponentKey key) {
    TableStructure is = structure(key);
    RecordsDefinition definition = records(key);
    return is == null || !definition.key().stream().allMatch(k -> is.column(k).isPresent())
        ? null
        : look.tables().rows(definition, null);
  }

  @Override
  public @Nullable RowReader baseRows(ComponentKey key) {
    return null;
  }

  @Override
  public @Nullable Digest item(ComponentKey key) {
    ItemSeen seen = items.get(key);
    return seen == null ? null : seen.content();
  }

  @Override
  public @Nullable Digest baseItem(ComponentKey key) {
    return null;
  }

  @Override
  public ItemsDelta.Source contents() {
    return (kind, content) -> look.read(held(content).key());
  }

  private ItemSeen held(Digest content) {
    ItemSeen seen = byContent.get(content);
    if (seen == null) {
      throw new IllegalStateException("The other site holds no content " + content.brief());
    }
    return seen;
  }

  @Override
  public long size(Digest content) {
    return held(content).size();
  }

  @Override
  public Set<String> removals(ComponentKey key) {
    return Set.of();
  }
}
