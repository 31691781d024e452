package plenzo.engine.backup;

import java.util.Objects;
import java.util.Optional;
import java.util.function.LongConsumer;
import org.jspecify.annotations.Nullable;
import plenzo.core.digest.RowSum;
import plenzo.core.records.Row;
import plenzo.core.records.RowReader;
import plenzo.core.records.TwinRows;
import plenzo.core.table.TableStructure;
import plenzo.core.target.TableCapture;
import plenzo.core.target.TablesLooking;

/**
 * One table's rows since a backup of it was written: read once, and where they moved written once
 * more; in constant memory.
 */
final class MovedRows {
  private static final int TOLD = 10_000;

  private final BackupFile file;
  private final TablesLooking looking;
  private final BackupFile.Table before;
  private final int n;
  private final String suffix;
  private final LongConsumer progress;
  private final BackupFile.Table now;
  private long moved;

  MovedRows(
      BackupFile file,
      TablesLooking looking,
      BackupFile.Table before,
      int n,
      String suffix,
      LongConsumer progress) {
    this.file = file;
    this.looking = looking;
    this.before = before;
    this.n = n;
    this.suffix = suffix;
    this.progress = progress;
    this.now = look();
  }

  /** What the backup holds of it from now on; the same where nothing moved. */
  BackupFile.Table table() {
    return now;
  }

  /** Rows that came, changed or went; without a key, those by which there are more or fewer. */
  long moved() {
    return moved;
  }

  private BackupFile.Table look() {
    Optional<TableCapture> capture = looking.table(before.table());
    TableStructure structure = before.structure();
    if (!Objects.equals(capture.map(TableCapture::structure).orElse(null), structure)) {
      throw new IllegalStateException(
          "The structure of "
              + before.table()
              + " was changed after it was backed up; compare again");
    }
    if (structure == null || same()) {
      return before;
    }
    RowSum sum = new RowSum();
    String name = n + suffix + ".csv";
    try (RowReader present = looking.allRows(before.table(), before.key());
        Beside earlier = new Beside(before.key().isEmpty() ? null : file.rows(n, before))) {
      file.write(
          name,
          present,
          row -> {
            sum.add(row.raw());
            tell(sum);
            moved += earlier.moved(row);
          });
      moved += earlier.left();
    } catch (TwinRows e) {
      throw BackupFile.twins(before.table(), e);
    }
    if (before.key().isEmpty()) {
      moved = Math.max(1, Math.abs(sum.count() - before.rows()));
    }
    return new BackupFile.Table(
        before.table(), structure, before.key(), sum.count(), sum.digest().hex(), name);
  }

  private boolean same() {
    RowSum sum = new RowSum();
    try (RowReader present = looking.allRows(before.table(), before.key())) {
      for (Row row = present.next(); row != null; row = present.next()) {
        sum.add(row.raw());
        tell(sum);
      }
    } catch (TwinRows e) {
      throw BackupFile.twins(before.table(), e);
    }
    return sum.count() == before.rows() && sum.digest().hex().equals(before.sum());
  }

  private void tell(RowSum sum) {
    if (sum.count() % TOLD == 0) {
      progress.accept(sum.count());
    }
  }

  /** The rows of the backup, gone along beside those of now; both in key order. */
  private static final class Beside implements AutoCloseable {
    private final @Nullable RowReader rows;
    private @Nullable Row at;

    Beside(@Nullable RowReader rows) {
      this.rows = rows;
      this.at = rows == null ? null : rows.next();
    }

    /** Rows that went before this one, and itself where it is new or changed. */
    long moved(Row row) {
      if (rows == null) {
        return 0;
      }
      long gone = 0;
      while (at != null && at.compareKey(row) < 0) {
        gone++;
        at = rows.next();
      }
      if (at == null || at.compareKey(row) != 0) {
        return gone + 1;
      }
      boolean same = java.util.Arrays.equals(at.raw(), row.raw());
      at = rows.next();
      return same ? gone : gone + 1;
    }

    long left() {
      long out = 0;
      while (rows != null && at != null) {
        out++;
        at = rows.next();
      }
      return out;
    }

    @Override
    public void close() {
      if (rows != null) {
        rows.close();
      }
    }
  }
}
