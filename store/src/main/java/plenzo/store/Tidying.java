package plenzo.store;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.concurrent.TimeUnit;
import org.apache.ibatis.datasource.pooled.PooledDataSource;
import org.h2.engine.SessionLocal;
import org.h2.jdbc.JdbcConnection;
import org.h2.mvstore.FileStore;
import org.h2.mvstore.MVStore;

/**
 * Gives back what past records took of the file. H2 does it by itself only with a delayed writer,
 * which would lose commits (rules A); here it is done between writes, by the very act that H2 does
 * when it closes.
 */
final class Tidying {
  /** So long nothing was written: people are thinking (guess). */
  private static final long IDLE = TimeUnit.SECONDS.toNanos(2);

  /** So long writers may be kept waiting, in milliseconds (guess: nobody notices). */
  private static final int BLINK = 100;

  /** Bytes below which a file is left alone. */
  private static final long SMALL = 8L << 20;

  /** Percent of the file that is present: below the first it is tidied when idle, below the second always. */
  private static final int LOOSE = 60;

  private static final int MOSTLY_PAST = 20;

  private final PooledDataSource pool;
  private volatile long written = System.nanoTime() - IDLE;

  Tidying(PooledDataSource pool) {
    this.pool = pool;
  }

  void written() {
    written = System.nanoTime();
  }

  boolean tidy() {
    try (Connection c = pool.getConnection()) {
      JdbcConnection h2 = (JdbcConnection) PooledDataSource.unwrapConnection(c);
      MVStore store = ((SessionLocal) h2.getSession()).getDatabase().getStore().getMvStore();
      FileStore<?> file = store.getFileStore();
      int present = Math.min(file.getFillRate(), file.getChunksFillRate());
      boolean idle = System.nanoTime() - written > IDLE;
      if (file.size() < SMALL || present > (idle ? LOOSE : MOSTLY_PAST)) {
        return false;
      }
      int retention = store.getRetentionTime();
      try {
        store.compactFile(BLINK);
      } finally {
        store.setRetentionTime(retention);
      }
      return true;
    } catch (SQLException e) {
      throw new IllegalStateException("The records could not be tidied", e);
    }
  }
}
