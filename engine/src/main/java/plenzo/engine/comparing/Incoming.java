package plenzo.engine.comparing;

import java.util.List;
import java.util.Set;
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

/** What a run would bring to a site: a version over its base, or a backup. */
public interface Incoming {
  /** Every component that either side knows, in order. */
  List<ComponentKey> components();

  @Nullable TableStructure structure(ComponentKey key);

  @Nullable TableStructure baseStructure(ComponentKey key);

  RecordsDefinition records(ComponentKey key);

  /** The caller closes it; null when this side has no such rows. */
  @Nullable RowReader rows(ComponentKey key);

  @Nullable RowReader baseRows(ComponentKey key);

  /** Content of a file or definition, null when this side has none. */
  @Nullable Digest item(ComponentKey key);

  @Nullable Digest baseItem(ComponentKey key);

  /** Canonical content of either side by its digest; a run keeps it, so it holds little else. */
  ItemsDelta.Source contents();

  /** Where long values are that rows of this side name; a run keeps it too. */
  default LongValues longValues() {
    return LongValues.NONE;
  }

  /** Bytes of such content. */
  long size(Digest content);

  /** Parts of the component that go: {@code column/x}, {@code row/…}, {@code table/}. */
  Set<String> removals(ComponentKey key);

  /** Which components a person moved before others. */
  default List<Before> moved() {
    return List.of();
  }

  /**
   * Columns that have another name on this side than where it goes to, as far as versions tell;
   * everything that this side says is by the names that they have then.
   */
  default Renaming renaming() {
    return Renaming.NONE;
  }

  /** What values of columns are worked out from, by names of this side. */
  default Conversions conversions() {
    return Conversions.NONE;
  }

  /** Of an earlier version: what was worked out from its values since, by its names. */
  default Conversions workedSince() {
    return Conversions.NONE;
  }

  /** What is done to rows of the site that this side has otherwise, or not at all. */
  default RowsPolicy policy(ComponentKey records) {
    return RowsPolicy.ADD_AND_CHANGE;
  }

  /** True when what is present becomes as incoming whatever its base: a restore. */
  default boolean replaces() {
    return false;
  }

  /**
   * Of what replaces what is present: whether a part of the incoming side stays as it is there.
   *
   * @param part as removals name it
   */
  default boolean leaves(ComponentKey key, String part) {
    return false;
  }

  /** Of what replaces what is present: whether a part that is only there stays. */
  default boolean spares(ComponentKey key, String part) {
    return false;
  }

  /**
   * True when what the base has and the incoming side lacks goes: going back by an earlier version.
   */
  default boolean removesWhatBaseHas() {
    return false;
  }

  /**
   * True when what moved on both sides is kept without asking: going back by an earlier version.
   */
  default boolean keepsWhatMoved() {
    return false;
  }
}
