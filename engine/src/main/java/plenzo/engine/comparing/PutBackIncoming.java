package plenzo.engine.comparing;

import java.util.Collection;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.Before;
import plenzo.core.component.ComponentKey;
import plenzo.core.digest.Digest;
import plenzo.core.drift.Differing;
import plenzo.core.drift.PutBack;
import plenzo.core.records.LongValues;
import plenzo.core.records.RecordsDefinition;
import plenzo.core.records.RowReader;
import plenzo.core.table.TableStructure;
import plenzo.core.target.ItemsDelta;

/**
 * The version that is recorded at a site, to be made true again there: what changed or is gone
 * becomes as it is recorded, what is only there stays unless it is named.
 */
public final class PutBackIncoming implements Incoming {
  private final VersionIncoming recorded;
  private final PutBack what;
  private final Set<String> settled;

  /**
   * @param recorded the version over itself
   * @param settled places that somebody decided or said to stay as they are; they do, unless they
   *     are named
   */
  public PutBackIncoming(VersionIncoming recorded, PutBack what, Collection<String> settled) {
    this.recorded = recorded;
    this.what = what;
    this.settled = new TreeSet<>(settled);
  }

  @Override
  public boolean replaces() {
    return true;
  }

  @Override
  public boolean leaves(ComponentKey key, String part) {
    String place = Differing.place(key, part);
    boolean stays = settled.contains(place) || settled.contains(key.toString());
    return !what.puts(place) || stays && what.only().isEmpty();
  }

  @Override
  public boolean spares(ComponentKey key, String part) {
    return !what.takesAway(Differing.place(key, part));
  }

  @Override
  public List<ComponentKey> components() {
    return recorded.components();
  }

  @Override
  public List<Before> moved() {
    return recorded.moved();
  }

  @Override
  public @Nullable TableStructure structure(ComponentKey key) {
    return recorded.structure(key);
  }

  @Override
  public @Nullable TableStructure baseStructure(ComponentKey key) {
    return null;
  }

  @Override
  public RecordsDefinition records(ComponentKey key) {
    return recorded.records(key);
  }

  @Override
  public @Nullable RowReader rows(ComponentKey key) {
    return recorded.rows(key);
  }

  @Override
  public @Nullable RowReader baseRows(ComponentKey key) {
    return null;
  }

  @Override
  public @Nullable Digest item(ComponentKey key) {
    return recorded.item(key);
  }

  @Override
  public @Nullable Digest baseItem(ComponentKey key) {
    return null;
  }

  @Override
  public ItemsDelta.Source contents() {
    return recorded.contents();
  }

  @Override
  public LongValues longValues() {
    return recorded.longValues();
  }

  @Override
  public long size(Digest content) {
    return recorded.size(content);
  }

  @Override
  public Set<String> removals(ComponentKey key) {
    return Set.of();
  }
}
