package plenzo.engine.backup;

import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.records.RecordsDefinition;
import plenzo.core.records.RowReader;
import plenzo.core.table.TableStructure;
import plenzo.engine.comparing.Incoming;

/** A backup as what is incoming: whatever differs becomes as it was. */
public final class BackupIncoming implements Incoming {
  private final BackupFile backup;
  private final List<BackupFile.Table> tables;

  public BackupIncoming(BackupFile backup) {
    this.backup = backup;
    this.tables = backup.tables(null);
  }

  /** Tables whose rows cannot be told apart, so that this way cannot be used. */
  public List<String> withoutKey() {
    return tables.stream()
        .filter(t -> t.structure() != null && t.key().isEmpty() && t.rows() > 0)
        .map(t -> t.table().componentName())
        .toList();
  }

  @Override
  public List<ComponentKey> components() {
    List<ComponentKey> out = new ArrayList<>();
    tables.forEach(t -> out.add(new ComponentKey(Kind.TABLE, t.table().componentName())));
    tables.stream()
        .filter(t -> !t.key().isEmpty())
        .forEach(t -> out.add(new ComponentKey(Kind.RECORDS, t.table().componentName())));
    return out;
  }

  private BackupFile.Table table(ComponentKey key) {
    return tables.stream()
        .filter(t -> t.table().componentName().equals(key.name()))
        .findFirst()
        .orElseThrow();
  }

  @Override
  public @Nullable TableStructure structure(ComponentKey key) {
    return table(key).structure();
  }

  @Override
  public @Nullable TableStructure baseStructure(ComponentKey key) {
    return null;
  }

  @Override
  public RecordsDefinition records(ComponentKey key) {
    BackupFile.Table t = table(key);
    return new RecordsDefinition(t.table(), t.key(), null);
  }

  @Override
  public RowReader rows(ComponentKey key) {
    BackupFile.Table t = table(key);
    return backup.rows(tables.indexOf(t), t);
  }

  @Override
  public @Nullable RowReader baseRows(ComponentKey key) {
    return null;
  }

  @Override
  public Set<String> removals(ComponentKey key) {
    return Set.of();
  }

  @Override
  public boolean replaces() {
    return true;
  }
}
