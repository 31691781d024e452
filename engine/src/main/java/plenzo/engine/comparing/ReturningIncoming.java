package plenzo.engine.comparing;

import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.digest.Digest;
import plenzo.core.records.RecordsDefinition;
import plenzo.core.records.RowReader;
import plenzo.core.table.TableStructure;
import plenzo.core.target.ItemsDelta;
import plenzo.core.version.Version;
import plenzo.engine.content.Contents;

/**
 * An earlier version with the one being left as base: what that one created goes, what it changed
 * comes back, and what people wrote since is kept (rules H, decision D12).
 */
public final class ReturningIncoming implements Incoming {
  private final VersionIncoming earlier;
  private final Version leaving;

  public ReturningIncoming(Contents contents, Version earlier, Version leaving) {
    this.earlier = new VersionIncoming(contents, earlier, leaving, Set.of());
    this.leaving = leaving;
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
    return earlier.structure(key);
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
  public @Nullable RowReader rows(ComponentKey key) {
    return earlier.rows(key);
  }

  @Override
  public @Nullable RowReader baseRows(ComponentKey key) {
    return earlier.baseRows(key);
  }

  @Override
  public @Nullable Digest item(ComponentKey key) {
    return earlier.item(key);
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
