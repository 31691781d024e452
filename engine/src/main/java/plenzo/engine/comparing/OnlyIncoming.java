package plenzo.engine.comparing;

import java.util.List;
import java.util.Set;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.Before;
import plenzo.core.component.ComponentKey;
import plenzo.core.digest.Digest;
import plenzo.core.records.LongValues;
import plenzo.core.records.RecordsDefinition;
import plenzo.core.records.RowReader;
import plenzo.core.records.RowsPolicy;
import plenzo.core.table.Conversions;
import plenzo.core.table.Renaming;
import plenzo.core.table.TableStructure;
import plenzo.core.target.ItemsDelta;

/** What is incoming of some components alone. */
public final class OnlyIncoming implements Incoming {
  private final Incoming whole;
  private final Predicate<ComponentKey> which;

  public OnlyIncoming(Incoming whole, Predicate<ComponentKey> which) {
    this.whole = whole;
    this.which = which;
  }

  @Override
  public List<ComponentKey> components() {
    return whole.components().stream().filter(which).toList();
  }

  @Override
  public @Nullable TableStructure structure(ComponentKey key) {
    return whole.structure(key);
  }

  @Override
  public @Nullable TableStructure baseStructure(ComponentKey key) {
    return whole.baseStructure(key);
  }

  @Override
  public RecordsDefinition records(ComponentKey key) {
    return whole.records(key);
  }

  @Override
  public @Nullable RowReader rows(ComponentKey key) {
    return whole.rows(key);
  }

  @Override
  public @Nullable RowReader baseRows(ComponentKey key) {
    return whole.baseRows(key);
  }

  @Override
  public @Nullable Digest item(ComponentKey key) {
    return whole.item(key);
  }

  @Override
  public @Nullable Digest baseItem(ComponentKey key) {
    return whole.baseItem(key);
  }

  @Override
  public ItemsDelta.Source contents() {
    return whole.contents();
  }

  @Override
  public LongValues longValues() {
    return whole.longValues();
  }

  @Override
  public long size(Digest content) {
    return whole.size(content);
  }

  @Override
  public Set<String> removals(ComponentKey key) {
    return whole.removals(key);
  }

  @Override
  public List<Before> moved() {
    return whole.moved();
  }

  @Override
  public RowsPolicy policy(ComponentKey records) {
    return whole.policy(records);
  }

  @Override
  public Renaming renaming() {
    return whole.renaming();
  }

  @Override
  public Conversions conversions() {
    return whole.conversions();
  }

  @Override
  public Conversions workedSince() {
    return whole.workedSince();
  }

  @Override
  public boolean replaces() {
    return whole.replaces();
  }

  @Override
  public boolean leaves(ComponentKey key, String part) {
    return whole.leaves(key, part);
  }

  @Override
  public boolean spares(ComponentKey key, String part) {
    return whole.spares(key, part);
  }

  @Override
  public boolean removesWhatBaseHas() {
    return whole.removesWhatBaseHas();
  }

  @Override
  public boolean keepsWhatMoved() {
    return whole.keepsWhatMoved();
  }
}
