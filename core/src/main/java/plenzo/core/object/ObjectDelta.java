package plenzo.core.object;

import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.TableName;
import plenzo.core.table.TableStructure;

/**
 * What a run does with one schema object.
 *
 * @param present what the plan read; null when there was nothing
 * @param result what is there afterwards; null when it goes
 * @param columns of tables that have the type that is exchanged; empty else
 */
public record ObjectDelta(
    ComponentKey key,
    Act act,
    @Nullable SchemaObject present,
    @Nullable SchemaObject result,
    List<Column> columns) {
  /** What is done. */
  public enum Act {
    /** It is made where nothing is. */
    MAKE,
    /** It becomes another where it stands; what builds on it stays. */
    ALTER,
    /** It goes and is made again: as another, or because something that it builds on goes. */
    REBUILD,
    /** A materialized view is filled again: rows of what it shows changed. */
    REFRESH,
    DROP
  }

  /**
   * A column with the type that is exchanged, and its table as it is then; the column is empty
   * where the table uses a routine that goes and comes again.
   */
  public record Column(TableName table, String column, TableStructure structure) {}

  public ObjectDelta {
    columns = List.copyOf(columns);
  }

  /** Whether its content is another afterwards; else it is only made or filled again. */
  public boolean changes() {
    return !Objects.equals(
        present == null ? null : present.digest(), result == null ? null : result.digest());
  }

  /** Whether it is not there for a moment. */
  public boolean goes() {
    return act == Act.DROP || act == Act.REBUILD;
  }

  /** Whether it is not there for a moment on the way back, though it stays on the way there. */
  public boolean goesOnReturn() {
    return act == Act.ALTER && !becomes().canBecome(was());
  }

  /** Whether it is made. */
  public boolean comes() {
    return act == Act.MAKE || act == Act.REBUILD;
  }

  public SchemaObject was() {
    return Objects.requireNonNull(present, key::toString);
  }

  public SchemaObject becomes() {
    return Objects.requireNonNull(result, key::toString);
  }
}
