package plenzo.engine.comparing;

import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;
import plenzo.core.records.Row;
import plenzo.core.records.RowReader;

/** Rows in key order that are asked for by the keys of others, in the same order. */
final class Alongside implements AutoCloseable {
  private final Supplier<@Nullable Row> next;
  private final Runnable close;
  private @Nullable Row head;

  Alongside(Supplier<@Nullable Row> next, Runnable close) {
    this.next = next;
    this.close = close;
    this.head = next.get();
  }

  /** No rows when there is no reader. */
  static Alongside of(@Nullable RowReader rows) {
    return rows == null
        ? new Alongside(() -> null, () -> {})
        : new Alongside(rows::next, rows::close);
  }

  /** Whether there is none (any more). */
  boolean isEmpty() {
    return head == null;
  }

  /** The row with the key of the given one; keys must ascend from call to call. */
  @Nullable Row at(Row row) {
    while (head != null && head.compareKey(row) < 0) {
      head = next.get();
    }
    return head != null && head.compareKey(row) == 0 ? head : null;
  }

  @Override
  public void close() {
    close.run();
  }
}
