package plenzo.core.keeping;

import java.util.function.Function;

/**
 * Plenzo's own records. What {@link #write} returns from is on the disk, even if the process is
 * killed next.
 */
public interface Keeper extends AutoCloseable {
  /** Runs one transaction; an exception rolls it back and goes on to the caller. */
  <T> T write(Function<Kept, T> work);

  <T> T read(Function<Kept, T> work);

  /** Identity of this service, made once. */
  String service();

  @Override
  void close();
}
