package plenzo.engine.comparing;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.digest.Digest;
import plenzo.core.drift.SavedRows;
import plenzo.core.records.RecordsDefinition;
import plenzo.core.records.RowReader;
import plenzo.core.table.TableStructure;
import plenzo.core.target.ItemsDelta;
import plenzo.engine.content.Contents;

/** Rows that were saved before they were lost: they come as they were, and nothing else moves. */
public final class SavedIncoming implements Incoming {
  private final Contents contents;
  private final Map<ComponentKey, SavedRows> saved = new LinkedHashMap<>();

  public SavedIncoming(Contents contents, List<SavedRows> saved) {
    this.contents = contents;
    saved.forEach(
        s -> this.saved.put(new ComponentKey(Kind.RECORDS, s.table().componentName()), s));
  }

  private SavedRows of(ComponentKey key) {
    return Objects.requireNonNull(saved.get(key));
  }

  @Override
  public List<ComponentKey> components() {
    return List.copyOf(saved.keySet());
  }

  @Override
  public boolean replaces() {
    return true;
  }

  @Override
  public boolean spares(ComponentKey key, String part) {
    return true;
  }

  @Override
  public @Nullable TableStructure structure(ComponentKey key) {
    return null;
  }

  @Override
  public @Nullable TableStructure baseStructure(ComponentKey key) {
    return null;
  }

  @Override
  public RecordsDefinition records(ComponentKey key) {
    return new RecordsDefinition(of(key).table(), of(key).key(), null);
  }

  @Override
  public @Nullable RowReader rows(ComponentKey key) {
    return contents.rows(of(key).rows(), of(key).key().size());
  }

  @Override
  public @Nullable RowReader baseRows(ComponentKey key) {
    return null;
  }

  @Override
  public @Nullable Digest item(ComponentKey key) {
    return null;
  }

  @Override
  public @Nullable Digest baseItem(ComponentKey key) {
    return null;
  }

  @Override
  public ItemsDelta.Source contents() {
    return (kind, content) -> contents.open(content);
  }

  @Override
  public long size(Digest content) {
    return contents.size(content);
  }

  @Override
  public Set<String> removals(ComponentKey key) {
    return Set.of();
  }
}
