package plenzo.engine.backup;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.digest.Digest;
import plenzo.core.object.SchemaObject;
import plenzo.core.records.LongValues;
import plenzo.core.records.RecordsDefinition;
import plenzo.core.records.RowReader;
import plenzo.core.run.Run;
import plenzo.core.table.Conversions;
import plenzo.core.table.Renaming;
import plenzo.core.table.TableStructure;
import plenzo.core.target.ItemsDelta;
import plenzo.engine.comparing.Before;
import plenzo.engine.comparing.Incoming;

/** A backup as what is incoming: whatever differs becomes as it was. */
public final class BackupIncoming implements Incoming, Before {
  private final BackupFile backup;
  private final List<BackupFile.Table> tables;
  private final List<PiecesFile.Piece> pieces;
  private final Map<ComponentKey, PiecesFile.Piece> byKey = new HashMap<>();
  private final Map<Digest, Integer> byContent = new HashMap<>();
  private Renaming renaming = Renaming.NONE;
  private Conversions since = Conversions.NONE;

  public BackupIncoming(BackupFile backup, Run.Backup record) {
    this.backup = backup;
    this.tables = backup.tables(record.digest());
    this.pieces = backup.pieces().pieces(record.piecesDigest());
    for (int n = 0; n < pieces.size(); n++) {
      PiecesFile.Piece piece = pieces.get(n);
      if (!piece.beside()) {
        byKey.put(piece.key(), piece);
      }
      if (piece.content() != null) {
        byContent.put(piece.content(), n);
      }
    }
  }

  /** Schema objects that were there, those that others are built on too. */
  public List<SchemaObject> objects() {
    return pieces.stream()
        .filter(p -> p.key().kind().schemaObject() && p.content() != null)
        .map(p -> SchemaObject.of(p.key(), bytes(p)))
        .toList();
  }

  /** Structures of tables that others are built on, and that the run did not touch. */
  public Map<TableName, TableStructure> beside() {
    Map<TableName, TableStructure> out = new LinkedHashMap<>();
    pieces.stream()
        .filter(p -> p.key().kind() == Kind.TABLE)
        .forEach(
            p ->
                out.put(
                    TableName.of(p.key().name()),
                    TableStructure.of(new String(bytes(p), StandardCharsets.UTF_8))));
    return out;
  }

  private byte[] bytes(PiecesFile.Piece piece) {
    try (InputStream in = backup.pieces().open(pieces.indexOf(piece))) {
      return in.readAllBytes();
    } catch (IOException e) {
      throw new UncheckedIOException("The backup cannot be read", e);
    }
  }

  /**
   * The same for a site whose columns have other names by now.
   *
   * @param names from those to the ones of the backup
   */
  public BackupIncoming renamed(Renaming names) {
    this.renaming = names;
    return this;
  }

  /**
   * The same for a site where versions worked out something of what was backed up.
   *
   * @param worked by the names of the backup
   */
  public BackupIncoming before(Conversions worked) {
    this.since = worked;
    return this;
  }

  @Override
  public Conversions workedSince() {
    return since;
  }

  @Override
  public Renaming renaming() {
    return renaming;
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
    pieces.stream()
        .filter(p -> !p.beside())
        .map(PiecesFile.Piece::key)
        .sorted(
            java.util.Comparator.comparing(ComponentKey::kind).thenComparing(ComponentKey::name))
        .forEach(out::add);
    return out;
  }

  @Override
  public @Nullable Digest item(ComponentKey key) {
    PiecesFile.Piece piece = byKey.get(key);
    return piece == null ? null : piece.content();
  }

  @Override
  public @Nullable Digest baseItem(ComponentKey key) {
    return null;
  }

  private int position(Digest content) {
    Integer position = byContent.get(content);
    if (position != null) {
      return position;
    }
    throw new IllegalStateException("The backup has no content " + content.brief());
  }

  @Override
  public ItemsDelta.Source contents() {
    return (kind, content) -> backup.pieces().open(position(content));
  }

  @Override
  public LongValues longValues() {
    return backup.longValues(tables);
  }

  @Override
  public long size(Digest content) {
    return pieces.get(position(content)).size();
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
  public Optional<Before.Table> table(TableName name) {
    for (int n = 0; n < tables.size(); n++) {
      BackupFile.Table t = tables.get(n);
      TableStructure structure = t.structure();
      if (t.table().equals(name) && structure != null) {
        int place = n;
        return Optional.of(new Before.Table(structure, t.key(), () -> backup.rows(place, t)));
      }
    }
    return Optional.empty();
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
