package plenzo.engine.content;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import org.jspecify.annotations.Nullable;
import plenzo.core.keeping.Files;

/**
 * Content whose name is known only at its end: it stays in memory while it is small, so that what
 * lies there already is not written once more, and goes to a file of its own from then on. Not for
 * threads.
 */
final class Spilling extends OutputStream {
  /** Bytes that are kept in memory (guess: most structures, definitions and small tables). */
  static final int MOST = 1 << 18;

  private final Files files;
  private final String aside;
  private final ByteArrayOutputStream small = new ByteArrayOutputStream();
  private @Nullable OutputStream large;
  private long size;

  /**
   * @param aside where it lies while its name is not known
   */
  Spilling(Files files, String aside) {
    this.files = files;
    this.aside = aside;
  }

  @Override
  public void write(int b) throws IOException {
    write(new byte[] {(byte) b}, 0, 1);
  }

  @Override
  public void write(byte[] bytes, int from, int length) throws IOException {
    size += length;
    if (large == null && size <= MOST) {
      small.write(bytes, from, length);
      return;
    }
    if (large == null) {
      large = files.create(aside);
      small.writeTo(large);
      small.reset();
    }
    large.write(bytes, from, length);
  }

  @Override
  public void close() throws IOException {
    if (large != null) {
      large.close();
    }
  }

  long size() {
    return size;
  }

  /** Gives it its name, unless something lies there by that name: it is the same then. */
  void become(String name) {
    boolean there = files.exists(name);
    if (large == null) {
      if (!there) {
        files.write(name, small::writeTo);
      }
    } else if (there) {
      files.remove(aside);
    } else {
      files.move(aside, name);
    }
  }

  /** Takes away what was written of it. */
  void forget() {
    if (large != null) {
      files.remove(aside);
    }
  }
}
